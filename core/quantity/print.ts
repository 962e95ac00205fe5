import { PREFIXES, scaleOf, UNITS, type UnitName } from './units';

const MINUS = '−';

/**
 * Print a quantity in engineering notation: printQuantity(2.2e-5, 'H') → "22.0 µH".
 *
 * @param value in the SI unit (shares as plain numbers)
 * @param unit which unit; those without prefixes are printed as they are
 * @param digits significant digits (3 by default)
 * @returns text with a plain space before the unit ("45.0°" has none); "–" for a value that does not exist
 */
export function printQuantity(value: number, unit: UnitName, digits = 3): string {
  const { mantissa, symbol } = splitQuantity(value, unit, digits);
  if (symbol === '') return mantissa;
  return symbol === '°' ? `${mantissa}${symbol}` : `${mantissa} ${symbol}`;
}

/** The two parts of a printed quantity: its figures, and the prefix with the unit. */
export function splitQuantity(value: number, unit: UnitName, digits = 3): { mantissa: string; symbol: string } {
  const { symbol, prefixed, shown } = UNITS[unit];
  if (Number.isNaN(value)) return { mantissa: '–', symbol: '' };
  if (!Number.isFinite(value)) return { mantissa: value > 0 ? '∞' : `${MINUS}∞`, symbol };
  const scaled = value * shown;
  const scale = scaleOf(unit, value);
  if (scale) return { mantissa: significant(value / scale.factor, digits), symbol: scale.symbol };
  if (!prefixed) return { mantissa: significant(scaled, digits), symbol };
  if (scaled === 0) return { mantissa: '0', symbol };
  // Rounding may carry into the next prefix (999.96 m → 1.00), so round before choosing.
  const rounded = Math.abs(Number(scaled.toPrecision(digits)));
  const fits = PREFIXES.filter((p) => rounded >= p.factor * (1 - 1e-12));
  const prefix = fits.at(-1) ?? PREFIXES[0]!;
  return { mantissa: significant(scaled / prefix.factor, digits), symbol: prefix.symbol + symbol };
}

/** Fixed notation with so many significant digits, never an exponent below 1e6. */
export function significant(value: number, digits: number): string {
  if (value === 0) return '0';
  const rounded = Number(value.toPrecision(digits));
  const before = Math.floor(Math.log10(Math.abs(rounded)) + 1e-12) + 1;
  const decimals = Math.min(12, Math.max(0, digits - before));
  return rounded.toFixed(decimals).replace('-', MINUS);
}

/** As printed, without trailing zeros behind the point: for values that were typed. */
export function printTyped(value: number, unit: UnitName, digits = 6): string {
  const { mantissa, symbol } = splitQuantity(value, unit, digits);
  const short = mantissa.includes('.') ? mantissa.replace(/\.?0+$/, '') : mantissa;
  if (symbol === '') return short;
  return symbol === '°' ? `${short}${symbol}` : `${short} ${symbol}`;
}

/** The factor of the prefix that a value is printed with. */
const prefixOf = (value: number, unit: UnitName): number =>
  scaleOf(unit, value)?.factor ??
  (UNITS[unit].prefixed ? (PREFIXES.filter((p) => Math.abs(value) >= p.factor * (1 - 1e-12)).at(-1)?.factor ?? 1) : 1);

/** "0.4–8 A", "−10 to 50 °C": both ends in the unit and prefix of the upper one. */
export function printRange(range: { min: number; max: number }, unit: UnitName, digits = 6): string {
  const high = printTyped(range.max, unit, digits);
  if (range.min === range.max) return high;
  const factor = prefixOf(range.max, unit);
  const low = significant((range.min * UNITS[unit].shown) / factor, digits).replace(/(\.\d*?)0+$/, '$1').replace(/\.$/, '');
  return range.min < 0 ? `${low} to ${high}` : `${low}–${high}`;
}

/** s as a clock tells them: "40.0 ms", "12.0 s", "5.0 min", "2.0 h". */
export const printDuration = (s: number): string => (s < 100 ? printQuantity(s, 's', 2) : s < 6000 ? `${(s / 60).toPrecision(2)} min` : `${(s / 3600).toPrecision(2)} h`);
