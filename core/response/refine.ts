import { decibels, degrees, phase, size, type Complex } from '../linear/complex';
import { multipliers } from '../orbit/stability';
import type { Cycle } from '../orbit/cycle';

/** Between neighbours a response may bend by so much off the straight line before a point is put between: dB and degrees. */
const [BEND_GAIN, BEND_PHASE] = [0.5, 4];
const ROUNDS = 10;

/** Points around a resonance, in half widths of it. */
const AROUND = [-4, -2, -1, -0.5, 0, 0.5, 1, 2, 4];

/** Modes with less damping than that are resonances, narrower than the steps of a usual grid. */
const NARROW = 0.2;

/** Frequencies in Hz at which what rings in a cycle stands out, below half the cycle's own. */
export function resonancesOf(cycle: Cycle): number[] {
  const T = cycle.period;
  return multipliers(cycle).flatMap(({ re, im, size: r }) => {
    if (!(im > 0) || !(r > 0)) return [];
    const w = Math.atan2(im, re) / T;
    const damping = Math.abs(Math.log(r)) / T / w;
    return damping < NARROW ? AROUND.map((k) => (w * (1 + k * damping)) / (2 * Math.PI)) : [];
  });
}

/**
 * A response on a grid that follows it: points are put between neighbours wherever gain or phase bend more than a
 * straight line between them would have it, and around the resonances that are known, so that neither a peak nor a
 * crossing falls between two points.
 *
 * @param grid Hz, ascending
 * @param at response at some frequencies
 * @param marks Hz, where something narrow is known to be
 * @param most points added
 * @returns frequencies, ascending, and the response there
 */
export function refined(grid: readonly number[], at: (f: readonly number[]) => Complex[], marks: readonly number[] = [], most = 300): { frequency: number[]; response: Complex[] } {
  const [low, high] = [grid[0]!, grid.at(-1)!];
  const ask = (list: readonly number[]): Point[] => at(list).map((v, i) => ({ f: list[i]!, x: Math.log(list[i]!), v, gain: decibels(Math.max(size(v), 1e-300)), angle: degrees(phase(v)) }));
  const ascending = (a: Point, b: Point): number => a.f - b.f;
  let points = ask([...new Set([...grid, ...marks.filter((f) => f > low && f < high)])].sort((a, b) => a - b));
  let left = most;
  for (let round = 0; round < ROUNDS && left > 0; round++) {
    const added = new Set<number>();
    for (let i = 1; i + 1 < points.length; i++) {
      const [a, b, c] = [points[i - 1]!, points[i]!, points[i + 1]!];
      if (!bends(a, b, c)) continue;
      if (b.f / a.f > 1 + 1e-6) added.add(Math.sqrt(a.f * b.f));
      if (c.f / b.f > 1 + 1e-6) added.add(Math.sqrt(b.f * c.f));
    }
    if (added.size === 0) break;
    const list = [...added].slice(0, left);
    left -= list.length;
    points = [...points, ...ask(list)].sort(ascending);
  }
  return { frequency: points.map((p) => p.f), response: points.map((p) => p.v) };
}

/** A response at a frequency, with what its bend is told by: the logarithm of the frequency, dB and degrees. */
interface Point {
  f: number;
  x: number;
  v: Complex;
  gain: number;
  angle: number;
}

/** Does the middle of three points lie off the line through its neighbours? */
function bends(a: Point, b: Point, c: Point): boolean {
  const share = (b.x - a.x) / (c.x - a.x);
  if (Math.abs(b.gain - (a.gain + share * (c.gain - a.gain))) > BEND_GAIN) return true;
  const unwrapped = (angle: number, before: number): number => angle + 360 * Math.round((before - angle) / 360);
  const middle = unwrapped(b.angle, a.angle);
  const last = unwrapped(c.angle, middle);
  return Math.abs(middle - (a.angle + share * (last - a.angle))) > BEND_PHASE;
}
