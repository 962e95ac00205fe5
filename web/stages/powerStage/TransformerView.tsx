'use client';
import type { Design } from '../../../core/design';
import type { Other, TransformerStudy } from '../../../core/evaluation/transformer';
import type { TransformerPart, TransformerWinding } from '../../../core/parts/schema';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { ChoicePlot } from '../../plots/ChoicePlot';
import plots from '../../plots/plots.module.css';
import { actions } from '../../state/store';
import css from '../stages.module.css';
import { CopperAtFrequency } from './WindingPlots';

/** Colours of windings, in their order: the primary, secondaries, what is left. */
const COLOURS = ['var(--rust)', 'var(--ochre)', 'var(--slate)', 'var(--spruce)'];

/** A transformer as it is wound: its window, what each winding loses, and what other strands and another order would. */
export function TransformerView({ slot, design, study }: { slot: string; design: Design; study: TransformerStudy }) {
  const part = design.parts[slot] as TransformerPart;
  const { winding, windings, leakage, copper } = study;
  const take = (w: Partial<TransformerWinding>): void => void actions.edit({ [`parts.${slot}.winding`]: { ...winding, ...w } });
  const primary = windings[0]!.turns;
  return (
    <div className={css.columns} style={{ gridTemplateColumns: '340px minmax(0, 1fr)', height: 'auto' }}>
      <div>
        <h2 style={{ margin: '0 0 2px' }}>
          {slot}{study.stated ? ', as wound' : ': how it is wound is not known'}
          <span className="muted" style={{ fontWeight: 400 }}>
            {' '}
            {windings.map((w) => w.turns).join(' : ')} turns
          </span>
        </h2>
        {!study.stated && (
          <p style={{ margin: '0 0 6px' }}>
            So its copper counts at dc alone.{' '}
            <button type="button" className={frame.link} onClick={() => take({})}>
              Wind it as drawn
            </button>
          </p>
        )}
        <TransformerWindow part={part} study={study} />
        <div data-testid="wound">
          <label className={frame.row}>
            <span>primary and secondary face one another</span>
            <select className={frame.select} aria-label={`${slot} faces`} value={winding.interfaces} onChange={(e) => take({ interfaces: Number(e.target.value) })}>
              {Array.from({ length: 8 }, (_, k) => (
                <option key={k} value={k + 1}>
                  {k === 0 ? 'once' : k === 1 ? 'twice' : `${k + 1} times`}
                </option>
              ))}
            </select>
          </label>
          <table className={css.list} style={{ marginTop: 6 }}>
            <thead>
              <tr>
                <th>winding</th>
                <th style={{ textAlign: 'right' }}>a turn</th>
                <th style={{ textAlign: 'right' }}>layers</th>
                <th style={{ textAlign: 'right' }}>rms</th>
                <th style={{ textAlign: 'right' }}>dc</th>
                <th style={{ textAlign: 'right' }}>ac</th>
              </tr>
            </thead>
            <tbody>
              {windings.map((w, i) => (
                <tr key={w.title}>
                  <td style={{ color: COLOURS[i % COLOURS.length] }}>{w.title}</td>
                  <td className={css.number}>{w.perTurn === 1 ? 'a wire' : `× ${w.perTurn}`}</td>
                  <td className={css.number}>{w.layers}</td>
                  <td className={css.number}>{print(w.rms, 'A', 2)}</td>
                  <td className={css.number}>{print(w.dc, 'W', 2)}</td>
                  <td className={css.number}>{print(w.ac, 'W', 2)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {(
            [
              ['copper, all', print(copper, 'W')],
              ['core', print(study.core, 'W')],
              ['winding here', print(study.temperature, '°C', 3)],
              ['leakage by this order', `${print(leakage.estimated * primary ** 2, 'H', 2)}, counted ${print(leakage.stated * primary ** 2, 'H', 2)}`],
            ] as const
          ).map(([title, text]) => (
            <div className={frame.row} key={title}>
              <span>{title}</span>
              <span className="mono">{text}</span>
            </div>
          ))}
          {study.stated && Math.abs(Math.log(leakage.estimated / leakage.stated)) > 0.2 && (
            <p style={{ margin: '4px 0' }}>
              <button type="button" className={frame.link} onClick={() => void actions.edit({ [`parts.${slot}.leakagePermeance`]: Number(leakage.estimated.toPrecision(2)) })}>
                Count the leakage of this order
              </button>
            </p>
          )}
        </div>
      </div>
      <div>
        <h3 style={{ marginTop: 0 }}>Copper over the strands of a bundle</h3>
        <Choices label="Copper over strands" list={study.strands} of={(o) => o.strandDiameter} ticks={(v) => print(v, 'm', 2)} copper={copper} now={winding.strandDiameter} take={(o) => take({ strandDiameter: o.strandDiameter })} />
        <h3>Copper over how often primary and secondary face one another</h3>
        <Choices label="Copper over faces" list={study.orders} of={(o) => o.interfaces} ticks={String} copper={copper} now={winding.interfaces} take={(o) => take({ interfaces: o.interfaces })} />
        <p className="muted" style={{ margin: '0 0 6px' }}>Each face more lets the field rise to less, and the leakage fall with the square of them; capacitance between the windings grows.</p>
        <h3>Copper at frequency, all windings with their currents</h3>
        <CopperAtFrequency factors={study.factors} duty={{ spectrum: [1], frequency: study.frequency }} />
      </div>
    </div>
  );
}

/** What all copper loses over one choice. */
function Choices({ label, list, of, ticks, copper, now, take }: { label: string; list: readonly Other[]; of(o: Other): number; ticks(v: number): string; copper: number; now: number; take(o: Other): void }) {
  return <ChoicePlot label={label} points={list.map((o) => ({ x: of(o), values: [o.copper], title: `${ticks(of(o))}: ${print(o.copper, 'W')}`, serves: true }))} curves={[{ name: 'copper', colour: 'var(--ochre)' }]} unit="W" of="" ticks={ticks} now={{ x: now, values: [copper] }} take={(i) => take(list[i]!)} />;
}

const [WIDTH, HEIGHT, EDGE] = [330, 190, 26];

/** One window of the core, to scale, with what lies in it from the leg (left) outwards, and the field along it. */
function TransformerWindow({ part, study }: { part: TransformerPart; study: TransformerStudy }) {
  const { winding, windings, sections } = study;
  const wide = part.windowArea / winding.windowHeight;
  const k = Math.min((WIDTH - 2 * EDGE) / wide, (HEIGHT - 2 * EDGE) / winding.windowHeight);
  const [w, h] = [wide * k, winding.windowHeight * k];
  const [left, top] = [(WIDTH - w) / 2, (HEIGHT - h) / 2];
  const widths = sections.map((s) => windings[s.winding]!.share * s.part * w);
  return (
    <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`The window: ${sections.length} sections from the leg outwards`}>
      <rect x={left - 10} y={top - 10} width={w + 20} height={h + 20} rx={3} fill="var(--muted)" fillOpacity={0.38} />
      <rect x={left} y={top} width={w} height={h} fill="var(--card)" />
      {sections.map((s, i) => {
        const width = widths[i]!;
        const layers = Math.max(1, Math.min(40, Math.round(windings[s.winding]!.layers * s.part)));
        const at = left + w - widths.slice(0, i + 1).reduce((a, b) => a + b, 0);
        return (
          <g key={i} fill={COLOURS[s.winding % COLOURS.length]}>
            {Array.from({ length: layers }, (_, n) => (
              <rect key={n} x={at + (width * (n + 0.12)) / layers} y={top + 2} width={(0.76 * width) / layers} height={h - 4} fillOpacity={n % 2 === 0 ? 0.9 : 0.6} />
            ))}
          </g>
        );
      })}
      <text x={left - 14} y={HEIGHT / 2} textAnchor="middle" className={plots.label} fill="var(--muted)" transform={`rotate(-90 ${left - 14} ${HEIGHT / 2})`}>
        leg
      </text>
      <text x={WIDTH / 2} y={HEIGHT - 3} textAnchor="middle" className={plots.label} fill="var(--muted)">
        window {print(wide, 'm', 2)} × {print(winding.windowHeight, 'm', 2)}, {print(part.copperShare, '%', 2)} copper
      </text>
    </svg>
  );
}
