import { solveInPlace } from '../linear/dense';
import { fail, ok, type Result } from '../problem';
import { REFERENCE, type Circuit, type Element, type ElementOf } from './elements';
import { devicesOf, fluxPieceOf, pieceOf, type Segments } from './devices';
import { fastAmong, islandsOf, withoutPivots, type Island } from './islands';
import { inverseInductance } from './coils';
import { reduce } from './reduced';
import { canonical, clippedAt } from './transfer';
import { isSource, layoutOf, nodesOf, order, tonesOf, type Layout } from './layout';

/**
 * One choice of segments of all devices, as a homogeneous linear system z' = F z (see layout).
 * From modified nodal analysis (Ho, Ruehli, Brennan 1975) of the resistive part, with inductors as
 * current sources and capacitors as voltage sources behind their series resistance. Couplings enter
 * through the inverse of the full inductance matrix. Every voltage and current of the circuit is a
 * row times z.
 */
export interface Pattern {
  layout: Layout;
  /** Length of z */
  size: number;
  /** size × size */
  F: Float64Array;
  /** Switches and diodes that conduct, comparators that are high */
  on: ReadonlySet<string>;
  /** Elements whose current is an unknown of its own, good to all its digits */
  byCurrent: ReadonlyMap<string, number>;
  /** Segment of a device */
  segment(id: string): number;
  /** What is eliminated of it (see islands): what that makes of a state that the pattern begins with, and the rows before */
  entry?: Entry;
  /** Row of the voltage between two nodes */
  voltage(a: string, b?: string): Float64Array;
  /** Row of the current through an element, from its node a to b (transformers: "id.k" for winding k) */
  current(id: string): Float64Array;
}

export interface Entry {
  /** s in which what disagrees dies, and by how much it does: A by island, as rows over z before */
  time: number;
  off: Float64Array[];
  /** Columns that change at once, with their rows over z before */
  resets: { column: number; row: Float64Array }[];
  /** Rows at the very beginning, while the currents of inductors that hang on leakages still disagree */
  voltage(a: string, b?: string): Float64Array;
  current(id: string): Float64Array;
  /** Sizes of the terms that the rows afterwards are summed from: what their rounding is relative to */
  terms: Pick<Pattern, 'voltage' | 'current'>;
}

/** Elements whose current is an unknown of its own: "id", or "id.k" for the windings of a transformer. */
const branchNames = (circuit: Circuit): string[] =>
  circuit.elements.flatMap((e) => {
    if (e.kind === 'transformer') return e.windings.map((_, k) => `${e.id}.${k}`);
    if (e.kind === 'sampled-control') return Object.keys(e.outputs).map((name) => `${e.id}.${name}`);
    return ['voltage-source', 'capacitor', 'controlled-voltage', 'current-sense', 'op-amp', 'transfer', 'sampled', 'comparator'].includes(e.kind) ? [e.id] : [];
  });

/** Columns that add up to a source: its value or offset, and its tones. */
const sourceColumns = (e: ElementOf<'voltage-source'> | ElementOf<'current-source'>, { column }: Layout): number[] =>
  [e.id, ...tonesOf(e.value).map((_, k) => `${e.id} tone ${k}`)].map((name) => column.get(name)!);

/** What all patterns of a circuit share, worked out once. */
interface Plan {
  nodes: ReadonlyMap<string, number>;
  /** Unknowns of the branches, after those of the nodes */
  names: readonly string[];
  branchOf: ReadonlyMap<string, number>;
  byId: ReadonlyMap<string, Element>;
  starts: ReadonlyMap<string, number>;
  coils: ReturnType<typeof inverseInductance>;
}

const plans = new WeakMap<Circuit, Plan>();

function planOf(circuit: Circuit): Plan {
  let plan = plans.get(circuit);
  if (!plan) {
    const nodes = nodesOf(circuit);
    const names = branchNames(circuit);
    plan = {
      nodes,
      names,
      branchOf: new Map(names.map((name, i) => [name, nodes.size + i])),
      byId: new Map(circuit.elements.map((e) => [e.id, e])),
      starts: new Map(devicesOf(circuit).map((d) => [d.id, d.start])),
      coils: inverseInductance(circuit),
    };
    plans.set(circuit, plan);
  }
  return plan;
}

/**
 * S: resistances that conduct better than that have their current as an unknown of their own. Where one hangs on
 * inductors and leakages alone, its conductance would be subtracted from itself and take the leakage's digits with it.
 */
const LOW = 1e-4;

