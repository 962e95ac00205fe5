import { apply, rowNorm } from '../linear/dense';
import { doubleStep, halvings, shortStep, taylorAdvance } from '../linear/exponential';

/**
 * The binary ladder of one pattern: Φ(top), Φ(top/2), Φ(top/4) … computed once by doubling upwards.
 * Any time up to 2·top is then a sum of rungs, so the state at any time costs a few products and
 * no exponential; halving down the ladder is bisection in time.
 */
export interface Ladder {
  F: Float64Array;
  size: number;
  /** Longest rung in s. */
  top: number;
  /** rungs[k] = Φ(top / 2^k) */
  rungs: readonly Float64Array[];
}

/** Build a ladder with so many rungs (more where the fastest mode wants them). */
export function buildLadder(F: Float64Array, top: number, size: number, rungs = 24): Ladder {
  const count = Math.max(rungs, halvings(rowNorm(F, size), top) + 1);
  const { psi, e } = shortStep(F, top / 2 ** (count - 1), size);
  const work = new Float64Array(size * size);
  const list: Float64Array[] = [];
  for (let k = 0; k < count; k++) {
    if (k > 0) doubleStep(psi, e, work, size);
    const phi = e.slice();
    for (let i = 0; i < size; i++) phi[i * (size + 1)]! += 1;
    list.push(phi);
  }
  return { F, size, top, rungs: list.reverse() };
}

/** z after a time t from z0 (0 ≤ t ≤ 2·top): rungs for the bits of t, a Taylor step for what is left. */
export function advance(ladder: Ladder, z0: Float64Array, t: number): Float64Array {
  const { F, size, rungs } = ladder;
  let z = Float64Array.from(z0);
  let next = new Float64Array(size);
  let left = t;
  for (let k = 0, h = ladder.top; k < rungs.length; k++, h /= 2)
    while (left >= h) {
      apply(rungs[k]!, z, next, size);
      [z, next] = [next, z];
      left -= h;
    }
  if (left <= 0) return z;
  taylorAdvance(F, z, left, next, size);
  return next;
}
