import type { SizingInput, Topology } from '../topology';
import { derated } from './derated';
import { topologyOf } from './topologyOf';
import { withConduction } from './conduction';
import { remembered } from './remembered';
import type { Design } from './schema';

/** What a topology is given of a design, as the design asks for it. */
export const askedSpec = (d: Design): SizingInput => ({
  brief: d.brief,
  parts: d.parts,
  drive: d.drive,
  series: d.series,
  control: d.control,
  crossover: d.control.crossover,
  allowed: { ripple: d.requirements.ripple.limit, deviation: d.requirements.deviation.limit, stress: d.requirements.ratings.limit },
});

/** A spec as a topology is to be sized by: capacitors as they are where they stand, the ripple share that the conduction wanted at light load asks for. */
export const forUse = (t: Topology, asked: SizingInput): SizingInput => withConduction(t, derated(t, asked));

/** What a topology is given of a design. */
export const sizingInputOf = remembered((d: Design): SizingInput => forUse(topologyOf(d)!, askedSpec(d)));
