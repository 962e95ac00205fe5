/**
 * The units this product speaks, each with the dimension it measures.
 * Inside, every quantity is in the SI unit named here (temperatures in °C, shares as plain
 * numbers, angles of a margin in degrees); prefixes exist only in what is typed and printed.
 */
export interface Unit {
  /** Symbol as printed. */
  symbol: string;
  /** What it measures, in words: "voltage". */
  measures: string;
  /** Other spellings accepted when typed (compared without case). */
  spellings: readonly string[];
  /** False where an SI prefix makes no sense (°C, %, dB). */
  prefixed: boolean;
  /** Printed value = stored value × this. Only the share differs from 1. */
  shown: number;
}

const unit = (symbol: string, measures: string, spellings: string[] = [], prefixed = true, shown = 1): Unit => ({
  symbol,
  measures,
  spellings,
  prefixed,
  shown,
});

export const UNITS = {
  V: unit('V', 'voltage', ['volt', 'volts']),
  A: unit('A', 'current', ['amp', 'amps', 'ampere']),
  W: unit('W', 'power', ['watt', 'watts']),
  Ω: unit('Ω', 'resistance', ['Ω', 'ohm', 'ohms', 'r']),
  H: unit('H', 'inductance', ['henry']),
  F: unit('F', 'capacitance', ['farad']),
  C: unit('C', 'charge', ['coulomb']),
  J: unit('J', 'energy', ['joule']),
  VA: unit('VA', 'apparent power', []),
  Hz: unit('Hz', 'frequency', ['hertz']),
  s: unit('s', 'time', ['sec', 'seconds']),
  T: unit('T', 'flux density', ['tesla']),
  'K/W': unit('K/W', 'thermal resistance', ['°c/w', 'c/w'], false),
  '°C': unit('°C', 'temperature', ['c', 'degc', '℃'], false),
  'A/s': unit('A/s', 'slope of a current', ['a/sec']),
  '1/K': unit('1/K', 'temperature coefficient', ['/k', 'k^-1'], false),
  '°': unit('°', 'angle', ['deg', 'degrees'], false),
  dB: unit('dB', 'gain', ['db'], false),
  '%': unit('%', 'share', ['percent', 'pct'], false, 100),
  m: unit('m', 'length', ['metre', 'meter']),
  'm²': unit('m²', 'area', ['m2'], false),
  'm³': unit('m³', 'volume', ['m3'], false),
  '': unit('', 'number', [], false),
} as const satisfies Record<string, Unit>;

export type UnitName = keyof typeof UNITS;

/** SI prefixes from 1e-15 to 1e9, in steps of a thousand; "" is one. */
export const PREFIXES: readonly { symbol: string; factor: number }[] = [
  { symbol: 'f', factor: 1e-15 },
  { symbol: 'p', factor: 1e-12 },
  { symbol: 'n', factor: 1e-9 },
  { symbol: 'µ', factor: 1e-6 },
  { symbol: 'm', factor: 1e-3 },
  { symbol: '', factor: 1 },
  { symbol: 'k', factor: 1e3 },
  { symbol: 'M', factor: 1e6 },
  { symbol: 'G', factor: 1e9 },
];

const PREFIX_SPELLINGS: Record<string, number> = {
  f: 1e-15,
  p: 1e-12,
  n: 1e-9,
  u: 1e-6,
  µ: 1e-6, // micro sign
  μ: 1e-6, // Greek mu
  m: 1e-3,
  k: 1e3,
  K: 1e3,
  M: 1e6,
  G: 1e9,
};

/** The factor of a typed prefix, or undefined. "m" is milli and "M" is mega: case counts. */
export const prefixFactor = (typed: string): number | undefined =>
  Object.hasOwn(PREFIX_SPELLINGS, typed) ? PREFIX_SPELLINGS[typed] : undefined;

/**
 * Which unit a typed symbol names, or undefined. The expected unit's own spellings come first ("50 C"
 * is a temperature where one is wanted, a charge elsewhere), then exact symbols, then spellings
 * without case.
 */
export function unitNamed(typed: string, expected?: UnitName): UnitName | undefined {
  if (typed === '') return '';
  if (expected !== undefined && (UNITS[expected].spellings as readonly string[]).includes(typed.toLowerCase())) return expected;
  if (Object.hasOwn(UNITS, typed)) return typed as UnitName;
  const lower = typed.toLowerCase();
  const names = Object.keys(UNITS) as UnitName[];
  return (
    names.find((name) => name !== 'C' && name !== 'm' && name.toLowerCase() === lower) ??
    names.find((name) => (UNITS[name].spellings as readonly string[]).includes(lower))
  );
}
