import type { Prepared } from '../circuit/machine';
import { dot } from '../linear/dense';
import { climb } from '../linear/stepTable';
import type { Interval } from './cycle';
import { extremesAlong, type Quantity } from './measure';

/**
 * What is kept of a run, interval by interval while it goes on, so that its length costs no memory.
 * Nothing here changes the run: figures do not depend on how densely it is drawn.
 */

/** Told one point: the time and the value of each quantity. Values are reused; copy what is kept. */
export type Sink = (t: number, values: Float64Array) => void;

/**
 * Points of a run: both sides of every event exactly, and drawing points `step` s apart between them.
 * @returns what to hand to march as `each`
 */
export function drawPoints(quantities: readonly Quantity[], step: number, sink: Sink): (s: Interval, end: Float64Array) => void {
  const values = new Float64Array(quantities.length);
  const last = new Float64Array(quantities.length);
  let latest = NaN;
  const rows = new Map<object, Float64Array[]>();
  return (s, end) => {
    const p = s.pattern as Prepared;
    let own = rows.get(p);
    if (!own) rows.set(p, (own = quantities.map((q) => q(p))));
    const tell = (t: number, z: Float64Array): void => {
      own.forEach((row, k) => (values[k] = dot(row, z, p.size)));
      // Where nothing jumps the two sides of an event are one point.
      if (t === latest && values.every((v, k) => v === last[k])) return;
      latest = t;
      last.set(values);
      sink(t, values);
    };
    tell(s.start, s.z0);
    const until = s.start + s.duration;
    for (let k = Math.floor(s.start / step) + 1; k * step < until * (1 - 1e-12); k++) if (k * step > s.start) tell(k * step, climb(p.stepTable, s.z0, k * step - s.start));
    tell(until, end);
  };
}

/** Least and most of each quantity in equal bins of time: what a long run is drawn from without losing a spike. */
export interface Envelope {
  /** s: where each bin begins, and the end of the last */
  edges: number[];
  /** By quantity, then bin */
  least: Float64Array[];
  most: Float64Array[];
}

/**
 * Envelope of a run between two times in s; extremes inside a bin are located exactly, not sampled.
 * @returns the envelope, filled while the run goes on, and what to hand to march as `each`
 */
export function drawEnvelope(quantities: readonly Quantity[], from: number, until: number, bins: number): { envelope: Envelope; each: (s: Interval) => void } {
  const width = (until - from) / bins;
  const envelope: Envelope = {
    edges: Array.from({ length: bins + 1 }, (_, k) => from + k * width),
    least: quantities.map(() => new Float64Array(bins).fill(Infinity)),
    most: quantities.map(() => new Float64Array(bins).fill(-Infinity)),
  };
  const rows = new Map<object, Float64Array[]>();
  const each = (s: Interval): void => {
    const p = s.pattern as Prepared;
    let own = rows.get(p);
    if (!own) rows.set(p, (own = quantities.map((q) => q(p))));
    let at = Math.max(s.start, from);
    const end = Math.min(s.start + s.duration, until);
    while (at < end) {
      const bin = Math.min(bins - 1, Math.floor((at - from) / width + 1e-9));
      const next = bin === bins - 1 ? end : Math.min(end, from + (bin + 1) * width);
      if (!(next > at)) break;
      const z = at === s.start ? s.z0 : climb(p.stepTable, s.z0, at - s.start);
      own.forEach((row, k) => {
        const { min, max } = extremesAlong(p.stepTable, row, z, next - at);
        envelope.least[k]![bin] = Math.min(envelope.least[k]![bin]!, min);
        envelope.most[k]![bin] = Math.max(envelope.most[k]![bin]!, max);
      });
      at = next;
    }
  };
  return { envelope, each };
}
