import { fail, ok, type Result } from '../problem';
import { prefixFactor, scaleNamed, UNITS, unitNamed, type UnitName } from './units';
import { printQuantity } from './print';

const NUMBER = String.raw`[+\-−]?(?:\d+\.?\d*|\.\d+)(?:[eE][+\-−]?\d+)?`;
const PLAIN = new RegExp(`^(${NUMBER})\\s*(.*)$`);
/** A prefix (or R for ohms) standing where the decimal point would: 4u7, 2k2, 4R7. */
const INFIX = /^([+\-−]?\d+)([fpnuµμmkKMGRrV])(\d+)\s*(.*)$/;

/** Longest text that is said back. */
const LONGEST = 200;

/** Text of a file or a field as it may be said back: control characters written out, not endless. */
export function quoted(text: string): string {
  const plain = text.replace(/[\p{Cc}\u2028\u2029]/gu, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);
  return plain.length > LONGEST ? `${plain.slice(0, LONGEST)}…` : plain;
}

const number = (text: string): number => Number(text.replaceAll('−', '-'));

function example(unit: UnitName): string {
  const samples: Partial<Record<UnitName, string>> = {
    V: '24 V', A: '8 A', Ω: '9m4 or 9.4 mΩ', H: '22u or 22 µH', F: '4u7 or 4.7 µF', Hz: '220k or 220 kHz', s: '30n or 30 ns',
    '°C': '50 °C', '%': '35 %', '°': '45°', dB: '10 dB', W: '2 W', 'K/W': '1.5 K/W',
  };
  return samples[unit] ?? printQuantity(1, unit);
}

/** "a voltage", "an inductance" */
export const article = (noun: string): string => `${/^[aeiou]/.test(noun) ? 'an' : 'a'} ${noun}`;

/** Split what stands behind the number into a prefix and a unit; undefined when it is neither. */
function readSuffix(text: string, expected: UnitName): { factor: number; unit: UnitName } | undefined {
  const suffix = text.trim();
  const factor = prefixFactor(suffix[0] ?? '');
  // A prefix alone is a prefix: "1 m" is a thousandth, not a metre.
  if (suffix.length === 1 && factor !== undefined) return { factor, unit: '' };
  const scale = scaleNamed(suffix, expected);
  if (scale) return { factor: scale.factor, unit: expected };
  const whole = unitNamed(suffix, expected);
  if (whole !== undefined) return { factor: 1, unit: whole };
  if (factor === undefined) return undefined;
  const rest = unitNamed(suffix.slice(1).trim(), expected);
  if (rest === undefined || (rest !== '' && !UNITS[rest].prefixed)) return undefined;
  return { factor, unit: rest };
}

/**
 * Read a typed quantity: "22 µH", "22u", "4u7", "100k", "2.2e-6", "35 %".
 *
 * @param text what was typed
 * @param unit the unit the field expects; a bare number or prefix is taken in it
 * @param where field path for the error
 * @returns the value in the SI unit (a share as a plain number: "35 %" → 0.35; a bare "35" in a
 *   percent field also means 35 %), or a problem: "empty", "number", "unit" (not a unit), "dimension".
 */
export function parseQuantity(text: string, unit: UnitName, where = ''): Result<number> {
  const typed = text.trim();
  const shown = quoted(typed);
  const { measures } = UNITS[unit];
  const like = `write it like ${example(unit)}`;
  if (typed === '') return fail('empty', where, `${article(measures)} is wanted here`, like);
  if (/\d,\d/.test(typed)) return fail('number', where, `"${shown}" has a comma`, 'use a point for decimals and no marks for thousands');

  const infix = INFIX.exec(typed);
  const plain = infix ? null : PLAIN.exec(typed);
  if (!infix && !plain) return fail('number', where, `"${shown}" is not a number with a unit`, like);

  let value: number;
  let found: { factor: number; unit: UnitName } | undefined;
  if (infix) {
    const [, whole, mark, decimals, rest] = infix as unknown as string[];
    value = number(`${whole}.${decimals}`);
    if (mark === 'R' || mark === 'r') found = { factor: 1, unit: 'Ω' };
    else if (mark === 'V') found = { factor: 1, unit: 'V' };
    else found = { factor: prefixFactor(mark!)!, unit: unitNamed(rest!.trim(), unit) ?? '' };
    if (rest!.trim() !== '' && unitNamed(rest!.trim(), unit) === undefined) found = undefined;
  } else {
    value = number(plain![1]!);
    found = readSuffix(plain![2]!, unit);
  }
  if (!found) return fail('unit', where, `"${shown}" ends in something that is not a unit of ${measures}`, like);
  if (found.unit !== '' && found.unit !== unit)
    return fail('dimension', where, `"${shown}" is ${article(UNITS[found.unit].measures)}, and this is ${article(measures)}`, like);
  if (found.unit === '' && found.factor !== 1 && !UNITS[unit].prefixed && unit !== '')
    return fail('unit', where, `${article(measures)} takes no prefix`, like);
  const si = (value * found.factor) / UNITS[unit].shown;
  if (!Number.isFinite(si)) return fail('number', where, `"${shown}" is too large to compute with`, like);
  return ok(roundDecimal(si));
}

/** 22 × 1e-6 is 2.1999999999999998e-5 in binary; the decimal that was typed is meant. */
const roundDecimal = (value: number): number => Number(value.toPrecision(15));

/** Read "36–60 V", "36-60", "36 to 60 V", "36 V … 60 V" or "12 V ± 10 %" as a range with min < max; `fixed`: also a single value, min = max. */
export function parseRange(text: string, unit: UnitName, where = '', fixed = false): Result<{ min: number; max: number }> {
  const around = /^(.+?)\s*(?:±|\+\/?-)\s*([\d.]+)\s*%$/.exec(text.trim());
  if (around) {
    const middle = parseQuantity(around[1]!, unit, where);
    if (!middle.ok) return middle;
    const share = Number(around[2]) / 100;
    if (!(share >= 0 && share < 1)) return fail('range', where, `"${around[2]} %" to either side is none that can be`, 'choose less than 100 %');
    const [min, max] = [middle.value * (1 - share), middle.value * (1 + share)].map(roundDecimal) as [number, number];
    return ok({ min: Math.min(min, max), max: Math.max(min, max) });
  }
  const parts = text.trim().split(/\s*(?:–|…|\.\.+|\bto\b|(?<=[\d\s\p{L}°Ω%µ])-(?=\s*[\d.]))\s*/u);
  const like = `write it like ${printQuantity(36, unit).replace(/^36(\.0)?/, '36–60')}`;
  if (fixed && parts.length === 1) {
    const one = parseQuantity(parts[0]!, unit, where);
    return one.ok ? ok({ min: one.value, max: one.value }) : one;
  }
  if (parts.length !== 2) return fail('range', where, `"${text.trim()}" is not a range`, like);
  const high = parseQuantity(parts[1]!, unit, where);
  if (!high.ok) return high;
  // A bare lower number borrows the prefix of the upper one: 0.4–8 mA, 180–220 kHz.
  const bare = /^[+\-−]?[\d.]+$/.test(parts[0]!.trim());
  const suffix = bare ? parts[1]!.trim().replace(/^[+\-−]?[\d.]+/, '') : '';
  const low = parseQuantity(parts[0]! + suffix, unit, where);
  if (!low.ok) return low;
  if (fixed ? low.value > high.value : low.value >= high.value)
    return fail('range', where, `${printQuantity(low.value, unit)} is not below ${printQuantity(high.value, unit)}`, 'put the smaller value first');
  return ok({ min: low.value, max: high.value });
}
