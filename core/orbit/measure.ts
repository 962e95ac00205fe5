import { vector } from '../linear/vector';
import type { Pattern } from '../circuit/pattern';
import { applyActive, dot, rowTimes } from '../linear/dense';
import { advance, climb, type StepTable } from '../linear/stepTable';
import { modalRates, modalRow, modesOf, offChord, offMeanSlope, staysBelow, type Modes } from '../linear/modes';
import { findRoot } from '../linear/root';
import { DEFAULT_TOLERANCE } from '../linear/tolerance';
import type { Prepared } from '../circuit/machine';
import { areaOf, endOf, type Cycle } from './cycle';
import { nodesOf, type Nodes } from './nodes';

/** What a quantity does over the settled cycle; exact, not sampled. */
export interface Measures {
  mean: number;
  rms: number;
  min: number;
  max: number;
  peakToPeak: number;
  /** s from the start of the period: where the extremes stand */
  minAt: number;
  maxAt: number;
}

/** Extremes and where they stand, in s. */
export type Extremes = Pick<Measures, 'min' | 'max' | 'minAt' | 'maxAt'>;

/** The same along one interval, with the states there. */
export type ExtremesAlong = Extremes & { minZ: Float64Array; maxZ: Float64Array };

/** A quantity of the circuit: its row in each pattern. */
export type Quantity = (pattern: Pattern) => Float64Array;

/** A cycle with the tables that measurements share. */
export interface CycleIntegrals {
  cycle: Cycle;
  /** ∫ z dt over each interval */
  areas: readonly Float64Array[];
  stepTables: readonly StepTable[];
  /** Nodes of each interval for integrals of products */
  nodes: readonly Nodes[];
}

/** Prepare a cycle for measuring. */
export function cycleIntegrals(cycle: Cycle): CycleIntegrals {
  return {
    cycle,
    stepTables: cycle.intervals.map((s) => (s.pattern as Prepared).stepTable),
    areas: cycle.intervals.map(areaOf),
    nodes: cycle.intervals.map(nodesOf),
  };
}

/** A quantity's row in each pattern, made once a pattern: a mains cycle has thousands of intervals in a few of them. */
export function rowsOf(quantity: Quantity): Quantity {
  const known = new Map<Pattern, Float64Array>();
  return (p) => {
    let row = known.get(p);
    if (!row) known.set(p, (row = quantity(p)));
    return row;
  };
}

/** ∫ (row·z)(other·z) dt over interval k. */
function product(g: CycleIntegrals, k: number, row: Float64Array, other: Float64Array): number {
  const { weights, z } = g.nodes[k]!;
  const n = row.length;
  let sum = 0;
  for (let i = 0; i < z.length; i++) {
    const y = dot(row, z[i]!, n);
    sum += weights[i]! * y * (row === other ? y : dot(other, z[i]!, n));
  }
  return sum;
}

/** Mean and rms of a quantity over the cycle, in V, A or W as it is: exact integrals. */
export function integrals(g: CycleIntegrals, quantity: Quantity): { mean: number; rms: number } {
  const { cycle } = g;
  let integral = 0;
  let square = 0;
  const rows = rowsOf(quantity);
  cycle.intervals.forEach((s, k) => {
    const { size } = s.pattern;
    const row = rows(s.pattern);
    integral += dot(row, g.areas[k]!, size);
    square += product(g, k, row, row);
  });
  return { mean: integral / cycle.period, rms: Math.sqrt(Math.max(0, square / cycle.period)) };
}

/** Extremes of a quantity over the cycle, located exactly; an edge counts with both its sides. */
export function range(g: CycleIntegrals, quantity: Quantity): Extremes {
  const all: Extremes = { min: Infinity, max: -Infinity, minAt: 0, maxAt: 0 };
  const rows = rowsOf(quantity);
  g.cycle.intervals.forEach((s, k) => {
    const e = extremesAlong(g.stepTables[k]!, rows(s.pattern), s.z0, s.duration, { end: endOf(s) });
    if (e.min < all.min) [all.min, all.minAt] = [e.min, s.start + e.minAt];
    if (e.max > all.max) [all.max, all.maxAt] = [e.max, s.start + e.maxAt];
  });
  return all;
}

/** Everything about a quantity over the cycle. */
export function measure(g: CycleIntegrals, quantity: Quantity): Measures {
  const e = range(g, quantity);
  return { ...integrals(g, quantity), ...e, peakToPeak: e.max - e.min };
}

/** (1/T) ∫ a·b dt of two quantities: power when a is a voltage and b its current. */
export function meanProduct(g: CycleIntegrals, a: Quantity, b: Quantity): number {
  const [first, second] = [rowsOf(a), rowsOf(b)];
  return g.cycle.intervals.reduce((sum, s, k) => sum + product(g, k, first(s.pattern), second(s.pattern)), 0) / g.cycle.period;
}

/** Extremes are known to this share of the largest value. */
const SURE = 1e-11;

