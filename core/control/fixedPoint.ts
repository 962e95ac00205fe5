import { decibels, degrees, over, phase, size } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { atSamples, type Sampled } from './controller';

/** A difference equation in counts: of the converter in, of the modulator out. */
export interface InCounts {
  numerator: number[];
  /** From the one that belongs to y[k−1] on, with the sign that they have on the left: y[k] + a₁ y[k−1] + … = Σ b e */
  denominator: number[];
  /** Counts of the output at least and at most: nothing and a whole period, where nothing else is said */
  least: number;
  most: number;
  /** Counts of the output in a volt of it */
  perVolt: number;
}

/**
 * Volts told in counts: e in steps of the converter at the output, y in steps of the modulator.
 * @param step V of the output that a step of the converter is @param ramp V of the whole duty @param counts steps of the modulator in a period
 */
export function inCounts({ numerator, denominator, low, high }: Pick<Sampled, 'numerator' | 'denominator' | 'low' | 'high'>, step: number, ramp: number, counts: number): InCounts {
  const counted = (volts: number): number => Math.round((volts / ramp) * counts);
  return { numerator: numerator.map((b) => (b * step * counts) / ramp), denominator: denominator.slice(1), least: counted(low ?? 0), most: counted(high ?? ramp), perVolt: counts / ramp };
}

/** Coefficients as integers of so many bits behind the point, in words of so many bits with their sign. */
export interface FixedPoint {
  word: number;
  fraction: number;
  numerator: number[];
  denominator: number[];
  /** Of the output with that fraction */
  least: number;
  most: number;
  /** What rounding does to the response: dB and ° at a frequency */
  off: { gain: number; phase: number };
}

/** The largest fraction with which all coefficients fit their words. */
export const fractionFor = (c: InCounts, word: number): number => word - 1 - Math.ceil(Math.log2(Math.max(...[...c.numerator, ...c.denominator].map(Math.abs)) * (1 + 2 ** (1 - word))));

/**
 * A difference equation in Qm.n. What integrates goes on doing so: the coefficients of the output sum to what they did.
 * @param fraction n; as many as fit when left out @param angle ωT at which what rounding does is told
 * @returns problem "overflow" where a coefficient does not fit
 */
export function fixedPoint(c: InCounts, word: number, angle: number, fraction = fractionFor(c, word)): Result<FixedPoint> {
  const unit = 2 ** fraction;
  const limit = 2 ** (word - 1) - 1;
  const numerator = c.numerator.map((v) => Math.round(v * unit));
  const denominator = c.denominator.map((v) => Math.round(v * unit));
  const off = Math.round(c.denominator.reduce((s, v) => s + v, 0) * unit) - denominator.reduce((s, v) => s + v, 0);
  if (denominator.length > 0) denominator[0]! += off;
  const largest = [...c.numerator, ...c.denominator].reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0);
  const overflows = [...numerator, ...denominator].some((v) => Math.abs(v) > limit) || fraction < 1;
  if (overflows) return fail('overflow', 'control.fractionBits', `a coefficient of ${print(largest, '', 4)} does not fit Q${word - fraction}.${fraction} of ${word} bits`, `take ${Math.max(1, fractionFor(c, word))} bits behind the point, or longer words`);
  if (!numerator.some((v) => v !== 0)) return fail('overflow', 'control.fractionBits', `every coefficient rounds to nothing in Q${word - fraction}.${fraction}`, `take ${fractionFor(c, word)} bits behind the point`);
  const ideal = atSamples({ numerator: c.numerator, denominator: [1, ...c.denominator] }, angle);
  const rounded = atSamples({ numerator: numerator.map((v) => v / unit), denominator: [1, ...denominator.map((v) => v / unit)] }, angle);
  const ratio = over(rounded, ideal);
  return ok({ word, fraction, numerator, denominator, least: c.least * unit, most: c.most * unit, off: { gain: decibels(size(ratio)), phase: degrees(phase(ratio)) } });
}

/** A product with twice the fraction, back to one: the nearest, halves away from zero. */
const shifted = (v: number, fraction: number): number => (v < 0 ? -Math.floor((-v + 2 ** (fraction - 1)) / 2 ** fraction) : Math.floor((v + 2 ** (fraction - 1)) / 2 ** fraction));

/**
 * The exported controller, as it computes: told an error in counts it gives its output in counts. Saturated, and what is kept of
 * the output is what went out: so its integrator does not wind up.
 * @param from counts that it begins with, having stood there for ever
 */
export function fixedStepper({ numerator, denominator, fraction, least, most }: FixedPoint, from = 0): (error: number) => number {
  const e = new Array<number>(numerator.length).fill(0);
  const y = new Array<number>(denominator.length).fill(Math.round(from * 2 ** fraction));
  return (now) => {
    e.unshift(now);
    e.pop();
    let sum = numerator.reduce((s, b, i) => s + b * e[i]!, 0);
    denominator.forEach((a, i) => (sum -= shifted(a * y[i]!, fraction)));
    const out = Math.min(most, Math.max(least, sum));
    y.unshift(out);
    y.pop();
    return Math.floor(out / 2 ** fraction);
  };
}

/** Its outputs for errors from rest. */
export const runFixed = (c: FixedPoint, errors: readonly number[]): number[] => errors.map(fixedStepper(c));

/** The same in floating point: outputs as they are, saturated. */
export function runFloating({ numerator, denominator, least, most }: InCounts, errors: readonly number[]): number[] {
  const e = new Array<number>(numerator.length).fill(0);
  const y = new Array<number>(denominator.length).fill(0);
  return errors.map((now) => {
    e.unshift(now);
    e.pop();
    let sum = 0;
    numerator.forEach((b, i) => (sum += b * e[i]!));
    denominator.forEach((a, i) => (sum -= a * y[i]!));
    const out = Math.min(most, Math.max(least, sum));
    y.unshift(out);
    y.pop();
    return out;
  });
}
