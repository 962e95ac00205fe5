import type { Pattern } from '../circuit/pattern';
import { apply, dot, identity, multiply, solveInPlace } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import { fail, ok, type Result } from '../problem';

/** One stretch of the switching period in one pattern; its duration is fixed + perDuty·D. */
export interface Interval {
  pattern: Pattern;
  /** s */
  fixed: number;
  /** s per unit of duty */
  perDuty: number;
}

/** An interval of the settled cycle with its state at the start. */
export interface Stretch {
  pattern: Pattern;
  /** s from the start of the period */
  start: number;
  /** s */
  duration: number;
  /** z = [x; u] at the start */
  z0: Float64Array;
}

/** The periodic orbit x(T) = x(0). */
export interface Cycle {
  period: number;
  duty: number;
  stretches: Stretch[];
  /** |x(T) − x(0)|, largest over the states, relative to the largest value of each. */
  closure: number;
  iterations: number;
  /** dx(T)/dx(0), n×n: its eigenvalues are the multipliers of the cycle. */
  monodromy: Float64Array;
  /** Number of states n. */
  states: number;
}

export interface Regulation {
  /** Row of the regulated quantity in a pattern. */
  row: (pattern: Pattern) => Float64Array;
  /** Wanted mean over the period. */
  target: number;
  /** Duty may lie in between. */
  duty: { min: number; max: number; guess: number };
}

const MAX_ITERATIONS = 30;

/**
 * Solve for the settled cycle at a regulated output: Newton on the joint unknowns x(0) and D with
 *
 *   x(T; x₀, D) − x₀ = 0        (1/T) ∫ y dt − target = 0
 *
 * The Jacobian is exact: sensitivities dz/dx₀ (Φ) and dz/dD (Φ, and F z at an end that D moves)
 * are carried along with the state (Aprille and Trick 1972, with the duty as one more unknown).
 *
 * @param intervals the period, in order; perDuty must sum to zero (fixed frequency)
 * @param sources u, in the patterns' order
 * @param start a nearby x(0) to continue from, or none
 * @returns the cycle, or a problem: "duty-limit" when no duty in range gives the target, "no-cycle"
 */
export function settle(
  intervals: readonly Interval[],
  sources: readonly number[],
  regulation: Regulation,
  start?: ArrayLike<number>,
): Result<Cycle> {
  const size = intervals[0]!.pattern.size;
  const n = size - sources.length;
  const period = intervals.reduce((sum, i) => sum + i.fixed, 0);
  const { min, max, guess } = regulation.duty;
  const rows = intervals.map((i) => regulation.row(i.pattern));

  const z0 = new Float64Array(size);
  for (let i = 0; i < n; i++) z0[i] = start?.[i] ?? 0;
  z0.set(sources, n);
  let duty = guess;
  let converged = false;
  let iterations = 0;
  let change = Infinity;
  let run = propagate(intervals, rows, z0, duty, n);

  while (!converged && iterations < MAX_ITERATIONS) {
    iterations++;
    // [X−I  s; mX/T  ms/T] [δx; δD] = −[x(T)−x0; m/T−target]
    const m = n + 1;
    const J = new Float64Array(m * m);
    const r = new Float64Array(m);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) J[i * m + j] = run.phi[i * size + j]! - (i === j ? 1 : 0);
      J[i * m + n] = run.dutySlope[i]!;
      r[i] = z0[i]! - run.z[i]!;
    }
    for (let j = 0; j < n; j++) J[n * m + j] = run.meanRow[j]! / period;
    J[n * m + n] = run.meanSlope / period;
    r[n] = regulation.target - run.mean / period;
    if (solveInPlace(J, r, m, 1) >= 0)
      return fail('no-cycle', 'duty', 'the regulated output does not depend on the duty', 'check that the load and the output are connected');
    const before = duty;
    duty = Math.min(max, Math.max(min, duty + r[n]!));
    const lastChange = change;
    change = Math.abs(duty - before);
    const largest = largestStates(run.stretches, n);
    for (let i = 0; i < n; i++) {
      z0[i]! += r[i]!;
      change = Math.max(change, Math.abs(r[i]!) / (largest[i]! || 1));
    }
    if (!Number.isFinite(change)) return fail('no-cycle', 'settled cycle', 'the solution grows without bound', 'check the part values');
    run = propagate(intervals, rows, z0, duty, n);
    // Quadratic convergence ends in rounding: small steps that no longer shrink are the end of it.
    const settledDown = change < 1e-11 || (change < 1e-8 && change >= lastChange / 2);
    converged = settledDown && duty > min && duty < max;
    if (iterations > 6 && (duty === min || duty === max)) {
      const reached = run.mean / period;
      return fail(
        'duty-limit',
        'duty',
        `no duty between ${(min * 100).toFixed(0)} % and ${(max * 100).toFixed(0)} % reaches the output (${reached.toPrecision(3)} V at the limit)`,
        'change the line range or the output voltage',
      );
    }
  }
  if (!converged) return fail('no-cycle', 'settled cycle', 'Newton did not converge', 'change the part values or the operating point');

  let closure = 0;
  const largest = largestStates(run.stretches, n);
  for (let i = 0; i < n; i++) closure = Math.max(closure, Math.abs(run.z[i]! - z0[i]!) / (largest[i]! || 1));
  const monodromy = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) monodromy[i * n + j] = run.phi[i * size + j]!;
  return ok({ period, duty, stretches: run.stretches, closure, iterations, monodromy, states: n });
}

