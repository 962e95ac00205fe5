import { PREFIXES, splitQuantity, UNITS, type UnitName } from '../../core/quantity';
import css from './plots.module.css';

export interface Scale {
  (v: number): number;
  domain(): number[];
  range(): number[];
  ticks(count?: number): number[];
}

/** One prefix for a whole axis: the one that its largest end earns. */
export function axisPrefix(domain: readonly number[], unit: UnitName): { factor: number; symbol: string } {
  if (!UNITS[unit].prefixed) return { factor: 1 / UNITS[unit].shown, symbol: UNITS[unit].symbol };
  const most = Math.max(...domain.map(Math.abs));
  const prefix = PREFIXES.filter((p) => most >= p.factor * 0.9999).at(-1) ?? PREFIXES[0]!;
  return { factor: prefix.factor, symbol: prefix.symbol + UNITS[unit].symbol };
}

/** "1.2" or "−0.5": short, without noise digits, a true minus. */
const short = (v: number): string => String(Number(v.toPrecision(6))).replace('-', '−');

/** Horizontal grid lines and figures at the left; the unit stands on the topmost one. */
export function YAxis({ scale, unit, x0, x1, count = 4, ticks }: { scale: Scale; unit: UnitName; x0: number; x1: number; count?: number; ticks?: number[] }) {
  const { factor, symbol } = axisPrefix(scale.domain(), unit);
  const values = ticks ?? scale.ticks(count);
  return (
    <g className={css.axis}>
      {values.map((v, i) => (
        <g key={v} transform={`translate(0 ${scale(v)})`}>
          <line x1={x0} x2={x1} className={v === 0 ? css.zero : css.grid} />
          <text x={x0 - 5} dy="0.32em" textAnchor="end">
            {short(v / factor)}
            {i === values.length - 1 ? (symbol === '°' ? '°' : ` ${symbol}`) : ''}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Vertical grid lines and figures below, each tick with the axis' prefix; the unit on the last. */
export function XAxis({ scale, unit, y0, y1, count = 6 }: { scale: Scale; unit: UnitName; y0: number; y1: number; count?: number }) {
  const { factor, symbol } = axisPrefix(scale.domain(), unit);
  const values = scale.ticks(count);
  return (
    <g className={css.axis}>
      {values.map((v, i) => (
        <g key={v} transform={`translate(${scale(v)} 0)`}>
          <line y1={y0} y2={y1} className={css.grid} />
          <text y={y1 + 14} textAnchor={i === values.length - 1 && scale(v) > scale.range()[1]! - 24 ? 'end' : 'middle'}>
            {short(v / factor)}
            {i === values.length - 1 ? ` ${symbol}` : ''}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Decades of a logarithmic frequency axis, each with its own prefix: 100 Hz, 1 kHz … */
export function LogXAxis({ scale, y0, y1, labels = true }: { scale: Scale; y0: number; y1: number; labels?: boolean }) {
  const [low, high] = scale.domain() as [number, number];
  const decades: number[] = [];
  for (let d = Math.ceil(Math.log10(low) - 1e-9); 10 ** d <= high * 1.0001; d++) decades.push(10 ** d);
  const minor = decades.flatMap((d) => [2, 5].map((m) => (d / 10) * m * 1)).concat(decades.length > 0 ? [decades.at(-1)! * 2, decades.at(-1)! * 5] : []).filter((f) => f > low && f < high);
  const name = (f: number): string => {
    const { mantissa, symbol } = splitQuantity(f, 'Hz', 1);
    return `${mantissa} ${symbol}`;
  };
  return (
    <g className={css.axis}>
      {minor.map((f) => (
        <g key={f} transform={`translate(${scale(f)} 0)`}>
          <line y1={y0} y2={y1} className={css.faint} />
          {labels && decades.length < 2 && (
            <text y={y1 + 14} textAnchor="middle">
              {name(f)}
            </text>
          )}
        </g>
      ))}
      {decades.map((f, i) => (
        <g key={f} transform={`translate(${scale(f)} 0)`}>
          <line y1={y0} y2={y1} className={css.grid} />
          {labels && (
            <text y={y1 + 14} textAnchor={i === 0 && scale(f) < scale.range()[0]! + 8 ? 'start' : scale(f) > scale.range()[1]! - 24 ? 'end' : 'middle'}>
              {name(f)}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}

/** A path through points, lifting the pen where a value does not exist. */
export function tracePath(xs: readonly number[], ys: readonly number[], x: (v: number) => number, y: (v: number) => number): string {
  let d = '';
  let pen = 'M';
  for (let i = 0; i < xs.length; i++) {
    const v = ys[i]!;
    if (!Number.isFinite(v)) {
      pen = 'M';
      continue;
    }
    d += `${pen}${x(xs[i]!).toFixed(1)} ${y(v).toFixed(1)}`;
    pen = 'L';
  }
  return d;
}

/** Label heights pushed apart so that none covers another. */
export function spaced(heights: number[], gap = 13): number[] {
  const order = heights.map((h, i) => ({ h, i })).sort((a, b) => a.h - b.h);
  for (let k = 1; k < order.length; k++) order[k]!.h = Math.max(order[k]!.h, order[k - 1]!.h + gap);
  const out: number[] = [];
  for (const { h, i } of order) out[i] = h;
  return out;
}
