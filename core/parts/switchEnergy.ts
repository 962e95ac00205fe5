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

type Table = NonNullable<SwitchPart['switchingEnergy']>;

/** J of a row at a current: straight between the rows and from nothing to the first, and on beyond the last. */
function alongRows(rows: Table['points'], column: 1 | 2, amps: number): number {
  const points: [number, number][] = [[0, 0], ...rows.map((row): [number, number] => [row[0], row[column]])];
  const next = points.findIndex(([i]) => i >= amps);
  const above = Math.max(1, next < 0 ? points.length - 1 : next);
  const [[i0, e0], [i1, e1]] = [points[above - 1]!, points[above]!];
  return e0 + ((amps - i0) / (i1 - i0)) * (e1 - e0);
}

/** °C of the rows of a table, where it does not say */
const COLD = 25;

/**
 * J of one edge by the table of a switch: straight between its currents and on beyond them, in proportion to the voltage; between its
 * two temperatures straight and beyond them as at the nearer, or with the temperature by `rise` where it has one. Undefined where it has no table.
 */
export function tableEnergy(p: SwitchPart, edge: 'on' | 'off', volts: number, amps: number, junction: number): number | undefined {
  const t = p.switchingEnergy;
  if (!t) return undefined;
  const column = edge === 'on' ? 1 : 2;
  const each = amps / p.count;
  const cold = t.temperature ?? COLD;
  const own = alongRows(t.points, column, each);
  const share = t.hotPoints ? Math.min(1, Math.max(0, (junction - cold) / (t.hotTemperature! - cold))) : 0;
  const energy = t.hotPoints ? own + share * (alongRows(t.hotPoints, column, each) - own) : own * Math.max(0.2, 1 + t.rise * (junction - cold));
  return Math.max(0, energy * p.count * (volts / t.voltage));
}

/** What of an edge lies outside of a switch's table, in words; nothing where it lies within. */
export function outsideTable(p: SwitchPart, amps: number, junction: number): string[] {
  const t = p.switchingEnergy;
  if (!t) return [];
  const most = Math.max(t.points.at(-1)![0], t.hotPoints?.at(-1)![0] ?? 0) * p.count;
  const cold = t.temperature ?? COLD;
  return [
    ...(amps > most * (1 + 1e-9) ? [`beyond the ${Number(most.toPrecision(3))} A of its table, straight on`] : []),
    ...(t.hotPoints && junction > t.hotTemperature! + 1e-9 ? [`hotter than its table, as at ${t.hotTemperature} °C`] : []),
    ...(t.hotPoints && junction < cold - 1e-9 ? [`colder than its table, as at ${cold} °C`] : []),
  ];
}
