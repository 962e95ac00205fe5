import type { Part } from '../parts/schema';
import type { ThermalNode } from './network';

/** A rung of a part. */
const of = (slot: string, spot: NonNullable<ThermalNode['spot']>): Pick<ThermalNode, 'id' | 'title' | 'slot' | 'spot'> => ({ id: `${slot} ${spot}`, title: `${slot} ${spot}`, slot, spot });

/** Rung at which a part's losses enter, and whose temperature its resistance follows. */
export const hotSpot = (slot: string, part: Part): string | undefined =>
  part.kind === 'switch' || part.kind === 'diode' ? of(slot, 'junction').id : part.kind === 'inductor' || part.kind === 'transformer' ? of(slot, 'winding').id : undefined;

/**
 * The thermal network of a power stage: switches and diodes on one shared sink (junction → case → sink → air),
 * inductors and transformers straight to the air. Parts in parallel share the heat, and so do those that are
 * alike in a place (`copies`).
 */
export function partNetwork(parts: Readonly<Record<string, Part>>, sinkResistance: number, copies: (slot: string) => number = () => 1): ThermalNode[] {
  const rungs: ThermalNode[] = [];
  let sinks = false;
  for (const [slot, part] of Object.entries(parts)) {
    const alike = copies(slot);
    if (part.kind === 'switch' || part.kind === 'diode') {
      sinks = true;
      rungs.push(
        { ...of(slot, 'junction'), towards: `${slot} case`, resistance: part.junctionToCase / part.count / alike, limit: part.maxJunction },
        { ...of(slot, 'case'), towards: 'sink', resistance: part.caseToSink / part.count / alike },
      );
    }
    if (part.kind === 'inductor' || part.kind === 'transformer')
      rungs.push({ ...of(slot, 'winding'), towards: 'air', resistance: part.thermalResistance / alike, limit: part.maxTemperature });
  }
  if (sinks) rungs.push({ id: 'sink', title: 'sink', towards: 'air', resistance: sinkResistance });
  return rungs;
}
