import { solveInPlace } from '../linear/dense';
import { REFERENCE, type Circuit, type Element } from './elements';
import { pieceOf } from './devices';
import { endsOf, isSource, tonesOf, type Layout } from './layout';

/**
 * Where a conducting diode hangs only on inductors and leakages, the currents of those inductors are one but for the
 * leakage: their difference dies within G·L, a millionth of a nanosecond. Kept as a state of its own among states of
 * amperes it would be known to their rounding alone, and the node's voltage to that over the leakage. So it is
 * eliminated: the difference i_c takes a column in place of one of the inductors, in which nothing cancels, and is
 * slaved to the rest, i_c = K z (the slow manifold of the stiff system; Kokotović, Khalil, O'Reilly, "Singular
 * Perturbation Methods in Control", ch. 2), solved from
 *
 *   K (F_oo + F_oc K) = F_co + F_cc K
 *
 * What a state is off that manifold when the pattern begins dies at once; the inductors share it as their
 * inductances have it (`entry`).
 */
export interface Island {
  /** i_c by the columns of z: what leaves the island through inductors and sources */
  row: Float64Array;
  /** Column of the inductor whose place i_c takes */
  pivot: number;
}

/** Leaves an island unless it is one of these: what sets no voltage. */
const leaves = (e: Element, segment: number, low: number): boolean => {
  if (e.kind === 'inductor') return !e.saturation;
  if (e.kind === 'current-source') return true;
  const piece = pieceOf(e, segment);
  return piece !== undefined && piece.conductance >= 0 && piece.conductance <= low && (piece.conductance > 0 || piece.offset === 0);
};

/** Groups of nodes that hang on inductors, current sources and leakages (up to `low` S) alone, with the current that leaves each. */
export function islandsOf(circuit: Circuit, segment: (id: string) => number, layout: Layout, low: number): Island[] {
  const parent = new Map<string, string>();
  const find = (x: string): string => {
    let at = x;
    while ((parent.get(at) ?? at) !== at) at = parent.get(at)!;
    return at;
  };
  const outside: Element[] = [];
  for (const e of circuit.elements) {
    if (leaves(e, segment(e.id), low)) outside.push(e);
    else for (const [a, b] of endsOf(e)) if (find(a) !== find(b)) parent.set(find(a), find(b));
  }
  const ground = find(REFERENCE);
  const rows = new Map<string, Float64Array>();
  for (const e of outside) {
    if (e.kind !== 'inductor' && e.kind !== 'current-source') {
      // Leakages make a node an island too, where nothing else holds it; their currents are what leaves.
      continue;
    }
    const columns = isSource(e) ? [e.id, ...tonesOf(e.value).map((_, k) => `${e.id} tone ${k}`)] : [e.id];
    const [from, to] = [find((e as { a: string }).a), find((e as { b: string }).b)];
    if (from === to) continue;
    for (const [root, sign] of [[from, 1], [to, -1]] as const) {
      if (root === ground) continue;
      let row = rows.get(root);
      if (!row) rows.set(root, (row = new Float64Array(layout.size)));
      for (const c of columns) row[layout.column.get(c)!]! += sign;
    }
  }
  const coils = circuit.elements.filter((e) => e.kind === 'inductor' && !e.saturation).map((e) => layout.column.get(e.id)!);
  // Rows among themselves: an inductor between two islands stands in both.
  const islands: Island[] = [];
  for (const row of rows.values()) {
    const left = row.slice();
    for (const other of islands) {
      const f = left[other.pivot]! / other.row[other.pivot]!;
      if (f !== 0) for (let j = 0; j < left.length; j++) left[j]! -= f * other.row[j]!;
    }
    const pivot = coils.find((c) => Math.abs(left[c]!) > 0.5);
    if (pivot !== undefined) islands.push({ row: left, pivot });
  }
  return islands;
}

