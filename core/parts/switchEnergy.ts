import type { DiodePart, SwitchPart, SwitchingEnergy } from './schema';

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

type Rows = readonly (readonly [x: number, on: number, off: number])[];
type Edge = 'on' | 'off';
const column = (edge: Edge): 1 | 2 => (edge === 'on' ? 1 : 2);

/** What rows have at an x: straight between them, from `first` on where one is given, and on beyond the last; never below zero. */
function along(rows: Rows, edge: Edge, x: number, first?: readonly [number, number]): number {
  const points = [...(first ? [first] : []), ...rows.map((row): [number, number] => [row[0], row[column(edge)]])];
  if (points.length === 1) return points[0]![1];
  const next = points.findIndex(([at]) => at >= x);
  const above = Math.max(1, next < 0 ? points.length - 1 : next);
  const [[x0, e0], [x1, e1]] = [points[above - 1]!, points[above]!];
  return Math.max(0, e0 + ((x - x0) / (x1 - x0)) * (e1 - e0));
}

/** °C of the rows of a table, where it does not say */
const COLD = 25;

/** The rows of a table by their temperature in °C, rising. */
export function atTemperatures(t: SwitchingEnergy): { temperature: number; rows: Rows }[] {
  const warm = new Map<number, [number, number, number][]>();
  for (const [T, i, on, off] of t.warmPoints ?? []) warm.set(T, [...(warm.get(T) ?? []), [i, on, off]]);
  return [{ temperature: t.temperature ?? COLD, rows: t.points as Rows }, ...[...warm].map(([temperature, rows]) => ({ temperature, rows: rows as Rows }))].sort((a, b) => a.temperature - b.temperature);
}

/** How it is driven and stands at an edge. */
export interface EdgeAt {
  volts: number;
  amps: number;
  /** °C */
  junction: number;
  /** Ω of this edge */
  gate?: number | undefined;
}

/**
 * J of one edge by the table of a switch: straight between its currents and on beyond them; between its temperatures straight and beyond
 * them as at the nearest, or with the temperature by `rise` where it has one; with the voltage as its rows say, else in proportion; with
 * the gate resistor as its rows say, else as it was measured. Undefined where it has no table.
 */
export function tableEnergy(p: SwitchPart, edge: Edge, { volts, amps, junction, gate }: EdgeAt): number | undefined {
  const t = p.switchingEnergy;
  if (!t) return undefined;
  const list = atTemperatures(t);
  const at = (rows: Rows): number => along(rows, edge, amps / p.count, [0, 0]);
  const next = list.findIndex((l) => l.temperature >= junction);
  const [low, high] = next < 0 ? [list.at(-1)!, list.at(-1)!] : [list[Math.max(0, next - 1)]!, list[next]!];
  const share = high.temperature > low.temperature ? (junction - low.temperature) / (high.temperature - low.temperature) : 0;
  const energy = at(low.rows) + Math.max(0, share) * (at(high.rows) - at(low.rows));
  const warmer = t.warmPoints ? 1 : Math.max(0.2, 1 + t.rise * (junction - list[0]!.temperature));
  const driven = t.gatePoints && gate !== undefined ? along(t.gatePoints as Rows, edge, gate) / along(t.gatePoints as Rows, edge, t.gateResistance!) : 1;
  const blocked = t.voltagePoints ? along(t.voltagePoints as Rows, edge, volts, [0, 0]) / along(t.voltagePoints as Rows, edge, t.voltage, [0, 0]) : volts / t.voltage;
  return Math.max(0, energy * p.count * warmer * driven * blocked);
}

/** What of an edge lies outside of a switch's table, in words; nothing where it lies within. */
export function outsideTable(p: SwitchPart, { volts, amps, junction, gate }: EdgeAt): string[] {
  const t = p.switchingEnergy;
  if (!t) return [];
  const list = atTemperatures(t);
  const most = Math.max(...list.map((l) => l.rows.at(-1)![0])) * p.count;
  const short = (v: number): number => Number(v.toPrecision(3));
  const beyond = (rows: Rows | undefined, value: number, unit: string): string[] => (rows && (value > rows.at(-1)![0] * (1 + 1e-9) || value < rows[0]![0] * (1 - 1e-9)) ? [`${short(value)} ${unit} where its table has ${short(rows[0]![0])} to ${short(rows.at(-1)![0])} ${unit}, straight on`] : []);
  return [
    ...(amps > most * (1 + 1e-9) ? [`beyond the ${short(most)} A of its table, straight on`] : []),
    ...(t.warmPoints && junction > list.at(-1)!.temperature + 1e-9 ? [`hotter than its table, as at ${list.at(-1)!.temperature} °C`] : []),
    ...(t.warmPoints && junction < list[0]!.temperature - 1e-9 ? [`colder than its table, as at ${list[0]!.temperature} °C`] : []),
    ...(gate === undefined ? [] : t.gatePoints ? beyond(t.gatePoints as Rows, gate, 'Ω') : t.gateResistance !== undefined && Math.abs(gate / t.gateResistance - 1) > 0.01 ? [`driven with ${short(gate)} Ω, measured with ${short(t.gateResistance)} Ω`] : []),
    ...(volts > 0 ? beyond(t.voltagePoints as Rows | undefined, volts, 'V').filter(() => volts > t.voltagePoints!.at(-1)![0]) : []),
  ];
}
