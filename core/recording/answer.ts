import type { Recording } from './recording';

/** How often a quantity comes by its middle from below in a second, and the share of the time that it is above; undefined where it does not come by three times, or not evenly: then it has no one frequency. */
export function rhythmOf(record: Recording, quantity: number, from: number, until: number): { frequency: number; duty: number } | undefined {
  const points = record.pointsIn(from, until, MOST_POINTS);
  const read = record.read(quantity, from, until);
  if (!points || !read || !(read.most > read.least)) return undefined;
  const middle = (read.least + read.most) / 2;
  const { time, values } = points;
  const v = values[quantity]!;
  let [first, last, count, above, aboveAtLast] = [NaN, NaN, 0, 0, 0];
  let [shortest, longest] = [Infinity, 0];
  for (let k = 1; k < time.length; k++) {
    const [t0, t1, a, b] = [time[k - 1]!, time[k]!, v[k - 1]! - middle, v[k]! - middle];
    const cross = a < 0 !== b < 0 ? t0 + ((t1 - t0) * a) / (a - b) : NaN;
    if (a < 0 && b >= 0) {
      if (count === 0) {
        first = cross;
        above = 0;
      } else {
        aboveAtLast = above;
        shortest = Math.min(shortest, cross - last);
        longest = Math.max(longest, cross - last);
      }
      last = cross;
      count++;
      above += t1 - cross;
    } else if (a >= 0 && b < 0) above += cross - t0;
    else if (a >= 0) above += t1 - t0;
  }
  return count > 2 && longest - shortest < UNEVEN * longest ? { frequency: (count - 1) / (last - first), duty: aboveAtLast / (last - first) } : undefined;
}

/** How a quantity goes from where it stands to where it ends up, over a window. */
export interface Answer {
  /** Where it stands as the window begins, and where it ends up: its mean over the last part */
  from: number;
  to: number;
  /** How far it goes beyond its end, and beyond its beginning the other way */
  over: number;
  under: number;
  /** s from a tenth to nine tenths of the way; NaN where it goes no way to speak of */
  rise: number;
  /** s until it stays within the band; Infinity where it does not */
  settles: number;
}

/** Share by which periods may differ and still be of one frequency */
const UNEVEN = 0.1;
/** Points of a window at most that are gone through one by one */
const MOST_POINTS = 200_000;
/** Columns that a window is looked at in, and the share of it that is its end */
const [COLUMNS, END] = [2000, 0.05];

/**
 * Rise, overshoot, undershoot and settling of a quantity over a window, as IEC 60050-351 means them, to a two-thousandth of the window.
 * Ripple counts: it is within the band when all of it is.
 * @param band either way about where it ends up, in its unit
 * @returns undefined where nothing is recorded of it
 */
export function answerOf(record: Recording, quantity: number, from: number, until: number, band: number): Answer | undefined {
  const end = record.read(quantity, until - END * (until - from), until);
  const begin = record.at(quantity, from);
  if (!end || Number.isNaN(begin)) return undefined;
  const to = end.mean;
  const { least, most } = record.columns(quantity, from, until, COLUMNS);
  const width = (until - from) / COLUMNS;
  const high = most.reduce((a, b) => Math.max(a, b), -Infinity);
  const low = least.reduce((a, b) => Math.min(a, b), Infinity);
  const up = to >= begin;
  const beyond = up ? high - to : to - low;
  const back = up ? begin - low : high - begin;
  const way = to - begin;
  const passes = (share: number): number => {
    const level = begin + share * way;
    const k = up ? most.findIndex((v) => v >= level) : least.findIndex((v) => v <= level);
    return k < 0 ? NaN : k * width;
  };
  const outside = least.findLastIndex((v, k) => v < to - band || most[k]! > to + band);
  return {
    from: begin, to, over: Math.max(0, beyond), under: Math.max(0, back),
    rise: Math.abs(way) > 2 * band ? passes(0.9) - passes(0.1) : NaN,
    settles: outside === COLUMNS - 1 ? Infinity : (outside + 1) * width,
  };
}