/** The inductor of each pivot by the columns in which i_c has taken its place. */
export function withoutPivots(islands: readonly Island[], size: number): Map<number, Float64Array> {
  const out = new Map<number, Float64Array>();
  // Later rows hold no earlier pivot, so they are resolved first.
  for (const { row, pivot } of [...islands].reverse()) {
    const expression = row.map((v) => -v / row[pivot]!);
    expression[pivot] = 1 / row[pivot]!;
    for (const [other, known] of out) {
      const f = expression[other]!;
      if (f === 0) continue;
      expression[other] = 0;
      for (let j = 0; j < size; j++) expression[j]! += f * known[j]!;
    }
    out.set(pivot, expression);
  }
  return out;
}

/** The slaved currents of a system in the columns of withoutPivots, and what their transient leaves behind. */
export interface Slaved {
  /** i_c = K z, by island; nothing in the columns of pivots */
  K: Float64Array[];
  /** What each column gains per ampere that i_c is off, by island */
  gain: Float64Array[];
}

const ROUNDS = 40;

/**
 * Solve for the slow manifold.
 * @param F size × size, in the columns of withoutPivots
 * @param slower s: the time that the fast ones have to be short against, by FAST
 * @returns undefined where they are not fast enough to be slaved
 */
export function slave(F: Float64Array, size: number, pivots: readonly number[], slower: number): Slaved | undefined {
  const m = pivots.length;
  const fast = new Float64Array(m * m);
  pivots.forEach((p, i) => pivots.forEach((q, j) => (fast[i * m + j] = F[p * size + q]!)));
  // Each has to be fast by itself, and none to grow.
  if (pivots.some((p) => !(-F[p * size + p]! * slower > FAST))) return undefined;
  const inverse = new Float64Array(m * m);
  for (let i = 0; i < m; i++) inverse[i * (m + 1)] = 1;
  if (solveInPlace(fast.slice(), inverse, m, m) >= 0) return undefined;
  const isPivot = new Uint8Array(size);
  for (const p of pivots) isPivot[p] = 1;
  /** Fcc⁻¹ times a set of rows. */
  const solve = (rows: readonly Float64Array[]): Float64Array[] => pivots.map((_, i) => {
    const out = new Float64Array(size);
    rows.forEach((r, j) => r.forEach((v, k) => (out[k]! += inverse[i * m + j]! * v)));
    return out;
  });
  const along = pivots.map((p) => F.slice(p * size, (p + 1) * size).map((v, j) => (isPivot[j] ? 0 : -v)));
  let K = solve(along);
  for (let round = 0; round < ROUNDS; round++) {
    // K F_red with F_red = F_oo + F_oc K
    const moved = K.map((k) => {
      const out = new Float64Array(size);
      for (let i = 0; i < size; i++) {
        if (k[i] === 0 || isPivot[i]) continue;
        for (let j = 0; j < size; j++) if (!isPivot[j]) out[j]! += k[i]! * F[i * size + j]!;
        pivots.forEach((p, q) => {
          const f = k[i]! * F[i * size + p]!;
          if (f !== 0) K[q]!.forEach((v, j) => (out[j]! += f * v));
        });
      }
      return out;
    });
    const next = solve(moved.map((r, i) => r.map((v, j) => v + along[i]![j]!)));
    let [change, most] = [0, 0];
    next.forEach((r, i) => r.forEach((v, j) => {
      change = Math.max(change, Math.abs(v - K[i]![j]!));
      most = Math.max(most, Math.abs(v));
    }));
    K = next;
    if (!Number.isFinite(change)) return undefined;
    if (change <= 1e-15 * most) {
      const gain = pivots.map((_, i) => {
        const out = new Float64Array(size);
        for (let r = 0; r < size; r++) if (!isPivot[r]) pivots.forEach((p, j) => (out[r]! -= F[r * size + p]! * inverse[j * m + i]!));
        return out;
      });
      return { K, gain };
    }
  }
  return undefined;
}

/** How many of their time constants a period has to hold: what they leave out is one part of that, of a leakage's current. */
const FAST = 1e7;
