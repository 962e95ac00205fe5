import type { Pattern } from '../circuit/pattern';
import { apply, dot, rowTimes } from '../linear/dense';
import { taylorAdvance } from '../linear/exponential';
import { advance, climb, type Ladder } from '../linear/ladder';
import type { Prepared } from '../circuit/machine';
import { psiOf, type Cycle, type Stretch } from './cycle';

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

/** A cycle with the tables that measurements share. */
export interface Gauge {
  cycle: Cycle;
  /** Ψ of each stretch */
  psi: readonly Float64Array[];
  ladders: readonly Ladder[];
  /** Nodes of each stretch for integrals of products */
  nodes: readonly Nodes[];
}

/** Prepare a cycle for measuring. */
export function gauge(cycle: Cycle): Gauge {
  return {
    cycle,
    ladders: cycle.stretches.map((s) => (s.pattern as Prepared).ladder),
    psi: cycle.stretches.map(psiOf),
    nodes: cycle.stretches.map(nodesOf),
  };
}

/** Nodes and weights of the eight-point Gauss rule on [0, 1]. */
const GAUSS: readonly (readonly [number, number])[] = [0.1834346424956498, 0.525532409916329, 0.7966664774136267, 0.9602898564975363].flatMap((x, i) => {
  const w = [0.362683783378362, 0.31370664587788727, 0.22238103445337448, 0.10122853629037626][i]! / 2;
  return [[(1 - x) / 2, w], [(1 + x) / 2, w]] as const;
});

/** z at the nodes of a stretch, with their weights in s. */
interface Nodes {
  weights: number[];
  z: Float64Array[];
}

/** z at the nodes of a stretch, kept: every product of quantities is summed from them. */
function nodesOf(s: Stretch): Nodes {
  const out: Nodes = { weights: [], z: [] };
  visitNodes(s, Infinity, (_, weight, z) => {
    out.weights.push(weight);
    out.z.push(z);
  });
  return out;
}

/**
 * Visit Gauss nodes over a stretch in panels that begin as short as the fastest mode and double in length:
 * what is fast has died in a panel's first shorter neighbours, what is left is smooth in it. Panels stay
 * short against whatever rings, and within `longest` seconds. Products are summed from values at the nodes,
 * since rows of a nearly open circuit have large entries that cancel, and squares of them would not.
 *
 * @param see is told the absolute time, the weight in s and z there (a new vector each time)
 */
export function visitNodes(s: Stretch, longest: number, see: (t: number, weight: number, z: Float64Array) => void): void {
  const { size, F, ladder, norm, watch } = s.pattern as Prepared;
  const most = Math.min(longest, ladder.top / 2 ** Math.max(1, watch - 2));
  let z = s.z0;
  let t = 0;
  let h = Math.min(s.duration, most, 1 / Math.max(norm, 1e-300));
  while (t < s.duration) {
    const length = s.duration - t < 1.5 * h ? s.duration - t : h;
    for (const [x, w] of GAUSS) {
      const dt = x * length;
      let at: Float64Array;
      if (norm * dt <= 1) {
        at = new Float64Array(size);
        taylorAdvance(F, z, dt, at, size, ladder.active);
      } else at = climb(ladder, z, dt);
      see(s.start + t + dt, w * length, at);
    }
    t += length;
    if (t >= s.duration * (1 - 1e-15)) break;
    z = climb(ladder, z, length);
    h = Math.min(2 * h, most);
  }
}

/** A quantity's row in each pattern, made once a pattern: a mains cycle has thousands of stretches in a few of them. */
function rowsOf(quantity: Quantity): Quantity {
  const known = new Map<Pattern, Float64Array>();
  return (p) => {
    let row = known.get(p);
    if (!row) known.set(p, (row = quantity(p)));
    return row;
  };
}

/** ∫ (row·z)(other·z) dt over stretch k. */
function product(g: Gauge, k: number, row: Float64Array, other: Float64Array): number {
  const { weights, z } = g.nodes[k]!;
  const n = row.length;
  let sum = 0;
  for (let i = 0; i < z.length; i++) {
    const y = dot(row, z[i]!, n);
    sum += weights[i]! * y * (row === other ? y : dot(other, z[i]!, n));
  }
  return sum;
}

/** Mean and rms of a quantity over the cycle: exact integrals. */
export function integrals(g: Gauge, quantity: Quantity): { mean: number; rms: number } {
  const { cycle } = g;
  const area = new Float64Array(cycle.stretches[0]!.pattern.size);
  let integral = 0;
  let square = 0;
  const rows = rowsOf(quantity);
  cycle.stretches.forEach((s, k) => {
    const { size } = s.pattern;
    const row = rows(s.pattern);
    apply(g.psi[k]!, s.z0, area, size);
    integral += dot(row, area, size);
    square += product(g, k, row, row);
  });
  return { mean: integral / cycle.period, rms: Math.sqrt(Math.max(0, square / cycle.period)) };
}

