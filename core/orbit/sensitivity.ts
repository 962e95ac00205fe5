import { vector } from '../linear/vector';
import type { Prepared } from '../circuit/machine';
import { apply, composeSteps, dot, identity } from '../linear/dense';
import { rowOfArea } from '../linear/stepTable';
import { phiInPassing } from './cycle';
import type { Event, Trace } from './march';

/**
 * How a run depends on where it began: X = dz(t)/dz(0), carried through intervals and events.
 *
 * Through an interval X ← Φ X. At an event whose time follows a guard, a neighbouring run switches
 * earlier or later by δt = −∇g·δz / (dg/dt), and with resets R
 *
 *   X ← R X + (R f⁻ − f⁺) ⊗ δt        f = F z on either side
 *
 * (the saltation matrix). A gate edge that follows an earlier event after a delay has that event's δt;
 * a clock has none. A diode's own change is continuous: f⁻ = f⁺.
 *
 * The columns of source values are sensitivities to those sources: a duty or a reference is one of them.
 */
export interface Sensitivity {
  /** dz(end)/dz(start), size × size */
  X: Float64Array;
  /** d/dz(start) of ∫ y dt for the quantity asked for, a row */
  integral: Float64Array;
}

/** Row of δt of an event by z(start), undefined for a clock. */
type Shift = Float64Array | undefined;

/**
 * How the end of a run, and the integral of a quantity over it, follow from where it began.
 * @param size entries of z
 * @param quantity row in each pattern, whose ∫ y dt is followed too
 */
export function sensitivity(trace: Trace, size: number, quantity?: (p: Prepared) => Float64Array): Sensitivity {
  const { X, integrals } = carry(trace, size, quantity ? [quantity] : []);
  return { X, integral: integrals[0] ?? vector(size) };
}

/** The same with the integrals of several quantities, a row each. */
export const sensitivities = (trace: Trace, size: number, quantities: readonly ((p: Prepared) => Float64Array)[]): { X: Float64Array; integrals: Float64Array[] } => carry(trace, size, quantities);

/** dz(start of an interval)/dz(start of the run), size × size, for some of the intervals. */
export function sensitivityAt(trace: Trace, size: number, intervals: readonly number[]): Float64Array[] {
  const found = new Map<number, Float64Array>();
  carry(trace, size, [], (k, X) => void (intervals.includes(k) && found.set(k, X.slice())));
  return intervals.map((k) => found.get(k)!);
}

/**
 * The same at as long after the event that an interval begins with, however early or late that comes: X + f⁺ ⊗ δt. What is
 * looked at so does not see that a run without a clock comes earlier or later.
 */
export function sensitivityAfterEvents(trace: Trace, size: number, intervals: readonly number[]): Float64Array[] {
  const found = new Map<number, Float64Array>();
  carry(trace, size, [], (k, X, shift) => {
    if (!intervals.includes(k)) return;
    const own = X.slice();
    const { pattern, z0 } = trace.intervals[k]!;
    const rate = vector(size);
    apply(pattern.F, z0, rate, size);
    if (shift) for (let i = 0; i < size; i++) for (let c = 0; c < size; c++) own[i * size + c]! += rate[i]! * shift[c]!;
    found.set(k, own);
  });
  return intervals.map((k) => found.get(k)!);
}

/** @param enter is told of every interval, X at its beginning, which is written to again, and how the last event before it moves */
function carry(trace: Trace, size: number, quantities: readonly ((p: Prepared) => Float64Array)[], enter?: (interval: number, X: Float64Array, shift: Shift) => void): { X: Float64Array; integrals: Float64Array[] } {
  let X = identity(size) as Float64Array;
  const integrals = quantities.map(() => vector(size));
  const shifts: Shift[] = [];
  let next: Float64Array = new Float64Array(size * size);
  /** Columns that have been set: all others of what stands still are what they were, and their rows of X those of the identity. */
  const set = new Set<number>();

  const cross = (j: Event): void => {
    const shift = shiftOf(j, X, shifts, size);
    shifts.push(shift);
    // All new rows are of the old X, whichever is set first.
    const fresh = j.resets.map(({ row: from }) => (from ? rowOf(from, X, size) : vector(size)));
    j.resets.forEach(({ column }, i) => {
      set.add(column);
      X.set(fresh[i]!, column * size);
    });
    if (!shift) return;
    const jump = jumpOf(j, size);
    for (let i = 0; i < size; i++) if (jump[i] !== 0) for (let c = 0; c < size; c++) X[i * size + c]! += jump[i]! * shift[c]!;
    quantities.forEach((quantity, q) => {
      const change = dot(quantity(j.before), j.z, size) - dot(quantity(j.after), j.zAfter, size);
      for (let c = 0; c < size; c++) integrals[q]![c]! += change * shift[c]!;
    });
  };

  trace.intervals.forEach((s, k) => {
    for (const j of trace.events[k] ?? []) cross(j);
    enter?.(k, X, shifts.at(-1));
    const p = s.pattern as Prepared;
    quantities.forEach((quantity, q) => {
      // yᵀ Ψ X
      const row = rowOfArea(p.stepTable, quantity(p), s.duration);
      for (let m = 0; m < size; m++) if (row[m] !== 0) for (let c = 0; c < size; c++) integrals[q]![c]! += row[m]! * X[m * size + c]!;
    });
    const { active } = p.stepTable;
    const phi = phiInPassing(s);
    composeSteps(phi, X, next, active, size);
    for (const k of set) {
      if (k < active) continue;
      for (let i = 0; i < active; i++) {
        const f = phi[i * size + k]!;
        if (f === 0) continue;
        for (let c = 0; c < size; c++) next[i * size + c]! += f * X[k * size + c]!;
        next[i * size + k]! -= f;
      }
    }
    [X, next] = [next, X];
  });
  for (const j of trace.events[trace.intervals.length] ?? []) cross(j);
  return { X, integrals };
}

/** row · X */
function rowOf(row: Float64Array, X: Float64Array, size: number): Float64Array {
  const out = vector(size);
  for (let k = 0, at = 0; k < size; k++, at += size) {
    const f = row[k]!;
    if (f !== 0) for (let c = 0; c < size; c++) out[c]! += f * X[at + c]!;
  }
  return out;
}

function shiftOf(j: Event, X: Float64Array, shifts: readonly Shift[], size: number): Shift {
  if (j.cause < 0) return undefined;
  if (j.cause < shifts.length) return shifts[j.cause];
  // A guard that only touches its zero has no moment of its own to move.
  if (!(j.rate! > 0)) return vector(size);
  const shift = rowOf(j.gradient!, X, size);
  for (let c = 0; c < size; c++) shift[c]! /= -j.rate!;
  return shift;
}

/** R f⁻ − f⁺: what an event that comes δt s later adds to z, per δt. Source: Leine, Nijmeijer, “Dynamics and Bifurcations of Non-Smooth Mechanical Systems”, ch. 7 (saltation matrix). */
export function jumpOf(j: Event, size: number): Float64Array {
  const before = vector(size);
  const after = vector(size);
  apply(j.before.F, j.z, before, size);
  apply(j.after.F, j.zAfter, after, size);
  const reset = before.slice();
  for (const { column, row } of j.resets) reset[column] = row ? dot(row, before, size) : 0;
  return reset.map((v, i) => v - after[i]!);
}
