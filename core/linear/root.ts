/**
 * The one root finder: a function with a sign change between two points, Newton where its slope is known and the
 * secant where it is not, always kept within the bracket (Dowell, Jarratt 1971: an end that stays has its weight
 * halved); every third round halves the bracket whatever they propose, so that it always ends.
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

export function findRoot(f: (x: number) => number, bracket: Bracket, options: RootOptions): Root {
  const { width, value = 0, slope, rounds = 100 } = options;
  let { low, high, atLow, atHigh } = bracket;
  const rises = atHigh > atLow;
  let x = options.guess ?? secant(low, high, atLow, atHigh);
  let count = 0;
  for (; count < rounds; ) {
    const y = f(x);
    count++;
    if (Math.abs(y) <= value) break;
    if (y > 0 === rises) {
      [high, atHigh] = [x, y];
      if (!slope) atLow /= 2;
    } else {
      [low, atLow] = [x, y];
      if (!slope) atHigh /= 2;
    }
    if (high - low <= width) break;
    let next = slope ? x - y / slope() : secant(low, high, atLow, atHigh);
    if (slope && Math.abs(next - x) <= width) break;
    if (!(next > low && next < high) || count % 3 === 2) next = (low + high) / 2;
    if (next === low || next === high) break;
    x = next;
  }
  return { at: x, count };
}

const secant = (a: number, b: number, fa: number, fb: number): number => {
  const x = a - (fa * (b - a)) / (fb - fa);
  return x > a && x < b ? x : (a + b) / 2;
};
