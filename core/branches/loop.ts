import type { Element } from '../circuit/elements';
import type { Part } from '../parts/schema';

/** What snubbers and clamps share: the loop that rings with what they hang across. */

/** Source of both kinds */
export const SOURCE = 'Mohan, Undeland, Robbins: Power Electronics, ch. 27';
/** H of the loop, where nobody has measured it */
export const STRAY = 20e-9;

/** F of a part itself. */
export const ownCapacitance = (p: Part): number => (p.kind === 'switch' ? p.outputCapacitance * p.count : p.kind === 'diode' ? p.junctionCapacitance * p.count : 0);

/** The two ends of a part, the one that stands higher while it blocks first. */
export function endsOf(elements: readonly Element[], id: string): [string, string] {
  const e = elements.find((x) => x.id === id);
  if (!e || !('a' in e)) throw new Error(`the circuit has no ${id}`);
  return e.kind === 'diode' ? [e.b, e.a] : [e.a, e.b];
}

/**
 * What rings at a switch or diode, from two readings on the bench: its frequency, and that with a known capacitor beside the part. Both ring with
 * the same inductance: C = Cadded / ((f/f')² − 1), L = 1 / ((2πf)² C).
 * Source: Mohan, Undeland, Robbins, "Power Electronics", ch. 27 (snubber design from measured ringing).
 * @param bare Hz @param added F @param slower Hz with it
 * @returns H and F; undefined where the added capacitor does not slow the ringing
 */
export function ringingFrom(bare: number, added: number, slower: number): { stray: number; parasitic: number } | undefined {
  if (!(slower < bare) || !(slower > 0) || !(added > 0)) return undefined;
  const parasitic = added / ((bare / slower) ** 2 - 1);
  return { parasitic, stray: 1 / ((2 * Math.PI * bare) ** 2 * parasitic) };
}
