import { findRoot } from '../linear/root';
import { printQuantity as print } from '../quantity';
import { outputCharge, outputEnergy, partnerCharge, partnerEnergy } from '../parts/switchEnergy';
import type { Commutation, Mechanism, SwitchState } from './types';

/** C that the node takes while the voltage across the switch falls from what it blocked to `left`: its own goes out, the partner's comes in. */
const moved = (s: SwitchState, blocked: number, left: number): number => outputCharge(s.part, blocked) - outputCharge(s.part, left) + partnerCharge(s.partner, blocked - left);

/**
 * V left across the switch when it turns on. A current that already flows backwards swings the node during the dead
 * time, as far as its charge I t reaches; a forward current does not.
 */
function leftAtTurnOn(s: SwitchState, c: Commutation): number {
  const charge = Math.max(0, -c.carried) * s.drive.deadTime;
  if (charge === 0 || !(c.blocked > 0)) return Math.max(0, c.blocked);
  if (charge >= moved(s, c.blocked, 0)) return 0;
  return findRoot((left) => moved(s, c.blocked, left) - charge, { low: 0, high: c.blocked, atLow: moved(s, c.blocked, 0) - charge, atHigh: -charge }, { width: 1e-12 * c.blocked }).at;
}

/** J burnt where the switch turns on against what is left: its own energy there, and what charging the partner the rest of the way costs beyond what that then holds, Q V − E. */
function burnt(s: SwitchState, c: Commutation): number {
  const left = leftAtTurnOn(s, c);
  const [from, to] = [c.blocked - left, c.blocked];
  const charged = partnerCharge(s.partner, to) - partnerCharge(s.partner, from);
  const held = partnerEnergy(s.partner, to) - partnerEnergy(s.partner, from);
  return outputEnergy(s.part, left) + Math.max(0, to * charged - held);
}

const turnOns = (s: SwitchState): Commutation[] => s.commutations.filter((c) => c.edge === 'on');

/** Turning on against a voltage burns what the capacitances at the node hold and take at it. */
export const outputCapacitance: Mechanism<'switch'> = {
  id: 'output-capacitance',
  title: 'output capacitance',
  short: 'capacitance',
  kind: 'switch',
  // A measured energy of turning on has it in it.
  applies: (s) => s.part.switchingEnergy === undefined,
  power: (s) => turnOns(s).reduce((sum, c) => sum + burnt(s, c) * s.frequency, 0),
  working: (s) => ({
    formula: 'P = (Eoss(v) + ΔQ V − ΔE) f;  v what is left to turn on against, Eoss its own energy there, ΔQ and ΔE charge and energy of the partner from V − v to V',
    numbers: turnOns(s)
      .map((c) => {
        const left = leftAtTurnOn(s, c);
        return `${print(left, 'V')} of ${print(c.blocked, 'V')} left: ${print(outputEnergy(s.part, left), 'J')} + ${print(Math.max(0, burnt(s, c) - outputEnergy(s.part, left)), 'J')}, × ${print(s.frequency, 'Hz')}`;
      })
      .join(';  '),
    source: 'charge and energy balance at the switch node (Kasper, Burkart, Deboy, Kolar 2016: ZVS of Power MOSFETs Revisited)',
    leavesOut: s.part.junctionCapacitance0 === undefined ? 'the capacitance is taken as constant at its energy value' : 'hysteresis of the capacitance',
  }),
};
