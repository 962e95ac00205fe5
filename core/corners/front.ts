/**
 * Things that are better in several ways, none above the others: which of them nothing else beats.
 *
 * Source: Deb, Pratap, Agarwal, Meyarivan, "A fast and elitist multiobjective genetic algorithm: NSGA-II", IEEE Trans. Evolutionary
 * Computation 6 (2002): rank of non-domination, crowding distance.
 */

/** Is a nowhere worse than b, and better somewhere? The smaller the better. */
export const dominates = (a: readonly number[], b: readonly number[]): boolean => a.every((v, k) => v <= b[k]!) && a.some((v, k) => v < b[k]!);

/** Indices of what nothing else dominates; of equals the first. */
export const frontOf = (of: readonly (readonly number[])[]): number[] =>
  of.flatMap((a, i) => (of.some((b, j) => dominates(b, a) || (j < i && b.every((v, k) => v === a[k]))) ? [] : [i]));

/** Ranks of non-domination: 0 of what nothing dominates, 1 of what only those do, and so on. */
export function ranksOf(of: readonly (readonly number[])[]): number[] {
  const rank = of.map(() => -1);
  for (let level = 0, left = of.length; left > 0; level++) {
    const open = of.flatMap((_, i) => (rank[i]! < 0 ? [i] : []));
    const first = open.filter((i) => !open.some((j) => j !== i && dominates(of[j]!, of[i]!)));
    for (const i of first) rank[i] = level;
    left -= first.length;
  }
  return rank;
}

/** How far apart the neighbours of each stand, as shares of the whole extent, summed: infinite at the ends. */
export function crowding(of: readonly (readonly number[])[]): number[] {
  const out = of.map(() => 0);
  for (let k = 0; k < (of[0]?.length ?? 0); k++) {
    const order = of.map((_, i) => i).sort((a, b) => of[a]![k]! - of[b]![k]!);
    const extent = of[order.at(-1)!]![k]! - of[order[0]!]![k]!;
    out[order[0]!] = out[order.at(-1)!] = Infinity;
    if (!(extent > 0)) continue;
    for (let m = 1; m < order.length - 1; m++) out[order[m]!]! += (of[order[m + 1]!]![k]! - of[order[m - 1]!]![k]!) / extent;
  }
  return out;
}

/** The order of how well things stand: by rank, of one rank the loneliest first, of equals the earlier. */
export function ordered(of: readonly (readonly number[])[]): number[] {
  const rank = ranksOf(of);
  const lonely = new Array<number>(of.length).fill(0);
  for (const level of new Set(rank)) {
    const own = of.flatMap((_, i) => (rank[i] === level ? [i] : []));
    crowding(own.map((i) => of[i]!)).forEach((c, k) => (lonely[own[k]!] = c));
  }
  return of.map((_, i) => i).sort((a, b) => rank[a]! - rank[b]! || (lonely[a] === lonely[b] ? a - b : lonely[b]! - lonely[a]!));
}
