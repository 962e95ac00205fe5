import type { Recording } from '../recording';

/** Moments of a run at which it is compared */
const MOMENTS = 400;

/**
 * How far an averaged run is off the mean over a period of the switched one: the largest difference, when, and how far the
 * switched mean itself goes meanwhile, and the one as a share of the other.
 * @param period s of switching @returns undefined where both have nothing in common
 */
export function apartOf(switched: Recording, quantity: number, averaged: Recording, own: number, period: number): { largest: number; at: number; span: number; share: number } | undefined {
  const [from, until] = [Math.max(switched.from(), averaged.from()) + period, Math.min(switched.until(), averaged.until()) - period];
  if (!(until > from)) return undefined;
  let [largest, at, low, high] = [0, NaN, Infinity, -Infinity];
  for (let k = 0; k <= MOMENTS; k++) {
    const t = from + ((until - from) * k) / MOMENTS;
    const mean = switched.read(quantity, t - period / 2, t + period / 2)?.mean;
    if (mean === undefined) continue;
    // Both over a period: what jumps does so over one.
    const smooth = averaged.read(own, t - period / 2, t + period / 2)?.mean;
    if (smooth === undefined) continue;
    const off = Math.abs(mean - smooth);
    if (off > largest) [largest, at] = [off, t];
    low = Math.min(low, mean);
    high = Math.max(high, mean);
  }
  return { largest, at, span: high - low, share: high > low ? largest / (high - low) : 0 };
}
