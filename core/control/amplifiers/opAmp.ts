import type { Control, Rational, Setting } from '../types';

/**
 * What an op-amp lacks: its gain ends at dc, and falls by 20 dB a decade from its gain-bandwidth product down. With Z1
 * from the output to the inverting input, Z2 around the op-amp and R0 from that input to ground,
 *
 *                 N/D                              1     1        s
 *   C(s) = ──────────────────────── ,    N/D = Z2/Z1,   ─── = ── + ─────
 *          1 + (1 + N/D (1 + Z1/R0))/A                   A    A0   2π GBW
 *
 * Source: feedback amplifier with one pole, as in any text on operational amplifiers; Erickson, Maksimović,
 * "Fundamentals of Power Electronics", ch. 9, for the networks.
 */
export const OP_AMP: Readonly<Record<string, Setting>> = {
  openLoopGain: { unit: 'dB', title: 'gain of the op-amp', value: 'none', none: { reads: 'ideal', begins: 80 }, asked: true },
  gainBandwidth: { unit: 'Hz', title: 'its gain-bandwidth product', value: 'none', none: { reads: 'ideal', begins: 1e7 }, asked: true },
};

/** Coefficients of a product of two polynomials, from the constant upwards. */
export const product = (a: readonly number[], b: readonly number[]): number[] => {
  const out = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (out[i + j]! += x * y)));
  return out;
};
export const sum = (a: readonly number[], b: readonly number[]): number[] => Array.from({ length: Math.max(a.length, b.length) }, (_, k) => (a[k] ?? 0) + (b[k] ?? 0));

/**
 * A network with the op-amp that a design states; the network's own where it states none.
 * @param ideal N/D by the network alone
 * @param lower N · Z1/R0, from the constant upwards: nothing where there is no resistor to ground
 */
export function withOpAmp(ideal: Rational, lower: readonly number[], control: Control): Rational {
  const gain = control.openLoopGain as number | null | undefined;
  const bandwidth = control.gainBandwidth as number | null | undefined;
  if (gain == null && bandwidth == null) return ideal;
  const lacks = [gain == null ? 0 : 10 ** (-gain / 20), ...(bandwidth == null ? [] : [1 / (2 * Math.PI * bandwidth)])];
  const around = sum(sum(ideal.denominator, ideal.numerator), lower);
  return { numerator: ideal.numerator, denominator: sum(ideal.denominator, product(around, lacks)) };
}
