import { printQuantity as print } from '../quantity';
import { isHard, overlapTime } from './overlap';
import type { Commutation, Mechanism, SwitchState } from './types';

/** C that the partner's body diode holds after carrying a current: stored charge goes with the current. */
const storedCharge = (s: SwitchState, current: number): number =>
  s.partner ? (s.partner.recoveryCharge * current) / s.partner.recoveryCurrent : 0;

/**
 * s that the charge takes to leave. Where the part does not say: the current goes on falling at the slope it came with,
 * through zero, until the triangle below it holds the charge, Q = ½ t² di/dt (a diode that lets go at once).
 */
function recoveryTime(s: SwitchState, current: number): number {
  const charge = storedCharge(s, current);
  if (!(charge > 0)) return 0;
  if (s.partner!.recoveryTime !== undefined) return s.partner!.recoveryTime;
  // The current takes half of the change-over, the voltage the other.
  const slope = current / (overlapTime(s, 'on') / 2);
  return Math.sqrt((2 * charge) / slope);
}

/** J of one hard turn-on: the recovered charge and the load current beside it both come at the full voltage. */
const energy = (s: SwitchState, c: Commutation): { charge: number; load: number } => ({ charge: c.blocked * storedCharge(s, c.carried), load: c.blocked * c.carried * recoveryTime(s, c.carried) });

const hardOnes = (s: SwitchState): Commutation[] => s.commutations.filter((c) => c.edge === 'on' && isHard(c));

/** A hard turn-on sweeps the charge out of the partner (a diode, or a switch's body diode) while the switch carries the load current as well, at the blocked voltage. */
export const recovery: Mechanism<'switch'> = {
  id: 'recovery',
  title: 'recovery of the partner',
  kind: 'switch',
  // A measured energy of turning on has it in it.
  applies: (s) => s.part.switchingEnergy === undefined,
  power: (s) => hardOnes(s).reduce((sum, c) => sum + (energy(s, c).charge + energy(s, c).load) * s.frequency, 0),
  working: (s) => ({
    formula: `P = V (Qrr + I trr) f at a hard turn-on,  Qrr = Q · I / I_Q${s.partner?.recoveryTime === undefined ? ',  trr = √(2 Qrr / (dI/dt))' : ''}`,
    numbers:
      hardOnes(s)
        .map((c) => `${print(c.blocked, 'V')} × (${print(storedCharge(s, c.carried), 'C')} + ${print(c.carried, 'A')} × ${print(recoveryTime(s, c.carried), 's')}) × ${print(s.frequency, 'Hz')}: ${print(energy(s, c).charge * s.frequency, 'W')} by the charge, ${print(energy(s, c).load * s.frequency, 'W')} by the load current`)
        .join(';  ') || 'no hard turn-on here',
    source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 4: the voltage stands until the diode has recovered',
    leavesOut: 'what the diode itself burns as its voltage rises; dependence of the charge on slope and temperature',
  }),
};
