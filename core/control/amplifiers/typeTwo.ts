import { fail, ok } from '../../problem';
import { preferred } from '../../quantity';
import { rationalOf } from '../rational';
import type { Amplifier } from '../types';
import { placePair } from './lift';
import { lowerOf, nearestR1 } from './network';
import { OP_AMP, withOpAmp } from './opAmp';

/**
 * An op-amp with a type II network: R1 from the output to the inverting input, R2 with C1 in series around the op-amp, C2
 * beside them.
 *
 *           ωi  1 + s/ωz                1                1            C1 + C2
 *   C(s) =  ── ──────────     ωi = ────────────   ωz = ─────   ωp = ──────────
 *           s   1 + s/ωp           R1 (C1 + C2)        R2 C1        R2 C1 C2
 *
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 9.
 */
const TWO_PI = 2 * Math.PI;
/** Least ratio of the pole to the zero */
const LEAST_K = 2;

interface Corners {
  integrator: number;
  zero1: number;
  pole1: number;
}
interface TypeTwo {
  R1: number;
  R2: number;
  C1: number;
  C2: number;
}

const exact = ({ integrator, zero1, pole1 }: Corners, R1: number): TypeTwo => {
  const total = 1 / (TWO_PI * integrator * R1);
  const C2 = (total * zero1) / pole1;
  const C1 = total - C2;
  return { R1, R2: 1 / (TWO_PI * zero1 * C1), C1, C2 };
};
const cornersOf = ({ R1, R2, C1, C2 }: TypeTwo): Corners => ({ integrator: 1 / (TWO_PI * R1 * (C1 + C2)), zero1: 1 / (TWO_PI * R2 * C1), pole1: (C1 + C2) / (TWO_PI * R2 * C1 * C2) });

function rounded(wanted: Corners, R1: number): { network: TypeTwo; error: number } {
  const n = exact(wanted, R1);
  const [C1, C2] = [preferred(n.C1, 'E12'), preferred(n.C2, 'E12')];
  // The resistor keeps the gain between zero and pole, where the crossover lies.
  const network = { R1, C1, C2, R2: preferred((wanted.integrator / wanted.zero1) * R1 * (1 + C2 / C1), 'E96') };
  const got = cornersOf(network);
  const off = (key: keyof Corners): number => Math.log(got[key] / wanted[key]) ** 2;
  return { network, error: Math.log((got.integrator / got.zero1) / (wanted.integrator / wanted.zero1)) ** 2 * 4 + off('zero1') + off('pole1') / 4 };
}

export const typeTwo: Amplifier = {
  id: 'type-two',
  title: 'Type II network',
  by: 'by a type II network',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    ...OP_AMP,
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
    { key: 'pole1', name: 'p1', kind: 'pole' },
  ],
  place: (plant, control) => placePair(plant, control, LEAST_K, ', or take a type III network'),
  build(corners, control, held) {
    const wanted = corners as unknown as Corners;
    if (!(wanted.zero1 < wanted.pole1)) return fail('network', 'control.zero1', 'a zero at or above its pole can not be built with this network', 'move the zero below the pole');
    const asked = control.inputResistor as number;
    const n = control.rounded ? nearestR1(asked, held, (R1) => rounded(wanted, R1)) : exact(wanted, asked);
    const lower = lowerOf(n.R1, held, control.rounded);
    return ok({
      built: { ...cornersOf(n) },
      network: {
        scaledBy: 'inputResistor', divider: { upper: n.R1, lower },
        parts: [...(['R1', 'R2', 'C1', 'C2'] as const).map((id) => ({ id, unit: id.startsWith('R') ? ('Ω' as const) : ('F' as const), value: n[id] })), { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }],
      },
    });
  },
  cornersOf: (parts) => ({ ...cornersOf(parts as unknown as TypeTwo) }),
  transfer: ({ integrator, zero1, pole1 }) => rationalOf(integrator!, [zero1!], [pole1!]),
  real: ({ integrator, zero1, pole1 }, { divider: { upper, lower } }, control) => withOpAmp(rationalOf(integrator!, [zero1!], [pole1!]), rationalOf((integrator! * upper) / lower, [zero1!], []).numerator, control),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  K = tan(boost/2 + 45°),  zero at fc/K, pole at fc·K', source: 'The K factor: a new mathematical tool for stability analysis and synthesis, Proc. Powercon 10, 1983', leavesOut: 'other points of line and load' },
};