/** Turns of what rings that are followed one by one; beyond, those are looked for that reach furthest. */
const MOST_TURNS = 150;
/** Moments at which the envelope of a longer ringing is looked at, evenly and towards its beginning. */
const MOMENTS = 400;
/** Pieces of one interval at most. */
const MOST_PIECES = 3000;

/** What the extremes of a quantity in one pattern are looked for with: its rate, and its modes from above and from below. */
export interface Looked {
  rate: Float64Array;
  modal: Float64Array;
  below: Float64Array;
}

/** The same, worked out once for many intervals. */
export function lookedAt(stepTable: StepTable, row: Float64Array): Looked {
  const rate = new Float64Array(stepTable.size);
  rowTimes(row, stepTable.F, rate, stepTable.size);
  const modal = modalRow(modesOf(stepTable), row);
  return { rate, modal, below: modal.map((v) => -v) };
}

/**
 * Extremes of row·z along z' = F z for a duration. Over a piece the modes bound how far the quantity can be off its
 * chord and its slope off its mean (linear/modes): a piece that can not hold a new extreme is done, one whose slope
 * changes sign just once has its turning point found, any other is halved. What rings is followed turn by turn as
 * long as it may still reach further.
 * @param known what has been worked out already: how it is looked at, z at the end, modal rates at the beginning
 */
export function extremesAlong(stepTable: StepTable, row: Float64Array, z0: Float64Array, duration: number, known: { looked?: Looked; end?: Float64Array; rates?: Float64Array } = {}): ExtremesAlong {
  const { size } = stepTable;
  const modes = modesOf(stepTable);
  const { rate, modal, below } = known.looked ?? lookedAt(stepTable, row);
  const first = dot(row, z0, size);
  const seen: ExtremesAlong = { min: first, max: first, minAt: 0, maxAt: 0, minZ: z0, maxZ: z0 };
  const see = (t: number, z: Float64Array): void => {
    const y = dot(row, z, size);
    if (y < seen.min) {
      seen.min = y;
      seen.minAt = t;
      seen.minZ = z;
    }
    if (y > seen.max) {
      seen.max = y;
      seen.maxAt = t;
      seen.maxZ = z;
    }
  };
  // What is nothing but the rounding of its terms has no extremes besides.
  const rounding = DEFAULT_TOLERANCE.noise * row.reduce((sum, v, i) => sum + Math.abs(v * z0[i]!), 0);
  let pieces = 0;
  const visit = (t: number, from: Float64Array, to: Float64Array, h: number, rates: Float64Array, fresh: boolean): void => {
    const [y0, y1] = [dot(row, from, size), dot(row, to, size)];
    const sure = Math.max(rounding, SURE * Math.max(Math.abs(seen.min), Math.abs(seen.max)));
    let q = rates;
    let [d0, d1] = [0, 0];
    for (;;) {
      const off = offChord(modes, modal, q, h);
      if (Math.max(y0, y1) + off <= seen.max + sure && Math.min(y0, y1) - off >= seen.min - sure) return;
      // A slope that keeps its sign leaves the ends as extremes, and those are seen.
      if (Math.abs(y1 - y0) / h > offMeanSlope(modes, modal, q, h)) return;
      [d0, d1] = [dot(rate, from, size), dot(rate, to, size)];
      if (Math.abs(d1 - d0) / h > offMeanSlope(modes, modal, q, h, 2)) {
        if (d0 * d1 < 0) {
          const turn = turningPoint(stepTable, rate, from, h, d0, d1);
          see(t + turn.at, turn.z);
        }
        return;
      }
      if (fresh) {
        // What rings or dies may still be told to stay within what is seen, one side at a time.
        const [high, low] = [seen.max + sure, seen.min - sure];
        if (staysBelow(modes, modal, q, h, y0 - high, y1 - high) && staysBelow(modes, below, q, h, low - y0, low - y1)) return;
        break;
      }
      q = vector(modes.count);
      modalRates(modes, from, q);
      fresh = true;
    }
    if (++pieces > MOST_PIECES || h <= 1e-15 * duration) return;
    const { top, rungs } = stepTable;
    const rung = Math.max(0, Math.ceil(Math.log2(top / (0.75 * h))));
    let [length, half] = [h / 2, from];
    if (rung < rungs.length) {
      length = top / 2 ** rung;
      half = vector(size);
      applyActive(rungs[rung]!, from, half, stepTable.active, size);
    } else half = climb(stepTable, from, length);
    see(t + length, half);
    visit(t, from, half, length, q, true);
    if (modes.grows) modalRates(modes, half, q);
    visit(t + length, half, to, h - length, q, modes.grows);
  };
  const q = known.rates ? known.rates.slice() : vector(modes.count);
  if (!known.rates) modalRates(modes, z0, q);
  const ring = lastingRing(modes, modal, q, duration, Math.abs(first));
  if (ring > 0) {
    const turn = (2 * Math.PI) / ring;
    for (const t of reachingFurthest(stepTable, modal, row, z0, duration)) {
      const from = Math.max(0, t - turn);
      const h = Math.min(duration, t + turn) - from;
      const z = climb(stepTable, z0, from);
      const to = climb(stepTable, z, h);
      see(from, z);
      see(from + h, to);
      modalRates(modes, z, q);
      visit(from, z, to, h, q, true);
    }
    see(duration, climb(stepTable, z0, duration));
    return seen;
  }
  // Far intervals in pieces of the step table's own length, so that rates are those of nearby.
  let z = z0;
  for (let t = 0; t < duration; ) {
    const h = duration - t <= 1.5 * stepTable.top ? duration - t : stepTable.top;
    const next = h === duration && known.end ? known.end : t === 0 ? advance(stepTable, z, h) : climb(stepTable, z, h);
    see(t + h, next);
    modalRates(modes, z, q);
    visit(t, z, next, h, q, true);
    z = next;
    t += h;
    if (duration - t < 1e-15 * duration) break;
  }
  return seen;
}

