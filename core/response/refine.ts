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
  const inside = marks.filter((f) => f > low && f < high);
  let frequency = [...new Set([...grid, ...inside])].sort((a, b) => a - b);
  const known = new Map<number, Complex>();
  const ask = (list: readonly number[]): void => at(list).forEach((v, i) => known.set(list[i]!, v));
  ask(frequency);
  let left = most;
  for (let round = 0; round < ROUNDS && left > 0; round++) {
    const added = new Set<number>();
    for (let i = 1; i + 1 < frequency.length; i++) {
      const [a, b, c] = [frequency[i - 1]!, frequency[i]!, frequency[i + 1]!];
      if (!bends([a, b, c].map((f) => Math.log(f)), [a, b, c].map((f) => known.get(f)!))) continue;
      if (b / a > 1 + 1e-6) added.add(Math.sqrt(a * b));
      if (c / b > 1 + 1e-6) added.add(Math.sqrt(b * c));
    }
    if (added.size === 0) break;
    const list = [...added].slice(0, left);
    left -= list.length;
    ask(list);
    frequency = [...frequency, ...list].sort((x, y) => x - y);
  }
  return { frequency, response: frequency.map((f) => known.get(f)!) };
}

/** Does the middle of three points lie off the line through its neighbours? */
function bends(x: readonly number[], v: readonly Complex[]): boolean {
  const share = (x[1]! - x[0]!) / (x[2]! - x[0]!);
  const off = (a: number, b: number, c: number): number => Math.abs(b - (a + share * (c - a)));
  const gain = v.map((z) => decibels(Math.max(size(z), 1e-300)));
  if (off(gain[0]!, gain[1]!, gain[2]!) > BEND_GAIN) return true;
  const angle = [degrees(phase(v[0]!))];
  for (const z of v.slice(1)) {
    const next = degrees(phase(z));
    angle.push(next + 360 * Math.round((angle.at(-1)! - next) / 360));
  }
  return off(angle[0]!, angle[1]!, angle[2]!) > BEND_PHASE;
}
