import { topologyOf } from '../design/topologyOf';
import { sizingInputOf } from '../design/sizingInput';
import { editDesign } from '../design/edit';
import type { Design } from '../design/schema';
import type { Part } from '../parts/schema';
import { fail, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { chooseTopology } from './choose';
import { best } from './suggest';
import { wishesOf, type By } from './wishes';

/**
 * Choose the part of one slot anew, or, without one, of all; values set by hand go with their parts.
 * Problem "shelf" where nothing fits.
 */
export function chosenAnew(d: Design, shelf: readonly Part[], by: By, slot?: string): Result<Design> {
  const wishes = { ...wishesOf(d.requirements), by };
  if (slot === undefined) return chooseTopology({ ...d, parts: {} }, d.topology, shelf, wishes);
  const t = topologyOf(d)!;
  const input = sizingInputOf(d);
  const found = best(t, input, t.size(input), slot, shelf, wishes);
  if (!found) return fail('shelf', `parts.${slot}`, `no ${t.slots.find((p) => p.id === slot)?.title ?? slot} of the shelf stands what this brief asks of it`, 'add a part, or relax the brief');
  return editDesign(d, { [`parts.${slot}`]: found.part });
}

/** A part that the brief has left behind, with why in a few words. */
export interface Misfit {
  slot: string;
  why: string;
  /** It can not stay; else it is only far more than is wanted */
  fails: boolean;
}

/** Times the rating that is wanted, and times the core of the part that would be chosen, above which a part is far too large. */
const [FAR_RATING, FAR_CORE] = [4, 12];

/** The parts that a brief no longer fits: too weak for it, or far more than it wants. */
export function misfits(d: Design, shelf: readonly Part[]): Misfit[] {
  const t = topologyOf(d)!;
  const input = sizingInputOf(d);
  const sizing = t.size(input);
  return t.slots.flatMap(({ id, core }): Misfit[] => {
    const part = d.parts[id]!;
    if (core) return [];
    const wanted = sizing.blocking[id]?.wanted ?? 0;
    const rating = part.kind === 'switch' || part.kind === 'diode' ? part.blockingVoltage : part.kind === 'capacitor' ? part.series * part.ratedVoltage : 0;
    if (rating > 0 && rating < wanted * (1 - 1e-9)) return [{ slot: id, fails: true, why: `${print(rating, 'V')}, and ${print(wanted, 'V')} is wanted` }];
    if (part.kind !== 'capacitor' && rating > FAR_RATING * wanted && wanted > 0) return [{ slot: id, fails: false, why: `${print(rating, 'V')} where ${print(wanted, 'V')} would do` }];
    if (part.kind !== 'inductor' && part.kind !== 'transformer') return [];
    const found = best(t, input, sizing, id, shelf)?.part;
    if (!best(t, input, sizing, id, [part])) return found ? [{ slot: id, fails: true, why: 'its core would fill, or its winding grow too hot' }] : [];
    const volume = found && 'coreVolume' in found ? found.coreVolume : Infinity;
    return part.coreVolume > FAR_CORE * volume ? [{ slot: id, fails: false, why: `a core ${Math.round(part.coreVolume / volume)} times as large as would do` }] : [];
  });
}

/** Values set by hand in place of suggested ones, by their paths, with what they are of. */
export const overrides = (d: Design): { path: string; slot: string }[] =>
  Object.entries(d.parts).flatMap(([slot, part]) => Object.entries(part).flatMap(([key, value]) => (LEFT_OPEN.has(key) && value !== null && part.kind !== 'switch' && part.kind !== 'diode' ? [{ path: `parts.${slot}.${key}`, slot }] : [])));
const LEFT_OPEN = new Set(['count', 'inductance', 'primaryTurns', 'secondaryTurns', 'thirdTurns']);

/** The design without them: each takes what is suggested again. */
export const withoutOverrides = (d: Design): Result<Design> => editDesign(d, Object.fromEntries(overrides(d).map(({ path }) => [path, null])));
