import { activeRows, applyActive, identity, multiply, rowNorm } from './dense';
import { doubleStep, halvings, shortStep, taylorAdvance, type Step } from './exponential';

/**
 * The binary ladder of one pattern: Φ and Ψ for top, top/2, top/4 … computed once by doubling upwards.
 * Any time is then a sum of rungs, so the state at any time costs a few products and no exponential;
 * halving down the ladder is bisection in time.
 */
export interface Ladder {
  F: Float64Array;
  size: number;
  /** Leading entries of z that move */
  active: number;
  /** Longest rung in s */
  top: number;
  /** rungs[k] = Φ(top / 2^k) */
  rungs: readonly Float64Array[];
  /** integrals[k] = Ψ(top / 2^k) */
  integrals: readonly Float64Array[];
}

/** Build a ladder with at least so many rungs, down to where a Taylor step takes over for every mode. */
export function buildLadder(F: Float64Array, top: number, size: number, rungs = 8): Ladder {
  // A few rungs below where Taylor would do: a rung costs half a product on average, a Taylor term one.
  const count = Math.max(rungs, halvings(rowNorm(F, size), top) + 7);
  const { psi, e } = shortStep(F, top / 2 ** (count - 1), size);
  const work = new Float64Array(size * size);
  const list: Float64Array[] = [];
  const integrals: Float64Array[] = [];
  for (let k = 0; k < count; k++) {
    if (k > 0) doubleStep(psi, e, work, size);
    const phi = e.slice();
    for (let i = 0; i < size; i++) phi[i * (size + 1)]! += 1;
    list.push(phi);
    integrals.push(psi.slice());
  }
  return { F, size, active: activeRows(F, size), top, rungs: list.reverse(), integrals: integrals.reverse() };
}

/** z after a time t ≥ 0 from z0: rungs for the bits of t, a Taylor step for what is left. */
export function advance(ladder: Ladder, z0: Float64Array, t: number): Float64Array {
  const { F, size, active, rungs } = ladder;
  let z: Float64Array = Float64Array.from(z0);
  let next: Float64Array = new Float64Array(size);
  let left = t;
  for (let k = 0, h = ladder.top; k < rungs.length; k++, h /= 2)
    while (left >= h) {
      applyActive(rungs[k]!, z, next, active, size);
      const spare = z;
      z = next;
      next = spare;
      left -= h;
    }
  if (left <= 0) return z;
  taylorAdvance(F, z, left, next, size, active);
  return next;
}

/** Φ(t) and Ψ(t) as sums of rungs: Φ(a+b) = Φ(b)Φ(a), Ψ(a+b) = Ψ(a) + Ψ(b)Φ(a). */
export function stepAt(ladder: Ladder, t: number): Step {
  const { size, rungs, integrals } = ladder;
  let phi: Float64Array = identity(size);
  const psi = new Float64Array(size * size);
  let work: Float64Array = new Float64Array(size * size);
  let left = t;
  const append = (p: Float64Array, q: Float64Array): void => {
    multiply(q, phi, work, size);
    for (let i = 0; i < psi.length; i++) psi[i]! += work[i]!;
    multiply(p, phi, work, size);
    [phi, work] = [work, phi];
  };
  for (let k = 0, h = ladder.top; k < rungs.length; k++, h /= 2)
    while (left >= h) {
      append(rungs[k]!, integrals[k]!);
      left -= h;
    }
  if (left > 0) {
    const rest = shortStep(ladder.F, left, size);
    for (let i = 0; i < size; i++) rest.e[i * (size + 1)]! += 1;
    append(rest.e, rest.psi);
  }
  return { h: t, phi, psi };
}
