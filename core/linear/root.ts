/**
 * The one root finder: a function with a sign change between two points, Newton where its slope is known and the
 * secant where it is not, always kept within the bracket. An end that stays loses weight by what the other end gained
 * (Anderson, Björck 1973, after Dowell, Jarratt 1971), which makes the secant converge faster than linearly from both
 * sides; where three rounds have halved neither the bracket nor the value, the next one halves the bracket, so that it
 * always ends.
 */
export interface Bracket {
  low: number;
  high: number;
  /** Values at the ends: of opposite sign, or zero */
  atLow: number;
  atHigh: number;
}

export interface RootOptions {
  /** The bracket's width, or a Newton step, at which it is found */
  width: number;
  /** |value| at which it is found */
  value?: number;
  /** Where to look first; the secant's point when left out */
  guess?: number;
  /** Slope at the point last evaluated */
  slope?: () => number;
  rounds?: number;
}

export interface Root {
  /** The point last evaluated: within the tolerance of the root */
  at: number;
  /** How often the function was evaluated */
  count: number;
}

/**
 * Where a function crosses zero between two points.
 * @param f in the unit of the bracket's values
 * @returns the point last evaluated, within `width` (or with |f| within `value`) of the root, and how often f was evaluated; always ends
 */
export function findRoot(f: (x: number) => number, bracket: Bracket, options: RootOptions): Root {
  const { width, value = 0, slope, rounds = 100 } = options;
  let { low, high, atLow, atHigh } = bracket;
  const rises = atHigh > atLow;
  let x = options.guess ?? secant(low, high, atLow, atHigh);
  let count = 0;
  /** The end that moved last: 1 the high one, −1 the low one */
  let moved = 0;
  let [wide, far] = [high - low, Infinity];
  while (count < rounds) {
    const y = f(x);
    count++;
    if (Math.abs(y) <= value) break;
    if (y > 0 === rises) {
      if (moved > 0) atLow *= weightLeft(y, atHigh);
      [high, atHigh, moved] = [x, y, 1];
    } else {
      if (moved < 0) atHigh *= weightLeft(y, atLow);
      [low, atLow, moved] = [x, y, -1];
    }
    if (high - low <= width) break;
    let next = slope ? x - y / slope() : secant(low, high, atLow, atHigh);
    if (slope && Math.abs(next - x) <= width) break;
    if (!(next > low && next < high)) next = (low + high) / 2;
    if (count % 3 === 0) {
      if (high - low > wide / 2 && Math.abs(y) > far / 2) next = (low + high) / 2;
      [wide, far] = [high - low, Math.abs(y)];
    }
    if (next === low || next === high) break;
    x = next;
  }
  return { at: x, count };
}

/** Weight left to the end that stayed, when the other one went from a value to another. */
const weightLeft = (now: number, before: number): number => (now / before < 1 ? 1 - now / before : 0.5);

const secant = (a: number, b: number, fa: number, fb: number): number => {
  const x = a - (fa * (b - a)) / (fb - fa);
  return x > a && x < b ? x : (a + b) / 2;
};
