'use client';
import { extent, scaleLinear } from 'd3';
import type { Draw } from '../../../core/corners/spread';
import { useState, type KeyboardEvent } from 'react';
import { printQuantity as print } from '../../../core/quantity';

const [WIDTH, HEIGHT, LEFT, BOTTOM, RIGHT, TOP] = [430, 200, 50, 32, 14, 10];

/** Draws by crossover and phase margin where that is least: each opens as a design by a click. */
export function MarginCloud({ draws, limit, open }: { draws: readonly Draw[]; limit: number | undefined; open: (d: Draw) => void }) {
  const there = draws.filter((d) => d.loop && Number.isFinite(d.loop.crossover + d.loop.phaseMargin));
  const [at, setAt] = useState<number>();
  if (there.length < 2) return null;
  // Arrows go through the draws from the least margin up, Enter opens the one they stand at.
  const order = there.toSorted((a, b) => a.loop!.phaseMargin - b.loop!.phaseMargin);
  const now = at === undefined ? undefined : order[Math.min(at, order.length - 1)];
  const onKeyDown = (e: KeyboardEvent): void => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
    if (by) setAt(Math.max(0, Math.min(order.length - 1, (at ?? -by) + by)));
    else if (e.key === 'Enter' && now) open(now);
    else return;
    e.preventDefault();
  };
  const range = (values: number[]): [number, number] => {
    const [low, high] = extent(values) as [number, number];
    const beyond = 0.06 * (high - low || 1);
    return [low - beyond, high + beyond];
  };
  const x = scaleLinear(range(there.map((d) => d.loop!.crossover)), [LEFT, WIDTH - RIGHT]);
  const y = scaleLinear(range([...there.map((d) => d.loop!.phaseMargin), ...(limit === undefined ? [] : [limit])]), [HEIGHT - BOTTOM, TOP]);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" style={{ maxWidth: WIDTH }} role="application" tabIndex={0} onKeyDown={onKeyDown} aria-label={now ? `Draw ${now.index + 1}: crossover ${print(now.loop!.crossover, 'Hz')}, phase margin ${print(now.loop!.phaseMargin, '°')}; Enter lays it over the plots` : 'Crossover against phase margin of every draw; arrows go through them'} data-testid="cloud">
      {x.ticks(5).map((v) => (
        <text key={v} x={x(v)} y={HEIGHT - BOTTOM + 13} textAnchor="middle" fontSize={10} fill="var(--muted)">
          {print(v, 'Hz', 3)}
        </text>
      ))}
      {y.ticks(4).map((v) => (
        <g key={v}>
          <path d={`M${LEFT} ${y(v)}H${WIDTH - RIGHT}`} stroke="var(--line)" />
          <text x={LEFT - 6} y={y(v) + 3} textAnchor="end" fontSize={10} fill="var(--muted)">
            {print(v, '°', 3)}
          </text>
        </g>
      ))}
      {limit !== undefined && <path d={`M${LEFT} ${y(limit)}H${WIDTH - RIGHT}`} stroke="var(--ink)" strokeDasharray="3 2" />}
      <text x={WIDTH - RIGHT} y={HEIGHT - 3} textAnchor="end" fontSize={10.5} fill="var(--muted)">
        crossover
      </text>
      <text x={LEFT + 5} y={TOP + 8} fontSize={10.5} fill="var(--muted)">
        phase margin
      </text>
      {there.map((d) => (
        <circle key={d.index} cx={x(d.loop!.crossover)} cy={y(d.loop!.phaseMargin)} r={d === now ? 6 : 3} stroke={d === now ? 'var(--ink)' : undefined} strokeWidth={1.6} fill={d.holds ? 'var(--spruce)' : 'var(--fail)'} fillOpacity={0.7} style={{ cursor: 'pointer' }} onClick={() => open(d)}>
          <title>{`draw ${d.index + 1}: ${print(d.loop!.crossover, 'Hz')}, ${print(d.loop!.phaseMargin, '°')}; a click lays it over the plots`}</title>
        </circle>
      ))}
    </svg>
  );
}
