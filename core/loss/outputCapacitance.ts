import { findRoot } from '../linear/root';
import { printQuantity as print } from '../quantity';
import { junctionCharge, junctionEnergy, outputCharge, outputEnergy } from '../parts/switchEnergy';
import type { Commutation, HandsOver, Mechanism, SwitchState } from './types';

/** V that a part at the node blocks when `left` is left of what the switch blocked. */
const blocks = ({ from, to }: HandsOver, blocked: number, left: number): number => from + (to - from) * (1 - left / blocked);

/**
 * C through the switch's node while the voltage across it falls from what it blocked to `left`: its own goes out, those
 * of the parts that give way come in; where a winding stands between, by its turns, as their voltages do.
 */
const moved = (s: SwitchState, c: Commutation, left: number): number =>
  outputCharge(s.part, c.blocked) - outputCharge(s.part, left) +
  (c.givesWay ?? []).reduce((sum, g) => sum + (g.share ?? 1) * ((g.to - g.from) / c.blocked) * (junctionCharge(g.part, blocks(g, c.blocked, left)) - junctionCharge(g.part, g.from)), 0);

/**
 * V left across the switch when it turns on. A current that already flows backwards swings the node during the dead
 * time, as far as its charge I t reaches; a forward current does not.
 */
function leftAtTurnOn(s: SwitchState, c: Commutation): number {
  const charge = Math.max(0, -c.carried) * s.drive.deadTime;
  if (charge === 0 || !(c.blocked > 0)) return Math.max(0, c.blocked);
  if (charge >= moved(s, c, 0)) return 0;
  return findRoot((left) => moved(s, c, left) - charge, { low: 0, high: c.blocked, atLow: moved(s, c, 0) - charge, atHigh: -charge }, { width: 1e-12 * c.blocked }).at;
}

/** J burnt where the switch turns on against what is left: its own energy there, and what charging each other part the rest of the way costs beyond what that then holds, Q V − E. */
function burnt(s: SwitchState, c: Commutation): number {
  const left = leftAtTurnOn(s, c);
  return outputEnergy(s.part, left) + (c.givesWay ?? []).reduce((sum, g) => {
    const already = c.blocked > 0 ? blocks(g, c.blocked, left) : g.from;
    const charged = junctionCharge(g.part, g.to) - junctionCharge(g.part, already);
    const held = junctionEnergy(g.part, g.to) - junctionEnergy(g.part, already);
    return sum + (g.share ?? 1) * Math.max(0, g.to * charged - held);
  }, 0);
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
    formula: 'P = (Eoss(v) + ΔQ V − ΔE) f;  v what is left to turn on against, Eoss its own energy there, ΔQ and ΔE charge and energy of what gives way and has to block, from where it stands then',
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
