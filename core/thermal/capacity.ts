import type { Part } from '../parts/schema';
import type { ThermalNode } from './network';
import type { StoringNode } from './warmUp';

/**
 * What the nodes of a thermal network store, where nobody states it: estimates, good for how long something takes and not for its
 * last tenth.
 */

/** s that a die takes to warm its case through: a few milliseconds of silicon, some tens with the leadframe */
export const DIE = 0.02;
/** J/K of a case, of one */
const CASE = 0.8;
/** J/K of the copper and the board around a part */
const BOARD = 3;
/** J/(m³ K) of ferrite (4800 kg/m³, 750 J/(kg K)), and by how much copper and former make it more */
const [FERRITE, WOUND] = [3.6e6, 1.4];
/** s of a finned sink in still air: its metal goes with its surface */
const SINK = 300;
/** K/W below which two nodes are as good as one */
const NONE = 1e-4;

/** J/K of a sink that nobody states more of than its resistance in K/W. */
export const sinkCapacity = (resistance: number): number => SINK / Math.max(resistance, 0.01);

/**
 * The nodes with what they store.
 * @param copies of a place that are alike
 */
export function storing(nodes: readonly ThermalNode[], parts: Readonly<Record<string, Part>>, copies: (slot: string) => number): StoringNode[] {
  return nodes.map((node): StoringNode => {
    const resistance = Math.max(node.resistance, NONE);
    if (node.capacity !== undefined) return { ...node, resistance, capacity: node.capacity };
    const part = node.slot === undefined ? undefined : parts[node.slot];
    const alike = node.slot === undefined ? 1 : copies(node.slot);
    if (part && (part.kind === 'switch' || part.kind === 'diode')) return { ...node, resistance, capacity: node.spot === 'junction' ? DIE / resistance : node.spot === 'case' ? CASE * part.count * alike : BOARD * part.count * alike };
    if (part && (part.kind === 'inductor' || part.kind === 'transformer')) return { ...node, resistance, capacity: FERRITE * WOUND * part.coreVolume * alike };
    return { ...node, resistance, capacity: sinkCapacity(node.resistance) };
  });
}
