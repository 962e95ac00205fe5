import { recent } from '../recent';
import { copiesOf, type Slot, type Topology } from '../topology';
import { ringingOf } from '../topology/common';
import type { Branch } from './branch';
import { clamp } from './clamp';
import { damping } from './damping';
import { filter } from './filter';
import { bead } from './bead';
import { lineFilter } from './lineFilter';
import { regulator } from './regulator';
import { snubber } from './snubber';
import type { Added, BranchKind } from './types';

/** Branches that can be hung on a power stage; a new one is a file beside the others, a line here and its id in ./branch. */
export const BRANCHES: Readonly<Record<Branch['kind'], BranchKind>> = { damping, filter, 'line-filter': lineFilter, bead, regulator, snubber, clamp };

/** Can branches be hung on this topology's output? Where an output capacitor stands, that is no reservoir. */
export const takesBranches = (t: Topology): boolean => t.slots.some((p) => p.id === ringingOf(t).C && p.beats === undefined);

/** Where a branch can hang across a part: one switch or diode, not several alike. */
export const canHangAcross = (t: Topology): Slot[] => t.slots.filter((p) => (p.kind === 'switch' || p.kind === 'diode') && copiesOf(p) === 1 && t.drawing.symbols.some((s) => s.id === p.id));

/** Can this branch hang on this topology, where it says? */
export const hangs = (t: Topology, b: Branch): boolean => {
  const { across, line } = BRANCHES[b.kind];
  return line === true || (across ? canHangAcross(t).some((p) => p.id === b.at) : takesBranches(t));
};

/** Topologies with branches that are kept, so that what is known of one is found again */
const find = recent<string, Topology>(64);

/** A topology with branches hung on it, in their order: one like any other, of what it has and what they add. Those that can not hang there are left out with all others. */
export function withBranches(base: Topology, branches: Readonly<Record<string, Branch>>): Topology {
  const list = Object.entries(branches);
  if (list.length === 0 || list.some(([, b]) => !hangs(base, b))) return base;
  return find(`${base.id} ${JSON.stringify(list)}`, () => list.reduce((t, [id, b]) => joined(t, BRANCHES[b.kind].on(t, id, b)), base));
}

/** A power stage and what a branch adds to it. */
const joined = (t: Topology, added: Added): Topology => ({
  ...t,
  slots: [...t.slots, ...added.slots],
  signals: [...t.signals, ...added.signals],
  drawing: added.drawing,
  ringing: added.ringing ?? t.ringing,
  ...(added.fedAt ? { fedAt: added.fedAt } : {}),
  blanking: added.blanking ?? t.blanking,
  size(input) {
    const own = t.size(input);
    const more = added.size(input, own);
    return { ...own, values: { ...own.values, ...more.values }, blocking: { ...own.blocking, ...more.blocking } };
  },
  forecast(input, sizing, point) {
    const own = t.forecast(input, sizing, point);
    const more = added.forecast(input, sizing, own, point);
    return { ...own, ...more, parts: { ...own.parts, ...more.parts } };
  },
  stage(f, input, sizing, point) {
    t.stage(f, input, sizing, point);
    f.whole();
    const before = f.elements.length;
    added.put(f, sizing);
    if (added.fedAt) f.inFront(f.elements.slice(before));
  },
  start: (input, sizing, point) => ({ ...t.start(input, sizing, point), ...added.start?.(input, sizing, point) }),
  crossoverLimit: (input, sizing, point) => Math.min(t.crossoverLimit(input, sizing, point), added.crossoverLimit?.(sizing) ?? Infinity),
});
