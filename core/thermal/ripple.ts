import type { Rung } from './ladder';

/** A junction whose heat comes and goes within a cycle that repeats for ever. */

/** So many W for so many s. */
export interface Burst {
  watts: number;
  seconds: number;
}

export interface Ripple {
  /** K above what stands below the ladder, at the hottest moment and the coolest, and as a mean */
  high: number;
  low: number;
  mean: number;
}

/** Moments of a burst that are looked at */
const MOMENTS = 12;

/**
 * Temperatures along a cycle of bursts, settled: of each mode x' = (R P − x) / τ, exact through each burst, and from one cycle to the next
 * the same where x₀ = Σ (what each burst leaves) / (1 − e^(−T/τ)).
 */
export function rippleOf(modes: readonly Rung[], bursts: readonly Burst[]): Ripple {
  const period = bursts.reduce((sum, b) => sum + b.seconds, 0);
  const begin = modes.map(({ resistance, capacity }) => {
    const tau = resistance * capacity;
    // From nothing through the cycle; what that leaves stands once in every cycle before.
    const left = bursts.reduce((x, b) => x + (b.watts * resistance - x) * -Math.expm1(-b.seconds / tau), 0);
    return left / -Math.expm1(-period / tau);
  });
  let [high, low] = [-Infinity, Infinity];
  const now = [...begin];
  for (const b of bursts)
    for (let k = 0; k < MOMENTS; k++) {
      let sum = 0;
      modes.forEach(({ resistance, capacity }, i) => {
        now[i]! += (b.watts * resistance - now[i]!) * -Math.expm1(-b.seconds / MOMENTS / (resistance * capacity));
        sum += now[i]!;
      });
      [high, low] = [Math.max(high, sum), Math.min(low, sum)];
    }
  const mean = bursts.reduce((sum, b) => sum + b.watts * b.seconds, 0) / period;
  return { high, low, mean: mean * modes.reduce((sum, m) => sum + m.resistance, 0) };
}
