import { REFERENCE, type Circuit, type Element, type ElementOf, type Waveform } from './elements';

/**
 * What stands where in z = [x; w], the one vector that everything else is a row times:
 *
 *   x  inductor currents, capacitor voltages, op-amp outputs, states of transfer blocks
 *   w  sources as states of their own: what moves first (the value of a ramp, each tone with its
 *      quadrature), then what stays (values, offsets, slopes), values held by samplers, and a constant 1
 *      that drops and bounds refer to
 */
export interface Layout {
  /** Names of x: element ids, "id.k" for the k-th state of a transfer block */
  states: string[];
  /** Names of w: source ids, "id slope", "id tone k", "id quadrature k", "held …", "one" */
  sources: string[];
  n: number;
  size: number;
  /** Column by name */
  column: ReadonlyMap<string, number>;
  one: number;
  /** Columns that are a voltage or a current of the circuit, or a source's: what other voltages and currents are held against */
  measured: readonly number[];
  /** What each state and held value is one of: errors are relative to the largest of its kind */
  kind: readonly string[];
}

type Source = ElementOf<'voltage-source'> | ElementOf<'current-source'>;
/** A voltage or current source: its value is an entry of z. */
export const isSource = (e: Element): e is Source => e.kind === 'voltage-source' || e.kind === 'current-source';

/** Does the source's value move between its breakpoints? */
export const hasSlope = (w: Waveform): boolean => typeof w === 'object' && (w.shape === 'ramp' || w.shape === 'points');
/** The sinusoids in a source, besides its offset: V or A, Hz, degrees as the file gives them. */
export function tonesOf(w: Waveform): { amplitude: number; frequency: number; phase: number }[] {
  if (typeof w === 'number') return [];
  return w.shape === 'sine' ? [w] : w.shape === 'tones' ? w.tones : [];
}

/** States of a transfer function: the order of its denominator. */
export const order = (e: ElementOf<'transfer'>): number => e.denominator.length - 1;

/** Columns of z for a circuit; `held` names what samplers keep. */
export function layoutOf(circuit: Circuit, held: readonly string[] = []): Layout {
  const states: string[] = [];
  for (const kind of ['inductor', 'capacitor', 'op-amp', 'transfer'] as const)
    for (const e of circuit.elements) {
      if (e.kind !== kind) continue;
      if (e.kind === 'transfer') for (let k = 0; k < order(e); k++) states.push(`${e.id}.${k}`);
      else states.push(e.id);
    }
  const moving: string[] = [];
  const still: string[] = [];
  for (const e of circuit.elements) {
    if (!isSource(e)) continue;
    if (hasSlope(e.value)) {
      moving.push(e.id);
      still.push(`${e.id} slope`);
    } else still.push(e.id);
    tonesOf(e.value).forEach((_, k) => moving.push(`${e.id} tone ${k}`, `${e.id} quadrature ${k}`));
  }
  const sources = [...moving, ...still, ...held.map((name) => `held ${name}`), 'one'];
  const all = [...states, ...sources];
  const byId = new Map(circuit.elements.map((e) => [e.id, e]));
  const kind = all.map((name) => kindOf(name, byId));
  const measured = all.flatMap((name, i) => (kind[i] === 'A' || kind[i] === 'V' || /^\S+ tone \d+$/.test(name) || (kind[i] === 'source' && byId.has(name)) ? [i] : []));
  return { states, sources, n: states.length, size: all.length, column: new Map(all.map((name, i) => [name, i])), one: all.length - 1, measured, kind };
}

/** V, A or Wb; the states of a transfer block and what a controller keeps are kinds of their own. */
function kindOf(name: string, byId: ReadonlyMap<string, Element>): string {
  const e = byId.get(name);
  if (e) return e.kind === 'inductor' ? (e.saturation ? 'Wb' : 'A') : e.kind === 'capacitor' || e.kind === 'op-amp' ? 'V' : 'source';
  const held = name.startsWith('held ') ? name.slice(5) : name;
  const owner = byId.get(held) ?? byId.get(held.slice(0, held.indexOf('.'))) ?? byId.get(held.slice(0, held.lastIndexOf('.')));
  // A difference equation keeps voltages; what a program keeps has its own units.
  if (name.startsWith('held ')) return owner?.kind === 'sampled-control' ? owner.id : 'V';
  return owner?.kind === 'transfer' ? owner.id : 'source';
}

/** Columns that a cycle has to close on: the states, and what samplers hold. Sources stay what they are. */
export const freeColumns = (layout: Layout): number[] => [...layout.column].filter(([name, i]) => i < layout.n || name.startsWith('held ')).map(([, i]) => i);

/** Pairs of nodes that an element stands between. */
export function endsOf(e: Element): [string, string][] {
  if (e.kind === 'coupling') return [];
  const ends = e.kind === 'transformer' ? e.windings : e.kind === 'sampled-control' ? Object.values(e.outputs) : [e];
  return ends.map(({ a, b }) => [a, b]);
}

/** Every node of the circuit but the reference, in order of appearance. */
export function nodesOf(circuit: Circuit): Map<string, number> {
  const nodes = new Map<string, number>();
  const see = (node: string): void => {
    if (node !== REFERENCE && !nodes.has(node)) nodes.set(node, nodes.size);
  };
  for (const e of circuit.elements) {
    for (const [a, b] of endsOf(e)) {
      see(a);
      see(b);
    }
    if (e.kind === 'sampled-control') for (const pair of Object.values(e.inputs)) pair.forEach(see);
    if ('plus' in e) {
      see(e.plus);
      see(e.minus);
    }
  }
  return nodes;
}
