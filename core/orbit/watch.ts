import { modalOf, type PatternGuard, type Prepared } from '../circuit/machine';
import { CircuitError } from '../circuit/error';
import { applyActive, dot } from '../linear/dense';
import { taylorAdvance } from '../linear/exponential';
import { advance, climb } from '../linear/stepTable';
import { modalRates, modesOf, offChord, offMeanSlope, riseBy, staysBelow, type Modes } from '../linear/modes';
import { findRoot } from '../linear/root';
import { copyOf, vector } from '../linear/vector';
import { DEFAULT_TOLERANCE } from '../linear/tolerance';
import { noise, rate, REST, value, watchedStep, type Watched } from './guards';

/**
 * Moves z through one pattern and finds the first moment at which a watched guard becomes positive.
 *
 * A guard is g = row·z + offset + slope·τ with τ the time since the interval began. What the search may miss: nothing,
 * but what stays within the rounding of g (tolerance.noise of the terms it is summed from). Over a time h the modes of
 * the pattern bound how far g can be off its chord and its slope off its mean (linear/modes). A time is
 *
 *   free     for a guard that is not positive at its ends, where the chord and that bound stay below zero, or where g
 *            falls or rises all the way
 *   a find   for a guard that is positive at the end and rises all the way: it crosses just once
 *
 * and is halved otherwise, from the whole interval downwards. So a quantity that rings is followed as closely as it
 * comes near to zero, and not at all where it stays away from it.
 *
 * Invariant: everything before `t` is known to be free of events.
 */
export interface Arrival {
  /** s since the interval began */
  time: number;
  z: Float64Array;
  /** Index into the watched list, −1 when the end was reached without an event */
  fired: number;
}

/**
 * Run from z0 for `duration` s, or until a guard fires. Guards that move with their own slope alone (a
 * carrier against a constant) have a known time and need no watching.
 */
export function watch(p: Prepared, z0: Float64Array, duration: number, watched: readonly Watched[]): Arrival {
  let end = duration;
  let known = -1;
  const moving: number[] = [];
  for (let i = 0; i < watched.length; i++) {
    const w = watched[i]!;
    if (!p.guards[w.guard]!.still) {
      moving.push(i);
      continue;
    }
    const at = w.slope > 0 ? Math.max(0, -value(p, w, z0, 0) / w.slope) : Infinity;
    if (at < end) [end, known] = [at, i];
  }
  const list = moving.length === watched.length ? watched : moving.map((i) => watched[i]!);
  const arrival = follow(p, z0, end, list);
  return { ...arrival, fired: arrival.fired >= 0 ? moving[arrival.fired]! : known };
}

/** What is watched along one interval. */
interface Search {
  p: Prepared;
  modes: Modes;
  watched: readonly Watched[];
  guards: readonly PatternGuard[];
  /** Until these times a guard that was let pass as a rest is looked at as `rests` */
  from: number[];
  /** The guards lifted above the rests that they begin with: what rises beyond those, or comes back after falling, is an event */
  rests: readonly Watched[];
  /** The last of those times */
  rested: number;
  /** Pieces looked at so far */
  pieces: number;
  scratch: Scratch;
}

/** Room for the states and rates of a search, by depth of halving: kept from one search to the next. */
interface Scratch {
  states: Float64Array[];
  rates: Float64Array[];
}

const scratches = new Map<number, Scratch>();

function scratchOf(size: number): Scratch {
  let found = scratches.get(size);
  if (!found) scratches.set(size, (found = { states: [], rates: [] }));
  return found;
}

const room = (list: Float64Array[], depth: number, size: number): Float64Array => (list[depth] ??= vector(size));

/** More pieces than that in one interval are not looked at: something rings along a guard's zero for as long as it lasts. */
const MOST_PIECES = 100_000;

/** Times its noise that a guard has to rise above the rest it begins with. */
const LIFT = 10;

/** What is watched of a guard over a piece that begins at a time: the guard itself once a rest has had its time. */
const watchedAt = (s: Search, i: number, t: number): Watched => (t < s.from[i]! ? s.rests[i]! : s.watched[i]!);

