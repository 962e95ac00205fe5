import { printQuantity as print } from '../quantity';
import { isHard, overlapTime } from './overlap';
import type { Commutation, HandsOver, Mechanism, SwitchState } from './types';

/** C that a diode, or a switch's body diode, holds after carrying a current: stored charge goes with the current. */
const storedCharge = ({ part, carried }: HandsOver): number => (part.recoveryCharge * carried) / part.recoveryCurrent;

/**
 * s that the charge takes to leave. Where the part does not say: the current goes on falling at the slope it came with,
 * through zero, until the triangle below it holds the charge, Q = ½ t² di/dt (a diode that lets go at once).
 */
function recoveryTime(s: SwitchState, g: HandsOver): number {
  const charge = storedCharge(g);
  if (!(charge > 0)) return 0;
  if (g.part.recoveryTime !== undefined) return g.part.recoveryTime;
  // The current takes half of the change-over, the voltage the other.
  const slope = g.carried / (overlapTime(s, 'on') / 2);
  return Math.sqrt((2 * charge) / slope);
}

/** J of one hard turn-on: the recovered charge at the voltage that its diode blocks from then on, and the load current beside it at the full voltage, for as long as the slowest takes. */
const energy = (s: SwitchState, c: Commutation): { charge: number; load: number } => ({
  charge: recovering(c).reduce((sum, g) => sum + (g.share ?? 1) * g.to * storedCharge(g), 0),
  load: c.blocked * c.carried * Math.max(0, ...recovering(c).map((g) => recoveryTime(s, g))),
});

const recovering = (c: Commutation): HandsOver[] => (c.givesWay ?? []).filter((g) => g.carried > 0);

const hardOnes = (s: SwitchState): Commutation[] => s.commutations.filter((c) => c.edge === 'on' && isHard(c));

/** A hard turn-on sweeps the charge out of what hands over to it (a diode, or a switch's body diode) while the switch carries the load current as well, at the blocked voltage. */
export const recovery: Mechanism<'switch'> = {
  id: 'recovery',
  title: 'recovery of the partner',
  kind: 'switch',
  // A measured energy of turning on has it in it.
  applies: (s) => s.part.switchingEnergy === undefined,
  power: (s) => hardOnes(s).reduce((sum, c) => sum + (energy(s, c).charge + energy(s, c).load) * s.frequency, 0),
  working: (s) => ({
    formula: `P = V (Qrr + I trr) f at a hard turn-on,  Qrr = Q · I / I_Q${hardOnes(s).some((c) => recovering(c).some((g) => g.part.recoveryTime === undefined)) ? ',  trr = √(2 Qrr / (dI/dt))' : ''}`,
    numbers:
      hardOnes(s)
        .map((c) => {
          const { charge, load } = energy(s, c);
          const charges = recovering(c).map((g) => `${print(g.to, 'V')} × ${print((g.share ?? 1) * storedCharge(g), 'C')}`).join(' + ') || 'no charge';
          const slowest = Math.max(0, ...recovering(c).map((g) => recoveryTime(s, g)));
          return `(${charges} + ${print(c.blocked, 'V')} × ${print(c.carried, 'A')} × ${print(slowest, 's')}) × ${print(s.frequency, 'Hz')}: ${print(charge * s.frequency, 'W')} by the charge, ${print(load * s.frequency, 'W')} by the load current`;
        })
        .join(';  ') || 'no hard turn-on here',
    source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 4: the voltage stands until the diode has recovered',
    leavesOut: 'what the diode itself burns as its voltage rises; dependence of the charge on slope and temperature',
  }),
};
