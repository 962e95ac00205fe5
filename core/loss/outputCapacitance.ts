import { printQuantity as print } from '../quantity';
import { isHard } from './overlap';
import type { Mechanism, SwitchState } from './types';

const atNode = (s: SwitchState): number =>
  s.part.outputCapacitance * s.part.count + (s.partner ? s.partner.outputCapacitance * s.partner.count : 0);

/** A hard turn-on burns what its own output capacitance holds and what charging the partner's takes. */
export const outputCapacitance: Mechanism<'switch'> = {
  id: 'output-capacitance',
  title: 'output capacitance',
  kind: 'switch',
  power: (s) =>
    s.commutations.filter((c) => c.edge === 'on' && isHard(c)).reduce((sum, c) => sum + 0.5 * atNode(s) * c.blocked ** 2 * s.frequency, 0),
  working: (s) => ({
    formula: 'P = ½ (Coss + Coss of the partner) V² f at a hard turn-on',
    numbers: `${print(atNode(s), 'F')} at the node, ${print(s.frequency, 'Hz')}`,
    source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 4',
    leavesOut: 'the capacitance is taken as constant at its energy value',
  }),
};
