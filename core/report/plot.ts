import { scaleLinear, scaleLog, type ScaleContinuousNumeric } from 'd3-scale';
import { line } from 'd3-shape';
import { printTyped } from '../quantity';
import type { Axis, Block } from './blocks';
import { escaped } from './escaped';

/** px of a plot, and of the room about it */
const [WIDTH, HEIGHT, LEFT, RIGHT, TOP, BOTTOM] = [640, 190, 62, 14, 10, 34];
/** Inks of its lines in turn, told apart by their dashes as well */
const INKS = ['#1f6f5c', '#a8532b', '#46617f'];
const DASHES = ['', '6 3', '2 3'];
/** Points of a line at most: more are not seen in print */
const POINTS = 1200;

type Scale = ScaleContinuousNumeric<number, number>;

/** What differs by less is one: no scale has steps of the last numbers there are */
const LEAST = 1e-280;

const extent = (values: readonly number[]): [number, number] => {
  const [low, high] = values.reduce<[number, number]>(([a, b], v) => (Number.isFinite(v) ? [Math.min(a, v), Math.max(b, v)] : [a, b]), [Infinity, -Infinity]);
  return high - low > LEAST ? [low, high] : Number.isFinite(low) ? [low - 1, low + 1] : [0, 1];
};

function scaleOf({ log }: Axis, values: readonly number[], range: [number, number], room: number): Scale {
  const [low, high] = extent(values);
  if (log) return scaleLog().domain([Math.max(low, 1e-30), Math.max(high, 1e-29)]).range(range);
  const beyond = room * (high - low);
  return scaleLinear().domain([low - beyond, high + beyond]).range(range);
}

const tickText = (v: number, { unit }: Axis): string => (unit === '' ? String(v) : printTyped(Math.abs(v) < 1e-15 ? 0 : v, unit, 4));
const ticksOf = (s: Scale, { log, unit }: Axis, count: number): number[] => {
  if (unit === '°') return degreesOf(s);
  const all = s.ticks(count);
  // Of a logarithmic scale the decades, where there are some.
  const decades = all.filter((v) => Math.abs(Math.log10(v) - Math.round(Math.log10(v))) < 1e-9);
  return log && decades.length > 1 ? decades : all;
};

/** Angles are read by quarters of a right angle. */
function degreesOf(s: Scale): number[] {
  const [low, high] = s.domain() as [number, number];
  const step = high - low > 225 ? 90 : 45;
  return Array.from({ length: Math.max(0, Math.floor(high / step) - Math.ceil(low / step) + 1) }, (_, k) => (Math.ceil(low / step) + k) * step);
}

/** Every so many of the points of a line, its first and last among them. */
function thinned(x: ArrayLike<number>, y: ArrayLike<number>): [number, number][] {
  const n = x.length;
  const step = Math.max(1, Math.ceil(n / POINTS));
  const out: [number, number][] = [];
  for (let k = 0; k < n; k += step) out.push([x[k]!, y[k]!]);
  if (n > 0 && (n - 1) % step !== 0) out.push([x[n - 1]!, y[n - 1]!]);
  return out;
}

