import type { CapacitorPart, InductorPart, Part } from '../parts/schema';
import { fail, type Result } from '../problem';
import { BRANCHES, hangs } from '../branches';
import { slotsOf, type Branch } from '../branches/branch';
import { STRAY } from '../branches/loop';
import { topologyOf } from '../design/topologyOf';
import { ringingOf } from '../topology/common';
import { suggest } from './choose';
import { editDesign } from '../design/edit';
import type { Design } from '../design/schema';
import { sizingInputOf } from '../design/sizingInput';

const MOST = 4;

/**
 * A design with one more branch on its output, or across the part in a place, with the best parts of the shelf for it.
 * Problem "branch": the topology has no place for one, or there are enough.
 */
export function hangBranch(d: Design, kind: Branch['kind'], shelf: readonly Part[], at?: string): Result<Design> {
  const t = topologyOf(d);
  const branch: Branch = { kind, resistance: null, ...(at === undefined ? {} : { at, stray: STRAY }) };
  if (!t || !hangs(t, branch))
    return BRANCHES[kind].across ? fail('branch', 'branches', `a ${kind} hangs across one switch or diode, not across ${at ?? 'nothing'}`, 'choose a switch or a diode that is no one of several alike') : fail('branch', 'branches', 'this power stage has no output capacitor to hang one beside', 'take a topology with one');
  const id = Array.from({ length: MOST }, (_, k) => `B${k + 1}`).find((x) => !d.branches?.[x]);
  if (!id) return fail('branch', 'branches', `there are ${MOST} branches already`, 'take one away first');
  const { C, L, D } = slotsOf(id);
  const diode = shelf.find((p) => p.kind === 'diode');
  if (kind === 'clamp' && !diode) return fail('branch', 'branches', 'the shelf has no diode', 'add one');
  // Across a part the smallest to begin with: as many as are wanted carry what one of the right size would.
  const capacitors = shelf.filter((p) => p.kind === 'capacitor').sort((a, b) => a.capacitance - b.capacitance);
  const capacitor = BRANCHES[kind].across ? capacitors[0] : ((d.parts[ringingOf(t).C] ?? capacitors[0]) as CapacitorPart | undefined);
  if (!capacitor) return fail('branch', 'branches', 'the shelf has no capacitor', 'add one');
  const own = d.parts[ringingOf(t).L];
  const coil = own?.kind === 'inductor' ? own : shelf.find((p) => p.kind === 'inductor');
  if (kind === 'filter' && !coil) return fail('branch', 'branches', 'the shelf has no inductor', 'add one');
  const parts: Record<string, Part> = { ...d.parts, [C]: { ...capacitor, count: null } };
  if (kind === 'filter') parts[L] = { ...(coil as InductorPart), inductance: null };
  if (kind === 'clamp') parts[D] = diode!;
  const branches = { ...d.branches, [id]: branch };
  // Then the best of the shelf for what these places carry.
  const hung: Design = { ...d, branches, parts };
  const after = topologyOf(hung)!;
  const spec = sizingInputOf(hung);
  for (const slot of kind === 'filter' ? [L, C] : kind === 'clamp' ? [D, C] : [C]) {
    const [best] = suggest(after, spec, after.size(spec), slot, shelf);
    if (best) parts[slot] = best.part;
  }
  return editDesign(d, { branches, parts });
}

/** The design without a branch and its parts. */
export function dropBranch(d: Design, id: string): Result<Design> {
  const { C, L, D } = slotsOf(id);
  return editDesign(d, {
    branches: Object.fromEntries(Object.entries(d.branches ?? {}).filter(([key]) => key !== id)),
    parts: Object.fromEntries(Object.entries(d.parts).filter(([key]) => key !== C && key !== L && key !== D)),
  });
}

/** The part whose place shows a branch: its capacitor. */
export const branchSlot = (id: string): string => slotsOf(id).C;
