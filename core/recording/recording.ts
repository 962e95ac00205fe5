import type { Points } from './points';
import { after, before, bytesOf, extremesIn, integralIn, stretchOf, thinned, valueAt, type Stretch } from './stretch';

/**
 * A recording: stretches of points as they come, and over each of them a pyramid of blocks with their least, most, integral and
 * integral of the square, so that any window is drawn and read in a time that does not grow with what is in it.
 * Of a long run only the latest points are kept; of what is older the blocks, whose width is then what a time is known to.
 */
export interface Recording {
  /** Quantities a point has */
  readonly count: number;
  /** s of its first point and its last; NaN while it has none */
  from(): number;
  until(): number;
  /** Points it has seen, and bytes that it holds */
  size(): { points: number; bytes: number };
  /** The next stretch, which begins where the last has ended */
  add(points: Points): void;
  /** Least and most of a quantity in equal columns of a window; NaN where there is nothing. Between points it goes straight. */
  columns(quantity: number, from: number, until: number, columns: number): { least: Float64Array; most: Float64Array };
  /** Points of a window and one to either side, where it has at most so many and all are kept; undefined where not */
  pointsIn(from: number, until: number, most: number): { time: Float64Array; values: Float64Array[] } | undefined;
  /** Value at a time: after what happens there; NaN outside */
  at(quantity: number, t: number): number;
  /** Figures of a quantity over a window; undefined where it holds nothing of it */
  read(quantity: number, from?: number, until?: number): Figures | undefined;
  /** s within which times of a window are known: nothing where its points are kept */
  error(from: number, until: number): number;
  /** The moment before (−1) or after (1) a time at which something happens, and all that happens then */
  event(t: number, way: -1 | 1): Moment | undefined;
}

/** A moment at which devices change, by their numbers, and to which segment. */
export interface Moment {
  t: number;
  what: { device: number; segment: number }[];
}

/** Figures of a quantity over a window. */
export interface Figures {
  least: number;
  leastAt: number;
  most: number;
  mostAt: number;
  mean: number;
  rms: number;
  /** At the window's beginning and its end */
  first: number;
  last: number;
}

/** Share of the largest that a quantity is, below which a figure of it is rounding */
const ROUNDING = 1e-9;

/** Figures as they are told: what is nothing but rounding beside what the quantity does is nothing. */
export function told(f: Figures): Figures {
  const least = ROUNDING * Math.max(Math.abs(f.least), Math.abs(f.most));
  const seen = (v: number): number => (Math.abs(v) < least ? 0 : v);
  return { ...f, mean: seen(f.mean), first: seen(f.first), last: seen(f.last) };
}

/** Points whose values are kept, where nothing is said */
const WHOLE = 4_000_000;

