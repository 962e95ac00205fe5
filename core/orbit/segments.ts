import type { Machine, Prepared, State } from '../circuit/machine';
import { dot } from '../linear/dense';
import { isPositive, type Watched } from './guards';

/** A state as it is once what leakages alone hold apart has come together: at once, as a pattern begins. */
export function entered(p: Prepared, z: Float64Array): Float64Array {
  if (!p.entry) return z;
  const out = z.slice();
  for (const { column, row } of p.entry.resets) out[column] = dot(row, z, p.size);
  return out;
}

/** Is any bent device on a segment that it does not belong to? */
function anyWrong(m: Machine, s: State, p: Prepared): boolean {
  const z = entered(p, s.z);
  for (let guard = 0; guard < 2 * m.bent.length; guard++) if (!never(m, s, guard) && isPositive(p, watchOf(guard), z, s.z)) return true;
  return false;
}

const WATCHES: Watched[] = [];
/** The watch on a bent device's guard: always the same one. */
export const watchOf = (guard: number): Watched => (WATCHES[guard] ??= { guard, offset: 0, slope: 0 });

/** Is there no segment beyond this guard? */
export function never(m: Machine, s: State, guard: number): boolean {
  const device = m.bent[guard >> 1]!;
  return s.segments[device] === (guard & 1 ? m.devices[device]!.bounds.length : 0);
}

/**
 * The consistent segments of all bent devices for the present z. Each resistive characteristic is continuous
 * and rising (but for constant-power loads), so there is just one solution; it is looked for by moving all
 * that are wrong, and when that goes in circles always the first that is wrong, which ends for every such circuit
 * (Murty 1974: least-index principal pivoting).
 * @param entries is told the patterns on which it went in circles that something comes together in as they begin
 * @returns undefined, and the segments as they were, where none is found
 */
export function settleDevices(m: Machine, s: State, start: Prepared, entries?: Prepared[]): Prepared | undefined {
  if (!anyWrong(m, s, start)) return start;
  let p = start;
  const before = s.segments.slice();
  const seen = new Set<number>();
  const most = 200 + 20 * m.bent.reduce((sum, i) => sum + m.devices[i]!.bounds.length, 0);
  let circular = false;
  for (let round = 0; round < most; round++) {
    const wrong: number[] = [];
    const z = entered(p, s.z);
    for (let guard = 0; guard < 2 * m.bent.length; guard++) {
      if (!never(m, s, guard) && isPositive(p, watchOf(guard), z, s.z)) wrong.push(guard);
    }
    if (wrong.length === 0) return p;
    circular ||= seen.has(p.key);
    if (circular && p.entry && entries && !entries.includes(p)) entries.push(p);
    seen.add(p.key);
    for (const guard of circular ? wrong.slice(0, 1) : wrong) {
      const device = m.bent[guard >> 1]!;
      const { bounds } = m.devices[device]!;
      if (circular || bounds.length < 8) s.segments[device]! += guard & 1 ? 1 : -1;
      // Of many pieces, straight to the one that what it measures lies on.
      else {
        const bound = bounds[guard & 1 ? s.segments[device]! : s.segments[device]! - 1]!;
        const at = dot(p.guards[guard]!.row, z, p.size) * (guard & 1 ? 1 : -1) + bound;
        s.segments[device] = bounds.filter((b) => b < at).length;
      }
    }
    p = m.prepare(s.segments);
  }
  s.segments = before;
  return undefined;
}

/** Segments that fit once leakages have brought together, in a pattern that lasts no time, what they alone hold apart. */
export interface Passed {
  via: Prepared;
  /** z before that, and the pattern that is left */
  z: Float64Array;
  found: Prepared;
}

/**
 * Where no segments fit: currents that disagree by next to nothing, through what is open, say one thing before they have come together and another
 * after. Then they come together in the pattern that says so, and the search goes on from there. The state is as it is after that.
 * @returns undefined, and the state as it was, where that does not help either
 */
export function passThrough(m: Machine, s: State, start: Prepared): Passed | undefined {
  const entries: Prepared[] = [];
  const before = s.segments.slice();
  settleDevices(m, s, start, entries);
  const z = s.z;
  for (const via of entries) {
    s.z = entered(via, z);
    s.segments = before.slice();
    const found = settleDevices(m, s, m.prepare(s.segments));
    if (found) return { via, z, found };
  }
  [s.z, s.segments] = [z, before];
  return undefined;
}
