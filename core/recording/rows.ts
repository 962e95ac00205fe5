import type { Prepared } from '../circuit/machine';
import { rowTimes } from '../linear/dense';
import { slopeReach, type Modes } from '../linear/modes';
import type { Sparse } from '../linear/sparse';
import type { Looked } from '../orbit/measure';

/** What a pattern needs to be recorded: rows of what is watched, each pair of a product one after the other. */
export interface Rows {
  rows: Float64Array[];
  looked: Looked[];
  /** The same one after the other, their rates, and the rates of these */
  values: Float64Array;
  slopes: Sparse;
  bends: Sparse;
  /** What modes each is made of at most, row by row */
  sizes: Float64Array;
  /** How far each mode can move a slope off its mean within so many s: of the two lengths of late, since a pattern may stand twice in a period */
  reach: Reach;
  otherReach: Reach;
  /** The same of each part of the drawing step */
  reaches: Float64Array[];
  modes: Modes;
  segments: number[];
  /** What changes with each pattern that has come before it */
  after: Map<Rows, Int32Array>;
  /** Their Taylor series, from when it is first asked for */
  series?: Float64Array[];
  /** Φ of each part of the drawing step, from when it is first asked for; the run's own tables are left alone */
  phi: Float64Array[];
  /** The same of the step halved so many times, or doubled where that is below zero */
  halves: Map<number, Float64Array>;
}

/** How far each mode can move a slope off its mean, in an interval of so many s or somewhat less. */
export interface Reach {
  within: number;
  by: Float64Array;
  /** The same of the slope's slope */
  bend: Float64Array;
}

/** What reaches an interval: one that is known, or worked out in place of the older one. */
export function reachOf(own: Rows, duration: number): Reach {
  const { reach, otherReach } = own;
  if (fits(reach, duration)) return reach;
  [own.reach, own.otherReach] = [otherReach, reach];
  if (!fits(otherReach, duration)) {
    otherReach.within = WIDER * duration;
    slopeReach(own.modes, otherReach.within, otherReach.by);
    slopeReach(own.modes, otherReach.within, otherReach.bend, 2);
  }
  return otherReach;
}

/** Of so many modes, nothing yet */
export const noReach = (modes: number): Reach => ({ within: 0, by: new Float64Array(modes), bend: new Float64Array(modes) });

const fits = ({ within }: Reach, duration: number): boolean => duration <= within && duration >= within / WIDER ** 2;

/** By how much more than an interval its reach is worked out for: those that follow are hardly of the same length to the last bit */
const WIDER = 1.05;

/** Terms of a series at most, and so much further than where it is looked for it has to be right */
export const [TERMS, SERIES] = [16, 1.25];
/** row·Fᵏ / k! of each row, k after k. */
export function seriesOf(rows: readonly Float64Array[], { F, size }: Prepared): Float64Array[] {
  const list: Float64Array[] = [];
  let now = [...rows];
  for (let k = 1; k <= TERMS; k++) {
    list.push(Float64Array.from(now.flatMap((row) => [...row])));
    now = now.map((row) => {
      const next = new Float64Array(size);
      rowTimes(row, F, next, size);
      return next.map((v) => v / k);
    });
  }
  return list;
}

/** Numbers of the devices that are on another segment than before, each with that which it is on now. */
export function changesOf(before: Rows, now: Rows): Int32Array {
  let found = now.after.get(before);
  if (!found) now.after.set(before, (found = Int32Array.from(now.segments.flatMap((segment, i) => (segment === before.segments[i] ? [] : [i, segment])))));
  return found;
}
