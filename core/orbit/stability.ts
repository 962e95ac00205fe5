import { eigenvalues } from '../linear/eigen';
import type { Problem } from '../problem';
import type { Cycle } from './cycle';

/** Multipliers of a cycle, largest first: eigenvalues of its period map, without unit; it is stable where all are smaller than one. */
export const multipliers = (c: Cycle): { re: number; im: number; size: number }[] =>
  eigenvalues(c.monodromy, c.states)
    .map((v) => ({ ...v, size: Math.hypot(v.re, v.im) }))
    .sort((a, b) => b.size - a.size);

/** Rounding of a period's map, against the states: a few units of the last place. */
const MAP = 1e-15;

/**
 * Share of the states that rounding leaves open. What a period brings back by 1 − μ is solved for from that
 * difference, so a state that is held by next to nothing (a large capacitor on 10 MΩ at 100 kHz comes back by 1e-10) is
 * known to MAP/|1 − μ| only.
 */
export const doubt = (c: Cycle): number => Math.min(1, Math.max(MAP, ...multipliers(c).map(({ re, im }) => MAP / Math.hypot(1 - re, im))));

/**
 * Does a cycle stay where it is? Undefined when all multipliers lie inside the unit circle; else a problem that
 * says how it leaves: "subharmonic" (alternating from period to period), "oscillation" or "drift", and the cure.
 */
export function instability(c: Cycle): Problem | undefined {
  const worst = multipliers(c)[0];
  if (!worst || worst.size < 1) return undefined;
  const size = worst.size.toFixed(3);
  if (Math.abs(worst.im) > 1e-6 * worst.size)
    return { code: 'oscillation', where: '', message: `the cycle does not stay: a pair of multipliers of size ${size} oscillates at ${(Math.abs(Math.atan2(worst.im, worst.re)) / (2 * Math.PI * c.period)).toPrecision(3)} Hz`, remedy: 'lower the bandwidth of the loop or give it more phase there; damp a filter that rings' };
  if (worst.re < 0) return { code: 'subharmonic', where: '', message: `the cycle does not stay: a multiplier of ${worst.re.toFixed(3)} alternates from period to period`, remedy: 'add slope to the current ramp, lower the duty, or lower the bandwidth' };
  return { code: 'drift', where: '', message: `the cycle does not stay: a multiplier of ${worst.re.toFixed(3)} drifts away`, remedy: 'check the sign of the feedback' };
}
