'use client';
import { scaleLinear } from 'd3';
import type { CornerReport } from '../../../core/corners/corners';
import { printQuantity as print } from '../../../core/quantity';
import { useSize } from '../../plots/useSize';
import plots from '../../plots/plots.module.css';

const ROW = 21;
const LEFT = 140;
const RIGHT = 132;

/** One bar a stress, from nothing to its rating; the limit of the brief as a line through all. */
export function StressBars({ stresses, limit }: { stresses: CornerReport['stresses']; limit: number }) {
  const [box, { width }] = useSize<HTMLDivElement>();
  const most = Math.max(1, ...stresses.map((s) => s.value / s.rating));
  const x = scaleLinear([0, most], [LEFT, Math.max(LEFT + 40, width - RIGHT)]);
  const height = stresses.length * ROW + 20;
  return (
    <div ref={box}>
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label="Stress of rating">
          {stresses.map((s, i) => {
            const share = s.value / s.rating;
            const colour = share > limit ? 'var(--fail)' : share > limit * 0.88 ? 'var(--ochre)' : 'var(--spruce)';
            return (
              <g key={s.id} transform={`translate(0 ${i * ROW + 4})`}>
                <text x={0} y={11} className={plots.label} fill="var(--ink)">
                  <tspan fontWeight={650}>{s.slot}</tspan> {s.title}
                </text>
                <rect x={LEFT} y={4} width={x(most) - LEFT} height={8} rx={4} fill="var(--line)" opacity={0.6} />
                <rect x={LEFT} y={4} width={x(share) - LEFT} height={8} rx={4} fill={colour} />
                <text x={x(most) + 8} y={12} className={plots.mono} fill="var(--ink)">
                  {print(s.value, s.unit)} of {print(s.rating, s.unit)}
                </text>
              </g>
            );
          })}
          <line x1={x(limit)} x2={x(limit)} y1={2} y2={height - 16} stroke="var(--ink)" strokeDasharray="3 3" />
          <text x={x(limit)} y={height - 4} textAnchor="middle" className={plots.mono} fill="var(--muted)">
            limit {print(limit, '%', 2)}
          </text>
        </svg>
      )}
    </div>
  );
}
