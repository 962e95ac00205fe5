import { printQuantity as print } from '../quantity';
import type { SwitchingEnergy } from '../parts/schema';
import { outsideTable, tableEnergy, type EdgeAt } from '../parts/switchEnergy';
import type { Drive } from '../surroundings/brief';
import type { Commutation, Mechanism, SwitchState } from './types';

/** An edge is hard when the channel itself must take the current over against the voltage. */
export const isHard = (c: Commutation): boolean => c.carried > 0 && c.blocked > 0;

/** s that current and voltage overlap: the switching charge over the gate current at the plateau. */
export function overlapTime(s: SwitchState, edge: 'on' | 'off'): number {
  const across = edge === 'on' ? s.drive.voltage - s.part.plateauVoltage : s.part.plateauVoltage;
  return (s.part.switchingCharge * s.part.count * gateOf(s.drive, edge)) / across;
}

/** Ω of the gate resistor of an edge. */
export const gateOf = ({ gateResistance, turnOffResistance }: Drive, edge: 'on' | 'off'): number => (edge === 'on' ? gateResistance : (turnOffResistance ?? gateResistance));

/** An edge as a table of energies asks for it. */
const asked = (s: SwitchState, c: Commutation): EdgeAt => ({ volts: c.blocked, amps: c.carried, junction: s.junction, gate: gateOf(s.drive, c.edge) });

/** J of one hard edge: by the part’s table where it has one, else by charge and gate current. */
const edgeEnergy = (s: SwitchState, c: Commutation): number => tableEnergy(s.part, c.edge, asked(s, c)) ?? 0.5 * c.blocked * c.carried * overlapTime(s, c.edge);

/** How the energy of a table is put together. */
const formulaOf = (t: SwitchingEnergy): string =>
  `P = ${t.warmPoints ? 'E(I, T)' : 'E(I) · (1 + rise (T − Ttable))'} · ${t.voltagePoints ? 'E(V) / E(Vtable)' : 'V / Vtable'}${t.gatePoints ? ' · E(Rg) / E(Rg,table)' : ''} · f for each hard edge, E straight between what was measured`;

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
        formula: formulaOf(s.part.switchingEnergy),
        numbers: hard.map((c) => `${c.edge}: ${print(edgeEnergy(s, c), 'J')} at ${print(c.blocked, 'V')}, ${print(c.carried, 'A')}, ${print(s.junction, '°C')}${outsideTable(s.part, asked(s, c)).map((o) => ` (${o})`).join('')}`).join(';  ') || 'no hard edge here: the current already flows in the body diode',
        source: 'the part’s table of measured energies; edges taken from the settled cycle',
        leavesOut: s.part.switchingEnergy.gatePoints ? '' : 'gate resistance, where it is not that of the table',
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
