import { coreLoss } from '../magnetics/flux';
import { printQuantity as print } from '../quantity';
import type { Mechanism } from './types';

/** Core loss from the real flux, not from an assumed sine. */
export const core: Mechanism<'inductor'> = {
  id: 'core',
  title: 'core',
  kind: 'inductor',
  power: (s) => coreLoss(s.part, s.voltages),
  working: (s) => ({
    formula: 'P = Ve (1/T) ∫ k_i |dB/dt|^α ΔB^(β−α) dt,  dB/dt = v / (N A)',
    numbers: s.voltages.map((v) => `${print(v.volts, 'V')} for ${print(v.seconds, 's')}`).join(', ') + ` on ${s.part.turns} turns`,
    source: 'Venkatachalam, Sullivan, Abdallah, Tacca 2002: improved generalised Steinmetz equation',
    leavesOut: 'dc bias; temperature of the core; sag of the voltage within a stretch',
  }),
};
