import { degrees, radians } from '../../linear/complex';
import { fail, ok } from '../../problem';
import { preferred } from '../../quantity';
import { rationalOf } from '../rational';
import type { Amplifier } from '../types';
import { boostWanted, integratorFor, pairFor, tooMuchLift } from './lift';
import { lowerOf, nearestR1 } from './network';
import { OP_AMP, withOpAmp } from './opAmp';

/**
 * A PID controller with a filtered derivative, C(s) = (ωi/s)(1 + s/ωz1)(1 + s/ωz2)/(1 + s/ωp1). As a network: R1 with R3–C3 across it, R2
 * with C1 around an op-amp.
 *
 * Placed with a double zero at fc/k and the pole at fc·k: the lift is 3 atan k − 90°, so k = tan((boost + 90°)/3).
 * Source: Åström, Hägglund, "Advanced PID Control", ch. 3 (filtered derivative); the placement is worked out here.
 */
const TWO_PI = 2 * Math.PI;
/** Degrees of lift that can be asked for */
const MOST_LIFT = 170;
/** Degrees from which zeros and pole stand as said; there the pole is LEAST_K above the zeros, and lifts PAIR with the second */
const FULL = 60;
const LEAST_K = Math.tan(radians((FULL + 90) / 3)) ** 2;
const PAIR = degrees(Math.atan(Math.sqrt(LEAST_K)) - Math.atan(1 / Math.sqrt(LEAST_K)));
/** Degrees that the first zero lifts at least: it is no further above the crossover than some ten times */
const LEAST_LIFT = 5;

interface Parts {
  R1: number;
  R2: number;
  R3: number;
  C1: number;
  C3: number;
}

export const pid: Amplifier = {
  id: 'pid',
  title: 'PID',
  by: 'by a PID',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    zero2: { unit: 'Hz', title: 'second zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    ...OP_AMP,
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
    { key: 'zero2', name: 'z2', kind: 'zero' },
    { key: 'pole1', name: 'p1', kind: 'pole' },
  ],
  place(plant, { crossover, phaseMargin }) {
    const boost = boostWanted(plant, phaseMargin);
    if (boost > MOST_LIFT) return tooMuchLift(boost, phaseMargin, crossover, 'a PID gives less than 180°');
    if (boost >= FULL) {
      const k = Math.tan(radians((boost + 90) / 3));
      const [z, p] = [crossover / k, crossover * k];
      return ok({ integrator: integratorFor(plant, crossover, [z, z], [p]), zero1: z, zero2: z, pole1: p });
    }
    // Where less is wanted, the second zero and the pole stay as near as they can be built, and the first zero goes up.
    const pair = pairFor(Math.min(PAIR, boost - LEAST_LIFT), LEAST_K);
    const lifted = degrees(Math.atan(1 / pair.zero) - Math.atan(1 / pair.pole));
    const [zero1, zero2, pole1] = [crossover / Math.tan(radians(Math.max(LEAST_LIFT, boost - lifted))), pair.zero * crossover, pair.pole * crossover];
    return ok({ integrator: integratorFor(plant, crossover, [zero1, zero2], [pole1]), zero1, zero2, pole1 });
  },
  build({ integrator, zero1, zero2, pole1 }, control, held) {
    if (!(zero2! < pole1!)) return fail('network', 'control.zero2', 'the second zero at or above the pole can not be built with this network', 'move the second zero below the pole');
    const asked = control.inputResistor as number;
    const exact = (R1: number): Parts => {
      const R3 = (R1 * zero2!) / (pole1! - zero2!);
      return { R1, R2: (R1 * integrator!) / zero1!, C1: 1 / (TWO_PI * integrator! * R1), R3, C3: 1 / (TWO_PI * pole1! * R3) };
    };
    const n = control.rounded ? nearestR1(asked, held, (R1) => {
      const e = exact(R1);
      const [C1, C3] = [preferred(e.C1, 'E12'), preferred(e.C3, 'E12')];
      return { network: { R1, C1, C3, R2: preferred(e.R2, 'E96'), R3: preferred(1 / (TWO_PI * pole1! * C3), 'E96') }, error: Math.log(C1 / e.C1) ** 2 + Math.log(C3 / e.C3) ** 2 };
    }) : exact(asked);
    const lower = lowerOf(n.R1, held, control.rounded);
    return ok({
      built: { integrator: 1 / (TWO_PI * n.R1 * n.C1), zero1: 1 / (TWO_PI * n.R2 * n.C1), zero2: 1 / (TWO_PI * (n.R1 + n.R3) * n.C3), pole1: 1 / (TWO_PI * n.R3 * n.C3) },
      network: {
        scaledBy: 'inputResistor', divider: { upper: n.R1, lower },
        parts: [...(['R1', 'R2', 'R3', 'C1', 'C3'] as const).map((id) => ({ id, unit: id.startsWith('R') ? ('Ω' as const) : ('F' as const), value: n[id] })), { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }],
      },
    });
  },
  transfer: ({ integrator, zero1, zero2, pole1 }) => rationalOf(integrator!, [zero1!, zero2!], [pole1!]),
  real: ({ integrator, zero1, zero2, pole1 }, { divider: { upper, lower } }, control) => withOpAmp(rationalOf(integrator!, [zero1!, zero2!], [pole1!]), rationalOf((integrator! * upper) / lower, [zero1!, pole1!], []).numerator, control),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  k = tan((boost + 90°)/3),  zeros at fc/k, pole at fc·k', source: 'filtered derivative as in Åström, Hägglund: Advanced PID Control, ch. 3', leavesOut: 'other points of line and load' },
};
