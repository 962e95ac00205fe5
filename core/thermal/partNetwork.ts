import type { DiodePart, Part, SwitchPart } from '../parts/schema';
import { resistanceOfSink, sinkNode, sinksOf, standsOn, type Cooling } from './cooling';
import { cauerOf } from './ladder';
import type { ThermalNode } from './network';

/** A rung of a part. */
const of = (slot: string, spot: NonNullable<ThermalNode['spot']>): Pick<ThermalNode, 'id' | 'title' | 'slot' | 'spot'> => ({ id: `${slot} ${spot}`, title: `${slot} ${spot}`, slot, spot });

/** Rung at which a part's losses enter, and whose temperature its resistance follows. */
export const hotSpot = (slot: string, part: Part): string | undefined =>
  part.kind === 'switch' || part.kind === 'diode' ? of(slot, 'junction').id : part.kind === 'inductor' || part.kind === 'transformer' ? of(slot, 'winding').id : undefined;

/**
 * The thermal network of a power stage: switches and diodes on a sink (junction → case → sink → air) or on the copper of their board,
 * inductors and transformers straight to the air; where a part has a ladder it stands between junction and case. Parts in parallel share
 * the heat, and so do those that are alike in a place (`copies`).
 */
export function partNetwork(parts: Readonly<Record<string, Part>>, cooling: Cooling, copies: (slot: string) => number = () => 1): ThermalNode[] {
  const nodes: ThermalNode[] = [];
  const used = new Set<number>();
  for (const [slot, part] of Object.entries(parts)) {
    const alike = copies(slot);
    if (part.kind === 'switch' || part.kind === 'diode') {
      const on = standsOn(cooling, slot);
      const many = part.count * alike;
      const towards = 'sink' in on ? sinkNode(on.sink) : `${slot} board`;
      if ('sink' in on) used.add(on.sink);
      nodes.push(
        ...inside(slot, part).map((rung): ThermalNode => ({ ...rung, resistance: rung.resistance / many, ...(rung.capacity === undefined ? {} : { capacity: rung.capacity * many }) })),
        { ...of(slot, 'case'), towards, resistance: part.caseToSink / many },
        ...('board' in on ? [{ id: towards, title: towards, slot, towards: 'air', resistance: on.board / many }] : []),
      );
    }
    if (part.kind === 'inductor' || part.kind === 'transformer')
      nodes.push({ ...of(slot, 'winding'), towards: 'air', resistance: part.thermalResistance / alike, limit: part.maxTemperature });
  }
  const sinks = sinksOf(cooling);
  for (const k of [...used].sort((a, b) => a - b)) {
    const sink = sinks[k - 1]!;
    nodes.push({ id: sinkNode(k), title: sinkNode(k), towards: 'air', resistance: resistanceOfSink(sink), ...(sink.heatCapacity === undefined ? {} : { capacity: sink.heatCapacity }) });
  }
  return nodes;
}

/** From junction to case of one part: one resistance, or its ladder. */
function inside(slot: string, part: SwitchPart | DiodePart): ThermalNode[] {
  const ladder = part.ladder && cauerOf(part.ladder);
  const junction = { ...of(slot, 'junction'), limit: part.maxJunction };
  if (!ladder) return [{ ...junction, towards: `${slot} case`, resistance: part.junctionToCase }];
  return ladder.map((rung, k) => ({ ...(k === 0 ? junction : { id: `${slot} inside ${k}`, title: `${slot} inside ${k}`, slot }), towards: k + 1 < ladder.length ? `${slot} inside ${k + 1}` : `${slot} case`, resistance: rung.resistance, capacity: rung.capacity }));
}
