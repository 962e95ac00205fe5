import { fail, ok } from '../problem';
import { buildable, exactNetwork, networkCorners, preferredNetwork, type TypeThree } from './network';
import { placeTypeThree } from './place';
import { rationalOf } from './rational';
import type { Amplifier } from './types';

/** An op-amp with the network of three resistors and three capacitors; ideal, its gain and bandwidth being left out. */
export const typeThree: Amplifier = {
  title: 'Type III network',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    zero2: { unit: 'Hz', title: 'second zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    pole2: { unit: 'Hz', title: 'second pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
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
  transfer: ({ integrator, zero1, zero2, pole1, pole2 }) => rationalOf(integrator!, [zero1!, zero2!], [pole1!, pole2!]),
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  K = tan²(boost/4 + 45°),  zeros at fc/√K, poles at fc·√K', source: 'The K factor: a new mathematical tool for stability analysis and synthesis, Proc. Powercon 10, 1983', leavesOut: 'gain of the op-amp; other points of line and load' },
};
