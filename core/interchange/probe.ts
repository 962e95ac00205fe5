import type { Circuit } from '../circuit/elements';
import { nodesOf } from '../circuit/layout';
import type { Pattern } from '../circuit/pattern';
import { fail, ok, type Result } from '../problem';

/** A quantity of a circuit by its name: "v(out)", "v(a,b)" or "i(L1)". */
export interface Probe {
  name: string;
  unit: 'V' | 'A';
  row(p: Pattern): Float64Array;
}

/** Read a probe's name; the node or element must be there. */
export function readProbe(circuit: Circuit, text: string): Result<Probe> {
  const match = /^([vi])\(\s*([^(),]+?)\s*(?:,\s*([^(),]+?)\s*)?\)$/.exec(text.trim());
  if (!match) return fail('probe', text, 'it is neither a voltage nor a current', 'write v(node), v(node,node) or i(element)');
  const [, kind, a, b] = match as unknown as [string, string, string, string | undefined];
  if (kind === 'v') {
    const nodes = nodesOf(circuit);
    for (const node of [a, b]) if (node !== undefined && node !== '0' && !nodes.has(node)) return fail('probe', text, `there is no node ${node}`, `the nodes are ${[...nodes.keys()].join(', ')}`);
    return ok({ name: text.trim(), unit: 'V', row: (p) => p.voltage(a, b) });
  }
  const e = circuit.elements.find((x) => x.id === a);
  if (!e || !('a' in e)) return fail('probe', text, `there is no element ${a} with one current`, 'name a resistor, inductor, capacitor, source, switch or diode');
  return ok({ name: text.trim(), unit: 'A', row: (p) => p.current(a) });
}

/** What is shown when nothing is asked for: every node's voltage, every current of a part with two ends. */
export function usualProbes(circuit: Circuit): Probe[] {
  const nodes = [...nodesOf(circuit).keys()].map((n): Probe => ({ name: `v(${n})`, unit: 'V', row: (p) => p.voltage(n) }));
  const currents = circuit.elements
    .filter((e) => ['inductor', 'diode', 'switch', 'voltage-source', 'capacitor', 'resistor', 'current-load', 'power-load', 'string-load'].includes(e.kind))
    .map((e): Probe => ({ name: `i(${e.id})`, unit: 'A', row: (p) => p.current(e.id) }));
  return [...nodes, ...currents];
}
