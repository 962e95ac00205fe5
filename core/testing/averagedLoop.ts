import { eigenvalues } from '../linear/eigen';
import type { LinearSystem } from '../response/system';

/** The averaged loop closed: an independent judge of the switching one, for tests. */

/** A compensator as cascaded first-order blocks, corners in Hz (see control/amplifiers/typeThree). */
export interface Cascade {
  integrator: number;
  leads: readonly { zero: number; pole: number }[];
  /** Duty per volt of the compensator's output: one over the ramp's amplitude. */
  modulator: number;
  /** s from the comparator to the switch */
  delay: number;
}

/**
 * Close a loop around an averaged plant: duty = −modulator · delay · C(s) · y.
 *
 * States: plant, integrator, one for each lead, two for the delay (second-order Padé, good to a
 * degree below 0.3/delay). The integrator makes C strictly proper, so there is no algebraic loop.
 *
 * @param plant its input 0 is the duty; the others stay as inputs of the closed loop
 */
export function closeLoop(plant: LinearSystem, control: Cascade): LinearSystem {
  const { n } = plant;
  const leads = control.leads.length;
  const delayed = control.delay > 0;
  const size = n + 1 + leads + (delayed ? 2 : 0);
  const A = new Float64Array(size * size);
  const b = plant.b.slice(1).map((column) => {
    const wide = new Float64Array(size);
    wide.set(column);
    return wide;
  });
  for (let i = 0; i < n; i++) A.set(plant.A.subarray(i * n, i * n + n), i * size);

  // y as a row over all states; the duty's own feedthrough is added once the duty's row is known.
  const y = new Float64Array(size);
  y.set(plant.c);
  const signal = new Float64Array(size);
  signal[n] = 1;
  control.leads.forEach(({ zero, pole }, k) => {
    // out = (p/z) in + (1 − p/z) w,  w' = ωp (in − w)
    const at = n + 1 + k;
    const w = 2 * Math.PI * pole;
    for (let j = 0; j < size; j++) A[at * size + j] = w * signal[j]!;
    A[at * size + at]! -= w;
    for (let j = 0; j < size; j++) signal[j]! *= pole / zero;
    signal[at]! += 1 - pole / zero;
  });
  for (let j = 0; j < size; j++) signal[j]! *= control.modulator;
  if (delayed) {
    // e^{−sT} ≈ 1 − 2a s/(s² + a s + b),  a = 6/T, b = 12/T²
    const q1 = n + 1 + leads;
    const q2 = q1 + 1;
    const a = 6 / control.delay;
    for (let j = 0; j < size; j++) A[q2 * size + j] = signal[j]!;
    A[q1 * size + q2] = 1;
    A[q2 * size + q1]! -= 12 / control.delay ** 2;
    A[q2 * size + q2]! -= a;
    signal[q2]! -= 2 * a;
  }
  for (let i = 0; i < n; i++) for (let j = 0; j < size; j++) A[i * size + j]! += plant.b[0]![i]! * signal[j]!;
  for (let j = 0; j < size; j++) y[j]! += plant.d[0]! * signal[j]!;

  const wi = 2 * Math.PI * control.integrator;
  for (let j = 0; j < size; j++) A[n * size + j] = -wi * y[j]!;
  const d = plant.d.slice(1);
  b.forEach((column, k) => (column[n] = -wi * d[k]!));
  return { n: size, A, b, c: y, d };
}

/** Real part of the slowest pole in 1/s (positive: unstable), and its frequency in Hz. */
export function dominantPole(system: LinearSystem): { rate: number; frequency: number } {
  const poles = eigenvalues(system.A, system.n);
  const worst = poles.reduce((a, p) => (p.re > a.re ? p : a));
  return { rate: worst.re, frequency: Math.abs(worst.im) / (2 * Math.PI) };
}
