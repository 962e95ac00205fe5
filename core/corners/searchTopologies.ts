import { chooseTopology, wishesOf } from '../choice';
import type { Design } from '../design/schema';
import type { Part } from '../parts/schema';
import { fail, ok, type Problem, type Result } from '../problem';
import { TOPOLOGIES, topologyNamed } from '../topology';
import { freedomsOffered } from './freedoms';
import { search, type SearchAsked, type SearchFound } from './search';
import type { RegionVerdict } from './worst';

/** A topology searched: the design that it began with, and what was found of it; or why it can not serve. */
export type TopologySearched = { id: string; title: string } & ({ begin: Design; asked: SearchAsked; found: SearchFound } | { problem: Problem });

/**
 * A search in several topologies: each takes parts of the shelf for the brief, is free in what is usual, and is searched by the same aims and
 * seed. Those that hold come first, by what is aimed at in its order; then those that do not.
 * @param ids of topologies; all there are where left out
 * @returns problem "unknown" where one is none, those of a search that can not be begun
 */
export function searchTopologies(d: Design, ids: readonly string[] | undefined, asked: Omit<SearchAsked, 'freedoms'>, shelf: readonly Part[], region: (d: Design) => RegionVerdict): Result<TopologySearched[]> {
  const unknown = ids?.find((id) => !topologyNamed(id));
  if (unknown !== undefined) return fail('unknown', 'topology', `"${unknown}" is not a topology here`, `choose ${TOPOLOGIES.map((t) => t.id).join(', ')}`);
  const out: TopologySearched[] = [];
  for (const { id, title } of TOPOLOGIES) {
    if (ids && !ids.includes(id)) continue;
    const begin = id === d.topology ? ok(d) : chooseTopology(d, id, shelf, wishesOf(d.requirements));
    if (!begin.ok) {
      out.push({ id, title, problem: begin.problem });
      continue;
    }
    const own = { ...asked, freedoms: freedomsOffered(begin.value, shelf).filter((o) => o.usual).map((o) => o.freedom) };
    const found = search(begin.value, own, region);
    out.push(found.ok ? { id, title, begin: begin.value, asked: own, found: found.value } : { id, title, problem: found.problem });
  }
  const rank = (s: TopologySearched): readonly number[] => ('problem' in s ? [2] : [s.found.everywhere ? 0 : s.found.holds ? 0.5 : 1, ...(s.found.best?.aims ?? [])]);
  const before = (a: readonly number[], b: readonly number[]): number => {
    for (let k = 0; k < Math.min(a.length, b.length); k++) if (a[k] !== b[k]) return a[k]! - b[k]!;
    return 0;
  };
  return ok(out.sort((a, b) => before(rank(a), rank(b))));
}
