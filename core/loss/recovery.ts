import { printQuantity as print } from '../quantity';
import { isHard } from './overlap';
import type { Mechanism, SwitchState } from './types';

/** C that the partner's body diode holds after carrying a current: stored charge goes with the current. */
const storedCharge = (s: SwitchState, current: number): number =>
  s.partner ? (s.partner.recoveryCharge * current) / s.partner.recoveryCurrent : 0;

/** A hard turn-on sweeps the charge out of the partner (a diode, or a switch's body diode) at the blocked voltage. */
export const recovery: Mechanism<'switch'> = {
  id: 'recovery',
  title: 'recovery of the partner',
  kind: 'switch',
  // A measured energy of turning on has it in it.
  applies: (s) => s.part.switchingEnergy === undefined,
  power: (s) =>
    s.commutations
      .filter((c) => c.edge === 'on' && isHard(c))
      .reduce((sum, c) => sum + c.blocked * storedCharge(s, c.carried) * s.frequency, 0),
  working: (s) => ({
    formula: 'P = V · Qrr · f at a hard turn-on,  Qrr = Q · I / I_Q',
    numbers:
      s.commutations
        .filter((c) => c.edge === 'on' && isHard(c))
        .map((c) => `${print(c.blocked, 'V')} × ${print(storedCharge(s, c.carried), 'C')} × ${print(s.frequency, 'Hz')}`)
        .join('') || 'no hard turn-on here',
    source: 'charge balance: the line delivers the recovered charge through this switch',
    leavesOut: 'dependence of the charge on slope and temperature',
  }),
};
