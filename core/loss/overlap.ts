import { printQuantity as print } from '../quantity';
import { outsideTable, tableEnergy } from '../parts/switchEnergy';
import type { Commutation, Mechanism, SwitchState } from './types';

/** An edge is hard when the channel itself must take the current over against the voltage. */
export const isHard = (c: Commutation): boolean => c.carried > 0 && c.blocked > 0;

/** s that current and voltage overlap: the switching charge over the gate current at the plateau. */
export function overlapTime(s: SwitchState, edge: 'on' | 'off'): number {
  const { voltage, gateResistance, turnOffResistance } = s.drive;
  const across = edge === 'on' ? voltage - s.part.plateauVoltage : s.part.plateauVoltage;
  const ohms = edge === 'on' ? gateResistance : (turnOffResistance ?? gateResistance);
  return (s.part.switchingCharge * s.part.count * ohms) / across;
}

/** J of one hard edge: by the part’s table where it has one, else by charge and gate current. */
const edgeEnergy = (s: SwitchState, c: Commutation): number => tableEnergy(s.part, c.edge, c.blocked, c.carried, s.junction) ?? 0.5 * c.blocked * c.carried * overlapTime(s, c.edge);

/** Overlap of voltage and current at hard edges. */
export const overlap: Mechanism<'switch'> = {
  id: 'overlap',
  title: 'overlap',
  kind: 'switch',
  power: (s) =>
    s.commutations.filter(isHard).reduce((sum, c) => sum + edgeEnergy(s, c) * s.frequency, 0),
  working: (s) => {
    const hard = s.commutations.filter(isHard);
    if (s.part.switchingEnergy)
      return {
        formula: s.part.switchingEnergy.hotPoints ? 'P = E(I, T) · V / Vtable · f for each hard edge, E straight between the measured currents and the two temperatures' : 'P = E(I) · V / Vtable · (1 + rise (T − Ttable)) · f for each hard edge, E straight between the measured currents',
        numbers: hard.map((c) => `${c.edge}: ${print(edgeEnergy(s, c), 'J')} at ${print(c.blocked, 'V')}, ${print(c.carried, 'A')}, ${print(s.junction, '°C')}${outsideTable(s.part, c.carried, s.junction).map((o) => ` (${o})`).join('')}`).join(';  ') || 'no hard edge here: the current already flows in the body diode',
        source: 'the part’s table of measured energies; edges taken from the settled cycle',
        leavesOut: 'gate resistance, where it is not that of the table',
      };
    return {
      formula: 'P = ½ V I t f for each hard edge,  t = Qsw · Rg,on / (Vdrive − Vplateau) on,  Qsw · Rg,off / Vplateau off',
      numbers:
        hard.length === 0
          ? 'no hard edge here: the current already flows in the body diode'
          : hard.map((c) => `${c.edge}: ½ × ${print(c.blocked, 'V')} × ${print(c.carried, 'A')} × ${print(overlapTime(s, c.edge), 's')}`).join(';  '),
      source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 4; edges taken from the settled cycle',
      leavesOut: 'stray inductance and ringing',
    };
  },
};
