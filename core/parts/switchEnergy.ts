import type { DiodePart, SwitchPart } from './schema';

/**
 * J that the output capacitance holds at a voltage. Where its value at 0 V is known, it falls as C₀ / √(1 + v/V_b)
 * (abrupt junction), and the energy is ∫ C v dv in closed form; else it is constant at its energy value.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 4.
 */
export function outputEnergy(p: SwitchPart, volts: number): number {
  if (p.junctionCapacitance0 === undefined || p.bendVoltage === undefined) return 0.5 * p.outputCapacitance * p.count * volts ** 2;
  const root = Math.sqrt(1 + volts / p.bendVoltage);
  return p.count * p.junctionCapacitance0 * p.bendVoltage ** 2 * ((2 / 3) * (root ** 3 - 1) - 2 * (root - 1));
}

/** C (coulombs) that the output capacitance holds at a voltage in V: ∫ C dv of the same. */
export function outputCharge(p: SwitchPart, volts: number): number {
  if (p.junctionCapacitance0 === undefined || p.bendVoltage === undefined) return p.outputCapacitance * p.count * volts;
  return 2 * p.count * p.junctionCapacitance0 * p.bendVoltage * (Math.sqrt(1 + volts / p.bendVoltage) - 1);
}

/** J that the junction of a switch or a diode holds at a voltage; a diode's capacitance is constant. */
export const junctionEnergy = (p: SwitchPart | DiodePart, volts: number): number => (p.kind === 'switch' ? outputEnergy(p, volts) : 0.5 * p.junctionCapacitance * p.count * volts ** 2);
/** C (coulombs) of the same at a voltage in V; a diode's capacitance is taken as constant. */
export const junctionCharge = (p: SwitchPart | DiodePart, volts: number): number => (p.kind === 'switch' ? outputCharge(p, volts) : p.junctionCapacitance * p.count * volts);

/** F of the output at a voltage. */
export const outputCapacitanceAt = (p: SwitchPart, volts: number): number => (p.junctionCapacitance0 === undefined || p.bendVoltage === undefined ? p.outputCapacitance * p.count : (p.count * p.junctionCapacitance0) / Math.sqrt(1 + volts / p.bendVoltage));

/**
 * J of one edge by the table of a switch: straight between its currents and on beyond them, in proportion to the
 * voltage, with the temperature by `rise`. Undefined where it has no table.
 */
export function tableEnergy(p: SwitchPart, edge: 'on' | 'off', volts: number, amps: number, junction: number): number | undefined {
  const t = p.switchingEnergy;
  if (!t) return undefined;
  const column = edge === 'on' ? 1 : 2;
  const each = amps / p.count;
  const points: [number, number][] = [[0, 0], ...t.points.map((row): [number, number] => [row[0], row[column]])];
  const above = Math.max(1, Math.min(points.length - 1, points.findIndex(([i]) => i >= each) < 0 ? points.length - 1 : points.findIndex(([i]) => i >= each)));
  const [[i0, e0], [i1, e1]] = [points[above - 1]!, points[above]!];
  const energy = e0 + ((each - i0) / (i1 - i0)) * (e1 - e0);
  return Math.max(0, energy * p.count * (volts / t.voltage) * Math.max(0.2, 1 + t.rise * (junction - 25)));
}
