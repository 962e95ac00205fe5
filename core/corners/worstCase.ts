import type { Design, RequirementId } from '../design/schema';
import type { OperatingPoint } from '../topology';
import { meets, requirementNamed } from './requirements';
import { judgedOff, type Tolerance } from './spread';

/** A requirement at a point with all values at their worst: by the slopes of each alone, summed and as a root of squares, and solved with all of them there. */
export interface WorstCase {
  nominal: number;
  /** Sum of what each moves it by, the worse way; root of the sum of their squares, each three standard deviations */
  extreme: number;
  rootSquare: number;
  /** With every value at one of its ends: the vertex that slopes point to, or a worse one reached along its edges */
  vertex: number;
  holds: boolean;
  /** The values that move it most, and by how much to their worse end */
  by: { title: string; path: string; by: number }[];
}

/** Standard deviations of a uniform spread's end, of a truncated one's; a normal one ends at three */
const SIGMAS = { uniform: Math.sqrt(3), truncated: 1 / 0.5396, normal: 3 } as const;

/** Times that all edges from a vertex are tried at most */
const ROUNDS = 3;

/**
 * The worst case of a requirement by sensitivity and by vertices.
 * Source: extreme value and root-sum-square analysis as in any text on worst-case circuit analysis; monotonic figures have their extreme at a
 * vertex; others are followed from vertex to vertex.
 * @returns undefined where the requirement has no figure there
 */
export function worstCase(d: Design, tolerances: readonly Tolerance[], id: RequirementId, point: OperatingPoint): WorstCase | undefined {
  const at = (off: readonly number[]): number | undefined => judgedOff(d, tolerances, off, [point]).value[id];
  const none = tolerances.map(() => 0);
  const nominal = at(none);
  if (nominal === undefined || !Number.isFinite(nominal)) return undefined;
  const worse = requirementNamed(id).direction === 'at most' ? 1 : -1;
  // The first of what is matched takes the others with it.
  const matched = d.tolerances?.matched ?? [];
  const alone = (k: number): number[] => {
    const group = matched.find((g) => g.includes(tolerances[k]!.slot));
    return tolerances.map((t, i) => (i === k || (group?.includes(t.slot) && t.key === tolerances[k]!.key) ? t.share : 0));
  };
  const moves = tolerances.map((_, k) => {
    const v = at(alone(k));
    return v === undefined || !Number.isFinite(v) ? 0 : v - nominal;
  });
  const counted = tolerances.map((t, k) => {
    const group = matched.find((g) => g.includes(t.slot));
    return !group || tolerances.findIndex((x) => x.key === t.key && group.includes(x.slot)) === k;
  });
  // From the vertex that slopes point to, along its edges, the values that move most first, until no neighbour is worse.
  const sign = moves.map((m) => Math.sign(m * worse) || 1);
  const there = (): number => at(tolerances.map((t, k) => t.share * sign[k]!)) ?? NaN;
  let vertex = there();
  const order = moves.map((_, k) => k).sort((a, b) => Math.abs(moves[b]!) - Math.abs(moves[a]!));
  for (let round = 0, better = true; better && round < ROUNDS; round++) {
    better = false;
    for (const k of order) {
      if (!counted[k]) continue;
      const own = tolerances.flatMap((_, i) => (alone(k)[i]! > 0 ? [i] : []));
      for (const i of own) sign[i]! *= -1;
      const beside = there();
      if (worse * (beside - vertex) > 0) [vertex, better] = [beside, true];
      else for (const i of own) sign[i]! *= -1;
    }
  }
  const share = moves.map((m, k) => (counted[k] ? Math.abs(m) : 0));
  return {
    nominal,
    extreme: nominal + worse * share.reduce((a, b) => a + b, 0),
    rootSquare: nominal + worse * Math.sqrt(share.reduce((a, m, k) => a + ((3 * m) / SIGMAS[tolerances[k]!.shape]) ** 2, 0)),
    vertex,
    holds: meets(id, d.requirements[id].limit, vertex),
    by: tolerances.map((t, k) => ({ title: t.title, path: t.path, by: worse * share[k]! })).sort((a, b) => Math.abs(b.by) - Math.abs(a.by)),
  };
}