/** Source: a pyramid of extremes as for drawing audio, with integrals beside them (a sum over a range of blocks, as in Blelloch, "Prefix sums and their applications", 1990). */
export function recording(count: number, whole = WHOLE): Recording {
  const stretches: Stretch[] = [];
  let seen = 0;
  let kept = 0;

  function thin(): void {
    for (const s of stretches) {
      if (kept <= whole || s === stretches.at(-1)) return;
      if (!s.time) continue;
      kept -= s.count;
      thinned(s);
    }
  }

  /** Stretches that reach into a window. */
  const within = (from: number, until: number): Stretch[] => {
    let [a, b] = [0, stretches.length];
    while (a < b) {
      const m = (a + b) >> 1;
      if (stretches[m]!.until < from) a = m + 1;
      else b = m;
    }
    const found: Stretch[] = [];
    for (let k = a; k < stretches.length && stretches[k]!.from <= until; k++) found.push(stretches[k]!);
    return found;
  };

  const at = (quantity: number, t: number): number => {
    const s = within(t, t).at(-1);
    return s ? valueAt(s, quantity, t) : NaN;
  };

  return {
    count,
    from: () => stretches[0]?.from ?? NaN,
    until: () => stretches.at(-1)?.until ?? NaN,
    size: () => ({ points: seen, bytes: stretches.reduce((sum, s) => sum + bytesOf(s), 0) }),
    add(points) {
      const n = points.time.length;
      if (n === 0) return;
      if (points.values.length !== count) throw new Error(`points of ${points.values.length} quantities where ${count} are recorded`);
      stretches.push(stretchOf(points));
      seen += n;
      kept += n;
      thin();
    },
    columns(quantity, from, until, columns) {
      const least = new Float64Array(columns).fill(NaN);
      const most = new Float64Array(columns).fill(NaN);
      const width = (until - from) / columns;
      for (const s of within(from, until)) {
        // Columns that the stretch reaches into.
        const k0 = Math.max(0, Math.floor((s.from - from) / width));
        const k1 = Math.min(columns - 1, Math.floor((s.until - from) / width));
        for (let k = k0; k <= k1; k++) {
          const [a, b] = [Math.max(s.from, from + k * width), Math.min(s.until, from + (k + 1) * width)];
          if (!(b >= a)) continue;
          // A column that holds all of a stretch wants no more than its extremes.
          const found = a <= s.from && b >= s.until ? { least: s.least[quantity]!, most: s.most[quantity]! } : extremesIn(s, quantity, a, b);
          least[k] = Number.isNaN(least[k]!) ? found.least : Math.min(least[k]!, found.least);
          most[k] = Number.isNaN(most[k]!) ? found.most : Math.max(most[k]!, found.most);
        }
      }
      return { least, most };
    },
    pointsIn(from, until, most) {
      const parts = within(from, until);
      if (parts.some((s) => !s.time)) return undefined;
      const ranges = parts.map((s) => [Math.max(0, before(s.time!, from)), Math.min(s.count, after(s.time!, until) + 1)] as const);
      const n = ranges.reduce((sum, [a, b]) => sum + b - a, 0);
      if (n > most) return undefined;
      const time = new Float64Array(n);
      const values = Array.from({ length: count }, () => new Float64Array(n));
      let k = 0;
      parts.forEach((s, i) => {
        const [a, b] = ranges[i]!;
        time.set(s.time!.subarray(a, b), k);
        values.forEach((v, q) => v.set(s.values![q]!.subarray(a, b), k));
        k += b - a;
      });
      return { time, values };
    },
    at,
    read(quantity, from = -Infinity, until = Infinity) {
      const parts = within(from, until);
      if (parts.length === 0) return undefined;
      const found: Figures = { least: Infinity, leastAt: NaN, most: -Infinity, mostAt: NaN, mean: NaN, rms: NaN, first: NaN, last: NaN };
      let [area, square, span] = [0, 0, 0];
      for (const s of parts) {
        const [a, b] = [Math.max(from, s.from), Math.min(until, s.until)];
        const all = a <= s.from && b >= s.until;
        // Of a stretch that is in it as a whole nothing may be new but what it adds up to.
        if (!all || s.least[quantity]! < found.least || s.most[quantity]! > found.most) {
          const e = extremesIn(s, quantity, a, b);
          if (e.least < found.least) [found.least, found.leastAt] = [e.least, e.leastAt];
          if (e.most > found.most) [found.most, found.mostAt] = [e.most, e.mostAt];
        }
        const sums = integralIn(s, quantity, a, b);
        area += sums.area;
        square += sums.square;
        span += b - a;
      }
      found.first = valueAt(parts[0]!, quantity, Math.max(from, parts[0]!.from));
      found.last = valueAt(parts.at(-1)!, quantity, Math.min(until, parts.at(-1)!.until));
      found.mean = span > 0 ? area / span : found.last;
      found.rms = span > 0 ? Math.sqrt(Math.max(0, square / span)) : Math.abs(found.last);
      return found;
    },
    error: (from, until) => within(from, until).reduce((most, s) => (s.time ? most : s.edges.reduce((w, e, k) => (k > 0 ? Math.max(w, e - s.edges[k - 1]!) : w), most)), 0),
    event(t, way) {
      const order = way === 1 ? within(t, Infinity) : within(-Infinity, t).toReversed();
      for (const { events } of order) {
        const k = way === 1 ? after(events.time, t) : before(events.time, t, true);
        if (k < 0 || k >= events.time.length) continue;
        const at = events.time[k]!;
        const what: Moment['what'] = [];
        for (let i = before(events.time, at, true) + 1; events.time[i] === at; i++) what.push({ device: events.device[i]!, segment: events.segment[i]! });
        return { t: at, what };
      }
      return undefined;
    },
  };
}
