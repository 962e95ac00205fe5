import { printQuantity as print } from '../quantity';
import { outputEnergy, partnerEnergy } from '../parts/switchEnergy';
import type { Commutation, Mechanism, SwitchState } from './types';

const atNode = (s: SwitchState): number =>
  s.part.outputCapacitance * s.part.count + (s.partner ? (s.partner.kind === 'diode' ? s.partner.junctionCapacitance : s.partner.outputCapacitance) * s.partner.count : 0);

/**
 * V left across the switch when it turns on. A current that already flows backwards swings the node
 * during the dead time, by I t / C; a forward current does not.
 */
const leftAtTurnOn = (s: SwitchState, c: Commutation): number =>
  Math.max(0, c.blocked - (Math.max(0, -c.carried) * s.drive.deadTime) / Math.max(atNode(s), 1e-15));

/** J at the node at a voltage, of both sides. */
const energyAt = (s: SwitchState, volts: number): number => outputEnergy(s.part, volts) + partnerEnergy(s.partner, volts);

const turnOns = (s: SwitchState): Commutation[] => s.commutations.filter((c) => c.edge === 'on');

/** Turning on against a voltage burns what the capacitance at the node holds at it. */
export const outputCapacitance: Mechanism<'switch'> = {
  id: 'output-capacitance',
  title: 'output capacitance',
  short: 'capacitance',
  kind: 'switch',
  // A measured energy of turning on has it in it.
  applies: (s) => s.part.switchingEnergy === undefined,
  power: (s) => turnOns(s).reduce((sum, c) => sum + energyAt(s, leftAtTurnOn(s, c)) * s.frequency, 0),
  working: (s) => ({
    formula: s.part.junctionCapacitance0 === undefined ? 'P = ½ C V² f,  C = Coss + Coss of the partner,  V = what is left to turn on against' : 'P = f ∫ C v dv,  C = C₀ / √(1 + v/Vb) and that of the partner, up to what is left to turn on against',
    numbers: turnOns(s).map((c) => (s.part.junctionCapacitance0 === undefined ? `½ × ${print(atNode(s), 'F')} × ${print(leftAtTurnOn(s, c), 'V')}² × ${print(s.frequency, 'Hz')}` : `${print(energyAt(s, leftAtTurnOn(s, c)), 'J')} at ${print(leftAtTurnOn(s, c), 'V')} × ${print(s.frequency, 'Hz')}`)).join(';  '),
    source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 4',
    leavesOut: s.part.junctionCapacitance0 === undefined ? 'the capacitance is taken as constant at its energy value' : 'hysteresis of the capacitance',
  }),
};
