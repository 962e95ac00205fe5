import type { Pattern } from '../circuit/pattern';
import { apply, dot, rowTimes } from '../linear/dense';
import { exponentialStep, quadraticForm, quadraticIntegral } from '../linear/exponential';
import { buildLadder, type Ladder } from './ladder';
import type { Cycle } from './settle';

/** What a quantity does over the settled cycle; exact, not sampled. */
export interface Measures {
  mean: number;
  rms: number;
  min: number;
  max: number;
  peakToPeak: number;
}

/** A quantity of the circuit: its row in each pattern. */
export type Quantity = (pattern: Pattern) => Float64Array;

/** A cycle with the tables that measurements share, each made when first asked for. */
export interface Gauge {
  cycle: Cycle;
  /** Ψ of each stretch */
  psi: readonly Float64Array[];
  ladders(): readonly Ladder[];
}

const PIECES = 16;

/** Prepare a cycle for measuring. */
export function gauge(cycle: Cycle): Gauge {
  let ladders: Ladder[] | undefined;
  return {
    cycle,
    psi: cycle.stretches.map((s) => exponentialStep(s.pattern.F, s.duration, s.pattern.size).psi),
    ladders: () => (ladders ??= cycle.stretches.map((s) => buildLadder(s.pattern.F, s.duration / PIECES, s.pattern.size))),
  };
}

/** Mean and rms of a quantity over the cycle: exact integrals. */
export function integrals(g: Gauge, quantity: Quantity): { mean: number; rms: number } {
  const { cycle } = g;
  let integral = 0;
  let square = 0;
  cycle.stretches.forEach((s, k) => {
    const { F, size } = s.pattern;
    const row = quantity(s.pattern);
    const area = new Float64Array(size);
    apply(g.psi[k]!, s.z0, area, size);
    integral += dot(row, area, size);
    square += quadraticForm(quadraticIntegral(F, row, s.duration, size), s.z0, size);
  });
  return { mean: integral / cycle.period, rms: Math.sqrt(Math.max(0, square / cycle.period)) };
}

/** Extremes of a quantity over the cycle, located by bisection; an edge counts with both its sides. */
export function range(g: Gauge, quantity: Quantity): { min: number; max: number } {
  let min = Infinity;
  let max = -Infinity;
  g.cycle.stretches.forEach((s, k) => {
    const e = extremesAlong(g.ladders()[k]!, quantity(s.pattern), s.z0, PIECES);
    min = Math.min(min, e.min);
    max = Math.max(max, e.max);
  });
  return { min, max };
}

/** Everything about a quantity over the cycle. */
export function measure(g: Gauge, quantity: Quantity): Measures {
  const { min, max } = range(g, quantity);
  return { ...integrals(g, quantity), min, max, peakToPeak: max - min };
}

/** (1/T) ∫ a·b dt of two quantities, by polarisation of exact squares: power when a is a voltage and b its current. */
export function meanProduct(g: Gauge, a: Quantity, b: Quantity): number {
  let sum = 0;
  g.cycle.stretches.forEach((s) => {
    const { F, size } = s.pattern;
    const p = a(s.pattern);
    const q = b(s.pattern);
    const plus = p.map((v, i) => v + q[i]!);
    const minus = p.map((v, i) => v - q[i]!);
    const square = (row: Float64Array): number => quadraticForm(quadraticIntegral(F, row, s.duration, size), s.z0, size);
    sum += (square(plus) - square(minus)) / 4;
  });
  return sum / g.cycle.period;
}

/**
 * Extremes of row·z along z' = F z over `pieces` top rungs of a ladder: where the derivative row·F·z
 * changes sign between pieces, bisect down the ladder.
 */
export function extremesAlong(ladder: Ladder, row: Float64Array, z0: Float64Array, pieces: number): { min: number; max: number } {
  const { size } = ladder;
  const rate = new Float64Array(size);
  rowTimes(row, ladder.F, rate, size);
  let z = z0;
  let next = new Float64Array(size);
  let min = dot(row, z, size);
  let max = min;
  const see = (at: Float64Array): void => {
    const y = dot(row, at, size);
    if (y < min) min = y;
    if (y > max) max = y;
  };
  for (let piece = 0; piece < pieces; piece++) {
    apply(ladder.rungs[0]!, z, next, size);
    if (dot(rate, z, size) * dot(rate, next, size) < 0) see(turningPoint(ladder, rate, z));
    see(next);
    z = next;
    next = new Float64Array(size);
  }
  return { min, max };
}

/** The state where rate·z changes sign within one top rung, by halving. */
function turningPoint(ladder: Ladder, rate: Float64Array, z0: Float64Array): Float64Array {
  const { size, rungs } = ladder;
  const before = dot(rate, z0, size) > 0;
  let z = Float64Array.from(z0);
  let trial = new Float64Array(size);
  for (let k = 1; k < rungs.length; k++) {
    apply(rungs[k]!, z, trial, size);
    if (dot(rate, trial, size) > 0 === before) [z, trial] = [trial, z];
  }
  return z;
}

/** A quantity just after a stretch begins, and just before it ends: the state itself does not jump at an edge. */
export function ends(g: Gauge, k: number, quantity: Quantity): { start: number; end: number } {
  const { stretches } = g.cycle;
  const s = stretches[k]!;
  const row = quantity(s.pattern);
  const next = stretches[(k + 1) % stretches.length]!;
  return { start: dot(row, s.z0, s.pattern.size), end: dot(row, next.z0, s.pattern.size) };
}
