import { suggest } from '../choice/suggest';
import { PLAIN } from '../choice/wishes';
import { editDesign, topologyOf, type Design } from '../design';
import { sizingInputOf } from '../design/sizingInput';
import { warmestOf } from '../design/limits';
import { evaluateLosses, sizeDesign } from '../evaluation/evaluate';
import type { Part } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { preferredBetween, printQuantity as print, type UnitName } from '../quantity';
import { hottestOf } from '../thermal/network';
import type { OperatingPoint } from '../topology';

/** What a choice costs over what may be chosen in its place: each a design of its own, settled with its temperatures. */

/** How many in parallel, the gate resistor, the core that an inductor or transformer is wound on. */
export type Choice = { of: 'parallel' | 'core'; slot: string } | { of: 'gate' };

export interface Chosen {
  /** So many, Ω, or m³ of core */
  x: number;
  says: string;
  /** What of the design it changes */
  changes: Record<string, unknown>;
  /** W of all, and of the part; °C of the part's hottest spot, or of all junctions */
  total: number;
  own: number;
  temperature: number;
}

export interface Trade {
  unit: UnitName | '';
  points: Chosen[];
  /** Which of them stands now; none where it is not among them */
  now: number;
  /** °C that may be reached */
  limit: number;
}

/** In parallel at most; Ω of gate resistors; cores at most */
const [MOST, LOWEST, HIGHEST, CORES] = [8, 0.5, 100, 12];

/** The choices there are for a slot, with a word for each. */
export function choicesOf(d: Design, slot: string): { choice: Choice; title: string }[] {
  const part = d.parts[slot];
  return [
    ...(part?.kind === 'switch' || part?.kind === 'diode' ? [{ choice: { of: 'parallel', slot } as const, title: `${slot}, so many in parallel` }] : []),
    ...(part?.kind === 'inductor' || part?.kind === 'transformer' ? [{ choice: { of: 'core', slot } as const, title: `${slot}, size of its core` }] : []),
    { choice: { of: 'gate' } as const, title: 'gate resistor' },
  ];
}

/** What may be chosen, by what it changes. */
function candidates(d: Design, choice: Choice, shelf: readonly Part[]): { x: number; says: string; changes: Record<string, unknown> }[] {
  if (choice.of === 'gate') {
    const { gateResistance, turnOffResistance: off } = d.drive;
    // That of turning off stays in proportion.
    return preferredBetween(LOWEST, HIGHEST, 'E3').map((x) => ({ x, says: print(x, 'Ω', 2), changes: { 'drive.gateResistance': x, ...(off ? { 'drive.turnOffResistance': Number(((x * off) / gateResistance).toPrecision(3)) } : {}) } }));
  }
  const { slot } = choice;
  const part = d.parts[slot]!;
  if (choice.of === 'parallel') return Array.from({ length: MOST }, (_, k) => ({ x: k + 1, says: `${k + 1} in parallel`, changes: { [`parts.${slot}.count`]: k + 1 } }));
  // Of each size that which loses least of those that serve, by the closed forms.
  const fits = suggest(topologyOf(d)!, sizingInputOf(d), sizeDesign(d), slot, shelf, { ...PLAIN, by: 'loss' }).map((s) => s.part as Extract<Part, { kind: 'inductor' | 'transformer' }>);
  const sizes = [...new Map(fits.toReversed().map((p) => [p.coreVolume, p])).values()].toSorted((a, b) => a.coreVolume - b.coreVolume).slice(0, CORES);
  const kept = part.kind === 'inductor' ? { inductance: part.inductance } : part.kind === 'transformer' ? { primaryTurns: part.primaryTurns, secondaryTurns: part.secondaryTurns, thirdTurns: part.thirdTurns, inductance: part.inductance } : {};
  return sizes.map((p) => ({ x: p.coreVolume, says: p.part, changes: { [`parts.${slot}`]: { ...p, ...kept } } }));
}

/**
 * @returns a point for each that can stand there; "impossible" where none or one can
 */
export function tradeOf(d: Design, choice: Choice, point: OperatingPoint, shelf: readonly Part[]): Result<Trade> {
  const slot = choice.of === 'gate' ? undefined : choice.slot;
  const spot = choice.of === 'core' ? 'winding' : 'junction';
  const points = candidates(d, choice, shelf).flatMap((c): Chosen[] => {
    const edited = editDesign(d, c.changes);
    if (!edited.ok) return [];
    const found = evaluateLosses(edited.value, point);
    if (!found.ok || found.value.problems.heat) return [];
    const { losses, heat } = found.value;
    const rungs = heat.rungs.filter((r) => r.spot === spot && (slot === undefined || r.slot === slot));
    return [{ ...c, total: losses.total, own: slot === undefined ? losses.parts.filter((p) => d.parts[p.id]?.kind === 'switch').reduce((sum, p) => sum + p.total, 0) : losses.parts.find((p) => p.id === slot)!.total, temperature: Math.max(...rungs.map(hottestOf)) }];
  });
  if (points.length < 2) return fail('impossible', slot ?? 'drive.gateResistance', 'nothing else can stand there', 'add parts to the shelf');
  const part = slot === undefined ? undefined : d.parts[slot]!;
  const value = choice.of === 'gate' ? d.drive.gateResistance : choice.of === 'parallel' ? (part as { count: number }).count : (part as { coreVolume: number }).coreVolume;
  const rated = part && 'maxJunction' in part ? part.maxJunction : part && 'maxTemperature' in part ? part.maxTemperature : Infinity;
  return ok({ unit: choice.of === 'gate' ? 'Ω' : choice.of === 'core' ? 'm³' : '', points, now: points.findIndex((p) => Math.abs(p.x / value - 1) < 1e-6), limit: warmestOf(d, spot, rated) });
}
