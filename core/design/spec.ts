import type { Spec } from '../topology';
import type { Design } from './schema';

/** What a topology is given of a design. */
export const specOf = (d: Design): Spec => ({
  brief: d.brief,
  parts: d.parts,
  drive: d.drive,
  series: d.series,
  crossover: d.control.crossover,
  allowed: { ripple: d.requirements.ripple.limit, deviation: d.requirements.deviation.limit, stress: d.requirements.ratings.limit },
});
