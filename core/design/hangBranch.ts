import type { CapacitorPart, InductorPart, Part } from '../parts/schema';
import { fail, type Result } from '../problem';
import { placesOf, takesBranches, topologyOf } from './branches';
import { suggest } from './choose';
import { editDesign } from './edit';
import type { Branch, Design } from './schema';
import { specOf } from './spec';

const MOST = 4;

/**
 * A design with one more branch on its output, its parts those of the output filter until others are chosen.
 * Problem "branch": the topology has no place for one, or there are enough.
 */
export function hangBranch(d: Design, kind: Branch['kind'], shelf: readonly Part[]): Result<Design> {
  const t = topologyOf(d);
  if (!t || !takesBranches(t)) return fail('branch', 'branches', 'this power stage has no output capacitor to hang one beside', 'take a topology with one');
  const id = Array.from({ length: MOST }, (_, k) => `B${k + 1}`).find((x) => !d.branches?.[x]);
  if (!id) return fail('branch', 'branches', `there are ${MOST} branches already`, 'take one away first');
  const { C, L } = placesOf(id);
  const coil = d.parts.L1?.kind === 'inductor' ? d.parts.L1 : shelf.find((p) => p.kind === 'inductor');
  if (kind === 'filter' && !coil) return fail('branch', 'branches', 'the shelf has no inductor', 'add one');
  const parts: Record<string, Part> = { ...d.parts, [C]: { ...(d.parts.C2 as CapacitorPart), count: null } };
  if (kind === 'filter') parts[L] = { ...(coil as InductorPart), inductance: null };
  const branches = { ...d.branches, [id]: { kind, resistance: null } };
  // Then the best of the shelf for what these places carry.
  const hung: Design = { ...d, branches, parts };
  const after = topologyOf(hung)!;
  const spec = specOf(hung);
  for (const place of kind === 'filter' ? [L, C] : [C]) {
    const [best] = suggest(after, spec, after.size(spec), place, shelf);
    if (best) parts[place] = best.part;
  }
  return editDesign(d, { branches, parts });
}

/** The design without a branch and its parts. */
export function dropBranch(d: Design, id: string): Result<Design> {
  const { C, L } = placesOf(id);
  return editDesign(d, {
    branches: Object.fromEntries(Object.entries(d.branches ?? {}).filter(([key]) => key !== id)),
    parts: Object.fromEntries(Object.entries(d.parts).filter(([key]) => key !== C && key !== L)),
  });
}

/** The part whose place shows a branch: its capacitor. */
export const branchPlace = (id: string): string => placesOf(id).C;
