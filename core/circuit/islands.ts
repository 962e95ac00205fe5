import { solveInPlace } from '../linear/dense';
import { eigenvalues } from '../linear/eigen';
import { REFERENCE, type Circuit, type Element, type ElementOf } from './elements';
import { pieceOf } from './devices';
import { endsOf, isSource, tonesOf, type Layout } from './layout';

/**
 * Where a conducting diode hangs only on inductors and leakages, or a winding by way of the others on leakages alone,
 * the currents of those inductors are one but for the leakage: their difference dies within G·L, a millionth of a
 * nanosecond. Kept as a state of its own among states of amperes it would be known to their rounding alone, and the
 * node's voltage to that over the leakage. So it is eliminated: the difference i_c takes a column in place of one of
 * the inductors, in which nothing cancels, and is slaved to the rest, i_c = K z (the slow manifold of the stiff system;
 * Kokotović, Khalil, O'Reilly, "Singular Perturbation Methods in Control", ch. 2), solved from
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

/**
 * Where voltages can move together with nothing but inductors, current sources and leakages (up to `low` S) to mind: groups
 * of nodes, or several of them with the windings that tie their voltages together. With each the current that leaves
 * it: Σ u(a) − u(b) times the current from a to b, for the voltages u of such a movement (Tellegen).
 */
export function islandsOf(circuit: Circuit, segment: (id: string) => number, layout: Layout, low: number): Island[] {
  const parent = new Map<string, string>();
  const find = (x: string): string => {
    let at = x;
    while ((parent.get(at) ?? at) !== at) at = parent.get(at)!;
    return at;
  };
  const drives: (ElementOf<'inductor'> | ElementOf<'current-source'>)[] = [];
  const transformers: ElementOf<'transformer'>[] = [];
  for (const e of circuit.elements) {
    if (e.kind === 'transformer') transformers.push(e);
    else if (!leaves(e, segment(e.id), low)) {
      for (const [a, b] of endsOf(e)) if (find(a) !== find(b)) parent.set(find(a), find(b));
    } else if (e.kind === 'inductor' || e.kind === 'current-source') drives.push(e);
  }
  const ground = find(REFERENCE);
  /** What leaves each group */
  const rows = new Map<string, Float64Array>();
  const rowOf = (root: string): Float64Array => {
    let row = rows.get(root);
    if (!row) rows.set(root, (row = new Float64Array(layout.size)));
    return row;
  };
  for (const e of drives) {
    const columns = isSource(e) ? [e.id, ...tonesOf(e.value).map((_, k) => `${e.id} tone ${k}`)] : [e.id];
    const [from, to] = [find(e.a), find(e.b)];
    if (from === to) continue;
    for (const [root, sign] of [[from, 1], [to, -1]] as const) if (root !== ground) for (const c of columns) rowOf(root)[layout.column.get(c)!]! += sign;
  }
  for (const t of transformers) for (const w of t.windings) for (const root of [find(w.a), find(w.b)]) if (root !== ground) rowOf(root);
  const coils = circuit.elements.flatMap((e) => (e.kind === 'inductor' && !e.saturation ? [{ column: layout.column.get(e.id)!, inductance: e.inductance }] : [])).sort((a, b) => a.inductance - b.inductance);
  // Rows among themselves: an inductor between two islands stands in both.
  const islands: Island[] = [];
  for (const u of movements(transformers, [...rows.keys()], find)) {
    const left = new Float64Array(layout.size);
    for (const [root, row] of rows) {
      const f = u.get(root);
      if (f) row.forEach((v, j) => (left[j]! += f * v));
    }
    for (const other of islands) {
      const f = left[other.pivot]! / other.row[other.pivot]!;
      if (f !== 0) for (let j = 0; j < left.length; j++) left[j]! -= f * other.row[j]!;
    }
    const most = Math.max(0, ...coils.map((c) => Math.abs(left[c.column]!)));
    // The smallest inductor of those that can: its own rate, slaved, would be what is left of terms a hundred million times as large.
    const pivot = coils.find((c) => Math.abs(left[c.column]!) > Math.max(most / 2, NOTHING))?.column;
    if (pivot === undefined) continue;
    // In amperes of that inductor, whatever the turns: how far currents disagree is held against the largest of them.
    const size = Math.abs(left[pivot]!);
    islands.push({ row: left.map((v) => v / size), pivot });
  }
  return islands;
}

/** Voltages per turn are of the order of one: less is what elimination leaves of nothing. */
const NOTHING = 1e-9;

