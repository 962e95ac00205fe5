import type { CapacitorPart } from './schema';

/** Where a capacitor stands: V across it, Hz of its ripple, °C around it. */
export interface CapacitorUse {
  volts: number;
  frequency: number;
  temperature: number;
}

/** Share of the capacitance that is left at so many V: half of it at `halfVoltage`. */
export const biasShare = (p: CapacitorPart, volts: number): number => (p.halfVoltage === undefined ? 1 : 1 / (1 + (volts / p.halfVoltage) ** 2));

/** Share of the capacitance at a temperature in °C, straight from 25 °C. */
export const warmShare = (p: CapacitorPart, temperature: number): number => Math.max(0.2, 1 + (p.capacitanceRise ?? 0) * (temperature - 25));

/**
 * Ω in series at a frequency and a temperature: the resistance of leads and electrolyte, which grows in the cold by
 * `coldFactor` at −40 °C (as an exponential), and what the dielectric loses, tan δ / ωC.
 */
export function seriesResistance(p: CapacitorPart, frequency: number, temperature: number): number {
  const cold = (p.coldFactor ?? 1) ** Math.max(0, (25 - temperature) / 65);
  return p.esr * cold + (p.lossFactor ?? 0) / (2 * Math.PI * frequency * p.capacitance);
}

/** s: the leakage of an electrolytic capacitor, 0.01 C V in µA, µF and V (IEC 60384-4), is a time constant of 100 s; three times as much current keeps those in series alike. */
const BALANCING = 100 / 3;

/** Ω beside each of several in series; undefined where one stands alone. */
export const balancingOf = (p: CapacitorPart): number | undefined => (p.series > 1 ? (p.balancingResistance ?? BALANCING / p.capacitance) : undefined);

/** Does it have to be worked out what it is where it stands: in series, or with data beyond fixed values? */
export const varies = (p: CapacitorPart): boolean => p.series > 1 || p.halfVoltage !== undefined || p.capacitanceRise !== undefined || p.coldFactor !== undefined || p.lossFactor !== undefined;

/** The one capacitor, with fixed capacitance and resistance, that those in series are where they stand; a fixed single one is given back as it is. */
export function capacitorInUse(p: CapacitorPart, use: CapacitorUse): CapacitorPart {
  if (!varies(p)) return p;
  const { halfVoltage: _h, capacitanceRise: _r, coldFactor: _c, lossFactor: _l, ...fixed } = p;
  const n = p.series;
  return {
    ...fixed,
    series: 1,
    balancingResistance: p.series > 1 ? n * balancingOf(p)! : undefined,
    ratedVoltage: n * p.ratedVoltage,
    capacitance: (p.capacitance * biasShare(p, use.volts / n) * warmShare(p, use.temperature)) / n,
    esr: n * seriesResistance(p, use.frequency, use.temperature),
  };
}
