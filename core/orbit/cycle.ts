import type { Prepared } from '../circuit/machine';
import type { Pattern } from '../circuit/pattern';
import { phiAt, psiAt } from '../linear/ladder';

/** A piece of a run in one pattern. */
export interface Stretch {
  pattern: Pattern;
  /** s */
  start: number;
  /** s */
  duration: number;
  /** z at the start */
  z0: Float64Array;
}

const phis = new WeakMap<Stretch, Float64Array>();
const psis = new WeakMap<Stretch, Float64Array>();

/** Φ over a whole stretch, computed once. */
export function phiOf(s: Stretch): Float64Array {
  let found = phis.get(s);
  if (!found) phis.set(s, (found = phiAt((s.pattern as Prepared).ladder, s.duration)));
  return found;
}

/** Ψ = ∫ Φ over a whole stretch, computed once. */
export function psiOf(s: Stretch): Float64Array {
  let found = psis.get(s);
  if (!found) psis.set(s, (found = psiAt((s.pattern as Prepared).ladder, s.duration)));
  return found;
}

/** The periodic orbit x(T) = x(0). */
export interface Cycle {
  period: number;
  stretches: Stretch[];
  /** |x(T) − x(0)|, largest over the states, relative to the largest value of each */
  closure: number;
  iterations: number;
  /** d(T)/d(0) of the states and of what samplers hold, n×n: its eigenvalues are the multipliers of the cycle */
  monodromy: Float64Array;
  /** Their number n */
  states: number;
}

/** Largest size of each state at the edges: what its errors are relative to. */
export function largestStates(stretches: readonly Stretch[], columns: readonly number[]): Float64Array {
  const largest = new Float64Array(columns.length);
  for (const s of stretches) columns.forEach((c, i) => (largest[i] = Math.max(largest[i]!, Math.abs(s.z0[c]!))));
  return largest;
}
