'use client';
import { line, scaleLinear, scaleLog } from 'd3';
import type { Curve } from '../../../core/parts/curves';
import { axisPrefix, spaced } from '../../plots/axes';
import plots from '../../plots/plots.module.css';

const WIDTH = 262;
const HEIGHT = 150;
const BOX = { left: 44, right: 8, top: 8, bottom: 30 };
/** Room for the names of lines at their ends, and the least distance of two */
const [NAMES, APART] = [48, 13];
/** Width of a figure on the axes */
const CHARACTER = 6.2;
const COLOURS = ['var(--spruce)', 'var(--slate)', 'var(--plum)'];

/** What a line has at an x: straight between its points; undefined beyond its ends. */
function heightAt(points: readonly (readonly [number, number])[], v: number): number | undefined {
  const next = points.findIndex(([x]) => x >= v);
  if (next < 0 || v < points[0]![0]) return undefined;
  const [[x0, y0], [x1, y1]] = [points[Math.max(0, next - 1)]!, points[next]!];
  return x1 > x0 ? y0 + ((v - x0) / (x1 - x0)) * (y1 - y0) : y1;
}

/**
 * A characteristic of a part, small: each line with its name at its end.
 * @param here where the part stands on it, as a place on the axis across
 */
export function CurvePlot({ curve, here }: { curve: Curve; here?: number | undefined }) {
  const all = curve.lines.flatMap((l) => l.points);
  const span = (k: 0 | 1, logarithmic?: true): [number, number] => {
    const values = all.map((p) => p[k]);
    const low = Math.min(...values);
    return [logarithmic || (k === 0 && low < 0) ? low : Math.min(0, low), Math.max(...values)];
  };
  const scale = (axis: Curve['x'], k: 0 | 1, range: [number, number]) => (axis.logarithmic ? scaleLog(span(k, true), range) : scaleLinear(span(k), range).nice(4));
  const right = WIDTH - (curve.lines.some((l) => l.name !== '') ? NAMES : BOX.right);
  const x = scale(curve.x, 0, [BOX.left, right]);
  const y = scale(curve.y, 1, [HEIGHT - BOX.bottom, BOX.top]);
  const ticks = (s: typeof x, logarithmic?: true): number[] => {
    if (!logarithmic) return s.ticks(4);
    // Decades, and where there are few of them 2 and 5 of each as well.
    const [low, high] = s.domain() as [number, number];
    const marks = Math.log10(high / low) < 2.5 ? [1, 2, 5] : [1];
    return Array.from({ length: Math.ceil(Math.log10(high / low)) + 2 }, (_, k) => 10 ** (Math.floor(Math.log10(low)) + k)).flatMap((d) => marks.map((m) => m * d)).filter((v) => v >= low * 0.999 && v <= high * 1.001);
  };
  const text = (axis: Curve['x'], v: number): string => {
    const { factor, symbol } = axisPrefix(axis.logarithmic ? [v] : (axis === curve.x ? x : y).domain(), axis.unit);
    return `${String(Number((v / factor).toPrecision(4))).replace('-', '−')}${axis.logarithmic ? ` ${symbol}` : ''}`;
  };
  const unit = (axis: Curve['x']): string => (axis.logarithmic ? '' : `, ${axisPrefix((axis === curve.x ? x : y).domain(), axis.unit).symbol}`);
  const path = line<[number, number]>(([a]) => x(a), ([, b]) => y(b)).defined(([a, b]) => (!curve.x.logarithmic || a > 0) && (!curve.y.logarithmic || b > 0));
  // Decades first, then what finds room between them.
  const isDecade = (v: number): boolean => Math.abs(Math.log10(v) - Math.round(Math.log10(v))) < 1e-9;
  const along = ticks(x, curve.x.logarithmic);
  const labelled = new Set<number>();
  for (const v of curve.x.logarithmic ? [...along.filter(isDecade), ...along.filter((t) => !isDecade(t))] : along)
    if ([...labelled].every((o) => Math.abs(x(o) - x(v)) > CHARACTER * text(curve.x, v).length + 6)) labelled.add(v);
  const heights = spaced(curve.lines.map((l) => y(l.points.at(-1)![1])), APART);
  return (
    <figure style={{ margin: '0 0 8px' }} title={`Leaves out: ${curve.leavesOut}`}>
      <figcaption>
        <b>{curve.title}</b>{' '}
        <span className="muted" style={{ fontSize: 12 }}>
          {curve.y.title === curve.title ? '' : curve.y.title}
          {unit(curve.y)} over {curve.x.title}
          {unit(curve.x)}
        </span>
      </figcaption>
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label={`${curve.title}: ${curve.y.title === curve.title ? '' : curve.y.title} over ${curve.x.title}`} className={plots.axis}>
        {ticks(y, curve.y.logarithmic).map((v) => (
          <g key={v} transform={`translate(0 ${y(v)})`}>
            <line x1={BOX.left} x2={right} className={plots.grid} />
            <text x={BOX.left - 5} dy="0.32em" textAnchor="end">
              {text(curve.y, v)}
            </text>
          </g>
        ))}
        {ticks(x, curve.x.logarithmic).map((v) => (
          <g key={v} transform={`translate(${x(v)} 0)`}>
            <line y1={BOX.top} y2={HEIGHT - BOX.bottom} className={plots.grid} />
            {labelled.has(v) && (
              <text y={HEIGHT - BOX.bottom + 14} textAnchor={x(v) > WIDTH - 24 ? 'end' : 'middle'}>
                {text(curve.x, v)}
              </text>
            )}
          </g>
        ))}
        {curve.lines.map((l, k) => (
          <g key={l.name || k}>
            <path d={path(l.points) ?? ''} fill="none" stroke={COLOURS[k]} strokeWidth={1.8} />
            {l.name && (
              <text x={right + 4} y={heights[k]! + 4} style={{ fill: COLOURS[k] }}>
                {l.name}
              </text>
            )}
          </g>
        ))}
        {here !== undefined && (!curve.x.logarithmic || here > 0) && curve.lines.map((l, k) => {
          const v = heightAt(l.points, here);
          return v === undefined ? null : (
            <circle key={l.name || k} cx={x(here)} cy={y(v)} r={4} fill={COLOURS[k]} stroke="var(--card)" strokeWidth={1.2} data-testid="working-point">
              <title>here</title>
            </circle>
          );
        })}
      </svg>
    </figure>
  );
}
