/** Devices in parallel that are not alike: the one with the least resistance carries most, and warms until it carries less. */

export interface Parallel {
  /** So many; one has `spread` (share) less resistance than is stated, the others as much more as makes all together what is stated: below 1 − 1/count */
  count: number;
  spread: number;
  /** Ω of each at 25 °C as stated, and 1/K by which it grows */
  resistance: number;
  rise: number;
  /** A rms of all together */
  rms: number;
  /** W that each loses besides */
  others: number;
  /** K/W from a junction to what all stand on, and °C of that */
  toBase: number;
  base: number;
}

export interface Shared {
  /** Of the one with less resistance, then of each of the others */
  currents: [number, number];
  temperatures: [number, number];
}

const MOST_ROUNDS = 300;
const AGREES = 1e-9;

/**
 * Currents by conductance, losses by I² R, temperatures from those, until all agree.
 * @returns undefined where they do not: more heat makes more resistance, and more heat again
 * Source: Mohan, Undeland, Robbins, "Power Electronics", ch. 22: a resistance that grows with temperature makes devices in parallel share.
 */
export function shareParallel({ count, spread, resistance, rise, rms, others, toBase, base }: Parallel): Shared | undefined {
  const ohms = (share: number, T: number): number => resistance * share * Math.max(0.2, 1 + rise * (T - 25));
  const stronger = 1 / (1 - spread);
  if (!(stronger < count)) return undefined;
  const others25 = (count - 1) / (count - stronger);
  let [strong, weak] = [base, base];
  for (let k = 0; k < MOST_ROUNDS; k++) {
    const [r1, r2] = [ohms(1 - spread, strong), ohms(others25, weak)];
    const all = 1 / r1 + (count - 1) / r2;
    const [i1, i2] = [rms / (r1 * all), rms / (r2 * all)];
    const [t1, t2] = [base + toBase * (i1 ** 2 * r1 + others), base + toBase * (i2 ** 2 * r2 + others)];
    if (!(t1 < 1e6)) return undefined;
    const moved = Math.max(Math.abs(t1 - strong), Math.abs(t2 - weak));
    [strong, weak] = [t1, t2];
    if (moved < AGREES * Math.max(1, Math.abs(t1))) return { currents: [i1, i2], temperatures: [t1, t2] };
  }
  return undefined;
}
