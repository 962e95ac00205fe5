import { size } from '../linear/complex';
import { atSamples } from './controller';

/** Ways from C(s) to a difference equation. */
export const DISCRETISATIONS = [
  { id: 'bilinear', title: 'bilinear', note: 's = 2/T · (1 − z⁻¹)/(1 + z⁻¹)' },
  { id: 'pre-warped', title: 'pre-warped', note: 'bilinear, exact at the crossover' },
  { id: 'matched', title: 'matched', note: 'z = e^{sT} for each, gain matched at the crossover' },
  { id: 'backward', title: 'backward difference', note: 's = (1 − z⁻¹)/T' },
] as const;
export type Discretisation = (typeof DISCRETISATIONS)[number]['id'];

/** C(s) = (ωi/s) Π(1 + s/ωz)/Π(1 + s/ωp), all in Hz. */
export interface ZeroPoleGain {
  integrator: number;
  zeros: readonly number[];
  poles: readonly number[];
}

/** A polynomial in z⁻¹ from its factors. */
const multiplied = (factors: readonly (readonly [number, number])[]): number[] => factors.reduce<number[]>((p, [a, b]) => [...p, 0].map((v, k) => a * v + (k > 0 ? b * p[k - 1]! : 0)), [1]);

/**
 * A difference equation that does at the sample instants what C(s) would, as well as its way allows.
 * @param T s between samples @param at Hz where pre-warping and matching are exact
 * @returns coefficients in powers of z⁻¹, those of the output beginning with one
 * Source: Åström, Wittenmark, "Computer-Controlled Systems", ch. 8; Franklin, Powell, Workman, "Digital Control of Dynamic Systems", ch. 6.
 */
export function discretise(method: Discretisation, { integrator, zeros, poles }: ZeroPoleGain, T: number, at: number): { numerator: number[]; denominator: number[] } {
  const w = (f: number): number => 2 * Math.PI * f;
  const scaled = (gain: number, numerator: number[], denominator: number[]): { numerator: number[]; denominator: number[] } => {
    const lead = denominator[0]!;
    return { numerator: numerator.map((v) => (v * gain) / lead), denominator: denominator.map((v) => v / lead) };
  };
  switch (method) {
    case 'bilinear':
    case 'pre-warped': {
      const k = method === 'bilinear' ? 2 / T : w(at) / Math.tan((w(at) * T) / 2);
      const factor = (f: number): [number, number] => [1 + k / w(f), 1 - k / w(f)];
      // Every pole, the integrator's too, brings a zero at z = −1; every zero takes one away.
      const left = 1 + poles.length - zeros.length;
      const more = Array.from({ length: Math.max(0, left) }, (): [number, number] => [1, 1]);
      const fewer = Array.from({ length: Math.max(0, -left) }, (): [number, number] => [1, 1]);
      return scaled(w(integrator) / k, multiplied([...zeros.map(factor), ...more]), multiplied([[1, -1], ...poles.map(factor), ...fewer]));
    }
    case 'backward': {
      const factor = (f: number): [number, number] => [1 + 1 / (w(f) * T), -1 / (w(f) * T)];
      return scaled(w(integrator) * T, multiplied(zeros.map(factor)), multiplied([[1, -1], ...poles.map(factor)]));
    }
    case 'matched': {
      const factor = (f: number): [number, number] => [1, -Math.exp(-w(f) * T)];
      const more = Array.from({ length: Math.max(0, 1 + poles.length - zeros.length) }, (): [number, number] => [1, 1]);
      const numerator = multiplied([...zeros.map(factor), ...more]);
      const denominator = multiplied([[1, -1], ...poles.map(factor)]);
      const unit = size(atSamples({ numerator, denominator }, w(at) * T));
      const wanted = (integrator / at) * (zeros.reduce((g, f) => g * Math.hypot(1, at / f), 1) / poles.reduce((g, f) => g * Math.hypot(1, at / f), 1));
      return scaled(wanted / unit, numerator, denominator);
    }
  }
}
