import { applyActive, dot } from '../linear/dense';
import { taylorAdvance } from '../linear/exponential';
import { advance, climb } from '../linear/ladder';
import type { Prepared } from '../circuit/machine';

/**
 * Moves z through one pattern and finds the first moment at which a watched guard becomes positive.
 *
 * A guard is g = row·z + offset + slope·τ with τ the time since the stretch began. Signs are watched at
 * rungs short enough for the fastest mode that rings; between two watched points that are both negative,
 * the tangents tell whether g may have peaked above zero, and such a piece is halved. A sign change is
 * then bisected down the ladder and polished with Newton where the rest of the step is short.
 *
 * Invariant: everything before `t` is known to be free of events.
 */
export interface Watched {
  /** Number of the guard in the pattern */
  guard: number;
  offset: number;
  slope: number;
}

export interface Arrival {
  /** s since the stretch began */
  time: number;
  z: Float64Array;
  /** Index into the watched list, −1 when the end was reached without an event */
  fired: number;
}

const DEEPEST = 7;

/** g of a watched guard. */
const value = (p: Prepared, w: Watched, z: Float64Array, t: number): number => dot(p.guards[w.guard]!.row, z, p.size) + w.offset + w.slope * t;
const rate = (p: Prepared, w: Watched, z: Float64Array): number => dot(p.guards[w.guard]!.rate, z, p.size) + w.slope;

/** Size that g's rounding errors are relative to. */
function noise(p: Prepared, w: Watched, z: Float64Array): number {
  const { size } = p.guards[w.guard]!;
  let sum = Math.abs(w.offset);
  for (let i = 0; i < p.size; i++) sum += size[i]! * Math.abs(z[i]!);
  return 1e-13 * sum + 1e-18;
}

/** Share of a watched step within which a rest above zero has to be gone */
const REST = 1e-3;

/**
 * A guard so many times larger than any voltage or current of the circuit is no rest, however fast it falls: a
 * leakage inductance that has lost its way drives what is open by all its current.
 */
const BEYOND = 1e3;

function largest(p: Prepared, z: Float64Array): number {
  let most = 0;
  for (let i = 0; i < p.size; i++) most = Math.max(most, Math.abs(z[i]!));
  return most;
}

const watchedStep = (p: Prepared): number => p.ladder.top / 2 ** p.watch;

/**
 * Is a guard positive to stay so? Not when it is positive by rounding only, nor when it is so by next to
 * nothing and falls below zero within a thousandth of a watched step: a diode that has just turned off sees
 * its voltage through 1/(leakage), which blows rounding errors of its current up to microvolts, and two in
 * series would hand such a rest to one another for ever.
 */
export function isPositive(p: Prepared, w: Watched, z: Float64Array): boolean {
  const g = value(p, w, z, 0);
  // Far below zero there is no need to ask how well that is known.
  if (g < -1) return false;
  const tolerance = noise(p, w, z);
  if (g < -tolerance) return false;
  const r = rate(p, w, z);
  if (g <= tolerance) return r > 0;
  if (r >= 0) return true;
  const step = watchedStep(p);
  return g > -r * REST * step || (g > tolerance * 1e5 && g > 1e-4 * largest(p, z) && g > -r * 1e-9 * step) || g > BEYOND * largest(p, z);
}

/** The first guard that is positive at the start of a stretch: −1 when there is none. */
export function firesAtOnce(p: Prepared, watched: readonly Watched[], z: Float64Array): number {
  for (let i = 0; i < watched.length; i++) if (isPositive(p, watched[i]!, z)) return i;
  return -1;
}

/**
 * Run from z0 for `duration`, or until a guard fires. Guards that move with their own slope alone (a
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

/** The same for guards that have to be watched. */
function follow(p: Prepared, z0: Float64Array, duration: number, watched: readonly Watched[]): Arrival {
  // Nothing to watch: one step to the end.
  if (watched.length === 0) return { time: duration, z: advance(p.ladder, z0, duration), fired: -1 };
  const { rungs, top, active } = p.ladder;
  const rung = rungs[p.watch]!;
  const h = top / 2 ** p.watch;
  let z: Float64Array = z0;
  // Two buffers take turns; the given state is left alone and what is handed back is nobody else's.
  let next: Float64Array = new Float64Array(p.size);
  let spare: Float64Array = new Float64Array(p.size);
  let t = 0;
  while (t + h <= duration * (1 + 1e-15)) {
    applyActive(rung, z, next, active, p.size);
    const found = scan(p, z, next, t, h, watched, 0);
    if (found) return found;
    const free = z === z0 ? spare : z;
    z = next;
    next = free;
    spare = free;
    t += h;
  }
  if (t >= duration) return { time: duration, z, fired: -1 };
  const end = advance(p.ladder, z, duration - t);
  return scan(p, z, end, t, duration - t, watched, 0) ?? { time: duration, z: end, fired: -1 };
}

