/**
 * The one quadrature: Gauss's eight-point rule on [0, 1], as pairs of node and weight; exact for polynomials to the
 * fifteenth degree, so half a turn of a sine is good to 1e-11 (Abramowitz, Stegun, table 25.4).
 */
export const GAUSS_8: readonly (readonly [number, number])[] = [0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363].flatMap((x, i) => {
  const w = [0.362683783378362, 0.3137066458778873, 0.22238103445337448, 0.10122853629037626][i]! / 2;
  return [[(1 - x) / 2, w], [(1 + x) / 2, w]] as const;
});

/** Panels towards a weak singularity, each half as long as the last */
const PANELS = 40;

/** ∫ f from 0 to `end` where f is smooth but for a power or a root at zero: Gauss's rule in panels that halve towards it. */
export function integrateFromZero(f: (x: number) => number, end: number): number {
  let sum = 0;
  for (let k = 0, high = end; k < PANELS; k++, high /= 2) for (const [x, w] of GAUSS_8) sum += ((f((high * (1 + x)) / 2) * high) / 2) * w;
  return sum;
}
