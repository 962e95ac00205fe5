'use client';
import { extent, scaleLinear } from 'd3';
import type { Tried } from '../../../core/corners/search';

/** One of the two that trade: what it is, of a design, in words; its limit where it has one. */
export interface FrontAxis {
  title: string;
  of: (t: Tried) => number;
  text: (v: number) => string;
  limit?: number;
}

const [WIDTH, HEIGHT, LEFT, BOTTOM, RIGHT, TOP] = [430, 200, 66, 34, 14, 22];

/** Designs that none of the others beats, by what they trade: each is picked by a click. */
export function FrontPlot({ front, axes, picked, pick }: { front: readonly Tried[]; axes: readonly FrontAxis[]; picked: Tried | undefined; pick: (t: Tried) => void }) {
  const [a, b] = axes;
  if (!a || !b) return null;
  const scale = (axis: FrontAxis, range: [number, number]) => {
    const [low, high] = extent([...front.map(axis.of), ...(axis.limit === undefined ? [] : [axis.limit])]) as [number, number];
    const beyond = 0.08 * (high - low || Math.abs(high) || 1);
    return scaleLinear([low - beyond, high + beyond], range);
  };
  const [x, y] = [scale(a, [LEFT, WIDTH - RIGHT]), scale(b, [HEIGHT - BOTTOM, TOP])];
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" style={{ maxWidth: WIDTH }} role="group" aria-label={`${a.title} against ${b.title}`} data-testid="front">
      {x.ticks(4).map((v) => (
        <text key={v} x={x(v)} y={HEIGHT - BOTTOM + 13} textAnchor="middle" fontSize={10} fill="var(--muted)">
          {a.text(v)}
        </text>
      ))}
      {y.ticks(4).map((v) => (
        <text key={v} x={LEFT - 6} y={y(v) + 3} textAnchor="end" fontSize={10} fill="var(--muted)">
          {b.text(v)}
        </text>
      ))}
      <path d={`M${LEFT} ${TOP}V${HEIGHT - BOTTOM}H${WIDTH - RIGHT}`} fill="none" stroke="var(--line)" />
      {a.limit !== undefined && <path d={`M${x(a.limit)} ${TOP}V${HEIGHT - BOTTOM}`} stroke="var(--ink)" strokeDasharray="3 2" />}
      {b.limit !== undefined && <path d={`M${LEFT} ${y(b.limit)}H${WIDTH - RIGHT}`} stroke="var(--ink)" strokeDasharray="3 2" />}
      <text x={WIDTH - RIGHT} y={HEIGHT - 4} textAnchor="end" fontSize={10.5} fill="var(--muted)">
        {a.title} →
      </text>
      <text x={LEFT} y={TOP - 9} fontSize={10.5} fill="var(--muted)">
        ↑ {b.title}
      </text>
      {front.map((t) => (
        <circle
          key={t.shares.join()}
          cx={x(a.of(t))}
          cy={y(b.of(t))}
          r={t === picked ? 6 : 4.5}
          fill={t === picked ? 'var(--rust)' : 'var(--spruce)'}
          stroke="var(--card)"
          role="button"
          tabIndex={0}
          aria-pressed={t === picked}
          aria-label={`${a.title} ${a.text(a.of(t))}, ${b.title} ${b.text(b.of(t))}`}
          style={{ cursor: 'pointer' }}
          onClick={() => pick(t)}
          onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && pick(t)}
        />
      ))}
    </svg>
  );
}
