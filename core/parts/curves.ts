import type { UnitName } from '../quantity';
import { biasShare, seriesResistance } from './capacitor';
import { atTemperatures, outputCapacitanceAt, outputEnergy, tableEnergy } from './switchEnergy';
import { onResistance, slopeResistance, windingResistance, type Part } from './schema';

/** A characteristic of a part over what it depends on, as drawn on the shelf. */
export interface Curve {
  title: string;
  x: { title: string; unit: UnitName; logarithmic?: true };
  y: { title: string; unit: UnitName; logarithmic?: true };
  /** Each line with the word at its end */
  lines: { name: string; points: [number, number][] }[];
  /** What the curve leaves out */
  leavesOut: string;
}

const POINTS = 60;
const straight = (from: number, to: number): number[] => Array.from({ length: POINTS + 1 }, (_, k) => from + ((to - from) * k) / POINTS);
const decades = (from: number, to: number): number[] => straight(Math.log10(from), Math.log10(to)).map((e) => 10 ** e);
const over = (xs: number[], f: (x: number) => number): [number, number][] => xs.map((x) => [x, f(x)]);

/** The characteristic curves of a part, as the loss models and the circuit use it. */
export function curvesOf(p: Part): Curve[] {
  switch (p.kind) {
    case 'switch':
      return [
        { title: 'on-resistance', x: { title: 'junction', unit: '°C' }, y: { title: 'resistance', unit: 'Ω' }, lines: [{ name: '', points: over(straight(-40, p.maxJunction), (T) => onResistance(p, T)) }], leavesOut: 'dependence on gate voltage and current' },
        { title: 'energy in the output capacitance', x: { title: 'voltage', unit: 'V' }, y: { title: 'energy', unit: 'J' }, lines: [{ name: '', points: over(straight(0, p.blockingVoltage), (V) => outputEnergy(p, V)) }], leavesOut: p.junctionCapacitance0 === undefined ? 'fall of the capacitance with voltage: it is taken at its energy value' : 'hysteresis' },
        ...switchCurves(p),
      ];
    case 'diode': {
      const most = 2 * p.recoveryCurrent * p.count;
      return [{ title: 'forward', x: { title: 'forward voltage', unit: 'V' }, y: { title: 'current', unit: 'A' }, lines: [{ name: '', points: [[0, 0], ...over(straight(0, most), (i) => p.drop + i * slopeResistance(p)).map(([i, v]): [number, number] => [v, i])] }], leavesOut: 'the bend near the drop; temperature' }];
    }
    case 'inductor':
      return [
        coreCurve(p),
        { title: 'winding resistance', x: { title: 'winding', unit: '°C' }, y: { title: 'resistance', unit: 'Ω' }, lines: [{ name: '', points: over(straight(-40, p.maxTemperature), (T) => windingResistance(p, T)) }], leavesOut: 'skin and proximity effect' },
      ];
    case 'transformer':
      return [coreCurve(p)];
    case 'capacitor': {
      const impedance = (f: number): number => Math.hypot(seriesResistance(p, f, 25), 1 / (2 * Math.PI * f * p.capacitance));
      return [...capacitorCurves(p), { title: 'impedance', x: { title: 'frequency', unit: 'Hz', logarithmic: true }, y: { title: 'impedance', unit: 'Ω', logarithmic: true }, lines: [{ name: '', points: over(decades(100, 1e7), impedance) }], leavesOut: 'series inductance' }];
    }
  }
}

/** Output capacitance over voltage and the measured energies, where they are known. */
function switchCurves(p: Extract<Part, { kind: 'switch' }>): Curve[] {
  const found: Curve[] = [];
  const threshold = p.thresholdVoltage;
  if (threshold !== undefined) {
    // The plateau is where it carries the current that the charges were measured at.
    const transfer = (v: number): number => p.recoveryCurrent * p.count * (Math.max(0, v - threshold) / (p.plateauVoltage - threshold)) ** 2;
    found.push({ title: 'current by the gate', x: { title: 'gate voltage', unit: 'V' }, y: { title: 'current', unit: 'A' }, lines: [{ name: '', points: over(straight(0, 1.4 * p.plateauVoltage), transfer) }], leavesOut: 'the junction: the threshold falls as it warms' });
  }
  if (p.junctionCapacitance0 !== undefined && p.bendVoltage !== undefined)
    found.push({ title: 'output capacitance', x: { title: 'voltage', unit: 'V' }, y: { title: 'capacitance', unit: 'F', logarithmic: true }, lines: [{ name: '', points: over(straight(0, p.blockingVoltage), (V) => outputCapacitanceAt(p, V)) }], leavesOut: 'hysteresis' });
  if (p.switchingEnergy) {
    const most = p.switchingEnergy.points.at(-1)![0] * p.count;
    const { voltage } = p.switchingEnergy;
    const temperatures = atTemperatures(p.switchingEnergy).map((t) => t.temperature);
    const [cold, hot] = [temperatures[0]!, temperatures.at(-1)!];
    const at = (edge: 'on' | 'off', junction: number): [number, number][] => over(straight(0, most), (amps) => tableEnergy(p, edge, { volts: voltage, amps, junction })!);
    found.push({ title: `energy of an edge at ${voltage} V`, x: { title: 'current', unit: 'A' }, y: { title: 'energy', unit: 'J' }, lines: [{ name: 'on', points: at('on', cold) }, { name: 'off', points: at('off', cold) }, ...(hot > cold ? [{ name: `on ${hot}°`, points: at('on', hot) }, { name: `off ${hot}°`, points: at('off', hot) }] : [])], leavesOut: 'gate resistance other than that of the table' });
  }
  return found;
}

/** Capacitance under bias and resistance over frequency, where they vary. */
function capacitorCurves(p: Extract<Part, { kind: 'capacitor' }>): Curve[] {
  const found: Curve[] = [];
  if (p.halfVoltage !== undefined) found.push({ title: 'capacitance under bias', x: { title: 'voltage', unit: 'V' }, y: { title: 'capacitance', unit: 'F' }, lines: [{ name: '', points: over(straight(0, p.ratedVoltage), (V) => p.capacitance * biasShare(p, V)) }], leavesOut: 'ageing' });
  if (p.lossFactor !== undefined || p.coldFactor !== undefined)
    found.push({ title: 'series resistance', x: { title: 'frequency', unit: 'Hz', logarithmic: true }, y: { title: 'resistance', unit: 'Ω', logarithmic: true }, lines: [25, ...(p.coldFactor === undefined ? [] : [-20])].map((T) => ({ name: `${T} °C`.replace('-', '−'), points: over(decades(50, 1e6), (f) => seriesResistance(p, f, T)) })), leavesOut: 'skin effect in the leads' });
  return found;
}

/** Core loss of a sine by the Steinmetz equation, at three frequencies. */
function coreCurve(p: Extract<Part, { kind: 'inductor' | 'transformer' }>): Curve {
  const { k, alpha, beta } = p.steinmetz;
  return {
    title: 'core loss', x: { title: 'amplitude of the flux density', unit: 'T', logarithmic: true }, y: { title: 'loss', unit: 'W', logarithmic: true },
    lines: [50e3, 100e3, 200e3].map((f) => ({ name: `${f / 1000} kHz`, points: over(decades(0.01, p.maxFluxDensity), (B) => p.coreVolume * k * f ** alpha * B ** beta) })),
    leavesOut: 'bias; temperature; the wave is taken as a sine here only',
  };
}