/**
 * Build the pattern in which devices are on the given segments; those left out are at their start. Currents that
 * leakages alone hold apart are eliminated where they are faster than `slower` s by far (see islands).
 * Problem "floating" (a node has no path to the rest) or "source-loop" (a voltage fixed twice).
 */
export function buildPattern(circuit: Circuit, segments: Segments, layout: Layout = layoutOf(circuit), slower = 0): Result<Pattern> {
  if (slower > 0) {
    const { starts } = planOf(circuit);
    const islands = islandsOf(circuit, (id) => segments.get(id) ?? starts.get(id) ?? 0, layout, LOW);
    const reducedBy = (some: readonly Island[]): { all?: Pattern; found?: Pattern } => {
      const built = assemble(circuit, segments, layout, some);
      return built.ok ? { all: built.value, found: reduce(built.value, some, slower) } : {};
    };
    const { all, found } = islands.length > 0 ? reducedBy(islands) : {};
    if (found) return ok(found);
    // Not all of them fast enough: those that are.
    if (all && islands.length > 1)
      for (const fast = fastAmong(all.F, layout.size, islands, slower); fast.length > 0; fast.pop()) {
        const { found: part } = reducedBy(fast);
        if (part) return ok(part);
      }
  }
  return assemble(circuit, segments, layout, []);
}

