'use client';
import { line, scaleLinear, scaleLog } from 'd3';
import { spaced, XAxis, YAxis } from './axes';
import plots from './plots.module.css';
import type { UnitName } from '../../core/quantity';

const [WIDTH, HEIGHT] = [370, 158];
const BOX = { left: 46, right: 64, top: 8, bottom: 22 };
const [X0, X1, Y0, Y1] = [BOX.left, WIDTH - BOX.right, BOX.top, HEIGHT - BOX.bottom];

/** One choice: where it stands, what each curve has there, and what is said of it. */
export interface Point {
  x: number;
  values: readonly number[];
  title: string;
  /** It meets what is asked; a dot of one that does not is grey */
  serves: boolean;
}

export interface Curve {
  name: string;
  colour: string;
}

/**
 * What a choice costs over what may be chosen: the first curve with a dot for each, taken by a click; the present one filled.
 * @param ticks words below the axis, for choices whose figures are none of an even axis
 */
export function ChoicePlot({ label, testId, points, curves, unit, of, ticks, now, take, limit }: { label: string; testId?: string; points: readonly Point[]; curves: readonly Curve[]; unit: UnitName; of: UnitName | ''; ticks?: (x: number) => string; now?: Pick<Point, 'x' | 'values'> | undefined; take(index: number): void; limit?: { value: number; says: string } }) {
  if (points.length < 2) return null;
  const all = points.flatMap((p) => p.values).filter(Number.isFinite);
  const least = Math.min(...points.map((p) => p.values[0]!));
  const most = Math.max(...(unit === '°C' ? all : [Math.min(Math.max(...all), 5 * least)]), limit?.value ?? -Infinity);
  const domain = [points[0]!.x, points.at(-1)!.x];
  const x = ticks ? scaleLog(domain, [X0 + 6, X1 - 4]) : scaleLinear(domain, [X0, X1]);
  const y = scaleLinear([unit === '°C' ? Math.min(...all) - 5 : 0, most], [Y1, Y0]).nice(4);
  const high = y.domain()[1]!;
  const at = (v: number): number => y(Math.min(v, high));
  const labels = spaced(curves.map((_, k) => at(points.at(-1)!.values[k]!)));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', maxWidth: WIDTH, display: 'block' }} role="group" aria-label={label} data-testid={testId}>
      {ticks ? (
        withRoom(points.map((p) => ({ at: x(p.x), says: ticks(p.x) }))).map(({ at: middle, says }) => (
          <text key={middle} x={middle} y={Y1 + 15} textAnchor="middle" className={plots.mono} fill="var(--muted)">
            {says}
          </text>
        ))
      ) : (
        <XAxis scale={x} unit={of as UnitName} y0={Y0} y1={Y1} />
      )}
      <YAxis scale={y} unit={unit} x0={X0} x1={X1} />
      {limit && limit.value <= high && (
        <g>
          <line x1={X0} x2={X1} y1={y(limit.value)} y2={y(limit.value)} stroke="var(--fail)" strokeDasharray="5 3" />
          <text x={X0 + 4} y={y(limit.value) - 4} className={plots.label} fill="var(--fail)">
            {limit.says}
          </text>
        </g>
      )}
      {curves.map((c, k) => (
        <g key={c.name}>
          <path d={line<Point>((p) => x(p.x), (p) => at(p.values[k]!)).defined((p) => Number.isFinite(p.values[k]!))([...points])!} fill="none" stroke={c.colour} strokeWidth={k === 0 ? 2.2 : 1.4} strokeDasharray={k === 0 ? '' : '4 3'} />
          <text x={X1 + 6} y={labels[k]! + 4} className={plots.label} fill={c.colour}>
            {c.name}
          </text>
        </g>
      ))}
      {points.map((p, i) => (
        <circle key={p.x} cx={x(p.x)} cy={at(p.values[0]!)} r={p.values[0] === least ? 5 : 3.4} fill={p.serves ? 'var(--card)' : 'var(--line)'} stroke={curves[0]!.colour} strokeWidth={1.6} style={{ cursor: 'pointer' }} role="button" tabIndex={0} aria-label={p.title} onClick={() => take(i)} onKeyDown={(e) => e.key === 'Enter' && take(i)}>
          <title>{p.title}</title>
        </circle>
      ))}
      {now && now.x >= domain[0]! && now.x <= domain[1]! && <circle cx={x(now.x)} cy={at(now.values[0]!)} r={6} fill={curves[0]!.colour} pointerEvents="none" />}
    </svg>
  );
}

/** Those of labels along an axis, from the left on, that do not cover the one before. */
function withRoom(labels: readonly { at: number; says: string }[]): { at: number; says: string }[] {
  const kept: { at: number; says: string }[] = [];
  const half = (l: { says: string }): number => 3.3 * l.says.length;
  for (const l of labels) {
    const last = kept.at(-1);
    if (!last || l.at - half(l) >= last.at + half(last) + 6) kept.push(l);
  }
  return kept;
}
