import type { Prepared } from '../circuit/machine';
import { dot } from '../linear/dense';
import { DEFAULT_TOLERANCE } from '../linear/tolerance';

/** A guard that is watched: g = row·z + offset + slope·τ with τ the time since the interval began. */
export interface Watched {
  /** Number of the guard in the pattern */
  guard: number;
  offset: number;
  slope: number;
}

/** g of a watched guard. */
export const value = (p: Prepared, w: Watched, z: Float64Array, t: number): number => dot(p.guards[w.guard]!.row, z, p.size) + w.offset + w.slope * t;
/** dg/dt of a watched guard, per s. */
export const rate = (p: Prepared, w: Watched, z: Float64Array): number => dot(p.guards[w.guard]!.rate, z, p.size) + w.slope;

/** Size that g's rounding errors are relative to. */
export function noise(p: Prepared, w: Watched, z: Float64Array): number {
  const { size } = p.guards[w.guard]!;
  let sum = Math.abs(w.offset);
  for (let i = 0; i < p.size; i++) sum += size[i]! * Math.abs(z[i]!);
  return DEFAULT_TOLERANCE.noise * sum + 1e-18;
}

/** The same of its rate. */
function rateNoise(p: Prepared, w: Watched, z: Float64Array): number {
  const { rate: row } = p.guards[w.guard]!;
  let sum = Math.abs(w.slope);
  for (let i = 0; i < p.size; i++) sum += Math.abs(row[i]! * z[i]!);
  return DEFAULT_TOLERANCE.noise * sum;
}

/** Share of a watched step within which a rest above zero has to be gone */
export const REST = 1e-3;

/**
 * A guard so many times larger than any voltage or current of the circuit is no rest, however fast it falls: a
 * leakage inductance that has lost its way drives what is open by all its current.
 */
const BEYOND = 1e3;

/**
 * The largest voltage or current of the circuit's states and sources, and of the drops and levels in a guard's row: where
 * all else is at rest these are what its rounding is of. Rates, fluxes and what samplers keep are of other units.
 */
function largest(p: Prepared, row: Float64Array, z: Float64Array): number {
  const { measured } = p.layout;
  let most = Math.abs(row[p.layout.one]!);
  for (let k = 0; k < measured.length; k++) most = Math.max(most, Math.abs(z[measured[k]!]!));
  return most;
}

/**
 * Currents of inductors that hang on leakages and disagree by more than rounding drive what is open beyond anything in
 * the circuit, one way or the other: 1 or −1, and 0 where they agree.
 */
function drives(p: Prepared, entry: Float64Array, offset: number, z: Float64Array): number {
  let [g, terms] = [offset, Math.abs(offset)];
  for (let i = 0; i < p.size; i++) {
    const term = entry[i]! * z[i]!;
    g += term;
    terms += Math.abs(term);
  }
  return Math.abs(g) > BEYOND * largest(p, entry, z) && Math.abs(g) > 1e5 * DEFAULT_TOLERANCE.noise * terms ? Math.sign(g) : 0;
}

/** s that the fastest modes of a pattern are to be watched by. */
export const watchedStep = (p: Prepared): number => p.stepTable.top / 2 ** p.watch;

/**
 * Is a guard positive to stay so? Not when it is positive by rounding only, nor when it is so by next to
 * nothing and falls below zero within a thousandth of a watched step: a diode that has just turned off sees
 * its voltage through 1/(leakage), which blows rounding errors of its current up to microvolts, and two in
 * series would hand such a rest to one another for ever.
 *
 * @param before the state as the pattern was met, where it is not the same once begun (see islands)
 */
export function isPositive(p: Prepared, w: Watched, z: Float64Array, before = z): boolean {
  const { entry } = p.guards[w.guard]!;
  const driven = entry ? drives(p, entry, w.offset, before) : 0;
  if (driven !== 0) return driven > 0;
  const g = value(p, w, z, 0);
  // Far below zero there is no need to ask how well that is known.
  if (g < -1) return false;
  const tolerance = noise(p, w, z);
  if (g < -tolerance) return false;
  const r = rate(p, w, z);
  // What rises out of rounding within a step counts; what does not stays what it is.
  if (g <= tolerance) return r > rateNoise(p, w, z) && r * watchedStep(p) > tolerance;
  if (r >= 0) return true;
  const step = watchedStep(p);
  const most = largest(p, p.guards[w.guard]!.row, z);
  return g > -r * REST * step || (g > tolerance * 1e5 && g > 1e-4 * most && g > -r * 1e-9 * step) || g > BEYOND * most;
}

/** The first guard that is positive at the start of an interval: −1 when there is none. */
export function firesAtOnce(p: Prepared, watched: readonly Watched[], z: Float64Array): number {
  for (let i = 0; i < watched.length; i++) if (isPositive(p, watched[i]!, z)) return i;
  return -1;
}

