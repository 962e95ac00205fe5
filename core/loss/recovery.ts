import { printQuantity as print } from '../quantity';
import { isHard } from './overlap';
import type { Mechanism } from './types';

/** A hard turn-on sweeps the charge out of the partner's body diode, at the blocked voltage. */
export const recovery: Mechanism<'switch'> = {
  id: 'recovery',
  title: 'recovery of the partner',
  kind: 'switch',
  power: (s) =>
    s.commutations
      .filter((c) => c.edge === 'on' && isHard(c))
      .reduce((sum, c) => sum + c.blocked * (s.partner ? s.partner.recoveryCharge * s.partner.count : 0) * s.frequency, 0),
  working: (s) => ({
    formula: 'P = V · Qrr · f at a hard turn-on',
    numbers: s.partner ? `Qrr of the partner ${print(s.partner.recoveryCharge * s.partner.count, 'C')}, at ${print(s.frequency, 'Hz')}` : 'no partner',
    source: 'charge balance: the line delivers the recovered charge through this switch',
    leavesOut: 'dependence of the charge on current, slope and temperature',
  }),
};
