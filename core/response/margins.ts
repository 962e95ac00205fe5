import { decibels, degrees, phase, size, type Complex } from '../linear/complex';
import { findMinimum } from '../linear/minimum';
import { findRoot } from '../linear/root';

/** What is read off a loop gain L (negative feedback: the closed loop is 1/(1+L)). */
export interface Margins {
  /** Hz where |L| = 1; of several, the one with the least phase margin, but where the gain comes back above one: see `dip`. NaN when there is none on the grid: see `beyond`. */
  crossover: number;
  /** Degrees between the phase there and −180°; where there are several crossovers, the least of all. */
  phaseMargin: number;
  /** dB below one where the phase crosses −180°; Infinity when it never does below the last frequency. */
  gainMargin: number;
  /** Hz of that phase crossing */
  phaseCrossover: number;
  /** Where the phase crosses −180° while the gain is above one, in a loop that is stable all the same: dB by which the gain may fall, and the Hz of it */
  falls?: { by: number; at: number };
  /** Where the gain falls below one and comes back above it: Hz between which it is below, dB below one at its least and the Hz of that, and the crossover at which the phase margin is least. `crossover` is then where it falls first: what lies between is not controlled */
  dip?: { from: number; to: number; by: number; at: number; marginAt: number };
  /** All Hz where |L| = 1, rising, with the degrees left there to −180° and whether the gain rises */
  crossovers: { at: number; margin: number; rises: boolean }[];
  /** Slope of |L| at crossover in dB a decade */
  slope: number;
  /** s of further delay that would use up the phase margin */
  delayMargin: number;
  /** Where there is no crossover on the grid: the gain is below one all along it, or above */
  beyond?: 'below' | 'above';
  /** Least |1 + L|: distance from −1, 1/(largest sensitivity) */
  closest: number;
}

/** The margins that are numbers. */
export type MarginFigure = Exclude<keyof Margins, 'beyond' | 'falls' | 'dip' | 'crossovers'>;

export type MarginFigures = Record<MarginFigure, number>;

/** The figures of the margins alone. */
export const marginFigures = ({ crossover, phaseMargin, gainMargin, phaseCrossover, slope, delayMargin, closest }: Margins): MarginFigures => ({
  crossover,
  phaseMargin,
  gainMargin,
  phaseCrossover,
  slope,
  delayMargin,
  closest,
});

/** Of several loops each figure where it is least; undefined of none. */
export const leastMargins = (all: readonly MarginFigures[]): MarginFigures | undefined =>
  all.length === 0 ? undefined : (Object.fromEntries(Object.keys(all[0]!).map((key) => [key, Math.min(...all.map((m) => m[key as MarginFigure]))])) as unknown as MarginFigures);

export interface BodeCurve {
  frequency: number[];
  /** dB */
  gain: number[];
  /** Degrees, unwrapped from the lowest frequency */
  phase: number[];
}

/** Gain in dB and unwrapped phase in degrees of a response on ascending frequencies. */
export function bode(frequency: readonly number[], response: readonly Complex[]): BodeCurve {
  const out: BodeCurve = { frequency: [...frequency], gain: [], phase: [] };
  let before: number | undefined;
  for (const value of response) {
    out.gain.push(decibels(size(value)));
    let now = degrees(phase(value));
    if (before !== undefined) now += 360 * Math.round((before - now) / 360);
    out.phase.push(now);
    before = now;
  }
  return out;
}

/** Least and most of several curves (dB, degrees) at each frequency (Hz) of the first: each has points of its own, and is read straight between them. */
export function bandOf(curves: readonly BodeCurve[]): { frequency: number[]; gain: [number, number][]; phase: [number, number][] } | undefined {
  const first = curves[0];
  if (!first) return undefined;
  const over = (key: 'gain' | 'phase'): [number, number][] =>
    first.frequency.map((f, i) => {
      const values = curves.flatMap((c) => valueAt(c, key, f) ?? []);
      const own = first[key][i]!;
      return [Math.min(own, ...values), Math.max(own, ...values)];
    });
  return { frequency: [...first.frequency], gain: over('gain'), phase: over('phase') };
}

/** A curve between its points, on a log scale; undefined beyond them. */
export function valueAt(c: BodeCurve, key: 'gain' | 'phase', f: number): number | undefined {
  let [low, high] = [0, c.frequency.length - 1];
  if (!(f >= c.frequency[low]!) || !(f <= c.frequency[high]!)) return undefined;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (c.frequency[middle]! <= f) low = middle;
    else high = middle;
  }
  const share = Math.log(f / c.frequency[low]!) / Math.log(c.frequency[high]! / c.frequency[low]!);
  return c[key][low]! + share * (c[key][high]! - c[key][low]!);
}

/** Of the logarithm of a frequency, and of what crosses there, to which a crossing is found */
const CROSSED = 1e-11;

