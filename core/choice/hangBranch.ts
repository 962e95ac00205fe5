import type { CapacitorPart, Part } from '../parts/schema';
import { fail, type Result } from '../problem';
import { BRANCHES, hangs } from '../branches';
import { BRANCH_IDS, slotsOf, type Branch, type BranchSlot } from '../branches/branch';
import { USUAL_BEAD } from '../branches/bead';
import { STRAY } from '../branches/loop';
import { usualRegulator } from '../branches/regulator';
import { filledBy, type BranchKind } from '../branches/types';
import { crestOf } from '../surroundings/mains';
import { topologyOf } from '../design/topologyOf';
import type { Topology } from '../topology';
import { ringingOf } from '../topology/common';
import { suggest } from './suggest';
import { editDesign } from '../design/edit';
import type { Design } from '../design/schema';
import { sizingInputOf } from '../design/sizingInput';

/** How a branch is hung: across which part; how it is damped. */
export type Hung = Pick<Branch, 'at' | 'damped'>;

/**
 * A design with one more branch on its output, before its line, or across the part in a place, with the best parts of the shelf for it.
 * Problem "branch": the topology has no place for one, or there are enough.
 */
export function hangBranch(d: Design, kind: Branch['kind'], shelf: readonly Part[], how: Hung = {}): Result<Design> {
  const t = topologyOf(d);
  const { at } = how;
  const branch: Branch = { kind, resistance: null, ...(how.damped ? { damped: how.damped } : {}), ...(at === undefined ? {} : { at, stray: STRAY }), ...(kind === 'regulator' ? { regulator: usualRegulator(d.brief.output.voltage) } : {}), ...(kind === 'bead' ? { bead: USUAL_BEAD } : {}) };
  if (!t || !hangs(t, branch))
    return BRANCHES[kind].across ? fail('branch', 'branches', `a ${kind} hangs across one switch or diode, not across ${at ?? 'nothing'}`, 'choose a switch or a diode that is no one of several alike') : fail('branch', 'branches', 'this power stage has no output capacitor to hang one beside', 'take a topology with one');
  const id = BRANCH_IDS.find((x) => !d.branches?.[x]);
  if (!id) return fail('branch', 'branches', `there are ${BRANCH_IDS.length} branches already`, 'take one away first');
  const hung = filled(d, id, branch, shelf, filledBy(BRANCHES[kind], branch));
  if (hung.ok && kind === 'regulator') return editDesign(hung.value, { 'requirements.headroom.on': true });
  // What stands before the line is asked not to ring against the converter.
  return hung.ok && BRANCHES[kind].line ? editDesign(hung.value, { 'requirements.filterMargin.on': true }) : hung;
}

/** The design with a branch damped another way, or not at all; its damping capacitor, where it has one, the best of the shelf. Problem "branch" where it can not be damped. */
export function dampBranch(d: Design, id: string, damped: Branch['damped'], shelf: readonly Part[]): Result<Design> {
  const branch = d.branches?.[id];
  if (!branch || !BRANCHES[branch.kind].damps) return fail('branch', `branches.${id}`, 'there is nothing to damp in it', 'choose a filter');
  const { damped: _, ...rest } = branch;
  const { E } = slotsOf(id);
  const { [E]: had, ...parts } = d.parts;
  const next: Branch = { ...rest, resistance: null, ...(damped ? { damped } : {}) };
  if (damped !== 'parallel') return editDesign(d, { branches: { ...d.branches, [id]: next }, parts });
  return had ? editDesign(d, { branches: { ...d.branches, [id]: next } }) : filled({ ...d, parts }, id, next, shelf, ['E']);
}

/** The design with a branch in its place, some of its slots filled from the shelf. */
function filled(d: Design, id: string, branch: Branch, shelf: readonly Part[], fills: readonly BranchSlot[]): Result<Design> {
  const t = topologyOf(d)!;
  const slots = slotsOf(id);
  const parts: Record<string, Part> = { ...d.parts };
  for (const slot of fills) {
    const first = FIRST[slot](d, t, shelf, BRANCHES[branch.kind]);
    if (!first) return fail('branch', 'branches', `the shelf has no ${NAMED[slot]}`, 'add one');
    parts[slots[slot]] = first;
  }
  const branches = { ...d.branches, [id]: branch };
  // Then the best of the shelf for what these places carry.
  const hung: Design = { ...d, branches, parts };
  const after = topologyOf(hung)!;
  const input = sizingInputOf(hung);
  for (const slot of fills) {
    const [best] = suggest(after, input, after.size(input), slots[slot], shelf);
    if (best) parts[slots[slot]] = best.part;
  }
  return editDesign(d, { branches, parts });
}

const NAMED: Record<BranchSlot, string> = { C: 'capacitor', L: 'inductor', D: 'diode', E: 'capacitor' };

/** The capacitor to begin with: across a part, and before the line, the smallest, as many as are wanted carry what one of the right size would. */
function firstCapacitor(d: Design, t: Topology, shelf: readonly Part[], { across, line }: Pick<BranchKind, 'across' | 'line'>): Part | undefined {
  const rated = line ? linePeak(d) : 0;
  const smallest = shelf.filter((p) => p.kind === 'capacitor' && p.ratedVoltage >= rated).sort((a, b) => (a as CapacitorPart).capacitance - (b as CapacitorPart).capacitance)[0];
  const own = d.parts[line ? 'C1' : ringingOf(t).C];
  const found = !across && own?.kind === 'capacitor' ? own : smallest;
  return found && ({ ...found, count: null } as Part);
}

const linePeak = ({ brief: { line } }: Design): number => (line.mains === undefined ? line.max : crestOf(line.max));

/** A part to begin with in each slot, of those that the design has where it has one like it: what carries is known with it, and then the best is chosen. */
const FIRST: Record<BranchSlot, (d: Design, t: Topology, shelf: readonly Part[], kind: Pick<BranchKind, 'across' | 'line'>) => Part | undefined> = {
  C: firstCapacitor,
  E: firstCapacitor,
  L(d, t, shelf) {
    const own = d.parts[ringingOf(t).L];
    const found = own?.kind === 'inductor' ? own : shelf.find((p) => p.kind === 'inductor');
    return found && { ...found, inductance: null };
  },
  D: (_, __, shelf) => shelf.find((p) => p.kind === 'diode'),
};

/** The design without a branch and its parts. */
export function dropBranch(d: Design, id: string): Result<Design> {
  const own = Object.values(slotsOf(id));
  return editDesign(d, {
    branches: Object.fromEntries(Object.entries(d.branches ?? {}).filter(([key]) => key !== id)),
    parts: Object.fromEntries(Object.entries(d.parts).filter(([key]) => !own.includes(key))),
  });
}

/** The part whose place shows a branch: its capacitor. */
export const branchSlot = (id: string): string => slotsOf(id).C;