/** What a pair of modes adds to a quantity, and how far it swings: Λ⁻¹ of its modal rates. */
function pairOf(modes: Modes, modal: Float64Array, q: Float64Array, k: number): { now: number; size: number } {
  const [a, b, s2] = [modes.re[k]!, modes.im[k]!, modes.speed[k]! ** 2];
  const x = (a * q[k]! - b * q[k + 1]!) / s2;
  const y = (b * q[k]! + a * q[k + 1]!) / s2;
  return { now: modal[k]! * x + modal[k + 1]! * y, size: Math.hypot(modal[k]!, modal[k + 1]!) * Math.hypot(x, y) };
}

const manyTurns = (modes: Modes, k: number, duration: number): boolean => modes.im[k]! * duration > 2 * Math.PI * MOST_TURNS && Math.abs(modes.re[k]!) * MOST_TURNS < 4 * modes.im[k]!;

/** rad/s of the slowest ringing that lasts for very many turns and is to be seen in the quantity; zero where there is none. */
function lastingRing(modes: Modes, modal: Float64Array, q: Float64Array, duration: number, scale: number): number {
  let slowest = Infinity;
  for (let k = 0; k < modes.count; k++) if (manyTurns(modes, k, duration) && modes.im[k]! < slowest && pairOf(modes, modal, q, k).size > SEEN * scale) slowest = modes.im[k]!;
  return Number.isFinite(slowest) ? slowest : 0;
}

/** Share of a quantity at which a ringing is seen in it. */
const SEEN = 1e-9;

/**
 * The moments around which a quantity that rings for very many turns reaches furthest up and down: where its envelope
 * does, the sum of what does not ring so long and the sizes of what does.
 */
function reachingFurthest(stepTable: StepTable, modal: Float64Array, row: Float64Array, z0: Float64Array, duration: number): number[] {
  const modes = modesOf(stepTable);
  const q = vector(modes.count);
  const reach = (t: number, up: 1 | -1): number => {
    const z = climb(stepTable, z0, t);
    modalRates(modes, z, q);
    let [still, size] = [dot(row, z, stepTable.size), 0];
    for (let k = 0; k < modes.count; k++) {
      if (!manyTurns(modes, k, duration)) continue;
      const pair = pairOf(modes, modal, q, k);
      still -= pair.now;
      size += pair.size;
    }
    return up * still + size;
  };
  const moments = [0, ...Array.from({ length: MOMENTS }, (_, k) => duration * 10 ** (-6 * (1 - (k + 1) / MOMENTS))), ...Array.from({ length: MOMENTS }, (_, k) => (duration * (k + 1)) / MOMENTS)].sort((a, b) => a - b);
  return ([1, -1] as const).flatMap((up) => {
    const heights = moments.map((t) => reach(t, up));
    const k = heights.indexOf(Math.max(...heights));
    let [low, high] = [moments[Math.max(0, k - 1)]!, moments[Math.min(moments.length - 1, k + 1)]!];
    for (let round = 0; round < 40; round++) {
      const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
      if (reach(a, up) > reach(b, up)) high = b;
      else low = a;
    }
    return [moments[k]!, (low + high) / 2];
  });
}

/** The state where rate·z changes sign, just once within a length. */
function turningPoint(stepTable: StepTable, rate: Float64Array, z0: Float64Array, length: number, d0: number, d1: number): { at: number; z: Float64Array } {
  let z = z0;
  const slope = (t: number): number => dot(rate, (z = climb(stepTable, z0, t)), stepTable.size);
  // An extreme is flat: a millionth of the time is a trillionth of its height.
  const { at } = findRoot(slope, { low: 0, high: length, atLow: d0, atHigh: d1 }, { width: 1e-9 * length, value: 1e-9 * (Math.abs(d0) + Math.abs(d1)) });
  return { at, z };
}

/** A quantity just after an interval begins, and just before it ends: the state itself does not jump at an edge. */
export function ends(g: CycleIntegrals, k: number, quantity: Quantity): { start: number; end: number } {
  const { intervals } = g.cycle;
  const s = intervals[k]!;
  const row = quantity(s.pattern);
  const next = intervals[(k + 1) % intervals.length]!;
  return { start: dot(row, s.z0, s.pattern.size), end: dot(row, next.z0, s.pattern.size) };
}
