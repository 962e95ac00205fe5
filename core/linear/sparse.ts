/** Rows by their entries that are not nothing: those of row k from `from[k]` to `from[k + 1]`. */
export interface Sparse {
  from: Int32Array;
  at: Int32Array;
  by: Float64Array;
}

/** The sparse form of some rows. */
export function sparse(rows: readonly Float64Array[]): Sparse {
  const entries = rows.map((row) => [...row.keys()].filter((i) => row[i] !== 0));
  const from = new Int32Array(rows.length + 1);
  entries.forEach((e, k) => (from[k + 1] = from[k]! + e.length));
  return { from, at: Int32Array.from(entries.flat()), by: Float64Array.from(entries.flatMap((e, k) => e.map((i) => rows[k]![i]!))) };
}

/** Row k · z */
export function dotSparse({ from, at, by }: Sparse, k: number, z: Float64Array): number {
  let sum = 0;
  for (let i = from[k]!, end = from[k + 1]!; i < end; i++) sum += by[i]! * z[at[i]!]!;
  return sum;
}
