import { slave, withoutPivots, type Island } from './islands';
import type { Pattern } from './pattern';

/** The same with what islands have in place of some inductors eliminated; undefined where they are not fast enough. */
export function reduce(p: Pattern, islands: readonly Island[], slower: number): Pattern | undefined {
  const { size, layout } = p;
  const pivots = islands.map((i) => i.pivot);
  const slaved = slave(p.F, size, pivots, slower);
  if (!slaved) return undefined;
  const { K, gain, time } = slaved;
  const slow = (row: Float64Array): Float64Array => {
    const out = row.slice();
    pivots.forEach((c, q) => {
      const f = row[c]!;
      out[c] = 0;
      if (f !== 0) K[q]!.forEach((v, j) => (out[j]! += f * v));
    });
    return out;
  };
  const expressions = withoutPivots(islands, size);
  const F = new Float64Array(size * size);
  for (let r = 0; r < size; r++) if (!pivots.includes(r)) F.set(slow(p.F.slice(r * size, (r + 1) * size)), r * size);
  const own = pivots.map((c) => slow(expressions.get(c)!));
  pivots.forEach((c, q) => {
    const row = new Float64Array(size);
    own[q]!.forEach((f, r) => {
      if (f !== 0) for (let j = 0; j < size; j++) row[j]! += f * F[r * size + j]!;
    });
    F.set(row, c * size);
  });
  /** How far i_c of each island is off where it should be, over z as it was. */
  const off = islands.map(({ row }, q) => row.map((v, j) => v - K[q]![j]!));
  const rows = new Map<number, Float64Array>();
  const rowOf = (c: number): Float64Array => {
    let row = rows.get(c);
    if (!row) {
      row = new Float64Array(size);
      row[c] = 1;
    }
    return row;
  };
  for (let r = 0; r < size; r++) {
    if (gain.every((g) => g[r] === 0)) continue;
    const row = rowOf(r);
    gain.forEach((g, q) => off[q]!.forEach((v, j) => (row[j]! += g[r]! * v)));
    rows.set(r, row);
  }
  const after = pivots.map((_, q) => {
    const row = new Float64Array(size);
    own[q]!.forEach((f, r) => {
      if (f !== 0) rowOf(r).forEach((v, j) => (row[j]! += f * v));
    });
    return row;
  });
  pivots.forEach((c, q) => rows.set(c, after[q]!));
  /** A row as it is before what is off has died. */
  const early = (row: Float64Array): Float64Array => {
    const out = slow(row);
    pivots.forEach((c, q) => {
      if (row[c] !== 0) off[q]!.forEach((v, j) => (out[j]! += row[c]! * v));
    });
    return out;
  };
  /** What a row afterwards is summed from. */
  const terms = (row: Float64Array): Float64Array => {
    const out = row.map(Math.abs);
    pivots.forEach((c, q) => {
      const f = Math.abs(row[c]!);
      out[c] = 0;
      if (f !== 0) K[q]!.forEach((v, j) => (out[j]! += f * Math.abs(v)));
    });
    return out;
  };
  return {
    ...p,
    F,
    voltage: (a, b) => slow(p.voltage(a, b)),
    current: (id) => slow(p.current(id)),
    entry: { time, off, resets: [...rows].map(([c, row]) => ({ column: c, row })), voltage: (a, b) => early(p.voltage(a, b)), current: (id) => early(p.current(id)), terms: { voltage: (a, b) => terms(p.voltage(a, b)), current: (id) => terms(p.current(id)) } },
    layout,
  };
}

