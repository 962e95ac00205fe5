import { elementOf } from '../converter/stresses';
import type { Phasor, WoundWindow } from '../magnetics/field';
import { harmonicsOf, type Harmonic } from '../orbit/spectrum';
import type { TransformerPart } from '../parts/schema';
import type { Sizing, Topology } from '../topology';
import type { SettledStage } from './settleStage';

/** The windings of a transformer as they lie in its window, and what they carry. */

/** Multiples of the switching frequency that copper is looked at by: those of a triangle fall with the square of their number. */
export const MULTIPLES = 20;

/** The window of the transformer in a slot. @param copper its windings, in the order that is wanted */
export function windowOf(topology: Pick<Topology, 'windings'>, sizing: Pick<Sizing, 'values'>, slot: string, part: TransformerPart, copper: readonly { element: string }[]): WoundWindow {
  return {
    windings: copper.map(({ element }) => {
      const { turns, share } = topology.windings![slot]!.find((w) => w.element === element)!;
      return { turns: sizing.values[turns]!.taken, share, primary: PRIMARY.some((title) => element === `${slot} ${title}`) };
    }),
    winding: part.winding!,
    windowArea: part.windowArea,
    copperShare: part.copperShare,
  };
}
/** Windings that stand on the line's side */
const PRIMARY = ['primary', 'reset'];

/**
 * Does the current of a winding's copper magnetise the core as the primary's does? It does where it enters the winding at its beginning,
 * or comes from its end.
 */
export function magnetises(circuit: SettledStage['circuit'], copper: string): boolean {
  const e = elementOf(circuit, copper);
  const windings = circuit.elements.flatMap((x) => (x.kind === 'transformer' ? x.windings : []));
  const ends = (node: string): number => windings.filter((w) => w.a === node || w.b === node).length;
  // The node that belongs to one winding alone is that of this one.
  for (const [node, leaves] of [[e.a, true], [e.b, false]] as const) {
    if (ends(node) !== 1) continue;
    const w = windings.find((x) => x.a === node || x.b === node)!;
    return leaves ? w.b === node : w.a === node;
  }
  throw new Error(`${copper} belongs to no winding`);
}

/** Multiples of the currents of some elements, the mean first. */
const multiplesOf = (stage: SettledStage, elements: readonly string[]): Harmonic[][] => harmonicsOf(stage.cycleIntegrals, elements.map((id) => (p) => p.current(id)), MULTIPLES);

/** A rms of every winding's current at each multiple of the cycle's frequency, as it magnetises the core. */
export function windingSpectrum(stage: SettledStage, slot: string): Phasor[][] {
  const copper = stage.roles.parts[slot]!.copper!;
  const multiples = multiplesOf(stage, copper.map((c) => c.element));
  const signs = copper.map(({ element }) => (magnetises(stage.circuit, element) ? 1 : -1) / Math.SQRT2);
  return Array.from({ length: MULTIPLES }, (_, k) => copper.map((_, i): Phasor => {
    const { amplitude, phase } = multiples[i]![k + 1]!;
    return [signs[i]! * amplitude * Math.cos(phase), signs[i]! * amplitude * Math.sin(phase)];
  }));
}

/** A rms of an inductor's current at each multiple of the switching frequency. */
export const spectrumOf = (stage: SettledStage, id: string): number[] => multiplesOf(stage, [id])[0]!.slice(1).map((h) => h.amplitude / Math.SQRT2);
