import { ok } from '../../problem';
import { preferred } from '../../quantity';
import { rationalOf } from '../rational';
import type { Amplifier } from '../types';
import { boostWanted, integratorFor, tooMuchLift } from './lift';
import { lowerOf, nearestR1 } from './network';
import { OP_AMP, withOpAmp } from './opAmp';

/**
 * An op-amp that integrates: R1 from the output, C1 around it, C(s) = ωi/s with ωi = 1/(R1 C1). It lifts nothing: the margin is
 * what the plant leaves of 90° at the crossover.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 9.
 */
/** Degrees by which the margin may stay below what was asked: rounding of what is asked */
const SHORT = 0.5;

export const typeOne: Amplifier = {
  id: 'type-one',
  title: 'Type I network',
  by: 'by a type I network',
  series: 'E96 / E12',
  settings: { integrator: { unit: 'Hz', title: 'integrator', value: 'placed' }, inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true }, ...OP_AMP },
  handles: [{ key: 'integrator', name: 'g', kind: 'gain' }],
  place(plant, { crossover, phaseMargin }) {
    const boost = boostWanted(plant, phaseMargin);
    if (boost > SHORT) return tooMuchLift(boost, phaseMargin, crossover, 'a type I network gives none', ', or take a type II network');
    return ok({ integrator: integratorFor(plant, crossover, [], []) });
  },
  build({ integrator }, control, held) {
    const asked = control.inputResistor as number;
    const exact = (R1: number): number => 1 / (2 * Math.PI * integrator! * R1);
    const n = control.rounded ? nearestR1(asked, held, (R1) => {
      const C1 = preferred(exact(R1), 'E12');
      return { network: { R1, C1 }, error: Math.log(C1 / exact(R1)) ** 2 };
    }) : { R1: asked, C1: exact(asked) };
    const lower = lowerOf(n.R1, held, control.rounded);
    return ok({
      built: { integrator: 1 / (2 * Math.PI * n.R1 * n.C1) },
      network: { scaledBy: 'inputResistor', divider: { upper: n.R1, lower }, parts: [{ id: 'R1', unit: 'Ω', value: n.R1 }, { id: 'C1', unit: 'F', value: n.C1 }, { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }] },
    });
  },
  cornersOf: ({ R1, C1 }) => ({ integrator: 1 / (2 * Math.PI * R1! * C1!) }),
  transfer: ({ integrator }) => rationalOf(integrator!, [], []),
  real: ({ integrator }, { divider: { upper, lower } }, control) => withOpAmp(rationalOf(integrator!, [], []), rationalOf((integrator! * upper) / lower, [], []).numerator, control),
  placement: { formula: 'fi = fc / |P(fc)|', source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 9', leavesOut: 'other points of line and load' },
};