/** The same for guards that have to be watched. */
function follow(p: Prepared, z0: Float64Array, duration: number, watched: readonly Watched[]): Arrival {
  p.work.steps++;
  // Nothing to watch: one step to the end.
  if (watched.length === 0) return { time: duration, z: advance(p.stepTable, z0, duration), fired: -1 };
  const modes = modesOf(p.stepTable);
  const rest = Math.min(duration, REST * watchedStep(p));
  const from: number[] = [];
  const rests = watched.map((w, i) => {
    const g = value(p, w, z0, 0);
    from[i] = g > 0 ? rest : 0;
    return g > 0 ? { ...w, offset: w.offset - g - LIFT * noise(p, w, z0) } : w;
  });
  const scratch = scratchOf(p.size);
  const search: Search = { p, modes, watched, guards: watched.map((w) => p.guards[w.guard]!), from, rests, rested: Math.max(0, ...from), pieces: 0, scratch };
  let z = z0;
  let t = 0;
  const q = room(scratch.rates, 0, p.size);
  // Far intervals in pieces of the step table's own length, so that rates are those of nearby.
  const longest = p.stepTable.top;
  while (duration - t > 0) {
    const h = duration - t <= 1.5 * longest ? duration - t : longest;
    const last = h === duration - t;
    const next = t === 0 ? advance(p.stepTable, z, h) : last ? far(p, z, h) : step(p, 0, z, vector(p.size));
    modalRates(modes, z, q);
    const found = scan(search, z, next, t, h, q, 1);
    if (found) return found;
    z = next;
    t = last ? duration : t + h;
  }
  return { time: duration, z, fired: -1 };
}

function step(p: Prepared, rung: number, z: Float64Array, out: Float64Array): Float64Array {
  p.work.steps++;
  applyActive(p.stepTable.rungs[rung]!, z, out, p.stepTable.active, p.size);
  return out;
}

/** The state after any time: a product for each bit of it. */
function far(p: Prepared, z: Float64Array, t: number): Float64Array {
  p.work.steps += p.stepTable.rungs.length >> 1;
  return climb(p.stepTable, z, t);
}

const FREE = 0;
const CROSSES = 1;
const DOUBTFUL = 2;

/**
 * Look for the first event between two states `whole` apart: piece by piece from the beginning, each cut off where one
 * may hide and looked at by itself. What is found is the caller's to keep.
 */
function scan(s: Search, begin: Float64Array, z1: Float64Array, from: number, whole: number, rates: Float64Array, depth: number): Arrival | undefined {
  const { p, modes } = s;
  // Rates of an earlier moment bound those of now, as long as nothing grows; the rates of now bound them closer.
  const own = room(s.scratch.rates, depth, p.size);
  let [z0, t, h, q, fresh] = [begin, from, whole, rates, true];
  for (let turn = 0; ; turn++) {
    p.work.steps++;
    if (++s.pieces > MOST_PIECES) tooFine(s, t);
    let [verdict, doubtful] = judge(s, z0, z1, t, h, q, fresh);
    if (verdict === DOUBTFUL && !fresh) {
      q = own;
      modalRates(modes, z0, q);
      [verdict, doubtful] = judge(s, z0, z1, t, h, q, true);
    }
    if (verdict === FREE) return undefined;
    if (verdict === CROSSES) return locate(s, z0, z1, t, h, q);
    // Too short to be cut: what is positive at its end fires there.
    if (h <= 1e-15 * (t + h) || h <= 1e-12 * watchedStep(p)) {
      for (let i = 0; i < s.watched.length; i++) if (value(p, watchedAt(s, i, t + h), z1, t + h) > noise(p, s.watched[i]!, z1)) return { time: t + h, z: copyOf(z1), fired: i };
      return undefined;
    }
    const { top, rungs } = p.stepTable;
    const rung = nextRung(s, doubtful, z0, t, h, q);
    // Two rooms take turns: one is where this piece begins.
    const [length, cut] = rung < rungs.length ? [top / 2 ** rung, step(p, rung, z0, room(s.scratch.states, 2 * depth + (turn & 1), p.size))] : [h / 2, far(p, z0, h / 2)];
    const found = scan(s, z0, cut, t, length, q, depth + 1);
    if (found) return found;
    [z0, t, h, fresh] = [cut, t + length, h - length, modes.grows];
    if (modes.grows) {
      q = own;
      modalRates(modes, z0, q);
    }
  }
}