/** Largest size of each state at the edges: what its errors are relative to. */
function largestStates(stretches: readonly Stretch[], n: number): Float64Array {
  const largest = new Float64Array(n);
  for (const s of stretches) for (let i = 0; i < n; i++) largest[i] = Math.max(largest[i]!, Math.abs(s.z0[i]!));
  return largest;
}

interface Run {
  stretches: Stretch[];
  /** z(T) */
  z: Float64Array;
  /** dz(T)/dz(0), size × size */
  phi: Float64Array;
  /** dz(T)/dD */
  dutySlope: Float64Array;
  /** ∫ y dt and its derivatives by z(0) and by D */
  mean: number;
  meanRow: Float64Array;
  meanSlope: number;
}

/** Carry state, sensitivities and the integral of the regulated quantity through one period. */
function propagate(intervals: readonly Interval[], rows: Float64Array[], z0: Float64Array, duty: number, n: number): Run {
  const size = z0.length;
  let z = Float64Array.from(z0);
  let phi = identity(size) as Float64Array<ArrayBuffer>;
  let slope = new Float64Array(size);
  const meanRow = new Float64Array(size);
  let mean = 0;
  let meanSlope = 0;
  let time = 0;
  const stretches: Stretch[] = [];
  const integral = new Float64Array(size);
  const nextPhi = new Float64Array(size * size);
  intervals.forEach((interval, k) => {
    const h = interval.fixed + interval.perDuty * duty;
    const row = rows[k]!;
    const { F } = interval.pattern;
    stretches.push({ pattern: interval.pattern, start: time, duration: h, z0: z.slice() });
    const step = exponentialStep(F, h, size);

    apply(step.psi, z, integral, size);
    mean += dot(row, integral, size);
    for (let j = 0; j < n; j++) {
      let sum = 0;
      for (let i = 0; i < size; i++) {
        let through = 0;
        for (let m = 0; m < size; m++) through += step.psi[i * size + m]! * phi[m * size + j]!;
        sum += row[i]! * through;
      }
      meanRow[j]! += sum;
    }
    apply(step.psi, slope, integral, size);
    meanSlope += dot(row, integral, size);

    const end = new Float64Array(size);
    apply(step.phi, z, end, size);
    const moved = new Float64Array(size);
    apply(step.phi, slope, moved, size);
    if (interval.perDuty !== 0) {
      const rate = new Float64Array(size);
      apply(F, end, rate, size);
      for (let i = 0; i < size; i++) moved[i]! += interval.perDuty * rate[i]!;
      meanSlope += interval.perDuty * dot(row, end, size);
    }
    multiply(step.phi, phi, nextPhi, size);
    phi = nextPhi.slice();
    z = end;
    slope = moved;
    time += h;
  });
  return { stretches, z, phi, dutySlope: slope, mean, meanRow, meanSlope };
}