/** The ways in which the voltages of groups can move with all windings of each transformer at the same voltage a turn. */
function movements(transformers: readonly ElementOf<'transformer'>[], roots: readonly string[], find: (node: string) => string): Map<string, number>[] {
  const at = new Map(roots.map((root, i) => [root, i]));
  const n = roots.length;
  // Reduced rows: each has a group of its own, which the others are eliminated of.
  const ties: { own: number; row: Float64Array }[] = [];
  for (const { windings } of transformers)
    for (const w of windings.slice(1)) {
      const row = new Float64Array(n);
      for (const [{ a, b, turns }, sign] of [[w, 1], [windings[0]!, -1]] as const)
        for (const [node, way] of [[a, 1], [b, -1]] as const) {
          const i = at.get(find(node));
          if (i !== undefined) row[i]! += (sign * way) / turns * windings[0]!.turns;
        }
      for (const t of ties) eliminate(row, t);
      let own = 0;
      for (let i = 1; i < n; i++) if (Math.abs(row[i]!) > Math.abs(row[own]!)) own = i;
      if (!(Math.abs(row[own] ?? 0) > NOTHING)) continue;
      const tie = { own, row: row.map((v) => v / row[own]!) };
      for (const t of ties) eliminate(t.row, tie);
      ties.push(tie);
    }
  const tied = new Set(ties.map((t) => t.own));
  return roots.flatMap((root, i) => (tied.has(i) ? [] : [new Map([[root, 1], ...ties.flatMap((t): [string, number][] => (t.row[i] === 0 ? [] : [[roots[t.own]!, -t.row[i]!]]))])]));
}

function eliminate(row: Float64Array, { own, row: by }: { own: number; row: Float64Array }): void {
  const f = row[own]!;
  if (f !== 0) for (let i = 0; i < row.length; i++) row[i]! -= f * by[i]!;
  row[own] = 0;
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

/**
 * Those of the islands that are fast enough to be slaved together, the others kept as the inductors they are; told from
 * the system with all of them in their columns. With i = P L for the currents of their inductors L, those of a choice S
 * with the rest R held have the rates A_SS + A_SR P_RS P_SS⁻¹.
 * @param F size × size, in the columns of withoutPivots for all islands
 * @param slower s, as `slave` has it
 */
export function fastAmong(F: Float64Array, size: number, islands: readonly Island[], slower: number): Island[] {
  const fast: Island[] = [];
  for (const island of islands) {
    const some = [...fast, island];
    const rest = islands.filter((i) => !some.includes(i));
    const m = some.length;
    // Transposed, so that P_SS⁻¹ stands on the right: P_SSᵀ Xᵀ = P_RSᵀ.
    const across = new Float64Array(m * rest.length);
    const own = new Float64Array(m * m);
    some.forEach((s, k) => {
      some.forEach((t, j) => (own[k * m + j] = t.row[s.pivot]!));
      rest.forEach((r, j) => (across[k * rest.length + j] = r.row[s.pivot]!));
    });
    if (solveInPlace(own, across, m, rest.length) >= 0) continue;
    const rates = new Float64Array(m * m);
    some.forEach((s, i) => some.forEach((t, k) => {
      const along = (to: Island): number => F[s.pivot * size + to.pivot]!;
      rates[i * m + k] = along(t) + rest.reduce((sum, r, j) => sum + along(r) * across[k * rest.length + j]!, 0);
    }));
    if (slowestOf(rates, m) * slower > FAST) fast.push(island);
  }
  return fast;
}

/** 1/s of what dies slowest of m × m rates; negative where something grows. */
const slowestOf = (rates: Float64Array, m: number): number => Math.min(...(m === 1 ? [-rates[0]!] : eigenvalues(rates, m).map((v) => -v.re)));

/** The slaved currents of a system in the columns of withoutPivots, and what their transient leaves behind. */
export interface Slaved {
  /** i_c = K z, by island; nothing in the columns of pivots */
  K: Float64Array[];
  /** What each column gains per ampere that i_c is off, by island */
  gain: Float64Array[];
  /** s: the time constant of the slowest of them */
  time: number;
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
  // Each of their modes has to be fast, and none to grow.
  const slowest = slowestOf(fast, m);
  if (!(slowest * slower > FAST)) return undefined;
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
      return { K, gain, time: 1 / slowest };
    }
  }
  return undefined;
}

/** How many of their time constants a period has to hold: what they leave out is one part of that, of a leakage's current. */
const FAST = 1e7;