/** The first guard in doubt over a piece, or the graver of what the others do. */
function judge(s: Search, z0: Float64Array, z1: Float64Array, t: number, h: number, q: Float64Array, fresh: boolean): [verdict: number, doubtful: number] {
  let verdict = FREE;
  for (let i = 0; i < s.watched.length; i++) {
    verdict = Math.max(verdict, inspect(s, i, z0, z1, t, h, q, fresh));
    if (verdict === DOUBTFUL) return [verdict, i];
  }
  return [verdict, 0];
}

/** How many rungs further down than half the time it is looked for one that is free at once. */
const FURTHER = 12;

/**
 * The rung to cut off next: the longest that leaves a quarter or more, but where fast modes are alive, the longest over
 * which the bounds do not let the guard in doubt turn. What is fast has then died, and the rest is often free at once.
 */
function nextRung({ p, modes, watched, guards }: Search, doubtful: number, z0: Float64Array, t: number, h: number, q: Float64Array): number {
  const { top } = p.stepTable;
  const half = Math.max(0, Math.ceil(Math.log2(top / (0.75 * h))));
  const guard = guards[doubtful]!;
  const row = modalOf(p, guard);
  const w = watched[doubtful]!;
  const g = Math.abs(dot(guard.row, z0, p.size) + w.offset + w.slope * t) / 2;
  const slope = Math.abs(rate(p, w, z0)) / 2;
  // The bounds fall with the length: the first rung that they allow is found by halving.
  let [low, high] = [half, half + FURTHER];
  while (low < high) {
    const rung = (low + high) >> 1;
    const length = top / 2 ** rung;
    if (offChord(modes, row, q, length) < g || offMeanSlope(modes, row, q, length) < slope) high = rung;
    else low = rung + 1;
  }
  return low < half + FURTHER ? low : half;
}

function tooFine(s: Search, t: number): never {
  throw new CircuitError({ code: 'work', where: '', message: `something rings along the edge of switching for ${s.pieces.toLocaleString('en')} of its turns, ${t.toPrecision(3)} s into one state of the switches`, remedy: 'damp what rings, or give the comparison a hysteresis' });
}

/** What a guard may do between two states h apart; `fresh`: are the rates those at the first of them? */
function inspect(s: Search, i: number, z0: Float64Array, z1: Float64Array, t: number, h: number, q: Float64Array, fresh = false): number {
  const { p, modes } = s;
  const end = t + h;
  const from = s.from[i]!;
  /** Over a piece that lies within a rest's time what counts is what rises beyond it */
  const resting = end <= from;
  const w = resting ? s.rests[i]! : s.watched[i]!;
  const guard = s.guards[i]!;
  const row = modalOf(p, guard);
  const g0 = dot(guard.row, z0, p.size) + w.offset + w.slope * t;
  const g1 = dot(guard.row, z1, p.size) + w.offset + w.slope * end;
  const most = Math.max(g0, g1);
  const known = resting || t >= from;
  if (known && g0 > 0 && g0 > noise(p, w, z0)) return CROSSES;
  if (known && most < 0 && most + offChord(modes, row, q, h) < 0) return FREE;
  const chord = (g1 - g0) / h;
  const monotone = Math.abs(chord) > offMeanSlope(modes, row, q, h);
  if (!known) return (monotone && chord < 0 && g1 <= 0) || (fresh && g1 < 0 && staysBelow(modes, row, q, h, g0, g1, from - t)) ? FREE : DOUBTFUL;
  if (monotone) return g1 <= 0 ? FREE : CROSSES;
  // Within rounding of zero all along: no sign to trust.
  const floor = noise(p, w, z0);
  if (most <= floor && offChord(modes, row, q, h) <= 10 * floor) return FREE;
  return fresh && g1 < 0 && staysBelow(modes, row, q, h, g0, g1) ? FREE : DOUBTFUL;
}

