'use client';
import { hottestOf } from '../../../core/thermal/network';
import { amplifierNamed, SETTINGS, structureNamed } from '../../../core/control';
import { requirementNamed } from '../../../core/corners/requirements';
import { printQuantity as print, printRange, printTyped } from '../../../core/quantity';
import { topologyOf } from '../../../core/design';
import { loadInWords } from '../../../core/surroundings/loads';
import { MECHANISMS } from '../../../core/loss';
import { calledPart } from '../../../core/parts/edited';
import frame from '../../frame/frame.module.css';
import { saveFile } from '../../state/session';
import { useShelf } from '../../state/shelf';
import { useStore } from '../../state/store';
import { Beside } from '../Beside';
import { pointName } from '../pointName';
import css from '../stages.module.css';
import page from './report.module.css';

const TITLE = new Map<string, string>(Object.values(MECHANISMS).flat().map((m) => [m.id, m.title]));

/** One page to hand over: brief, verdict, parts, loop, losses and heat. */
export function ReportStage() {
  const design = useStore((s) => s.design);
  const { figures, corners, cornersFresh } = useStore((s) => s.answers);
  const f = figures!;
  const { loop } = f;
  const { brief } = design;
  const shelf = useShelf();
  const topology = topologyOf(design)!;
  // Figures that stand, stale, of before a branch was hung know nothing of it yet.
  const there = topology.slots.filter((p) => f.duties[p.id] !== undefined);
  const control = structureNamed(design.control.method)!;
  const amplifier = amplifierNamed(design.control.amplifier)!;
  return (
    <article className={page.page}>
      <div className={`${css.tabs} ${page.tools}`}>
        <button type="button" className={frame.chip} onClick={() => window.print()}>
          Print
        </button>
        <button type="button" className={frame.chip} onClick={saveFile}>
          Save the design
        </button>
      </div>
      <h1 className={page.title}>{design.name}</h1>
      <p>
        {topology.title}{control.by === undefined ? '' : `, ${control.by}`}{amplifier.by === undefined ? '' : `, ${amplifier.by}`}: from {printRange(brief.line, 'V')}{brief.line.mains === undefined ? '' : ` ac, ${print(brief.line.mains, 'Hz', 2)},`} to {print(brief.output.voltage, 'V')} at {printRange(brief.load, 'A')}{loadInWords(brief) === '' ? '' : ` ${loadInWords(brief)}`}, switching at{' '}
        {print(brief.frequency, 'Hz')}, in air of {printRange(brief.air, '°C')}.
      </p>
      <div className={page.two}>
        <section className={cornersFresh ? '' : 'stale'}>
          <h2>
            Verdict: {corners ? `${corners.holding} of ${corners.corners.length} corners meet the brief` : '…'}
          </h2>
          <table className={css.list}>
            <thead>
              <tr>
                <th>requirement</th>
                <th style={{ textAlign: 'right' }}>limit</th>
                <th style={{ textAlign: 'right' }}>worst</th>
                <th>at</th>
              </tr>
            </thead>
            <tbody>
              {corners?.worst.map((w) => {
                const r = requirementNamed(w.id);
                return (
                  <tr key={w.id}>
                    <td>{r.title}</td>
                    <td className={css.number}>
                      {r.direction === 'at most' ? '≤' : '≥'} {print(w.limit, r.unit)}
                    </td>
                    <td className={`${css.number} ${w.holds ? '' : css.fails}`}>
                      {print(w.value, r.unit)} {w.holds ? '' : '✕'}
                    </td>
                    <td className="mono muted">
                      {pointName(w.at)}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
        <section>
          <h2>Parts</h2>
          <table className={css.list}>
            <tbody>
              {there.map((p) => {
                const v = f.sizing.values[p.id];
                const loss = f.losses.parts.find((l) => l.id === p.id)!;
                const main = Object.entries(loss.mechanisms).sort((a, b) => b[1] - a[1])[0]!;
                return (
                  <tr key={p.id}>
                    <td>
                      <span style={{ whiteSpace: 'nowrap' }}>
                        <b>{p.id}</b> {calledPart(design.parts[p.id]!, shelf)}
                      </span>
                      <div className="muted">{p.title}{(p.copies ?? 1) > 1 ? `, ${p.copies} alike` : ''}</div>
                    </td>
                    <td className={css.number}>{v ? (design.parts[p.id]!.kind === 'capacitor' ? v.how : printTyped(v.taken, v.unit, 3)) : ''}</td>
                    <td className={css.number}>
                      {print(loss.total, 'W')}
                      <div className="muted" style={{ fontFamily: 'Commissioner Variable, sans-serif' }}>mostly {TITLE.get(main[0])}</div>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
        <section>
          <h2>
            At {print(f.point.line, 'V')}, {print(f.point.load, 'A')}, {print(f.point.air, '°C')} air
          </h2>
          <Rows
            rows={[
                  ['duty', print(f.cycle.duty, '%', 4)],
                  ['output ripple, peak to peak', print(f.cycle.outputRipple, 'V')],
                  ...there.filter((p) => p.kind === 'inductor').map((p): [string, string] => [`${p.id} ripple`, print(f.duties[p.id]!.peakToPeak, 'A')]),
                  ...(f.mains ? ([['drawn from the mains', `${print(f.mains.rms, 'A')} rms, crest ${print(f.mains.crest, 'A')}`]] as [string, string][]) : []),
                  ...(f.loop ? ([['crossover', print(f.loop.crossover, 'Hz')], ['phase margin', print(f.loop.phaseMargin, '°')], ['gain margin', `${print(f.loop.gainMargin, 'dB')}${f.loop.falls ? `, and it may fall by ${print(f.loop.falls.by, 'dB')}` : ''}`]] as [string, string][]) : ([['loop', 'no figures']] as [string, string][])),
                  ['efficiency', print(f.losses.efficiency, '%', 4)],
                  ...f.heat.rungs.filter((r) => r.limit !== undefined).map((r): [string, string] => [r.title, print(hottestOf(r), '°C')]),
                ]}
          />
        </section>
        {loop && (
        <section>
          <h2>Compensator</h2>
          <Rows
            rows={[
                  ...amplifier.handles.map((h): [string, string] => [SETTINGS[h.key]!.title, print(loop.built[h.key]!, 'Hz')]),
                  ...loop.network.parts.map((p): [string, string] => [p.title ?? p.id, Number.isFinite(p.value) ? print(p.value, p.unit) : 'none']),
                  ...loop.drive.map((x): [string, string] => [x.title, print(x.value, x.unit)]),
                  ...(loop.outer ? ([['voltage loop', `${print(loop.outer.crossover, 'Hz', 2)}, ${print(loop.outer.phaseMargin, '°', 2)}`], ['current sensed by', print(loop.outer.senseResistance, 'Ω')]] as [string, string][]) : []),
                ]}
          />
        </section>
        )}
      </div>
      <div className={page.two}>
        <section>
          <Beside now={f} what="losses" />
        </section>
        <section>
          <Beside now={f} what="heat" />
        </section>
      </div>
      <p className="muted">
        Settled cycle solved exactly (closes to {f.cycle.closure.toExponential(0)}); loop from its exact small-signal response; losses and
        temperatures solved together. Not counted: {f.detail?.workings['losses/efficiency']?.leavesOut ?? ''}, ringing.
      </p>
    </article>
  );
}

/** Names and their figures. */
const Rows = ({ rows }: { rows: [string, string][] }) => (
  <table className={css.list}>
    <tbody>
      {rows.map(([name, figure]) => (
        <tr key={name}>
          <td>{name}</td>
          <td className={css.number}>{figure}</td>
        </tr>
      ))}
    </tbody>
  </table>
);
