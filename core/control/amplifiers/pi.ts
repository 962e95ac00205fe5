import { degrees, radians } from '../../linear/complex';
import { ok } from '../../problem';
import { preferred } from '../../quantity';
import { rationalOf } from '../rational';
import type { Amplifier } from '../types';
import { boostWanted, integratorFor, tooMuchLift } from './lift';
import { lowerOf, nearestR1 } from './network';
import { OP_AMP, withOpAmp } from './opAmp';

/**
 * A PI controller, C(s) = kp + ki/s = (ωi/s)(1 + s/ωz) with ki = ωi and kp = ωi/ωz. As a network: R1, and R2 with C1 around an
 * op-amp. By crossover and margin: the zero where its lift is what is wanted, the gain from |C P| = 1 there.
 * Source: Åström, Hägglund, "Advanced PID Control", ch. 2 and 6.
 */
/** Degrees that its zero can lift, and lifts at least: the zero is no further above the crossover than some ten times */
const [MOST_LIFT, LEAST_LIFT] = [88, 5];

export const pi: Amplifier = {
  id: 'pi',
  title: 'PI',
  by: 'by a PI',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    ...OP_AMP,
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
  ],
  place(plant, { crossover, phaseMargin }) {
    const boost = boostWanted(plant, phaseMargin);
    if (boost > MOST_LIFT) return tooMuchLift(boost, phaseMargin, crossover, 'a PI gives less than 90°', ', or take a PID');
    const zero1 = crossover / Math.tan(radians(Math.max(LEAST_LIFT, boost)));
    return ok({ integrator: integratorFor(plant, crossover, [zero1], []), zero1 });
  },
  build({ integrator, zero1 }, control, held) {
    const asked = control.inputResistor as number;
    const exact = (R1: number): { R1: number; R2: number; C1: number } => ({ R1, R2: (R1 * integrator!) / zero1!, C1: 1 / (2 * Math.PI * integrator! * R1) });
    const n = control.rounded ? nearestR1(asked, held, (R1) => {
      const C1 = preferred(exact(R1).C1, 'E12');
      return { network: { R1, C1, R2: preferred(exact(R1).R2, 'E96') }, error: Math.log(C1 / exact(R1).C1) ** 2 };
    }) : exact(asked);
    const lower = lowerOf(n.R1, held, control.rounded);
    return ok({
      built: { integrator: 1 / (2 * Math.PI * n.R1 * n.C1), zero1: 1 / (2 * Math.PI * n.R2 * n.C1) },
      network: { scaledBy: 'inputResistor', divider: { upper: n.R1, lower }, parts: [{ id: 'R1', unit: 'Ω', value: n.R1 }, { id: 'R2', unit: 'Ω', value: n.R2 }, { id: 'C1', unit: 'F', value: n.C1 }, { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }] },
    });
  },
  transfer: ({ integrator, zero1 }) => rationalOf(integrator!, [zero1!], []),
  real: ({ integrator, zero1 }, { divider: { upper, lower } }, control) => withOpAmp(rationalOf(integrator!, [zero1!], []), rationalOf((integrator! * upper) / lower, [zero1!], []).numerator, control),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  zero at fc / tan(boost),  ki from |C P| = 1 at fc', source: 'Åström, Hägglund: Advanced PID Control, ch. 6', leavesOut: 'other points of line and load' },
};

/** kp and ki (1/s) of a PI by its corners in Hz. */
export const gainsOf = ({ integrator, zero1 }: { integrator: number; zero1: number }): { kp: number; ki: number } => ({ kp: integrator / zero1, ki: 2 * Math.PI * integrator });

/**
 * A PI by the symmetrical optimum for a plant k / (s T1 (1 + s Tσ)): crossover at the mean of zero and pole, 1/(a Tσ), so that the phase
 * margin is as large as it can be there, asin((a² − 1)/(a² + 1)); a = 2 where nothing else is asked, 36.9°.
 * Source: Kessler, "Das symmetrische Optimum", Regelungstechnik 6, 1958; Leonhard, "Control of Electrical Drives", ch. 7.
 * @param gain k @param T1 s @param small s, sum of the small time constants @param a ratio of crossover to zero, and of pole to crossover
 * @returns corners in Hz, and the margin in degrees
 */
export function symmetricalOptimum(gain: number, T1: number, small: number, a = 2): { integrator: number; zero1: number; crossover: number; phaseMargin: number } {
  const zero = 1 / (a ** 2 * small);
  const kp = T1 / (gain * a * small);
  return { integrator: (kp * zero) / (2 * Math.PI), zero1: zero / (2 * Math.PI), crossover: 1 / (2 * Math.PI * a * small), phaseMargin: degrees(Math.asin((a ** 2 - 1) / (a ** 2 + 1))) };
}
