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
  /** The units that it is printed and typed in, smallest first, where those are no prefixes: each from a value on, in the SI unit */
  scales?: readonly { symbol: string; factor: number; from: number; spellings: readonly string[] }[];
  /** What is plausible of an apparatus: the lowest and the highest value, and the smallest size besides zero */
  lowest: number;
  highest: number;
  finest: number;
}

type Plausible = readonly [highest: number, finest?: number, lowest?: number];
const unit = (symbol: string, measures: string, [highest, finest = 0, lowest = -highest]: Plausible, spellings: string[] = [], prefixed = true, shown = 1): Unit => ({
  symbol,
  measures,
  spellings,
  prefixed,
  shown,
  lowest,
  highest,
  finest,
});

export const UNITS = {
  V: unit('V', 'voltage', [1e7], ['volt', 'volts']),
  A: unit('A', 'current', [1e7], ['amp', 'amps', 'ampere']),
  W: unit('W', 'power', [1e10], ['watt', 'watts']),
  Ω: unit('Ω', 'resistance', [1e15, 1e-10, 0], ['Ω', 'ohm', 'ohms', 'r']),
  S: unit('S', 'conductance', [1e10, 1e-18, 0], ['siemens', 'mho']),
  H: unit('H', 'inductance', [1e6, 1e-15, 0], ['henry']),
  F: unit('F', 'capacitance', [1e6, 1e-18, 0], ['farad']),
  C: unit('C', 'charge', [1e6, 1e-18, 0], ['coulomb']),
  J: unit('J', 'energy', [1e9, 1e-18, 0], ['joule']),
  VA: unit('VA', 'apparent power', [1e10], []),
  Hz: unit('Hz', 'frequency', [1e13, 1e-6, 0], ['hertz']),
  s: unit('s', 'time', [1e9, 1e-18, 0], ['sec', 'seconds']),
  T: unit('T', 'flux density', [100, 1e-9, 0], ['tesla']),
  'K/W': unit('K/W', 'thermal resistance', [1e6, 1e-6, 0], ['°c/w', 'c/w'], false),
  '°C': unit('°C', 'temperature', [2000, 0, -273.15], ['c', 'degc', '℃'], false),
  'A/s': unit('A/s', 'slope of a current', [1e15, 0, 0], ['a/sec']),
  'W/(m K)': unit('W/(m K)', 'heat conductivity', [1e5, 1e-6, 0], ['w/mk', 'w/(mk)', 'w/m/k'], false),
  'm/s': unit('m/s', 'speed', [1e3, 1e-6, 0], [], false),
  'J/K': unit('J/K', 'heat capacity', [1e9, 1e-9, 0], ['j/k', 'ws/k'], false),
  '1/K': unit('1/K', 'temperature coefficient', [0.1], ['/k', 'k^-1'], false),
  '°': unit('°', 'angle', [360], ['deg', 'degrees'], false),
  dB: unit('dB', 'gain', [400], ['db'], false),
  '%': unit('%', 'share', [10, 0, 0], ['percent', 'pct'], false, 100),
  m: unit('m', 'length', [1e3, 1e-9, 0], ['metre', 'meter']),
  'm²': {
    ...unit('m²', 'area', [0.1, 1e-12, 0], ['m2'], false),
    scales: [
      { symbol: 'mm²', factor: 1e-6, from: 0, spellings: ['mm2'] },
      { symbol: 'cm²', factor: 1e-4, from: 1e-3, spellings: ['cm2'] },
    ],
  },
  'm³': {
    ...unit('m³', 'volume', [1, 1e-15, 0], ['m3'], false),
    scales: [
      { symbol: 'mm³', factor: 1e-9, from: 0, spellings: ['mm3'] },
      { symbol: 'cm³', factor: 1e-6, from: 1e-7, spellings: ['cm3'] },
    ],
  },
  '': unit('', 'number', [1e9], [], false),
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

/** The scale that a value of a unit with scales is printed in: the largest that it reaches. */
export const scaleOf = (name: UnitName, value: number): { symbol: string; factor: number } | undefined => (UNITS[name] as Unit).scales?.findLast((s) => Math.abs(value) >= s.from);

/** A scale of a unit as it is typed, or undefined. */
export const scaleNamed = (typed: string, name: UnitName): { factor: number } | undefined => (UNITS[name] as Unit).scales?.find((s) => s.symbol === typed || s.spellings.includes(typed.toLowerCase()));

/**
 * Why a value can not be meant, in words with the bound that it leaves; undefined when it can. The bounds are far
 * outside of what is built: they are there for slips of a prefix and for numbers that nothing can be computed with.
 */
export function implausible(value: number, name: UnitName): { message: string; bound: number } | undefined {
  const { lowest, highest, finest } = UNITS[name];
  if (!(value <= highest)) return { message: 'more than any apparatus has', bound: highest };
  if (!(value >= lowest)) return { message: lowest === 0 ? 'below zero' : 'less than any apparatus has', bound: lowest };
  if (value !== 0 && Math.abs(value) < finest) return { message: 'smaller than any apparatus has', bound: finest };
  return undefined;
}
