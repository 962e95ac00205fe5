import { findRoot } from '../linear/root';

/** Where heat that grows with temperature and a path that takes it away meet: once, twice or never. */

export interface Meeting {
  /** °C where it stands; undefined where it never does */
  stands?: number;
  /** °C beyond which it runs away, the second solution; undefined where it always comes back */
  beyond?: number;
}

/** °C that is looked to, and steps on the way there */
const [HIGHEST, STEPS] = [3000, 600];

/**
 * Solutions of T = base + resistance × watts(T), from the base on.
 * @param watts W at a temperature in °C; where it grows slower than the path takes heat away it stands, where it crosses back it runs away
 * Source: Lutz, Schlangenotto, Scheuermann, De Doncker, "Semiconductor Power Devices", ch. 11 (thermal stability: slope of the losses against 1/R).
 */
export function meetingsOf(watts: (T: number) => number, resistance: number, base: number): Meeting {
  const off = (T: number): number => base + resistance * watts(T) - T;
  const roots: number[] = [];
  let [at, v] = [base, off(base)];
  if (v <= 0) roots.push(base);
  for (let k = 1; k <= STEPS && roots.length < 2; k++) {
    // Steps that grow: near the base it is where parts stand.
    const next = base + (HIGHEST - base) * (k / STEPS) ** 2;
    const w = off(next);
    if (v > 0 !== w > 0) roots.push(findRoot(off, { low: at, high: next, atLow: v, atHigh: w }, { width: 1e-9 * next }).at);
    [at, v] = [next, w];
  }
  const [stands, beyond] = roots;
  return { ...(stands === undefined ? {} : { stands }), ...(beyond === undefined ? {} : { beyond }) };
}
