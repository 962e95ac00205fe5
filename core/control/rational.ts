import { complex, over, type Complex } from '../linear/complex';
import type { Rational } from './types';

const w = (f: number): number => 2 * Math.PI * f;

/** Product of (1 + s/ω) over corners in Hz, from the constant upwards. */
const product = (corners: readonly number[]): number[] => corners.reduce<number[]>((p, f) => [...p, 0].map((v, k) => v + (k > 0 ? p[k - 1]! / w(f) : 0)), [1]);

/** (ωi / s) Π(1 + s/ωz) / Π(1 + s/ωp), all corners in Hz. */
export const rationalOf = (integrator: number, zeros: readonly number[], poles: readonly number[]): Rational => ({
  numerator: product(zeros).map((v) => v * w(integrator)),
  denominator: [0, ...product(poles)],
});

/** Its value at jω for a frequency in Hz. */
export function valueAt({ numerator, denominator }: Rational, f: number): Complex {
  // By Horner's rule in jω: a turn by a right angle and a factor at each step.
  const at = (c: readonly number[]): Complex => c.reduceRight<Complex>((v, k) => ({ re: k - v.im * w(f), im: v.re * w(f) }), complex(0));
  return over(at(numerator), at(denominator));
}
