'use client';
import { structureNamed } from '../../../core/control';
import { heldCommand, type HeldCommand } from '../../../core/control/held';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { mainsActions, useMains } from '../../state/mains';
import { useInTime } from '../../state/inTime';
import { useStore } from '../../state/store';
import { QuantityField } from '../../frame/QuantityField';
import { UnderWay } from '../UnderWay';

/** Is the mains looked at, so that its tuning stands beside it? */
export const useMainsSeen = (): boolean => {
  const mode = useInTime((s) => s.mode);
  const mains = useStore((s) => s.design?.brief.line.mains);
  return mode === 'mains' && mains !== undefined;
};

/** Where the current follows the line by itself there is nothing to tune but how slowly its command moves. */
function Held({ held }: { held: HeldCommand }) {
  const { control, brief } = useStore((s) => s.design);
  return (
    <div data-testid="tuning">
      <div style={{ fontSize: 15, fontWeight: 700, margin: '0 0 8px' }}>{structureNamed(control.method)!.title}</div>
      <p className="muted" style={{ lineHeight: 1.4 }}>
        No loop shapes this current: it follows the line by itself, {held === 'duty' ? 'in discontinuous conduction by a duty' : 'closing whenever it has come to rest, by a time on'} that the loop of the output holds still over the mains. What of the ripple at {2 * brief.line.mains!} Hz comes through that loop bends it.
      </p>
      <div style={{ display: 'flex', justifyContent: 'space-between' }}>
        <span className="muted">crosses at</span> <QuantityField path="control.crossover" />
      </div>
      <div style={{ display: 'flex', justifyContent: 'space-between' }}>
        <span className="muted">phase margin</span> <QuantityField path="control.phaseMargin" />
      </div>
    </div>
  );
}

/** The cascade tuned in one action, each step with what was found there. */
export function TuningPanel() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const { tuned, tuning, untuned, now } = useMains();
  const last = tuned?.tuning.steps;
  const held = heldCommand(design.control);
  if (held) return <Held held={held} />;
  return (
    <div data-testid="tuning">
      <div className="muted" style={{ fontWeight: 600, fontSize: 11.5 }}>
        Tuning, step by step
      </div>
      <div style={{ fontSize: 15, fontWeight: 700, margin: '4px 0 8px' }}>Average current{design.control.sampled === 'none' ? '' : ', sampled'}</div>
      {last ? (
        <ol style={{ listStyle: 'none', margin: 0, padding: 0 }}>
          {last.map((s, k) => (
            <li key={s.title} className={frame.row} style={{ display: 'grid', gridTemplateColumns: '18px 1fr auto', gap: '0 4px', padding: '5px 0', borderTop: '1px solid var(--line)' }} title={s.note}>
              <span className="mono muted">{k + 1}</span>
              <span>{s.title}</span>
              <span className="mono" style={{ textAlign: 'right', fontSize: 12 }}>
                {s.title === 'back to the mains' && now ? `pf ${now.quality.powerFactor.toFixed(3)}` : s.figures.map((f) => print(f.value, f.unit, 3)).join(' · ')}
              </span>
              <span />
              <span className="muted" style={{ gridColumn: '2 / 4', fontSize: 11.5, lineHeight: 1.35 }}>
                {s.note}
              </span>
            </li>
          ))}
        </ol>
      ) : (
        <p className="muted" style={{ lineHeight: 1.4 }}>
          Stand at the crest as on a dc line, place the loop of the current as fast as the margins that are required allow, feed the duty forward, then place the voltage loop around it, slowly and with a notch at twice the mains. The state before is kept, and one undo takes it all back.
        </p>
      )}
      {untuned && <p style={{ color: 'var(--fail)' }}>{inWords(untuned)}.</p>}
      {tuning ? (
        <UnderWay stop={mainsActions.stopTuning}>placing both loops …</UnderWay>
      ) : (
        <button type="button" className={frame.chip} style={{ marginTop: 8 }} onClick={() => void mainsActions.tune(design, point)}>
          {last ? 'do it all again' : 'tune the cascade'}
        </button>
      )}
    </div>
  );
}