/** Where g changes sign between two frequencies, on a log scale. */
function crossing(g: (f: number) => number, low: number, high: number): number {
  return Math.exp(findRoot((x) => g(Math.exp(x)), { low: Math.log(low), high: Math.log(high), atLow: g(low), atHigh: g(high) }, { width: CROSSED, value: CROSSED, rounds: 60 }).at);
}

/**
 * Margins of a loop gain given as a function of frequency (Hz) and its samples on a grid.
 * The grid only brackets; every figure is then refined on the function itself.
 * A loop that is stable although its phase crosses −180° at a gain above one is so conditionally: its gain may neither rise nor fall by too much.
 * @param samples the gain at the points of the curve, where it is at hand
 * @param stable is the closed loop known to be stable? Of one that is not, the gain margin is the nearest to none, negative where the gain is too high
 */
export function margins(loop: (f: number) => Complex, curve: BodeCurve, samples: readonly Complex[] = curve.frequency.map(loop), stable = false): Margins {
  const f = curve.frequency;
  const excess = (x: number): number => Math.log(size(loop(x)));
  const phaseNear = (x: number, reference: number): number => {
    const p = degrees(phase(loop(x)));
    return p + 360 * Math.round((reference - p) / 360);
  };
  const crossings: Margins['crossovers'] = [];
  const out: Margins = { crossover: NaN, phaseMargin: NaN, gainMargin: Infinity, phaseCrossover: NaN, crossovers: crossings, slope: NaN, delayMargin: NaN, closest: NaN };
  let closest = Infinity;
  let nearest = 0;
  const turnings: { by: number; at: number }[] = [];
  const slopeAt = (fc: number): number => (decibels(size(loop(fc * NEAR))) - decibels(size(loop(fc / NEAR)))) / (2 * Math.log10(NEAR));
  for (let i = 0; i < f.length; i++) {
    const at = samples[i]!;
    const distance = Math.hypot(1 + at.re, at.im);
    if (distance < closest) [closest, nearest] = [distance, i];
    if (i === 0) continue;
    if (curve.gain[i - 1]! * curve.gain[i]! <= 0 && curve.gain[i - 1] !== curve.gain[i]) {
      const fc = crossing(excess, f[i - 1]!, f[i]!);
      // A pole that grows by itself turns the phase the other way round: what is left to −180° is the same a turn higher.
      let margin = 180 + phaseNear(fc, curve.phase[i]!);
      while (margin > 180) margin -= 360;
      crossings.push({ at: fc, rises: curve.gain[i]! > curve.gain[i - 1]!, margin });
      if (!(Math.abs(margin) >= Math.abs(out.phaseMargin))) {
        out.crossover = fc;
        out.phaseMargin = margin;
        out.delayMargin = margin / (360 * fc);
      }
    }
    const turns = (p: number): number => Math.floor((p + 180) / 360);
    if (turns(curve.phase[i - 1]!) !== turns(curve.phase[i]!)) {
      const level = 360 * Math.max(turns(curve.phase[i - 1]!), turns(curve.phase[i]!)) - 180;
      const fp = crossing((x) => phaseNear(x, level) - level, f[i - 1]!, f[i]!);
      turnings.push({ by: -decibels(size(loop(fp))), at: fp });
    }
  }
  const first = crossings[0];
  const back = crossings[1];
  if (first && back && !first.rises && back.rises) {
    const least = findMinimum((x) => decibels(size(loop(Math.exp(x)))), Math.log(first.at), Math.log(back.at), { width: 1e-6 });
    out.dip = { from: first.at, to: back.at, by: -least.value, at: Math.exp(least.at), marginAt: out.crossover };
    out.crossover = first.at;
  }
  if (!Number.isNaN(out.crossover)) out.slope = slopeAt(out.crossover);
  const nearestOf = (list: typeof turnings): (typeof turnings)[number] | undefined => list.reduce<(typeof turnings)[number] | undefined>((a, b) => (a && Math.abs(a.by) <= Math.abs(b.by) ? a : b), undefined);
  const rises = nearestOf(stable ? turnings.filter((x) => x.by >= 0) : turnings);
  if (rises) [out.gainMargin, out.phaseCrossover] = [rises.by, rises.at];
  const falls = stable && nearestOf(turnings.filter((x) => x.by < 0));
  if (falls) out.falls = { by: -falls.by, at: falls.at };
  if (Number.isNaN(out.crossover)) out.beyond = curve.gain[0]! < 0 ? 'below' : 'above';
  const [low, high] = [f[Math.max(0, nearest - 1)]!, f[Math.min(f.length - 1, nearest + 1)]!];
  out.closest = Math.sqrt(findMinimum((x) => distanceSquared(loop(Math.exp(x))), Math.log(low), Math.log(high), { width: 1e-5 }).value);
  return out;
}

/** Ratio of the frequencies that a slope is taken between, either way */
const NEAR = 1.001;

const distanceSquared = (l: Complex): number => (1 + l.re) ** 2 + l.im ** 2;