/** Modified nodal analysis, with the difference of each island in the column of its pivot. */
function assemble(circuit: Circuit, segments: Segments, layout: Layout, islands: readonly Island[]): Result<Pattern> {
  const { size, column, one } = layout;
  const { nodes, names: fixed, branchOf: fixedBranches, byId, starts, coils } = planOf(circuit);
  const segment = (id: string): number => segments.get(id) ?? starts.get(id) ?? 0;
  const low = circuit.elements.filter((e) => (pieceOf(e, segment(e.id))?.conductance ?? 0) > LOW).map((e) => e.id);
  const names = low.length === 0 ? fixed : [...fixed, ...low];
  const branchOf = low.length === 0 ? fixedBranches : new Map([...fixedBranches, ...low.map((id, k) => [id, nodes.size + fixed.length + k] as const)]);
  const order_ = nodes.size + names.length;

  // G · [node voltages; branch currents] = N · z
  const G = new Float64Array(order_ * order_);
  const N = new Float64Array(order_ * size);
  const at = (node: string): number => (node === REFERENCE ? -1 : nodes.get(node)!);
  const put = (row: number, col: number, value: number): void => {
    if (row >= 0 && col >= 0) G[row * order_ + col]! += value;
  };
  const substituted = withoutPivots(islands, size);
  const push = (row: number, col: number, value: number): void => {
    if (row < 0) return;
    const expression = substituted.get(col);
    if (!expression) N[row * size + col]! += value;
    else for (let j = 0; j < size; j++) if (expression[j] !== 0) N[row * size + j]! += value * expression[j]!;
  };
  /** Equation `row`: … + factor · v(a, b) */
  const addVoltage = (row: number, a: string, b: string, factor: number): void => {
    put(row, at(a), factor);
    put(row, at(b), -factor);
  };
  /** Equation `row`: … + factor · i(id) */
  const addCurrent = (row: number, id: string, factor: number): void => {
    const e = byId.get(id);
    const own = branchOf.get(id);
    const plain = e && pieceOf(e, segment(id));
    if (own !== undefined) put(row, own, factor);
    else if (plain && 'a' in e) {
      addVoltage(row, e.a, e.b, factor * plain.conductance);
      push(row, one, -factor * plain.offset);
    } else if (e?.kind === 'inductor' && e.saturation) {
      const { inductance, offset } = fluxPieceOf(e, segment(id));
      push(row, column.get(id)!, -factor / inductance);
      push(row, one, -factor * offset);
    } else if (column.has(id)) push(row, column.get(id)!, -factor);
  };
  /** A current that is a column of z leaves node a and enters b. */
  const inject = (a: string, b: string, col: number, factor: number): void => {
    push(at(a), col, -factor);
    push(at(b), col, factor);
  };
  /** The branch's current leaves a and enters b; its equation row starts with v(a, b). */
  const drive = (name: string, a: string, b: string): number => {
    const row = branchOf.get(name)!;
    put(at(a), row, 1);
    put(at(b), row, -1);
    addVoltage(row, a, b, 1);
    return row;
  };

  for (const e of circuit.elements) {
    const plain = pieceOf(e, segment(e.id));
    if (plain && 'a' in e && plain.conductance > LOW) {
      // v(a, b) − i / G = −offset / G
      const row = drive(e.id, e.a, e.b);
      put(row, row, -1 / plain.conductance);
      push(row, one, -plain.offset / plain.conductance);
      continue;
    }
    if (plain && 'a' in e) {
      const [a, b] = [at(e.a), at(e.b)];
      put(a, a, plain.conductance);
      put(b, b, plain.conductance);
      put(a, b, -plain.conductance);
      put(b, a, -plain.conductance);
      if (plain.offset !== 0) inject(e.a, e.b, one, plain.offset);
      continue;
    }
    switch (e.kind) {
      case 'inductor': {
        const { inductance, offset } = e.saturation ? fluxPieceOf(e, segment(e.id)) : { inductance: 1, offset: 0 };
        inject(e.a, e.b, column.get(e.id)!, 1 / inductance);
        if (offset !== 0) inject(e.a, e.b, one, offset);
        break;
      }
      case 'current-source':
        for (const col of sourceColumns(e, layout)) inject(e.a, e.b, col, 1);
        break;
      case 'voltage-source': {
        const row = drive(e.id, e.a, e.b);
        for (const col of sourceColumns(e, layout)) push(row, col, 1);
        break;
      }
      case 'capacitor': {
        const row = drive(e.id, e.a, e.b);
        put(row, row, -e.esr);
        push(row, column.get(e.id)!, 1);
        break;
      }
      case 'controlled-voltage':
        addVoltage(drive(e.id, e.a, e.b), e.plus, e.minus, -e.gain);
        break;
      case 'controlled-current':
        addVoltage(at(e.a), e.plus, e.minus, e.gain);
        addVoltage(at(e.b), e.plus, e.minus, -e.gain);
        break;
      case 'current-sense':
        addCurrent(drive(e.id, e.a, e.b), e.of, -e.gain);
        break;
      case 'comparator':
        push(drive(e.id, e.a, e.b), one, segment(e.id) ? e.high : e.low);
        break;
      case 'op-amp':
        push(drive(e.id, e.a, e.b), column.get(e.id)!, 1);
        break;
      case 'sampled':
        push(drive(e.id, e.a, e.b), column.get(`held ${e.id}`)!, 1);
        break;
      case 'sampled-control':
        for (const [name, { a, b }] of Object.entries(e.outputs)) push(drive(`${e.id}.${name}`, a, b), column.get(`held ${e.id}.${name}`)!, 1);
        break;
      case 'transfer': {
        const row = drive(e.id, e.a, e.b);
        const clipped = clippedAt(e, segment(e.id));
        if (clipped !== undefined) {
          push(row, one, clipped);
          break;
        }
        const { c, d } = canonical(e);
        addVoltage(row, e.plus, e.minus, -d);
        c.forEach((value, k) => push(row, column.get(`${e.id}.${k}`)!, value));
        break;
      }
      case 'transformer': {
        const [first, ...rest] = e.windings;
        e.windings.forEach((w, k) => {
          const i = branchOf.get(`${e.id}.${k}`)!;
          put(at(w.a), i, 1);
          put(at(w.b), i, -1);
        });
        const balance = branchOf.get(`${e.id}.0`)!;
        e.windings.forEach((w, k) => put(balance, branchOf.get(`${e.id}.${k}`)!, w.turns / first!.turns));
        rest.forEach((w, k) => {
          const row = branchOf.get(`${e.id}.${k + 1}`)!;
          addVoltage(row, w.a, w.b, first!.turns / w.turns);
          addVoltage(row, first!.a, first!.b, -1);
        });
        break;
      }
    }
  }

  const singular = solveInPlace(G, N, order_, size);
  if (singular >= 0) {
    const node = [...nodes].find(([, i]) => i === singular)?.[0];
    return node === undefined
      ? fail('source-loop', names[singular - nodes.size]!, 'its voltage is fixed twice', 'put a resistance in the loop')
      : fail('floating', node, `node ${node} has no path to the rest of the circuit`, 'connect it, or give it a resistance to the reference');
  }

  const voltage = (a: string, b: string = REFERENCE): Float64Array => {
    const row = new Float64Array(size);
    for (const [node, sign] of [[a, 1], [b, -1]] as const) {
      if (node === REFERENCE) continue;
      const from = nodes.get(node);
      if (from === undefined) throw new Error(`no node ${node}`);
      for (let j = 0; j < size; j++) row[j]! += sign * N[from * size + j]!;
    }
    return row;
  };
  const current = (id: string): Float64Array => {
    const own = branchOf.get(id);
    if (own !== undefined) return N.slice(own * size, (own + 1) * size);
    const e = byId.get(id);
    const plain = e && pieceOf(e, segment(id));
    if (plain && 'a' in e) {
      const row = voltage(e.a, e.b).map((v) => v * plain.conductance);
      row[one]! += plain.offset;
      return row;
    }
    if (e?.kind === 'inductor' && e.saturation) {
      const { inductance, offset } = fluxPieceOf(e, segment(id));
      const row = new Float64Array(size);
      row[column.get(id)!] = 1 / inductance;
      row[one] = offset;
      return row;
    }
    if (e?.kind === 'controlled-current') return voltage(e.plus, e.minus).map((v) => v * e.gain);
    const col = column.get(id);
    if (col === undefined) throw new Error(`no element ${id}`);
    if (substituted.has(col)) return substituted.get(col)!.slice();
    const row = new Float64Array(size);
    for (const c of e?.kind === 'current-source' ? sourceColumns(e, layout) : [col]) row[c] = 1;
    return row;
  };

  if (!coils.ok) return coils;
  const F = new Float64Array(size * size);
  const setRow = (name: string, row: ArrayLike<number>): void => F.set(row, column.get(name)! * size);
  const { ids, inverse } = coils.value;
  const coilVoltages = ids.map((id) => {
    const e = byId.get(id) as ElementOf<'inductor'>;
    return voltage(e.a, e.b);
  });
  ids.forEach((id, i) => {
    const row = new Float64Array(size);
    coilVoltages.forEach((v, j) => v.forEach((value, k) => (row[k]! += inverse[i * ids.length + j]! * value)));
    setRow(id, row);
  });
  for (const e of circuit.elements) {
    if (e.kind === 'inductor' && e.saturation) setRow(e.id, voltage(e.a, e.b));
    if (e.kind === 'capacitor') setRow(e.id, current(e.id).map((v) => v / e.capacitance));
    if (e.kind === 'op-amp') {
      const pole = 2 * Math.PI * e.bandwidth;
      const row = voltage(e.plus, e.minus).map((v) => v * pole * e.gain);
      row[column.get(e.id)!]! -= pole;
      setRow(e.id, row);
    }
    if (e.kind === 'transfer') {
      const { feedback, rate, c, d } = canonical(e);
      const n = order(e);
      const clipped = clippedAt(e, segment(e.id));
      for (let k = 0; k < n; k++) {
        const row = new Float64Array(size);
        if (k < n - 1) row[column.get(`${e.id}.${k + 1}`)!] = rate;
        else {
          // Beyond its limits what lies beyond comes off the input: w = u − tracking (y − limit) with y = c x + d w, so
          // w = (u − tracking (c x − limit))/(1 + tracking d), and the block moves as one with `tracking` fed back around it.
          const own = clipped === undefined ? 0 : e.tracking / (1 + e.tracking * d);
          const through = clipped === undefined ? 1 : 1 / (1 + e.tracking * d);
          row.set(voltage(e.plus, e.minus).map((v) => v * rate * through));
          if (own > 0) {
            c.forEach((value, j) => (row[column.get(`${e.id}.${j}`)!]! -= rate * own * value));
            row[one]! += rate * own * clipped!;
          }
          feedback.forEach((value, j) => (row[column.get(`${e.id}.${j}`)!]! -= rate * value));
        }
        setRow(`${e.id}.${k}`, row);
      }
    }
    if (isSource(e) && typeof e.value === 'object') {
      const own = column.get(e.id)!;
      if (column.has(`${e.id} slope`)) F[own * size + column.get(`${e.id} slope`)!] = 1;
      tonesOf(e.value).forEach(({ frequency }, k) => {
        const [tone, quadrature] = [column.get(`${e.id} tone ${k}`)!, column.get(`${e.id} quadrature ${k}`)!];
        F[tone * size + quadrature] = 2 * Math.PI * frequency;
        F[quadrature * size + tone] = -2 * Math.PI * frequency;
      });
    }
  }
  // The rate of what leaves an island is that of its inductors and sources together.
  const rates = islands.map(({ row }) => {
    const out = new Float64Array(size);
    row.forEach((f, r) => {
      if (f !== 0) for (let j = 0; j < size; j++) out[j]! += f * F[r * size + j]!;
    });
    return out;
  });
  islands.forEach(({ pivot }, i) => F.set(rates[i]!, pivot * size));
  const on = new Set(circuit.elements.filter((e) => (e.kind === 'switch' || e.kind === 'diode' || e.kind === 'comparator') && segment(e.id) === 1).map((e) => e.id));
  return ok({ layout, size, F, on, byCurrent: branchOf, segment, voltage, current });
}
