import { solveInPlace } from '../linear/dense';
import { fail, ok, type Result } from '../problem';
import { REFERENCE, type Circuit, type Element } from './elements';

/**
 * One on/off state of all switches, as an augmented linear system
 *
 *   z' = F z        z = [x; u]        F = [A B; 0 0]
 *
 * x: inductor currents and capacitor voltages in element order; u: the constant sources.
 * From modified nodal analysis (Ho, Ruehli, Brennan 1975) of the resistive part, with inductors
 * as current sources and capacitors as voltage sources behind their series resistance.
 * Every voltage and current of the circuit is then a row times z.
 */
export interface Pattern {
  /** Ids of the state elements, in order of x. */
  states: readonly string[];
  /** Ids of the sources, in order of u. */
  sources: readonly string[];
  /** Length of z. */
  size: number;
  /** size × size */
  F: Float64Array;
  /** Switches that are on. */
  on: ReadonlySet<string>;
  /** Row of the voltage between two nodes. */
  voltage(a: string, b?: string): Float64Array;
  /** Row of the current through an element, from its node a to b. */
  current(id: string): Float64Array;
}

const isState = (e: Element): boolean => e.kind === 'inductor' || e.kind === 'capacitor';
const isSource = (e: Element): boolean => e.kind === 'voltage-source' || e.kind === 'current-source';

/** The states and sources of a circuit in the order every pattern of it uses. */
export function layout(circuit: Circuit): { states: Element[]; sources: Element[] } {
  return { states: circuit.elements.filter(isState), sources: circuit.elements.filter(isSource) };
}

/** The source values u of a circuit, in order. */
export const sourceValues = (circuit: Circuit): number[] =>
  layout(circuit).sources.map((e) => (e.kind === 'voltage-source' || e.kind === 'current-source' ? e.value : 0));

/**
 * Build the pattern in which just the named switches are on.
 * Problem "floating" when a node has no path to the rest or voltage sources form a loop.
 */
export function buildPattern(circuit: Circuit, on: ReadonlySet<string>): Result<Pattern> {
  const { states, sources } = layout(circuit);
  const columnOf = new Map([...states, ...sources].map((e, i) => [e.id, i]));
  const size = states.length + sources.length;

  const nodes = new Map<string, number>();
  for (const e of circuit.elements) for (const n of [e.a, e.b]) if (n !== REFERENCE && !nodes.has(n)) nodes.set(n, nodes.size);
  // Elements whose current is an unknown of its own: voltage sources, and capacitors as such.
  const branches = circuit.elements.filter((e) => e.kind === 'voltage-source' || e.kind === 'capacitor');
  const branchOf = new Map(branches.map((e, i) => [e.id, nodes.size + i]));
  const order = nodes.size + branches.length;

  const G = new Float64Array(order * order);
  const N = new Float64Array(order * size);
  const at = (node: string): number => (node === REFERENCE ? -1 : nodes.get(node)!);
  const put = (row: number, col: number, value: number): void => {
    if (row >= 0 && col >= 0) G[row * order + col]! += value;
  };
  const conduct = (a: number, b: number, g: number): void => {
    put(a, a, g);
    put(b, b, g);
    put(a, b, -g);
    put(b, a, -g);
  };
  const conductance = (e: Element): number => {
    if (e.kind === 'resistor') return 1 / e.resistance;
    if (e.kind === 'switch') return on.has(e.id) ? 1 / e.onResistance : e.offConductance;
    return 0;
  };

  for (const e of circuit.elements) {
    const a = at(e.a);
    const b = at(e.b);
    if (e.kind === 'resistor' || e.kind === 'switch') conduct(a, b, conductance(e));
    else if (e.kind === 'inductor' || e.kind === 'current-source') {
      const col = columnOf.get(e.id)!;
      if (a >= 0) N[a * size + col]! -= 1;
      if (b >= 0) N[b * size + col]! += 1;
    } else {
      const row = branchOf.get(e.id)!;
      put(a, row, 1);
      put(b, row, -1);
      put(row, a, 1);
      put(row, b, -1);
      if (e.kind === 'capacitor') put(row, row, -e.esr);
      N[row * size + columnOf.get(e.id)!] = 1;
    }
  }

  const singular = solveInPlace(G, N, order, size);
  if (singular >= 0) {
    const node = [...nodes].find(([, i]) => i === singular)?.[0];
    return node === undefined
      ? fail('source-loop', branches[singular - nodes.size]!.id, 'its voltage is fixed twice', 'put a resistance in the loop')
      : fail('floating', node, `node ${node} has no path to the rest of the circuit`, 'connect it, or give it a resistance to the reference');
  }

  const voltage = (a: string, b: string = REFERENCE): Float64Array => {
    const row = new Float64Array(size);
    if (at(a) >= 0) for (let j = 0; j < size; j++) row[j]! += N[at(a) * size + j]!;
    if (at(b) >= 0) for (let j = 0; j < size; j++) row[j]! -= N[at(b) * size + j]!;
    return row;
  };
  const byId = new Map(circuit.elements.map((e) => [e.id, e]));
  const current = (id: string): Float64Array => {
    const e = byId.get(id);
    if (!e) throw new Error(`no element ${id}`);
    const branch = branchOf.get(id);
    if (branch !== undefined) return N.slice(branch * size, (branch + 1) * size);
    const column = columnOf.get(id);
    if (column !== undefined) {
      const row = new Float64Array(size);
      row[column] = 1;
      return row;
    }
    const g = conductance(e);
    return voltage(e.a, e.b).map((v) => v * g);
  };

  const F = new Float64Array(size * size);
  states.forEach((e, i) => {
    if (e.kind === 'inductor') F.set(voltage(e.a, e.b).map((v) => v / e.inductance), i * size);
    else if (e.kind === 'capacitor') F.set(current(e.id).map((v) => v / e.capacitance), i * size);
  });
  return ok({ states: states.map((e) => e.id), sources: sources.map((e) => e.id), size, F, on, voltage, current });
}
