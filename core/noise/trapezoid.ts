/** sin(πx)/(πx): what an edge in a straight line leaves of a harmonic. */
export const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));

/**
 * Size of the n-th harmonic (peak) of a trapezoid of a height, high for a share of the period counted at half its height, with edges that rise and
 * fall in the same time: 2 A D |sinc(n D)| |sinc(n tr / T)|.
 *
 * Source: Ott, "Electromagnetic Compatibility Engineering" (2009), ch. 12: spectrum of a symmetrical trapezoidal wave.
 */
export const trapezoidHarmonic = (n: number, height: number, duty: number, edge: number, period: number): number => 2 * height * duty * Math.abs(sinc(n * duty)) * Math.abs(sinc((n * edge) / period));