/** Look for an event between two states h apart; halve where a guard may have peaked in between. */
function scan(p: Prepared, z0: Float64Array, z1: Float64Array, t: number, h: number, watched: readonly Watched[], depth: number): Arrival | undefined {
  let doubtful = false;
  for (let i = 0; i < watched.length; i++) {
    const w = watched[i]!;
    const { row, rate } = p.guards[w.guard]!;
    const { size } = p;
    const g1 = dot(row, z1, size) + w.offset + w.slope * (t + h);
    if (g1 > 0) return locate(p, z0, z1, t, h, watched);
    if (doubtful || depth >= DEEPEST) continue;
    const d1 = dot(rate, z1, size) + w.slope;
    if (d1 >= 0 || g1 - d1 * h <= 0) continue;
    const d0 = dot(rate, z0, size) + w.slope;
    if (d0 > 0 && dot(row, z0, size) + w.offset + w.slope * t + d0 * h > 0) doubtful = true;
  }
  if (!doubtful) return undefined;
  const half = climb(p.ladder, z0, h / 2);
  return scan(p, z0, half, t, h / 2, watched, depth + 1) ?? scan(p, half, z1, t + h / 2, h / 2, watched, depth + 1);
}

/**
 * The first crossing within `length` of z0, where a guard is positive at the end: the one that seems to
 * cross first is found, and any other that is positive there is looked for before it.
 */
function locate(p: Prepared, z0: Float64Array, z1: Float64Array, from: number, length: number, watched: readonly Watched[]): Arrival {
  let end = z1;
  let high = length;
  let fired = -1;
  for (let round = 0; round <= watched.length; round++) {
    let first = -1;
    let soonest = Infinity;
    for (let i = 0; i < watched.length; i++) {
      const w = watched[i]!;
      if (i === fired) continue;
      const g1 = value(p, w, end, from + high);
      // A guard found earlier stands at zero here: only what is clearly beyond it came before.
      if (!(g1 > (fired < 0 ? 0 : noise(p, w, end)))) continue;
      const g0 = value(p, w, z0, from);
      const at = g0 >= 0 ? 0 : g0 / (g0 - g1);
      if (at < soonest) [soonest, first] = [at, i];
    }
    if (first < 0) break;
    const root = crossing(p, watched[first]!, z0, end, from, high);
    fired = first;
    high = root.time;
    end = root.z;
  }
  return { time: from + high, z: end, fired };
}

/**
 * Where one guard crosses zero within `length` of z0 (not positive there, positive at z1): Newton from
 * where a cubic through both ends crosses, kept within the bracket. Points are reached from the last one
 * by Taylor where every mode is slow against the step, else by rungs from the bracket's lower end.
 */
function crossing(p: Prepared, w: Watched, z0: Float64Array, z1: Float64Array, from: number, length: number): { time: number; z: Float64Array } {
  const { size, F, ladder, norm } = p;
  let low = 0;
  let zLow = z0;
  let high = length;
  if (value(p, w, z0, from) >= 0) {
    // Positive by a rest that was let pass at the start (isPositive): look from where that has gone.
    low = Math.min(length, REST * watchedStep(p));
    zLow = climb(p.ladder, z0, low);
    if (low === length || value(p, w, zLow, from + low) >= 0) return { time: low, z: zLow };
  }
  const span = high - low;
  let at = low + span * cubicRoot(value(p, w, zLow, from + low), rate(p, w, zLow) * span, value(p, w, z1, from + length), rate(p, w, z1) * span);
  let z = z1;
  let reached = length;
  for (let k = 0; k < 60; k++) {
    const step = at - reached;
    if (norm * Math.abs(step) <= 1) {
      const next = new Float64Array(size);
      taylorAdvance(F, z, step, next, size, ladder.active);
      z = next;
    } else z = climb(ladder, zLow, at - low);
    reached = at;
    const g = value(p, w, z, from + at);
    if (g > 0) high = at;
    else {
      low = at;
      zLow = z;
    }
    const newton = -g / rate(p, w, z);
    if (Math.abs(newton) <= 1e-15 * length || high - low <= 1e-15 * length) break;
    const next = at + newton;
    // Every third round halves the bracket, whatever Newton thinks of it.
    at = next > low && next < high && k % 3 < 2 ? next : (low + high) / 2;
  }
  return { time: reached, z };
}

/** Where the cubic with values g0 < 0 < g1 and slopes r0, r1 at the ends of [0, 1] crosses zero. */
function cubicRoot(g0: number, r0: number, g1: number, r1: number): number {
  const a = 2 * g0 - 2 * g1 + r0 + r1;
  const b = -3 * g0 + 3 * g1 - 2 * r0 - r1;
  let low = 0;
  let high = 1;
  let x = g0 / (g0 - g1);
  for (let k = 0; k < 8; k++) {
    const y = ((a * x + b) * x + r0) * x + g0;
    if (y > 0) high = x;
    else low = x;
    const next = x - y / ((3 * a * x + 2 * b) * x + r0);
    const inside = next > low && next < high ? next : (low + high) / 2;
    if (Math.abs(inside - x) < 1e-9) return inside;
    x = inside;
  }
  return x;
}
