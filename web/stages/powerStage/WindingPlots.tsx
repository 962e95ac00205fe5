'use client';
import { line, scaleLinear, scaleLog } from 'd3';
import type { Judged, WindingStudy } from '../../../core/evaluation/winding';
import type { Wound } from '../../../core/magnetics/wind';
import { printQuantity as print } from '../../../core/quantity';
import { LogXAxis, XAxis, YAxis } from '../../plots/axes';
import { ChoicePlot } from '../../plots/ChoicePlot';
import plots from '../../plots/plots.module.css';

const [WIDTH, HEIGHT] = [370, 158];
const BOX = { left: 46, right: 64, top: 8, bottom: 22 };
const [X0, X1, Y0, Y1] = [BOX.left, WIDTH - BOX.right, BOX.top, HEIGHT - BOX.bottom];

/** Losses over the turns, the gap following: what the core loses falls, what the copper loses rises. A dot is one that is taken by a click. */
export function LossOverTurns({ list, now, take }: { list: readonly Judged[]; now?: Wound | undefined; take: (w: Wound) => void }) {
  const able = list.filter((w) => Number.isFinite(w.total));
  if (able.length < 2) return <p className="muted">No wire of the shelf fits this window with so many turns.</p>;
  const curves = [
    { name: 'all', colour: 'var(--rust)' },
    { name: 'copper', colour: 'var(--ochre)' },
    { name: 'core', colour: 'var(--slate)' },
  ];
  const values = (w: Wound): number[] => [w.total, w.copper + w.ac, w.iron];
  const title = (w: Judged): string => `${w.turns} turns of ${w.wire.part ?? ''}${w.parallel > 1 ? ` × ${w.parallel}` : ''}: ${print(w.total, 'W')}${w.serves ? '' : ', too full or too warm'}`;
  return <ChoicePlot label="Loss over turns" testId="loss-over-turns" points={able.map((w) => ({ x: w.turns, values: values(w), title: title(w), serves: w.serves }))} curves={curves} unit="W" of="" now={now && { x: now.turns, values: values(now) }} take={(i) => take(able[i]!)} />;
}

/** Resistance over that at dc, and the multiples of the current that see it. */
export function CopperAtFrequency({ factors, duty }: Pick<WindingStudy, 'factors'> & { duty: Pick<WindingStudy['duty'], 'spectrum' | 'frequency'> }) {
  if (factors.length < 2) return null;
  const x = scaleLog([factors[0]!.frequency, factors.at(-1)!.frequency], [X0, X1]);
  const y = scaleLog([1, Math.max(10, factors.at(-1)!.factor)], [Y1, Y0]);
  const most = Math.max(...duty.spectrum, 1e-9);
  const bars = duty.spectrum.slice(0, 10).map((rms, k) => ({ f: (k + 1) * duty.frequency, share: rms / most }));
  const decades = Array.from({ length: Math.ceil(Math.log10(y.domain()[1]!)) + 1 }, (_, k) => 10 ** k).filter((v) => v <= y.domain()[1]!);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', maxWidth: WIDTH, display: 'block' }} role="img" aria-label="Copper at frequency">
      <LogXAxis scale={x} y0={Y0} y1={Y1} />
      {decades.map((v) => (
        <g key={v}>
          <line x1={X0} x2={X1} y1={y(v)} y2={y(v)} stroke="var(--line)" />
          <text x={X0 - 5} y={y(v) + 4} textAnchor="end" className={plots.mono} fill="var(--muted)">
            ×{v}
          </text>
        </g>
      ))}
      {bars.map((b) => (
        <rect key={b.f} x={x(b.f) - 1.5} y={Y1 - b.share * (Y1 - Y0) * 0.7} width={3} height={b.share * (Y1 - Y0) * 0.7} fill="var(--slate)" />
      ))}
      <path d={line<{ frequency: number; factor: number }>((p) => x(p.frequency), (p) => y(p.factor))([...factors])!} fill="none" stroke="var(--ochre)" strokeWidth={2} />
      <text x={X1 + 6} y={y(factors.at(-1)!.factor) + 8} className={plots.label} fill="var(--ochre)">
        over dc
      </text>
      <text x={x(duty.frequency) - 6} y={Y1 - (Y1 - Y0) * 0.7 + 8} textAnchor="end" className={plots.label} fill="var(--slate)">
        current
      </text>
    </svg>
  );
}

/** Inductance over the current, with the largest of all corners. */
export function InductanceOverCurrent({ falls, duty }: Pick<WindingStudy, 'falls' | 'duty'>) {
  if (falls.length < 2) return null;
  const x = scaleLinear([0, falls.at(-1)!.current], [X0, X1]);
  const y = scaleLinear([0, falls[0]!.inductance * 1.05], [Y1, Y0]).nice(4);
  const left = falls.reduce((a, b) => (Math.abs(b.current - duty.peak) < Math.abs(a.current - duty.peak) ? b : a));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', maxWidth: WIDTH, display: 'block' }} role="img" aria-label="Inductance over current">
      <XAxis scale={x} unit="A" y0={Y0} y1={Y1} />
      <YAxis scale={y} unit="H" x0={X0} x1={X1} />
      <path d={line<{ current: number; inductance: number }>((p) => x(p.current), (p) => y(p.inductance))([...falls])!} fill="none" stroke="var(--spruce)" strokeWidth={2} />
      <line x1={x(duty.peak)} x2={x(duty.peak)} y1={Y0} y2={Y1} stroke="var(--ink)" strokeDasharray="3 3" />
      <text x={x(duty.peak) + 5} y={Y0 + 10} className={plots.mono} fill="var(--ink)">
        {print(left.inductance, 'H', 3)} at {print(duty.peak, 'A', 3)}
      </text>
    </svg>
  );
}
