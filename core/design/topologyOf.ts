import { BRANCHES, withBranches } from '../branches';
import { slotsOf } from '../branches/branch';
import { topologyNamed, type Topology } from '../topology';
import type { Design } from './schema';

/** The topology of a design with its branches; undefined when there is none of that name. */
export function topologyOf(d: Pick<Design, 'topology' | 'branches'>): Topology | undefined {
  const base = topologyNamed(d.topology);
  return base && withBranches(base, d.branches ?? {});
}

/** The design with nothing between line and power stage. */
export function withoutLineFilter(d: Design): Design {
  const front = Object.entries(d.branches ?? {}).filter(([, b]) => BRANCHES[b.kind].line);
  if (front.length === 0) return d;
  const gone = new Set(front.flatMap(([id]) => Object.values(slotsOf(id))));
  const kept = Object.entries(d.branches!).filter(([, b]) => !BRANCHES[b.kind].line);
  const { branches: _, ...rest } = d;
  return { ...rest, ...(kept.length > 0 ? { branches: Object.fromEntries(kept) } : {}), parts: Object.fromEntries(Object.entries(d.parts).filter(([slot]) => !gone.has(slot))) };
}