/** Extremes of a quantity over the cycle, located by bisection; an edge counts with both its sides. */
export function range(g: Gauge, quantity: Quantity): { min: number; max: number } {
  let min = Infinity;
  let max = -Infinity;
  const rows = rowsOf(quantity);
  g.cycle.stretches.forEach((s, k) => {
    const e = extremesAlong(g.ladders[k]!, rows(s.pattern), s.z0, s.duration);
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

/** (1/T) ∫ a·b dt of two quantities: power when a is a voltage and b its current. */
export function meanProduct(g: Gauge, a: Quantity, b: Quantity): number {
  const [first, second] = [rowsOf(a), rowsOf(b)];
  return g.cycle.stretches.reduce((sum, s, k) => sum + product(g, k, first(s.pattern), second(s.pattern)), 0) / g.cycle.period;
}

/** A stretch is looked at in at least so many pieces. */
const PIECES = 12;

/**
 * Extremes of row·z along z' = F z for a duration: where the derivative row·F·z changes sign between
 * pieces, bisect down the ladder.
 */
export function extremesAlong(ladder: Ladder, row: Float64Array, z0: Float64Array, duration: number): { min: number; max: number } {
  const { size, top, rungs } = ladder;
  const rate = new Float64Array(size);
  rowTimes(row, ladder.F, rate, size);
  const rung = Math.min(rungs.length - 1, Math.max(0, Math.ceil(Math.log2((top * PIECES) / duration))));
  const h = top / 2 ** rung;
  let z = z0;
  let min = dot(row, z, size);
  let max = min;
  const see = (at: Float64Array): void => {
    const y = dot(row, at, size);
    if (y < min) min = y;
    if (y > max) max = y;
  };
  for (let t = 0; t < duration; t += h) {
    const length = Math.min(h, duration - t);
    let next: Float64Array;
    if (length < h * (1 - 1e-12)) next = advance(ladder, z, length);
    else {
      next = new Float64Array(size);
      apply(rungs[rung]!, z, next, size);
    }
    if (dot(rate, z, size) * dot(rate, next, size) < 0) see(turningPoint(ladder, rate, z, length, rung));
    see(next);
    z = next;
  }
  return { min, max };
}

/**
 * The state where rate·z changes sign within a length of at most one step of the rung: halved down the
 * ladder, then by the secant rule on the Taylor step that is left.
 */
function turningPoint(ladder: Ladder, rate: Float64Array, z0: Float64Array, length: number, rung: number): Float64Array {
  const { F, size, rungs, top } = ladder;
  const slope = (z: Float64Array): number => dot(rate, z, size);
  const before = slope(z0) > 0;
  let z: Float64Array = Float64Array.from(z0);
  let trial: Float64Array = new Float64Array(size);
  let left = length;
  for (let k = rung + 1; k < rungs.length; k++) {
    const step = top / 2 ** k;
    if (step >= left) continue;
    apply(rungs[k]!, z, trial, size);
    if (slope(trial) > 0 !== before) left = step;
    else {
      [z, trial] = [trial, z];
      left -= step;
    }
  }
  let [a, b] = [0, left];
  let ga = slope(z);
  taylorAdvance(F, z, b, trial, size, ladder.active);
  let gb = slope(trial);
  for (let k = 0; k < 12 && ga !== gb && b - a > 1e-12 * left; k++) {
    const t = Math.min(b, Math.max(a, a - (ga * (b - a)) / (gb - ga)));
    taylorAdvance(F, z, t, trial, size, ladder.active);
    const g = slope(trial);
    if (Math.abs(g) < 1e-12 * (Math.abs(ga) + Math.abs(gb))) break;
    // Illinois: halve the weight of an end that stays.
    if (g > 0 === before) [a, ga, gb] = [t, g, gb / 2];
    else [b, gb, ga] = [t, g, ga / 2];
  }
  return trial;
}

/** A quantity just after a stretch begins, and just before it ends: the state itself does not jump at an edge. */
export function ends(g: Gauge, k: number, quantity: Quantity): { start: number; end: number } {
  const { stretches } = g.cycle;
  const s = stretches[k]!;
  const row = quantity(s.pattern);
  const next = stretches[(k + 1) % stretches.length]!;
  return { start: dot(row, s.z0, s.pattern.size), end: dot(row, next.z0, s.pattern.size) };
}

/** One harmonic of a quantity: amplitude (peak) and phase in radians against the cosine that starts with the period. */
export interface Harmonic {
  /** Multiple of the cycle's frequency */
  order: number;
  frequency: number;
  amplitude: number;
  phase: number;
}

/**
 * Fourier coefficients of a quantity over the cycle, c_k = (2/T) ∫ y e^{−jkωt} dt, from Gauss nodes in
 * pieces short against the highest of them: the mean first (order 0), then `count` harmonics.
 */
export function harmonics(g: Gauge, quantity: Quantity, count: number): Harmonic[] {
  const { cycle } = g;
  const w = (2 * Math.PI) / cycle.period;
  const re = new Float64Array(count + 1);
  const im = new Float64Array(count + 1);
  const rows = rowsOf(quantity);
  for (const s of cycle.stretches) {
    const row = rows(s.pattern);
    visitNodes(s, 2 / (count * w), (t, weight, z) => {
      const y = dot(row, z, z.length) * weight;
      // e^{−jkωt} by turning on from one order to the next
      const [c, d] = [Math.cos(w * t), -Math.sin(w * t)];
      let [a, b] = [1, 0];
      for (let k = 0; k <= count; k++) {
        re[k]! += y * a;
        im[k]! += y * b;
        [a, b] = [a * c - b * d, a * d + b * c];
      }
    });
  }
  return Array.from(re, (_, order) => {
    const scale = (order === 0 ? 1 : 2) / cycle.period;
    return { order, frequency: order / cycle.period, amplitude: Math.hypot(re[order]!, im[order]!) * scale, phase: Math.atan2(im[order]!, re[order]!) };
  });
}

/** Total harmonic distortion of a quantity whose fundamental is of the given order: rms of its multiples over its own (IEC 61000-4-7). */
export function distortion(list: readonly Harmonic[], fundamental = 1): number {
  const own = list[fundamental]!.amplitude;
  return Math.sqrt(list.filter((h) => h.order > fundamental && h.order % fundamental === 0).reduce((sum, h) => sum + h.amplitude ** 2, 0)) / own;
}
