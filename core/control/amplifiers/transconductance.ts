import { fail, ok } from '../../problem';
import { preferred } from '../../quantity';
import { rationalOf } from '../rational';
import { placePair } from './lift';
import { dividerPair } from './network';
import type { Amplifier } from '../types';

/**
 * A transconductance amplifier with a type II network: R2 with C1 in series, C2 beside them, from its output to ground.
 * The output is divided to the reference first, by R1 and the resistor to ground, which takes part in the gain:
 *
 *           gm β   1 + s R2 C1                                            Vref
 *   C(s) = ─────── ───────────────────────────────      β = R/(R1 + R) = ──────
 *        s (C1+C2) 1 + s R2 C1 C2/(C1 + C2)                               Vout
 *
 * One zero, one pole: it lifts the phase by less than 90°.
 */
const TWO_PI = 2 * Math.PI;
/** Least ratio of pole to crossover and of crossover to zero, about it: a lift of some 20° */
const LEAST_K = 1.4;

function cornersOf({ gm, R1, R2, C1, C2, lower }: Readonly<Record<string, number>>): { integrator: number; zero1: number; pole1: number } {
  const share = Number.isFinite(lower!) ? lower! / (R1! + lower!) : 1;
  return { integrator: (gm! * share) / (TWO_PI * (C1! + C2!)), zero1: 1 / (TWO_PI * R2! * C1!), pole1: (C1! + C2!) / (TWO_PI * R2! * C1! * C2!) };
}

export const transconductance: Amplifier = {
  id: 'transconductance',
  title: 'Type II network, transconductance',
  by: 'by a transconductance amplifier',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    transconductance: { unit: 'S', title: 'transconductance', value: 1e-3, asked: true },
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
    { key: 'pole1', name: 'p1', kind: 'pole' },
  ],
  place: (plant, control) => placePair(plant, control, LEAST_K ** 2, ', or take a type III network or the peak current as command'),
  build({ integrator, zero1, pole1 }, control, { output, reference }) {
    const [fi, fz, fp] = [integrator!, zero1!, pole1!];
    if (!(fz < fp)) return fail('network', 'control.zero1', 'a zero at or above its pole can not be built with this network', 'move the zero below the pole');
    const gm = control.transconductance as number;
    const { upper, lower } = dividerPair(control.inputResistor as number, { output, reference }, control.rounded);
    const share = Number.isFinite(lower) ? lower / (upper + lower) : 1;
    const total = (gm * share) / (TWO_PI * fi);
    const round = (value: number): number => (control.rounded ? preferred(value, 'E12') : value);
    const C2 = round((total * fz) / fp);
    const C1 = round(total * (1 - fz / fp));
    // Capacitors are coarse: the resistor keeps the gain between zero and pole, fi/fz, where the crossover lies.
    const wanted = (fi / fz) * ((C1 + C2) / (C1 * gm * share));
    const R2 = control.rounded ? preferred(wanted, 'E96') : wanted;
    return ok({
      built: cornersOf({ gm, R1: upper, R2, C1, C2, lower }),
      network: { divider: { upper, lower }, parts: [{ id: 'gm', unit: 'S', value: gm, title: 'transconductance' }, { id: 'R1', unit: 'Ω', value: upper }, { id: 'R2', unit: 'Ω', value: R2 }, { id: 'C1', unit: 'F', value: C1 }, { id: 'C2', unit: 'F', value: C2 }, { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }] },
    });
  },
  cornersOf,
  transfer: ({ integrator, zero1, pole1 }) => rationalOf(integrator!, [zero1!], [pole1!]),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  K = tan(boost/2 + 45°),  zero at fc/K, pole at fc·K', source: 'The K factor: a new mathematical tool for stability analysis and synthesis, Proc. Powercon 10, 1983', leavesOut: 'output resistance and bandwidth of the amplifier; other points of line and load' },
};
