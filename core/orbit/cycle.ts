import type { Layout } from '../circuit/layout';
import type { Prepared } from '../circuit/machine';
import type { Pattern } from '../circuit/pattern';
import { areaAlong, climb, phiAt, phiOnce } from '../linear/stepTable';
import type { Work } from '../linear/tolerance';

/** A piece of a run in one pattern. */
export interface Interval {
  pattern: Pattern;
  /** s */
  start: number;
  /** s */
  duration: number;
  /** z at the start */
  z0: Float64Array;
}

const phis = new WeakMap<Interval, Float64Array>();
const areas = new WeakMap<Interval, Float64Array>();

/** Φ over a whole interval, size×size row by row, computed once. */
export function phiOf(s: Interval): Float64Array {
  let found = phis.get(s);
  if (!found) phis.set(s, (found = phiAt((s.pattern as Prepared).stepTable, s.duration)));
  return found;
}

/** The same where it is needed once, of thousands of intervals: not to be kept, nor written to. */
export const phiInPassing = (s: Interval): Float64Array => phis.get(s) ?? phiOnce((s.pattern as Prepared).stepTable, s.duration);

/** ∫ z dt over a whole interval, computed once. */
export function areaOf(s: Interval): Float64Array {
  let found = areas.get(s);
  if (!found) areas.set(s, (found = areaAlong((s.pattern as Prepared).stepTable, s.z0, s.duration)));
  return found;
}

const ends = new WeakMap<Interval, Float64Array>();

/** z at the end of an interval, just before what happens there; computed once. */
export function endOf(s: Interval): Float64Array {
  let found = ends.get(s);
  if (!found) ends.set(s, (found = climb((s.pattern as Prepared).stepTable, s.z0, s.duration)));
  return found;
}

/** The periodic orbit x(T) = x(0). */
export interface Cycle {
  period: number;
  intervals: Interval[];
  /** |x(T) − x(0)|, largest over the states, relative to the largest of its kind */
  closure: number;
  iterations: number;
  /** What was done to find it */
  work: Work;
  /** d(T)/d(0) of the states and of what samplers hold, n×n: its eigenvalues are the multipliers of the cycle */
  monodromy: Float64Array;
  /** Their number n */
  states: number;
  /** Is its period its own, no clock's? Then its phase is held by nothing, and the multiplier of that, one, is left out of the monodromy */
  free?: true;
}

/** Largest size of each state at the edges: V, A, as the state is. */
export function largestStates(intervals: readonly Pick<Interval, 'z0'>[], columns: readonly number[]): Float64Array {
  const largest = new Float64Array(columns.length);
  for (const s of intervals) columns.forEach((c, i) => (largest[i] = Math.max(largest[i]!, Math.abs(s.z0[c]!))));
  return largest;
}

/**
 * What the errors of each state are relative to: the largest of its kind at the edges, so that a state which is
 * nothing but rounding (the error of a settled loop) is held to nothing. What a program keeps is at least a
 * thousandth of the largest voltage, since it computes with those.
 */
export function scalesOf({ kind, measured }: Layout, intervals: readonly Pick<Interval, 'z0'>[], columns: readonly number[]): Float64Array {
  const own = largestStates(intervals, columns);
  const all = largestStates(intervals, measured).reduce((a, b) => Math.max(a, b), 0) || 1;
  const byKind = new Map<string, number>();
  columns.forEach((c, i) => byKind.set(kind[c]!, Math.max(byKind.get(kind[c]!) ?? 0, own[i]!)));
  return own.map((_, i) => {
    const k = kind[columns[i]!]!;
    const most = byKind.get(k)!;
    return k === 'A' || k === 'V' || k === 'Wb' ? most || all : Math.max(most, 1e-3 * all);
  });
}
