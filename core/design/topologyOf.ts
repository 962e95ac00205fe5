import { withBranches } from '../branches';
import { topologyNamed, type Topology } from '../topology';
import type { Design } from './schema';

/** The topology of a design with its branches; undefined when there is none of that name. */
export function topologyOf(d: Pick<Design, 'topology' | 'branches'>): Topology | undefined {
  const base = topologyNamed(d.topology);
  return base && withBranches(base, d.branches ?? {});
}
