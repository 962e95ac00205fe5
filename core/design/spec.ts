import type { Spec, Topology } from '../topology';
import { asUsed } from './asUsed';
import { topologyOf } from './additions/branches';
import { withConduction } from './conduction';
import type { Design } from './schema';

const known = new WeakMap<Design, Spec>();

/** What a topology is given of a design, as the design asks for it. */
export const askedSpec = (d: Design): Spec => ({
  brief: d.brief,
  parts: d.parts,
  drive: d.drive,
  series: d.series,
  control: d.control,
  crossover: d.control.crossover,
  allowed: { ripple: d.requirements.ripple.limit, deviation: d.requirements.deviation.limit, stress: d.requirements.ratings.limit },
});

/** A spec as a topology is to be sized by: capacitors as they are where they stand, the ripple share that the conduction wanted at light load asks for. */
export const forUse = (t: Topology, asked: Spec): Spec => withConduction(t, asUsed(t, asked));

/** What a topology is given of a design. */
export function specOf(d: Design): Spec {
  let found = known.get(d);
  if (!found) known.set(d, (found = forUse(topologyOf(d)!, askedSpec(d))));
  return found;
}
