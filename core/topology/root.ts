/**
 * Where a rising function is nothing between two bounds: regula falsi with halved weights (the Illinois rule, Dowell
 * and Jarratt 1971). The bounds are widened where they do not hold it, `low` towards nothing.
 */
export function root(of: (x: number) => number, low: number, high: number, within: number): number {
  let [below, above] = [of(low), of(high)];
  for (let k = 0; k < 8 && below > 0; k++) below = of((low *= 0.5));
  for (let k = 0; k < 8 && above < 0; k++) above = of((high *= 1.2));
  let x = low;
  for (let k = 0; k < 40; k++) {
    x = above === below ? (low + high) / 2 : (low * above - high * below) / (above - below);
    const found = of(x);
    if (Math.abs(found) <= within) break;
    if (found > 0) [high, above, below] = [x, found, below / 2];
    else [low, below, above] = [x, found, above / 2];
  }
  return x;
}
