import type { Slice } from './run';

/** Figures of a trace of a run, in whole or between two times. */
export interface Reading {
  least: number;
  leastAt: number;
  most: number;
  mostAt: number;
  /** Middle of what is seen at the end */
  last: number;
}

/** Slices of a run that follow one another, as one. */
export function joined(slices: readonly Slice[]): Omit<Slice, 'end'> | undefined {
  const [first, ...rest] = slices;
  if (!first) return undefined;
  const all = (of: (s: Slice) => Float64Array[]): Float64Array[] => of(first).map((_, i) => Float64Array.from(slices.flatMap((s) => [...of(s)[i]!])));
  return { edges: [...first.edges, ...rest.flatMap((s) => s.edges.slice(1))], least: all((s) => s.least), most: all((s) => s.most) };
}

/** Least and most of a trace, to its bins in time; between two times (s), in whole where none are given. */
export function readTrace({ edges, least, most }: Omit<Slice, 'end'>, trace: number, from = -Infinity, to = Infinity): Reading | undefined {
  const found: Reading = { least: Infinity, leastAt: NaN, most: -Infinity, mostAt: NaN, last: NaN };
  for (let k = 0; k < edges.length - 1; k++) {
    const [a, b] = [edges[k]!, edges[k + 1]!];
    if (b < from || a > to) continue;
    const [low, high] = [least[trace]![k]!, most[trace]![k]!];
    if (low < found.least) [found.least, found.leastAt] = [low, (a + b) / 2];
    if (high > found.most) [found.most, found.mostAt] = [high, (a + b) / 2];
    found.last = (low + high) / 2;
  }
  return found.least <= found.most ? found : undefined;
}

/** The middle of what a trace does about a time (s): of the bin that it falls into, the first or last beyond the ends. */
export function middleAt({ edges, least, most }: Omit<Slice, 'end'>, trace: number, t: number): number {
  const after = edges.findIndex((e) => e > t);
  const k = Math.min(edges.length - 2, Math.max(0, (after < 0 ? edges.length : after) - 1));
  return (least[trace]![k]! + most[trace]![k]!) / 2;
}
