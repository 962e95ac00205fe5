import { vector } from '../linear/vector';
import type { Events, Points } from './points';

/** A stretch of a recording: its points, and blocks over them; or blocks alone. */

/** Points of a block, and blocks of a block of the next level */
const BLOCK = 16;
/** The level that is kept of what is older: its blocks are of BLOCK² points */
const KEPT = 2;
/** Blocks of a level: entry k stands for points or blocks k·BLOCK and what follows, by quantity. */
interface Level {
  least: Float64Array[];
  most: Float64Array[];
  /** ∫x dt and ∫x² dt from the block's first point to the first of the next one */
  area: Float64Array[];
  square: Float64Array[];
}

export interface Stretch {
  /** Undefined where only blocks are kept */
  time?: Float64Array;
  values?: Float64Array[];
  /** From level 1 on */
  levels: Level[];
  /** s where each block of level KEPT begins, and the stretch's end */
  edges: Float64Array;
  count: number;
  from: number;
  until: number;
  /** Least and most of all of it */
  least: Float64Array;
  most: Float64Array;
  /** Values at both ends */
  first: Float64Array;
  last: Float64Array;
  events: Events;
}

const NO_LEVEL: Level = { least: [], most: [], area: [], square: [] };

/** The last index with time ≤ t (strictly before it when asked), −1 where there is none. */
export function before(time: Float64Array, t: number, strictly = false): number {
  let [a, b] = [0, time.length];
  while (a < b) {
    const m = (a + b) >> 1;
    if (strictly ? time[m]! < t : time[m]! <= t) a = m + 1;
    else b = m;
  }
  return a - 1;
}

/** The first index with time > t; its length where there is none. */
export const after = (time: Float64Array, t: number): number => before(time, t) + 1;

export function stretchOf({ time, values, events }: Points): Stretch {
  const count = time.length;
  const levels: Level[] = [];
  const first: Level = blocksOf(Math.ceil(count / BLOCK), values.length);
  values.forEach((v, q) => fillBlocks(time, v, first.least[q]!, first.most[q]!, first.area[q]!, first.square[q]!));
  levels.push(first);
  while (levels.at(-1)!.least[0]!.length > BLOCK || levels.length < KEPT) levels.push(above(levels.at(-1)!, values.length));
  const top = levels.at(-1)!;
  const each = (of: (top: Level, q: number) => number): Float64Array => {
    const out = vector(values.length);
    for (let q = 0; q < values.length; q++) out[q] = of(top, q);
    return out;
  };
  const coarse = levels[KEPT - 1]!.least[0]!.length;
  const width = BLOCK ** KEPT;
  return {
    time, values, levels, count, events,
    edges: Float64Array.from({ length: coarse + 1 }, (_, k) => (k === coarse ? time[count - 1]! : time[k * width]!)),
    from: time[0]!, until: time[count - 1]!,
    least: each(({ least }, q) => least[q]!.reduce((a, b) => Math.min(a, b))),
    most: each(({ most }, q) => most[q]!.reduce((a, b) => Math.max(a, b))),
    first: each((_, q) => values[q]![0]!), last: each((_, q) => values[q]![count - 1]!),
  };
}

/** Least, most and integrals of blocks of points, which go straight from one to the next. */
function fillBlocks(time: Float64Array, v: Float64Array, least: Float64Array, most: Float64Array, area: Float64Array, square: Float64Array): void {
  const last = v.length - 1;
  let x = v[0]!;
  let t = time[0]!;
  for (let k = 0, i = 0; i <= last; k++) {
    let low = x;
    let high = x;
    let [sum, squares] = [0, 0];
    for (const end = Math.min(last, i + BLOCK); i < end; i++) {
      if (x < low) low = x;
      else if (x > high) high = x;
      const y = v[i + 1]!;
      const u = time[i + 1]!;
      const wide = u - t;
      const both = x + y;
      sum += wide * both;
      squares += wide * (x * both + y * y);
      x = y;
      t = u;
    }
    // The last point has nothing that follows it.
    if (i === last && last < (k + 1) * BLOCK) {
      low = Math.min(low, x);
      high = Math.max(high, x);
      i++;
    }
    least[k] = low;
    most[k] = high;
    area[k] = sum / 2;
    square[k] = squares / 3;
  }
}

