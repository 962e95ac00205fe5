'use client';
import { useRouter } from 'next/navigation';
import { faultsOf, beyondInWords, type FaultFound } from '../../../core/corners/faults';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { faultActions, useFaults } from '../../state/faults';
import { inTimeActions } from '../../state/inTime';
import { useStore } from '../../state/store';
import { pointName } from '../pointName';
import css from '../stages.module.css';
import { UnderWay } from '../UnderWay';
import { ownCopy } from '../waveforms/ScheduleRow';

/** Each part failing, the feedback lost, the line dipping and surging: what goes first, run from the settled cycle. */
export function FaultsView() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { design: of, point: at, found, of: count, under, failed } = useFaults();
  const fresh = of === design && at === point;
  return (
    <div data-testid="faults">
      <div className={css.tabs} style={{ marginBottom: 8, alignItems: 'center' }}>
        <button type="button" className={frame.chip} onClick={() => void faultActions.run(design, point)}>
          run all faults
        </button>
        {under ? (
          <UnderWay stop={faultActions.stop}>{found.length} of {count}</UnderWay>
        ) : (
          <span className="muted">from the settled cycle at {pointName(at ?? point)}</span>
        )}
      </div>
      {failed && <p className={css.fails}>{failed}</p>}
      {found.length === 0 && !under && <p className="muted">Every part opens, shorts and leaks in turn, the feedback comes off, the line dips and surges. Voltages and flux are held against ratings.</p>}
      {found.length > 0 && (
        <table className={`${css.list} ${fresh ? '' : 'stale'}`}>
          <thead>
            <tr>
              <th>fault</th>
              <th>what goes first</th>
              <th style={{ textAlign: 'right' }}>output</th>
              <th style={{ textAlign: 'right' }}>line</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {found.map((f) => (
              <Found key={f.id} fault={f} />
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function Found({ fault: f }: { fault: FaultFound }) {
  const [first] = f.beyond;
  const router = useRouter();
  const { design, point } = useStore.getState();
  // The run itself, as a schedule of the design's own.
  const see = (): void => {
    const fault = faultsOf(design, point).find((x) => x.id === f.id);
    const name = fault && ownCopy(fault.schedule);
    if (!name) return;
    inTimeActions.show(name);
    inTimeActions.look('time');
    router.push('/waveforms');
  };
  return (
    <tr>
      <td>{f.title}</td>
      <td className={first ? css.fails : 'muted'} style={{ fontWeight: 400 }}>
        {f.problem ? f.problem.message : first ? `${beyondInWords(first)}${f.beyond.length > 1 ? `, and ${f.beyond.length - 1} more` : ''}` : f.nearest ? `nothing; ${f.nearest.of} ${f.nearest.what} at ${print(f.nearest.value / f.nearest.rating, '%', 3)}` : 'nothing'}
      </td>
      <td className={css.number}>{f.problem ? '' : `${print(f.output.least, 'V', 2)} … ${print(f.output.most, 'V', 2)}`}</td>
      <td className={css.number}>{f.problem ? '' : print(f.lineCurrent, 'A', 2)}</td>
      <td>
        {!f.problem && (
          <button type="button" className={frame.link} style={{ whiteSpace: 'nowrap' }} aria-label={`See ${f.title} run`} onClick={see}>
            see it
          </button>
        )}
      </td>
    </tr>
  );
}
