import { over, scale, times, turn, type Complex } from '../linear/complex';
import type { Element } from '../circuit/elements';
import { valueAt } from './rational';
import type { Rational } from './types';

/** A difference equation, coefficients from z⁰ on in powers of z⁻¹: taken at (k + phase)·period, put out `delay` s later. */
export interface Sampled {
  numerator: readonly number[];
  denominator: readonly number[];
  /** s */
  period: number;
  /** Share of the period at which it samples */
  phase: number;
  /** s from the sample to its output */
  delay: number;
  /** V that it puts out at least and at most; what is kept of an output is what went out, so that it does not wind up */
  low?: number;
  high?: number;
}

/** V that an amplifier puts out at least and at most; V per V by which what would lie beyond comes off its input, so that it does not wind up. */
export interface Clips {
  low?: number;
  high?: number;
  tracking: number;
}

/** What makes a command of an error: a network, or a difference equation. */
export type Controller = ({ kind: 'continuous'; clips?: Clips } & Rational) | ({ kind: 'sampled' } & Sampled);

export const continuous = (r: Rational): Controller => ({ kind: 'continuous', ...r });

/** It as an element: v(node, 0) from v(plus, minus). */
export const controllerElement = (c: Controller, id: string, node: string, plus: string, minus: string): Element =>
  c.kind === 'continuous'
    ? { kind: 'transfer', id, a: node, b: '0', plus, minus, numerator: [...c.numerator], denominator: [...c.denominator], ...(c.clips ?? { tracking: 0 }) }
    : { kind: 'sampled', id, a: node, b: '0', plus, minus, numerator: [...c.numerator], denominator: [...c.denominator], period: c.period, phase: c.phase, delay: c.delay, low: c.low, high: c.high };

/** A polynomial in z⁻¹ at an angle ωT. */
const polynomialAt = (p: readonly number[], angle: number): Complex => p.reduce((sum, v, k) => ({ re: sum.re + v * Math.cos(k * angle), im: sum.im - v * Math.sin(k * angle) }), { re: 0, im: 0 });

/** H(e^{jωT}): what a difference equation does to a sine at its sample instants, at an angle ωT. */
export const atSamples = (c: Pick<Sampled, 'numerator' | 'denominator'>, angle: number): Complex => over(polynomialAt(c.numerator, angle), polynomialAt(c.denominator, angle));

/**
 * What it does to a slow sine (Hz): at the sample instants H(e^{jωT}); then its delay, and the hold of a period, (1 − e^{−jωT})/jωT.
 * Source: Åström, Wittenmark, "Computer-Controlled Systems", ch. 2 and 7 (sampling and zero-order hold).
 */
export function controllerAt(c: Controller, f: number): Complex {
  if (c.kind === 'continuous') return valueAt(c, f);
  const angle = 2 * Math.PI * f * c.period;
  const half = angle / 2;
  const hold = scale(turn(-half), half === 0 ? 1 : Math.sin(half) / half);
  return times(times(atSamples(c, angle), turn(-2 * Math.PI * f * c.delay)), hold);
}

/** Columns of the circuit's state, by name, that have its output stand at a value: it has been there for ever, its error nothing. */
export function standing(c: Controller, id: string, output: number): Record<string, number> {
  if (c.kind === 'continuous') return { [`${id}.0`]: output };
  const all = [`held ${id}`, ...(c.delay > 0 ? [`held ${id}.next`] : []), ...c.denominator.slice(1).map((_, k) => `held ${id}.y${k + 1}`)];
  return Object.fromEntries(all.map((name) => [name, output]));
}