const blocksOf = (n: number, quantities: number): Level => {
  const all = vector(4 * quantities * n);
  all.fill(Infinity, 0, quantities * n).fill(-Infinity, quantities * n, 2 * quantities * n);
  const list = (part: number): Float64Array[] => Array.from({ length: quantities }, (_, q) => all.subarray((part * quantities + q) * n, (part * quantities + q + 1) * n));
  return { least: list(0), most: list(1), area: list(2), square: list(3) };
};

function above(below: Level, quantities: number): Level {
  const n = below.least[0]!.length;
  const level = blocksOf(Math.ceil(n / BLOCK), quantities);
  for (let q = 0; q < quantities; q++)
    for (let i = 0; i < n; i++) {
      const k = (i / BLOCK) | 0;
      level.least[q]![k] = Math.min(level.least[q]![k]!, below.least[q]![i]!);
      level.most[q]![k] = Math.max(level.most[q]![k]!, below.most[q]![i]!);
      level.area[q]![k]! += below.area[q]![i]!;
      level.square[q]![k]! += below.square[q]![i]!;
    }
  return level;
}

export const bytesOf = (s: Stretch): number =>
  (s.time?.byteLength ?? 0) + (s.values ?? []).reduce((sum, v) => sum + v.byteLength, 0) +
  8 * (s.levels.reduce((sum, l) => sum + 4 * l.least.reduce((n, v) => n + v.length, 0), 0) + s.edges.length + 2 * s.first.length + 2 * s.events.time.length);

/** Value at a time, straight between points; in a stretch of blocks the middle of the block it falls into. */
export function valueAt(s: Stretch, quantity: number, t: number): number {
  if (t >= s.until) return s.last[quantity]!;
  if (!s.time) {
    if (t <= s.from) return s.first[quantity]!;
    const k = Math.min(s.edges.length - 2, Math.max(0, before(s.edges, t)));
    const level = s.levels[KEPT - 1]!;
    return (level.least[quantity]![k]! + level.most[quantity]![k]!) / 2;
  }
  const i = Math.max(0, before(s.time, t));
  const v = s.values![quantity]!;
  if (i >= s.count - 1) return v[s.count - 1]!;
  const [t0, t1] = [s.time[i]!, s.time[i + 1]!];
  return t1 > t0 ? v[i]! + ((t - t0) / (t1 - t0)) * (v[i + 1]! - v[i]!) : v[i + 1]!;
}

/** Do something with every entry of a level's range, in as few pieces as the levels above allow. */
function overRange(s: Stretch, from: number, until: number, level: number, one: (level: number, k: number) => void): void {
  let [a, b] = [from, until];
  let at = level;
  while (a < b) {
    const up = at < s.levels.length && s.levels[at] !== NO_LEVEL;
    if (!up || b - a < 2 * BLOCK) {
      for (let k = a; k < b; k++) one(at, k);
      return;
    }
    while (a % BLOCK !== 0) one(at, a++);
    while (b % BLOCK !== 0) one(at, --b);
    [a, b] = [a / BLOCK, b / BLOCK];
    at++;
  }
}

/** Least and most between two times within a stretch, and where. */
export function extremesIn(s: Stretch, quantity: number, from: number, until: number): { least: number; most: number; leastAt: number; mostAt: number } {
  const found = { least: Infinity, most: -Infinity, leastAt: NaN, mostAt: NaN };
  const see = (x: number, y: number, t: number): void => {
    if (x < found.least) [found.least, found.leastAt] = [x, t];
    if (y > found.most) [found.most, found.mostAt] = [y, t];
  };
  if (!s.time) {
    const k0 = Math.max(0, before(s.edges, from));
    const k1 = Math.min(s.edges.length - 1, after(s.edges, until));
    overRange(s, k0, k1, KEPT, (level, k) => {
      const l = s.levels[level - 1]!;
      const first = k * BLOCK ** (level - KEPT);
      see(l.least[quantity]![k]!, l.most[quantity]![k]!, (s.edges[first]! + s.edges[Math.min(s.edges.length - 1, first + BLOCK ** (level - KEPT))]!) / 2);
    });
    return found;
  }
  const [time, v] = [s.time, s.values![quantity]!];
  for (const t of [from, until]) {
    const x = valueAt(s, quantity, t);
    see(x, x, t);
  }
  // A side of an event that falls on the very beginning belongs to it.
  const k0 = before(time, from, true) + 1;
  const k1 = after(time, until);
  let [leastIn, mostIn]: (readonly [number, number] | undefined)[] = [];
  overRange(s, k0, k1, 0, (level, k) => {
    const [low, high] = level === 0 ? [v[k]!, v[k]!] : [s.levels[level - 1]!.least[quantity]![k]!, s.levels[level - 1]!.most[quantity]![k]!];
    if (low < found.least) [found.least, leastIn] = [low, [level, k]];
    if (high > found.most) [found.most, mostIn] = [high, [level, k]];
  });
  if (leastIn) found.leastAt = time[descend(s, quantity, leastIn, 'least', found.least)]!;
  if (mostIn) found.mostAt = time[descend(s, quantity, mostIn, 'most', found.most)]!;
  return found;
}

