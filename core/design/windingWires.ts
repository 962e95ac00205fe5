import { strandsIn } from '../parts/copper';
import { skinDepth, windTurn, type Wire } from '../parts/goods';
import type { Sizing } from '../topology';
import { topologyOf } from './topologyOf';
import type { Design } from './schema';

/** What a turn of one winding of a transformer is wound with. */
export interface WoundTurn {
  title: string;
  /** m² of copper that a turn has: its share of the window, over the turns */
  area: number;
  /** As the part says, or with strands of the list; undefined where none of them is thin enough */
  wound: { diameter: number; count: number } | undefined;
}

/** The windings of the transformer in a place, each with the strands of a turn, and m that a field goes into them; undefined for other parts. */
export function windingWires(d: Design, sizing: Pick<Sizing, 'values'>, slot: string, wires: readonly Wire[]): { depth: number; turns: WoundTurn[] } | undefined {
  const part = d.parts[slot];
  const windings = topologyOf(d)!.windings?.[slot];
  if (part?.kind !== 'transformer' || !windings) return undefined;
  return {
    depth: skinDepth(d.brief.frequency),
    turns: windings.map((w) => {
      const area = (part.copperShare * part.windowArea * w.share) / sizing.values[w.turns]!.taken;
      const found = part.winding ? undefined : windTurn(wires, area, d.brief.frequency);
      const wound = part.winding ? strandsIn(area, part.winding.strandDiameter) : found && { diameter: found.wire.diameter, count: found.parallel };
      return { title: w.element.replace(`${slot} `, ''), area, wound };
    }),
  };
}
