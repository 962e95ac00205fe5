import { apply, dot } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import type { Quantity } from './measure';
import type { Cycle } from './cycle';

/** Points for drawing one period: every interval from its very start to its very end, so edges are vertical. */
export interface Samples {
  /** s from the start of the period; an edge holds the same time twice */
  time: number[];
  /** One list of values a quantity, in the order asked for */
  values: number[][];
}

/** Sample quantities over one settled cycle with about `points` points. Drawing only: no figure comes from here. */
export function sample(cycle: Cycle, quantities: readonly Quantity[], points = 160): Samples {
  const time: number[] = [];
  const values: number[][] = quantities.map(() => []);
  for (const s of cycle.intervals) {
    const { F, size } = s.pattern;
    const pieces = Math.max(4, Math.round((points * s.duration) / cycle.period));
    const dt = s.duration / pieces;
    const { phi } = exponentialStep(F, dt, size);
    const rows = quantities.map((q) => q(s.pattern));
    let z = s.z0;
    for (let i = 0; i <= pieces; i++) {
      time.push(s.start + i * dt);
      rows.forEach((row, k) => values[k]!.push(dot(row, z, size)));
      if (i === pieces) break;
      const next = new Float64Array(size);
      apply(phi, z, next, size);
      z = next;
    }
  }
  return { time, values };
}
