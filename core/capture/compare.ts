import { findMinimum } from '../linear/minimum';
import type { Recording } from '../recording';
import type { Captured } from './types';

/** A capture against a run. */

/** Points of a capture that it is compared by, shifts that are tried first, valleys of them that are gone down, and to which share of all shifts */
const [COMPARED, SHIFTS, VALLEYS, NARROW] = [600, 401, 12, 1e-7];
/** Share of a capture that has to lie over the run */
const OVERLAP = 0.3;

/** Where a point of a capture stands in the run, and what it is there. */
const at = (c: Pick<Captured, 'time' | 'value' | 'shift' | 'scale' | 'offset'>, k: number): [number, number] => [c.time[k]! + c.shift, c.value[k]! * c.scale + c.offset];

/** How far a capture lies from a run: rms and largest difference over what both have; undefined where that is too little. */
export function deviationOf(record: Recording, quantity: number, c: Pick<Captured, 'time' | 'value' | 'shift' | 'scale' | 'offset'>): { rms: number; largest: number; at: number } | undefined {
  const step = Math.max(1, Math.floor(c.time.length / COMPARED));
  let [square, count, largest, where, asked] = [0, 0, 0, NaN, 0];
  for (let k = 0; k < c.time.length; k += step) {
    asked++;
    const [t, v] = at(c, k);
    const run = record.at(quantity, t);
    if (Number.isNaN(run)) continue;
    const off = Math.abs(v - run);
    square += off * off;
    count++;
    if (off > largest) [largest, where] = [off, t];
  }
  return count >= Math.max(2, OVERLAP * asked) ? { rms: Math.sqrt(square / count), largest, at: where } : undefined;
}

/**
 * The shift of a capture at which it lies nearest to a run: evenly tried over all that leave enough of it on the run, then
 * narrowed in the deepest valleys.
 * @returns s; undefined where nothing of it can lie over the run
 */
export function bestShift(record: Recording, quantity: number, c: Pick<Captured, 'time' | 'value' | 'scale' | 'offset'>): number | undefined {
  const off = (shift: number): number => deviationOf(record, quantity, { ...c, shift })?.rms ?? Infinity;
  const [first, last] = [c.time[0]!, c.time.at(-1)!];
  const low = record.from() - last + OVERLAP * (last - first);
  const high = record.until() - first - OVERLAP * (last - first);
  if (!(high >= low)) return undefined;
  const step = (high - low) / (SHIFTS - 1);
  const tried = Array.from({ length: SHIFTS }, (_, k) => ({ at: low + k * step, off: off(low + k * step) }));
  // Ripple makes many valleys: the deepest of them are each gone down.
  const valleys = tried.filter((t, k) => Number.isFinite(t.off) && t.off <= (tried[k - 1]?.off ?? Infinity) && t.off <= (tried[k + 1]?.off ?? Infinity)).toSorted((a, b) => a.off - b.off).slice(0, VALLEYS);
  let best: { at: number; off: number } | undefined;
  for (const v of valleys) {
    const found = findMinimum(off, v.at - step, v.at + step, { width: NARROW * (high - low) });
    const here = found.value <= v.off ? { at: found.at, off: found.value } : v;
    if (!best || here.off < best.off) best = here;
  }
  return best?.at;
}
