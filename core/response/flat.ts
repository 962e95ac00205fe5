import type { BodeCurve } from './margins';

/** Where the phase of a loop is flattest about its crossover: its nearest highest, and the stretch within some degrees of it. */
export interface FlatStretch {
  from: number;
  to: number;
  /** Hz and degrees of the highest */
  at: number;
  phase: number;
}

/** Degrees below the highest that still count */
const WITHIN = 3;
/** Ratio to the crossover that is looked at, either way */
const ABOUT = 4;

/** @returns undefined where the phase only falls about the crossover */
export function flatStretch({ frequency, phase }: BodeCurve, crossover: number): FlatStretch | undefined {
  const near = frequency.flatMap((f, i) => (f > crossover / ABOUT && f < crossover * ABOUT ? [i] : []));
  if (near.length < 3) return undefined;
  const away = (i: number): number => Math.abs(Math.log(frequency[i]! / crossover));
  const peaks = near.slice(1, -1).filter((i) => phase[i]! >= phase[i - 1]! && phase[i]! > phase[i + 1]!);
  if (peaks.length === 0) return undefined;
  const peak = peaks.reduce((a, b) => (away(b) < away(a) ? b : a));
  const inside = (i: number): boolean => phase[i] !== undefined && Math.abs(phase[i]! - phase[peak]!) < WITHIN;
  let [from, to] = [peak, peak];
  while (inside(from - 1)) from--;
  while (inside(to + 1)) to++;
  return { from: frequency[from]!, to: frequency[to]!, at: frequency[peak]!, phase: phase[peak]! };
}