/** The first crossing within `length` of z0, where each guard is free or crosses just once. */
function locate(s: Search, z0: Float64Array, z1: Float64Array, from: number, length: number, q: Float64Array): Arrival {
  const { p } = s;
  const watched = from < s.rested ? s.watched.map((_, i) => watchedAt(s, i, from)) : s.watched;
  let end = z1;
  let high = length;
  let fired = -1;
  for (let round = 0; round <= watched.length; round++) {
    let first = -1;
    let soonest = Infinity;
    for (let i = 0; i < watched.length; i++) {
      const w = watched[i]!;
      if (i === fired || inspect(s, i, z0, z1, from, length, q) !== CROSSES) continue;
      const g0 = value(p, w, z0, from);
      const g1 = value(p, w, end, from + high);
      // Positive from the start, or a guard found earlier stands at zero here: only what is clearly beyond it came before.
      if (g0 <= 0 && !(g1 > (fired < 0 ? 0 : noise(p, w, end)))) continue;
      const at = g0 >= 0 ? 0 : g0 / (g0 - g1);
      if (at < soonest) [soonest, first] = [at, i];
    }
    if (first < 0) break;
    const root = crossing(p, watched[first]!, z0, end, from, high);
    fired = first;
    high = root.time;
    end = root.z;
    if (high === 0) break;
  }
  return { time: from + high, z: end === z0 || end === z1 ? copyOf(end) : end, fired };
}

/**
 * Where one guard crosses zero within `length` of z0 (not positive there, positive at z1): Newton from where a cubic
 * through both ends crosses, or the modes where some are fast, kept within the bracket. Points are reached from the last
 * one by Taylor where every mode is slow against the step, else by rungs from the bracket's lower end.
 */
function crossing(p: Prepared, w: Watched, z0: Float64Array, z1: Float64Array, from: number, length: number): { time: number; z: Float64Array } {
  const { size, F, stepTable, norm } = p;
  const g0 = value(p, w, z0, from);
  if (g0 >= 0) return { time: 0, z: z0 };
  const g1 = value(p, w, z1, from + length);
  let [low, zLow, z, reached] = [0, z0, z1, length];
  const at = (t: number): number => {
    p.work.steps++;
    const away = t - reached;
    if (norm * Math.abs(away) <= 1) {
      const next = vector(size);
      taylorAdvance(F, z, away, next, size, stepTable.active);
      z = next;
    } else z = far(p, zLow, t - low);
    reached = t;
    const g = value(p, w, z, from + t);
    if (g <= 0) [low, zLow] = [t, z];
    return g;
  };
  const guess = norm * length > FAST ? byModes(p, w, z0, length, g0, g1) : length * cubicRoot(g0, rate(p, w, z0) * length, g1, rate(p, w, z1) * length);
  const root = findRoot(at, { low: 0, high: length, atLow: g0, atHigh: g1 }, { width: 1e-15 * length, value: ROUNDED * noise(p, w, z1), slope: () => rate(p, w, z), guess });
  return { time: root.at, z };
}

/** Share of a guard's noise that the sum it is made of is rounded by: nearer to zero it can not be known to be. */
const ROUNDED = (4 * Number.EPSILON) / DEFAULT_TOLERANCE.noise;

/** ‖F‖ h above which a cubic says little of where something crosses. */
const FAST = 2;

/** Where the modes have a guard cross: as good as they are. */
function byModes(p: Prepared, w: Watched, z0: Float64Array, length: number, g0: number, g1: number): number {
  const modes = modesOf(p.stepTable);
  const row = modalOf(p, p.guards[w.guard]!);
  const q = room(scratchOf(p.size).rates, GUESS, p.size);
  modalRates(modes, z0, q);
  const now = { rise: 0, slope: 0 };
  const at = (t: number): number => {
    riseBy(modes, row, q, t, now);
    return g0 + w.slope * t + now.rise;
  };
  return findRoot(at, { low: 0, high: length, atLow: g0, atHigh: g1 }, { width: 1e-12 * length, slope: () => now.slope + w.slope, rounds: 40 }).at;
}

/** The room for rates that no depth of the search has. */
const GUESS = 200;

/** Where the cubic with values g0 < 0 < g1 and slopes r0, r1 at the ends of [0, 1] crosses zero. */
function cubicRoot(g0: number, r0: number, g1: number, r1: number): number {
  const a = 2 * g0 - 2 * g1 + r0 + r1;
  const b = -3 * g0 + 3 * g1 - 2 * r0 - r1;
  let x = 0;
  const cubic = (at: number): number => ((a * (x = at) + b) * x + r0) * x + g0;
  return findRoot(cubic, { low: 0, high: 1, atLow: g0, atHigh: g1 }, { width: 1e-9, slope: () => (3 * a * x + 2 * b) * x + r0, rounds: 10 }).at;
}
