import type { ElementOf, Waveform } from '../elements';
import { hasSlope } from '../layout';
import { NONE, rebased, stepOf, type EventSource } from './eventSource';

/** The breakpoints of a moving source in order: at a time, its value and slope from then on. */
function breakpoints(w: Exclude<Waveform, number>): { time: number; value: number; slope: number }[] {
  switch (w.shape) {
    case 'step':
      return [{ time: w.at, value: w.to, slope: 0 }];
    case 'ramp':
      return [
        { time: w.start, value: w.from, slope: (w.to - w.from) / w.duration },
        { time: w.start + w.duration, value: w.to, slope: 0 },
      ];
    case 'points':
      return w.points.map(([time, value], i) => {
        const next = w.points[i + 1];
        return { time, value, slope: next && next[0] > time ? (next[1] - value) / (next[0] - time) : 0 };
      });
    default:
      return [];
  }
}

/** A source with breakpoints; memory: [index of the next one] */
export function moving(e: ElementOf<'voltage-source'> | ElementOf<'current-source'>): EventSource | undefined {
  const w = e.value;
  if (typeof w === 'number' || w.shape === 'tones' || (w.shape === 'sine' && !w.changes)) return undefined;
  const common = { id: e.id, rows: [], held: [], gates: [], begin: () => [0], active: () => NONE, fire: () => undefined };
  if (w.shape === 'pulse')
    return {
      ...common,
      period: w.period,
      next: ([k]) => w.delay + Math.floor(k! / 2) * w.period + (stepOf(k!, 2) === 1 ? w.width : 0),
      clock(memory, hands) {
        hands.set(e.id, stepOf(memory[0]!, 2) === 1 ? w.low : w.high);
        memory[0]!++;
      },
      rebase: (memory, shift) => rebased(memory, shift, w.period, 2, []),
    };
  if (w.shape === 'sine')
    return {
      ...common,
      period: 0,
      once: true,
      next: ([k]) => w.changes![k!]?.[0] ?? Infinity,
      clock(memory, hands) {
        const [t, amplitude] = w.changes![memory[0]!++]!;
        const [sine, cosine] = toneAt({ ...w, amplitude }, t);
        hands.set(`${e.id} tone 0`, sine);
        hands.set(`${e.id} quadrature 0`, cosine);
      },
      rebase: (memory) => [...memory],
    };
  const list = breakpoints(w);
  return {
    ...common,
    period: 0,
    once: true,
    next: ([k]) => list[k!]?.time ?? Infinity,
    clock(memory, hands) {
      const b = list[memory[0]!++]!;
      hands.set(e.id, b.value);
      if (hasSlope(w)) hands.set(`${e.id} slope`, b.slope);
    },
    // Its times are absolute: a cycle is of the time before it moves (see settle), and meets it from there.
    rebase: (memory) => [...memory],
  };
}

/** A tone and its quadrature at a time. */
export function toneAt({ amplitude, frequency, phase }: { amplitude: number; frequency: number; phase: number }, t: number): [number, number] {
  const angle = 2 * Math.PI * frequency * t + (phase * Math.PI) / 180;
  return [amplitude * Math.sin(angle), amplitude * Math.cos(angle)];
}

/** Value (or offset) of a source before its first breakpoint, V or A as the source is. */
export function firstValue(w: Waveform): number {
  if (typeof w === 'number') return w;
  switch (w.shape) {
    case 'step':
    case 'ramp':
      return w.from;
    case 'pulse':
      return w.low;
    case 'points':
      return w.points[0]![1];
    case 'sine':
    case 'tones':
      return w.offset;
  }
}
