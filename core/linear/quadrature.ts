/**
 * The one quadrature: Gauss's eight-point rule on [0, 1], as pairs of node and weight; exact for polynomials to the
 * fifteenth degree, so half a turn of a sine is good to 1e-11 (Abramowitz, Stegun, table 25.4).
 */
export const GAUSS_8: readonly (readonly [number, number])[] = [0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363].flatMap((x, i) => {
  const w = [0.362683783378362, 0.3137066458778873, 0.22238103445337448, 0.10122853629037626][i]! / 2;
  return [[(1 - x) / 2, w], [(1 + x) / 2, w]] as const;
});
