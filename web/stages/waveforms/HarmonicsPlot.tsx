'use client';
import { scaleBand, scaleLog } from 'd3';
import { printQuantity as print } from '../../../core/quantity';
import { LAST_ORDER } from '../../../core/surroundings/drawnCurrent';
import { YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import type { Shown } from './MainsView';

const [LEFT, RIGHT, TOP, BOTTOM, HEIGHT] = [44, 4, 6, 34, 142];
/** Odd orders are drawn; every fifth of them is named */
const ORDERS = Array.from({ length: LAST_ORDER / 2 - 1 }, (_, k) => 2 * k + 3);
const NAMED = new Set([3, 9, 15, 21, 27, 33, 39]);

/** Harmonics of the current as bars, on a logarithmic scale, with the limit of each as a mark; kept states as outlines. */
export function HarmonicsPlot({ shown }: { shown: readonly Shown[] }) {
  const [box, { width }] = useSize<HTMLDivElement>();
  const { quality } = shown[0]!.study;
  const of = (s: Shown, order: number) => s.study.quality.harmonics.find((h) => h.order === order);
  const values = shown.flatMap((s) => ORDERS.flatMap((n) => of(s, n)?.value ?? []));
  const limits = ORDERS.flatMap((n) => of(shown[0]!, n)?.limit ?? []).filter(Number.isFinite);
  const y = scaleLog([1e-3, 2 * Math.max(1e-2, ...values, ...limits)], [HEIGHT - BOTTOM, TOP]);
  const x = scaleBand(ORDERS, [LEFT, width - RIGHT]).paddingInner(0.3);
  const heightOf = (v: number): number => y(Math.max(1e-3, v));
  const failing = quality.harmonics.filter((h) => !h.holds);
  const { tightest } = quality;
  const verdict = failing.length > 0 ? `fails at the ${failing.map((h) => h.order).slice(0, 4).join(', ')}${failing.length > 4 ? ' …' : ''}` : tightest ? `holds; nearest the ${tightest.order}th, ${print(tightest.value / tightest.limit, '%', 2)} of its limit` : 'holds';
  return (
    <div ref={box} data-testid="harmonics">
      <h3 style={{ margin: '0 0 4px' }}>Harmonics against IEC 61000-3-2:2018, class {quality.of}</h3>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Harmonics of the line current: class ${quality.of} ${verdict}`}>
          <YAxis scale={y} unit="A" x0={LEFT} x1={width - RIGHT} ticks={[1e-3, 1e-2, 0.1, 1].filter((v) => v <= y.domain()[1]!)} />
          {ORDERS.map((n) => {
            const own = of(shown[0]!, n);
            if (!own) return null;
            const mark = Number.isFinite(own.limit) ? heightOf(own.limit) : undefined;
            return (
              <g key={n} transform={`translate(${x(n)} 0)`}>
                <title>{`${n}: ${print(own.value, 'A', 3)}${Number.isFinite(own.limit) ? ` of ${print(own.limit, 'A', 3)}` : ''}`}</title>
                <rect width={x.bandwidth()} y={heightOf(own.value)} height={HEIGHT - BOTTOM - heightOf(own.value)} fill={own.holds ? 'var(--spruce)' : 'var(--fail)'} />
                {shown.slice(1).map((s) => {
                  const then = of(s, n);
                  return then && <rect key={s.label} x={0.5} width={Math.max(1, x.bandwidth() - 1)} y={heightOf(then.value)} height={HEIGHT - BOTTOM - heightOf(then.value)} fill="none" stroke={s.colour} />;
                })}
                {mark !== undefined && <line x1={-2} x2={x.bandwidth() + 2} y1={mark} y2={mark} stroke="var(--ink)" strokeWidth={1.6} />}
                {!own.holds && (
                  <text x={x.bandwidth() / 2} y={heightOf(own.value) - 3} textAnchor="middle" className={plots.mono} fill="var(--fail)">
                    ×
                  </text>
                )}
                {NAMED.has(n) && (
                  <text x={x.bandwidth() / 2} y={HEIGHT - BOTTOM + 13} textAnchor="middle" className={plots.mono} fill="var(--muted)">
                    {n}
                  </text>
                )}
              </g>
            );
          })}
          <text x={LEFT} y={HEIGHT - 5} className={plots.label} fill={failing.length > 0 ? 'var(--fail)' : 'var(--muted)'} data-testid="class-verdict">
            class {quality.of} {verdict}
          </text>
        </svg>
      )}
      <p className="muted" style={{ fontSize: 11.5, margin: '0 0 6px' }}>
        Bars: now{shown.length > 1 ? `; outlines: ${shown.slice(1).map((s) => s.label).join(', ')}` : ''}; marks: limits. A rms, odd orders.
      </p>
    </div>
  );
}
