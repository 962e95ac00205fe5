import { findRoot } from '../linear/root';

/** Where a rising function is nothing between two bounds, to `within` of it. The bounds are widened where they do not hold it, `low` towards nothing. */
export function root(of: (x: number) => number, low: number, high: number, within: number): number {
  let [atLow, atHigh] = [of(low), of(high)];
  for (let k = 0; k < 8 && atLow > 0; k++) atLow = of((low *= 0.5));
  for (let k = 0; k < 8 && atHigh < 0; k++) atHigh = of((high *= 1.2));
  return findRoot(of, { low, high, atLow, atHigh }, { width: 0, value: within }).at;
}

/** The root of a smooth function next to a guess, by Newton with slopes from differences: where there are two, the one on the guess's side. */
export function newton(of: (x: number) => number, guess: number, low: number, high: number): number {
  const h = 1e-6;
  let x = guess;
  for (let round = 0; round < 30; round++) {
    const step = of(x) / ((of(x + h) - of(x - h)) / (2 * h));
    x = Math.min(high, Math.max(low, x - step));
    if (Math.abs(step) < 1e-12) break;
  }
  return x;
}
