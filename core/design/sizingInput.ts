import type { SizingInput, Topology } from '../topology';
import { derated } from './derated';
import { topologyOf } from './topologyOf';
import { withConduction } from './conduction';
import { leastLoad } from './leastLoad';
import { remembered } from './remembered';
import type { Design } from './schema';

/** The brief with a load from zero as it is at its lightest: what the output's own divider takes. */
const fromZero = (d: Design): Design['brief'] => (d.brief.load.min > 0 ? d.brief : { ...d.brief, load: { ...d.brief.load, min: leastLoad(d) } });

/** What a topology is given of a design, as the design asks for it. */
export const askedSpec = (d: Design): SizingInput => ({
  brief: fromZero(d),
  least: leastLoad(d),
  parts: d.parts,
  drive: d.drive,
  series: d.series,
  control: d.control,
  crossover: d.control.crossover,
  allowed: { ripple: d.requirements.ripple.limit, deviation: d.requirements.deviation.limit, stress: d.requirements.ratings.limit },
});

/** A sizing input as a topology is to be sized by: capacitors as they are where they stand, the ripple share that the conduction wanted at light load asks for. */
export const forUse = (t: Topology, asked: SizingInput): SizingInput => withConduction(t, derated(t, asked));

/** What a topology is given of a design. */
export const sizingInputOf = remembered((d: Design): SizingInput => forUse(topologyOf(d)!, askedSpec(d)));