/** The point of a block that has its extreme. */
function descend(s: Stretch, quantity: number, [level, k]: readonly [number, number], which: 'least' | 'most', value: number): number {
  for (; level > 0; level--) {
    const below = level === 1 ? s.values![quantity]! : s.levels[level - 2]![which][quantity]!;
    let i = k * BLOCK;
    while (below[i] !== value) i++;
    k = i;
  }
  return k;
}

/** ∫x dt and ∫x² dt between two times within a stretch, straight between points. */
export function integralIn(s: Stretch, quantity: number, from: number, until: number): { area: number; square: number } {
  const sum = { area: 0, square: 0 };
  if (!s.time) {
    // Of a block that is cut its share of time.
    const k0 = Math.max(0, before(s.edges, from));
    const k1 = Math.min(s.edges.length - 1, after(s.edges, until));
    const level = s.levels[KEPT - 1]!;
    for (let k = k0; k < k1; k++) {
      const [a, b] = [s.edges[k]!, s.edges[k + 1]!];
      const share = b > a ? (Math.min(until, b) - Math.max(from, a)) / (b - a) : 0;
      sum.area += share * level.area[quantity]![k]!;
      sum.square += share * level.square[quantity]![k]!;
    }
    return sum;
  }
  const [time, v] = [s.time, s.values![quantity]!];
  const piece = (t0: number, t1: number): void => {
    const [x, y] = [valueAt(s, quantity, t0), t1 >= s.until ? s.last[quantity]! : endOf(s, quantity, t1)];
    sum.area += ((t1 - t0) * (x + y)) / 2;
    sum.square += ((t1 - t0) * (x * x + x * y + y * y)) / 3;
  };
  const [i0, i1] = [before(time, from), before(time, until)];
  if (i0 === i1 || i0 < 0) {
    if (until > from) piece(from, until);
    return sum;
  }
  if (i0 < s.count - 1) piece(from, time[i0 + 1]!);
  overRange(s, i0 + 1, i1, 0, (level, k) => {
    if (level > 0) {
      sum.area += s.levels[level - 1]!.area[quantity]![k]!;
      sum.square += s.levels[level - 1]!.square[quantity]![k]!;
      return;
    }
    const [h, x, y] = [time[k + 1]! - time[k]!, v[k]!, v[k + 1]!];
    sum.area += (h * (x + y)) / 2;
    sum.square += (h * (x * x + x * y + y * y)) / 3;
  });
  if (until > time[i1]!) piece(time[i1]!, until);
  return sum;
}

/** Value at the end of a piece that begins before a time: before what happens there. */
function endOf(s: Stretch, quantity: number, t: number): number {
  const i = before(s.time!, t, true);
  const v = s.values![quantity]!;
  if (i < 0) return v[0]!;
  const [t0, t1] = [s.time![i]!, s.time![i + 1]!];
  return v[i]! + ((t - t0) / (t1 - t0)) * (v[i + 1]! - v[i]!);
}

/** Leave a stretch its blocks alone: points and the finer blocks go. */
export function thinned(s: Stretch): void {
  delete s.time;
  delete s.values;
  s.levels.splice(0, KEPT - 1, ...s.levels.slice(0, KEPT - 1).map(() => NO_LEVEL));
}
