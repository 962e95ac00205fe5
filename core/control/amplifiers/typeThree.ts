import { fail, ok } from '../../problem';
import { buildable, exactNetwork, networkCorners, preferredNetwork, type TypeThree } from './network';
import { OP_AMP, withOpAmp } from './opAmp';
import { placeTypeThree } from './place';
import { rationalOf } from '../rational';
import type { Amplifier } from '../types';

/** An op-amp with the network of three resistors and three capacitors. */
export const typeThree: Amplifier = {
  id: 'type-three',
  title: 'Type III network',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    zero2: { unit: 'Hz', title: 'second zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    pole2: { unit: 'Hz', title: 'second pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    ...OP_AMP,
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
    { key: 'zero2', name: 'z2', kind: 'zero' },
    { key: 'pole1', name: 'p1', kind: 'pole' },
    { key: 'pole2', name: 'p2', kind: 'pole' },
  ],
  place(plant, { crossover, phaseMargin }) {
    const found = placeTypeThree(plant, crossover, phaseMargin);
    return found.ok ? ok({ ...found.value.compensator }) : found;
  },
  build(corners, control, { output, reference }) {
    const wanted = corners as unknown as TypeThree;
    if (!buildable(wanted)) return fail('network', 'control.zero1', 'a zero at or above its pole can not be built with this network', 'move the zeros below the poles');
    const n = (control.rounded ? preferredNetwork : exactNetwork)(wanted, control.inputResistor as number, output, reference);
    const part = (id: 'R1' | 'R2' | 'R3' | 'C1' | 'C2' | 'C3') => ({ id, unit: id.startsWith('R') ? ('Ω' as const) : ('F' as const), value: n[id] });
    return ok({
      built: { ...networkCorners(n) },
      network: { scaledBy: 'inputResistor', divider: { upper: n.R1, lower: n.lower }, parts: [...(['R1', 'R2', 'R3', 'C1', 'C2', 'C3'] as const).map(part), { id: 'lower', unit: 'Ω', value: n.lower, title: 'to ground' }] },
    });
  },
  cornersOf: (parts) => ({ ...networkCorners(parts as never) }),
  transfer: ({ integrator, zero1, zero2, pole1, pole2 }) => rationalOf(integrator!, [zero1!, zero2!], [pole1!, pole2!]),
  real: ({ integrator, zero1, zero2, pole1, pole2 }, { divider: { upper, lower } }, control) =>
    // N Z1: the zero of Z1's own pole goes, its other corner comes.
    withOpAmp(rationalOf(integrator!, [zero1!, zero2!], [pole1!, pole2!]), rationalOf((integrator! * upper) / lower, [zero1!, pole1!], []).numerator, control),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  K = tan²(boost/4 + 45°),  zeros at fc/√K, poles at fc·√K', source: 'The K factor: a new mathematical tool for stability analysis and synthesis, Proc. Powercon 10, 1983', leavesOut: 'other points of line and load' },
};
