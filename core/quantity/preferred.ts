/**
 * Preferred number series of IEC 60063. E3 to E24 are tabulated there (their historic rounding
 * is not that of a formula); E48, E96 and E192 are the rounded geometric series.
 */
const E24 = [1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1];
const every = (n: number): number[] => E24.filter((_, i) => i % n === 0);
const geometric = (n: number): number[] =>
  Array.from({ length: n }, (_, i) => Number((10 ** (i / n)).toFixed(2))).map((v) => (n === 192 && v === 9.19 ? 9.2 : v));

export const SERIES = {
  E3: every(8),
  E6: every(4),
  E12: every(2),
  E24,
  E48: geometric(48),
  E96: geometric(96),
  E192: geometric(192),
} as const;

export type SeriesName = keyof typeof SERIES;
export type Rounding = 'nearest' | 'up' | 'down';

/**
 * The preferred number for a positive value.
 * "nearest" is nearest in ratio; "up" and "down" take the value itself when it is one (within 1e-9).
 */
export function preferred(value: number, series: SeriesName, rounding: Rounding = 'nearest'): number {
  if (!(value > 0) || !Number.isFinite(value)) return value;
  const decade = Math.floor(Math.log10(value) + 1e-12);
  const bases = SERIES[series];
  const slack = 1e-9;
  let best = { base: bases[0]!, decade };
  let least = Infinity;
  // Of the decade below the last alone, and of the one above the first, can be nearer than all of its own.
  for (let d = decade - 1; d <= decade + 1; d++)
    for (const base of d < decade ? bases.slice(-1) : d > decade ? bases.slice(0, 1) : bases) {
      const ratio = (base * 10 ** d) / value;
      if (rounding === 'up' && ratio < 1 - slack) continue;
      if (rounding === 'down' && ratio > 1 + slack) continue;
      const distance = ratio > 1 ? ratio : 1 / ratio;
      if (distance < least) {
        least = distance;
        best = { base, decade: d };
      }
    }
  return Number(`${best.base}e${best.decade}`);
}

/** All preferred numbers of a series from one value to another, rising. */
export function preferredBetween(low: number, high: number, series: SeriesName): number[] {
  const out: number[] = [];
  for (let v = preferred(low, series, 'up'); v <= high * (1 + 1e-9); v = preferred(v * (1 + 1e-6), series, 'up')) out.push(v);
  return out;
}