/** A plot as an SVG picture that prints. */
export function plotSvg({ title, x, y, lines, levels = [], marks = [] }: Extract<Block, { kind: 'plot' }>): string {
  const points = lines.map((l) => thinned(l.x, l.y));
  const sx = scaleOf(x, points.flatMap((p) => p.map(([v]) => v)), [LEFT, WIDTH - RIGHT], 0);
  const sy = scaleOf(y, [...points.flatMap((p) => p.map(([, v]) => v)), ...levels.map((l) => l.at)], [HEIGHT - BOTTOM, TOP], 0.06);
  const path = line<[number, number]>().x(([v]) => sx(v)).y(([, v]) => sy(v)).defined(([, v]) => Number.isFinite(v));
  const at = (v: number): string => v.toFixed(1);
  const grid = [
    ...ticksOf(sx, x, 8).map((v) => `<path d="M${at(sx(v))} ${TOP}V${HEIGHT - BOTTOM}" stroke="#ddd"/><text x="${at(sx(v))}" y="${HEIGHT - BOTTOM + 14}" text-anchor="middle">${escaped(tickText(v, x))}</text>`),
    ...ticksOf(sy, y, 5).map((v) => `<path d="M${LEFT} ${at(sy(v))}H${WIDTH - RIGHT}" stroke="#ddd"/><text x="${LEFT - 6}" y="${at(sy(v) + 3.5)}" text-anchor="end">${escaped(tickText(v, y))}</text>`),
  ].join('');
  const held = levels.map((l) => `<path d="M${LEFT} ${at(sy(l.at))}H${WIDTH - RIGHT}" stroke="#888" stroke-dasharray="4 3"/>${l.title === '' ? '' : `<text x="${WIDTH - RIGHT - 4}" y="${at(sy(l.at) - 4)}" text-anchor="end">${escaped(l.title)}</text>`}`).join('');
  const marked = marks.map((m) => `<path d="M${at(sx(m.at))} ${TOP}V${HEIGHT - BOTTOM}" stroke="#888" stroke-dasharray="2 2"/>${m.title === '' ? '' : `<text x="${at(sx(m.at) + 4)}" y="${TOP + 10}">${escaped(m.title)}</text>`}`).join('');
  const drawn = points.map((p, k) => `<path d="${path(p) ?? ''}" fill="none" stroke="${INKS[k % INKS.length]}" stroke-width="1.6"${DASHES[k % DASHES.length] === '' ? '' : ` stroke-dasharray="${DASHES[k % DASHES.length]}"`}/>`).join('');
  const names = lines.length < 2 ? '' : lines.map((l, k) => `<text x="${LEFT + 8 + 110 * k}" y="${HEIGHT - 4}" fill="${INKS[k % INKS.length]}">${escaped(l.title)}</text>`).join('');
  const axis = `<text x="${WIDTH - RIGHT}" y="${HEIGHT - 4}" text-anchor="end">${escaped(x.title)}</text>`;
  return `<svg xmlns="http://www.w3.org/2000/svg" role="img" viewBox="0 0 ${WIDTH} ${HEIGHT}" width="${WIDTH}" font-size="10.5" fill="#444"><title>${escaped(title)}</title>${grid}${held}${marked}${drawn}${names}${axis}</svg>`;
}

/** Bars of what parts burn, by mechanism, the largest first. */
export function barsSvg({ title, unit, bars }: Extract<Block, { kind: 'bars' }>): string {
  const [row, from] = [18, 70];
  const most = Math.max(1e-12, ...bars.map((b) => b.parts.reduce((s, p) => s + p.value, 0)));
  const s = scaleLinear().domain([0, most]).range([0, WIDTH - from - 90]);
  const drawn = bars.map((b, k) => {
    let x = from;
    const total = b.parts.reduce((sum, p) => sum + p.value, 0);
    const parts = b.parts.map((p, i) => {
      const width = s(p.value);
      const rect = `<rect x="${x.toFixed(1)}" y="${k * row + 3}" width="${width.toFixed(1)}" height="11" fill="${INKS[i % INKS.length]}" fill-opacity="${(1 - 0.22 * Math.floor(i / INKS.length)).toFixed(2)}"><title>${escaped(`${p.title}: ${printTyped(p.value, 'W', 3)}`)}</title></rect>`;
      x += width;
      return rect;
    });
    return `<text x="${from - 6}" y="${k * row + 12}" text-anchor="end">${escaped(b.title)}</text>${parts.join('')}<text x="${(x + 5).toFixed(1)}" y="${k * row + 12}">${escaped(unit === 'W' ? printTyped(total, 'W', 3) : String(total))}</text>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" role="img" viewBox="0 0 ${WIDTH} ${bars.length * row + 4}" width="${WIDTH}" font-size="10.5" fill="#444"><title>${escaped(title)}</title>${drawn.join('')}</svg>`;
}
