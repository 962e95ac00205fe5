import { degrees, over, phase, radians, scale, size, turn, type Complex } from '../linear/complex';
import { MOST_POINTS, type Kind, type Measured, type Trace } from './types';

/** A measured response at a frequency (Hz): between its points straight in dB and degrees over the logarithm of the frequency; outside of them nothing. */
export function measuredAt({ frequency, gain, phase: angle }: Pick<Trace, 'frequency' | 'gain' | 'phase'>, f: number): Complex {
  if (f < frequency[0]! * (1 - 1e-9) || f > frequency.at(-1)! * (1 + 1e-9)) return { re: NaN, im: NaN };
  let [low, high] = [0, frequency.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (frequency[middle]! <= f) low = middle;
    else high = middle;
  }
  const share = Math.min(1, Math.max(0, Math.log(f / frequency[low]!) / Math.log(frequency[high]! / frequency[low]!)));
  const between = (v: readonly number[]): number => v[low]! + share * (v[high]! - v[low]!);
  return scale(turn(radians(between(angle))), 10 ** (between(gain) / 20));
}

/** The plant that a measurement shows, by division: of a loop gain by its compensator, of a closed loop T/(1 + T) first. @param compensator at a frequency, with modulator and delay */
export function plantBy(kind: Kind, trace: Pick<Trace, 'frequency' | 'gain' | 'phase'>, compensator: (f: number) => Complex): (f: number) => Complex {
  return (f) => {
    const m = measuredAt(trace, f);
    if (kind === 'plant') return m;
    const loop = kind === 'loop' ? m : over(m, { re: 1 - m.re, im: -m.im });
    return over(loop, compensator(f));
  };
}

/** How far a measured response lies from a computed one, over the frequencies that both have: dB and ° as rms, and the largest. */
export interface Misfit {
  gain: number;
  phase: number;
  largest: { gain: number; phase: number; at: number };
  points: number;
}

/** @param computed at a frequency; not a number where it has none @param from Hz @param to Hz */
export function misfit(trace: Pick<Trace, 'frequency' | 'gain' | 'phase'>, computed: (f: number) => Complex, from = 0, to = Infinity): Misfit | undefined {
  let [gain, angle, points] = [0, 0, 0];
  const largest = { gain: 0, phase: 0, at: 0 };
  trace.frequency.forEach((f, i) => {
    if (f < from || f > to) return;
    const c = computed(f);
    if (!Number.isFinite(c.re)) return;
    const dB = trace.gain[i]! - 20 * Math.log10(size(c));
    let off = trace.phase[i]! - degrees(phase(c));
    off -= 360 * Math.round(off / 360);
    gain += dB ** 2;
    angle += off ** 2;
    points++;
    if (Math.abs(dB) > Math.abs(largest.gain)) Object.assign(largest, { gain: dB, phase: off, at: f });
  });
  return points === 0 ? undefined : { gain: Math.sqrt(gain / points), phase: Math.sqrt(angle / points), largest, points };
}

/** A trace as a design carries it: of many points as many as tell all there is, evenly over the logarithm of the frequency. */
export function carriedTrace(trace: Trace, of: Kind, at?: Measured['at']): Measured {
  const { frequency, gain, phase: angle } = trace;
  const title = trace.title.slice(0, 60) || 'measured';
  if (frequency.length <= MOST_POINTS) return { title, of, frequency, gain, phase: angle, ...(at ? { at } : {}) };
  const [low, high] = [Math.log(frequency[0]!), Math.log(frequency.at(-1)!)];
  const kept: number[] = [];
  let next = 0;
  frequency.forEach((f, i) => {
    const at = ((Math.log(f) - low) / (high - low)) * (MOST_POINTS - 2);
    if (at < next && i < frequency.length - 1) return;
    kept.push(i);
    next = Math.floor(at) + 1;
  });
  const of_ = (v: readonly number[]): number[] => kept.map((i) => v[i]!);
  return { title, of, frequency: of_(frequency), gain: of_(gain), phase: of_(angle), ...(at ? { at } : {}) };
}
