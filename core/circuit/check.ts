import type { Problem } from '../problem';
import { REFERENCE, type Circuit } from './elements';
import { gatesOf } from './eventSources';
import { powerPieces } from './devices';
import { endsOf, nodesOf } from './layout';
import { readProgram } from './program';
import { inverseInductance } from './coils';

/** Straight pieces of one characteristic: several decades of voltage, at half a percent each. */
const MOST_PIECES = 2000;

const problem = (code: string, where: string, message: string, remedy: string): Problem => ({ code, where, message, remedy });

/**
 * What the schema cannot say of a circuit: names used twice, gates that nothing drives, controls on
 * nodes that are not there, an island without reference, couplings with too much energy, loops of sources.
 * Linear in the size of the circuit. Undefined when it can be run.
 */
export function checkCircuit(circuit: Circuit): Problem | undefined {
  const ids = new Set<string>();
  for (const e of [...circuit.elements, ...circuit.modulators]) {
    if (ids.has(e.id)) return problem('name', e.id, 'two things have this name', 'give each its own');
    ids.add(e.id);
  }
  const nodes = nodesOf(circuit);
  const known = (node: string): boolean => node === REFERENCE || nodes.has(node);
  const driven = new Set<string>();
  for (const m of circuit.modulators) {
    for (const gate of gatesOf(m)) {
      if (driven.has(gate)) return problem('gate', m.id, `gate ${gate} is driven twice`, 'let one modulator drive it');
      driven.add(gate);
    }
    for (const pair of [('control' in m && m.control) || [], ('sense' in m && m.sense) || [], m.enable ?? []])
      for (const node of pair) if (!known(node)) return problem('node', m.id, `it looks at node ${node}, which is not there`, 'name a node of this circuit');
    if ((m.kind === 'pwm' || m.kind === 'phase-shift') && !(m.high > m.low)) return problem('range', m.id, 'its carrier goes nowhere', 'give a high above the low');
    if (m.kind === 'timed' && !(m.off > m.on && m.off - m.on <= 1)) return problem('range', m.id, 'it is off before it is on', 'give an off after the on, within one period');
    if ('period' in m && 'deadTime' in m && m.deadTime > m.period / 2) return problem('range', m.id, 'its dead time is longer than half its period', 'shorten the dead time');
  }
  for (const e of circuit.elements)
    if (e.kind === 'comparator') {
      if (driven.has(e.id)) return problem('gate', e.id, 'a modulator drives a gate of its name', 'give one of them another name');
      driven.add(e.id);
    }
  for (const e of circuit.elements) {
    if (e.kind === 'inductor' && e.saturation?.some((s, i, list) => i > 0 && s.current <= list[i - 1]!.current)) return problem('range', e.id, 'its saturation currents do not rise', 'sort them');
    if (e.kind === 'power-load' && e.highest !== undefined && e.highest <= e.lowest) return problem('range', e.id, 'its highest voltage is not above its lowest', 'give a higher one');
    if (e.kind === 'power-load' && powerPieces(e) > MOST_PIECES) return problem('range', e.id, `from its lowest to its highest voltage it would take more than ${MOST_PIECES} straight pieces`, 'raise its lowest voltage or its accuracy');
    if (e.kind === 'comparator' && e.low === e.high) return problem('range', e.id, 'its two levels are the same', 'give two');
    if (e.kind === 'switch' && !driven.has(e.gate)) return problem('gate', e.id, `nothing drives its gate ${e.gate}`, 'add a modulator for that gate');
    if (e.kind === 'current-sense') {
      const of = circuit.elements.find((x) => x.id === e.of);
      if (!of || !('a' in of)) return problem('unknown', e.id, `it senses the current of ${e.of}, which is not an element with one current`, 'name such an element');
    }
    if ((e.kind === 'transfer' || e.kind === 'sampled') && e.low !== undefined && e.high !== undefined && !(e.low < e.high)) return problem('range', e.id, 'its lowest output is not below its highest', 'give a lower one');
    if (e.kind === 'sampled') {
      if (e.denominator[0] === 0) return problem('range', e.id, 'its first denominator coefficient is zero', 'divide the equation so that it is one');
      if (e.delay >= e.period) return problem('range', e.id, 'its delay is longer than its period', 'put whole periods into the equation, as leading zeros of the numerator');
    }
    if (e.kind === 'transfer') {
      const n = e.denominator.length;
      if (!(e.denominator[n - 1] !== 0)) return problem('range', e.id, 'its highest denominator coefficient is zero', 'leave it out');
      if (e.numerator.length > n) return problem('range', e.id, 'its numerator is of higher order than its denominator', 'add a pole');
    }
    if (typeof ('value' in e ? e.value : 0) === 'object') {
      const w = (e as { value: { shape: string; points?: [number, number][]; changes?: [number, number][]; width?: number; period?: number } }).value;
      if (w.changes?.some((p, i) => i > 0 && p[0] < w.changes![i - 1]![0])) return problem('range', e.id, 'its changes go back in time', 'sort them');
      if (w.points?.some((p, i) => i > 0 && p[0] < w.points![i - 1]![0])) return problem('range', e.id, 'its points go back in time', 'sort them');
      if (w.shape === 'pulse' && w.width! >= w.period!) return problem('range', e.id, 'its pulse is longer than its period', 'shorten the pulse');
    }
    if (e.kind === 'sampled-control') {
      const program = readProgram(e);
      if (!program.ok) return program.problem;
      if (e.delay >= e.period) return problem('range', e.id, 'its delay is longer than its period', 'keep results in memory for whole periods');
    }
    if (endsOf(e).some(([a, b]) => a === b)) return problem('short', e.id, 'both its ends are on the same node', 'connect it between two nodes');
  }
  const island = firstIsland(circuit, nodes);
  if (island !== undefined) return problem('floating', island, `node ${island} has no path to the reference node 0`, 'connect it, or give it a resistance to node 0');
  const cut = firstIsland(circuit, nodes, new Set(['inductor', 'current-source', 'controlled-current', 'current-load', 'power-load']));
  if (cut !== undefined) return problem('cut-set', cut, `node ${cut} hangs on inductors and sources or loads of current alone, so nothing sets its voltage`, 'give it a resistance or a capacitor to the rest of the circuit');
  const coils = inverseInductance(circuit);
  if (!coils.ok) return coils.problem;
  const loop = voltageLoop(circuit);
  if (loop !== undefined) return problem('source-loop', loop, 'it closes a loop of voltage sources and capacitors without resistance', 'put a resistance in the loop');
  return undefined;
}

/** Disjoint sets with path halving. */
function sets(): { find(x: string): string; join(a: string, b: string): boolean } {
  const parent = new Map<string, string>();
  const find = (x: string): string => {
    let at = x;
    while ((parent.get(at) ?? at) !== at) {
      const up = parent.get(at)!;
      parent.set(at, parent.get(up) ?? up);
      at = parent.get(at)!;
    }
    return at;
  };
  return {
    find,
    join(a, b) {
      const [p, q] = [find(a), find(b)];
      if (p === q) return false;
      parent.set(p, q);
      return true;
    },
  };
}

/** A node from which no element leads to the reference. */
function firstIsland(circuit: Circuit, nodes: ReadonlyMap<string, number>, leaveOut: ReadonlySet<string> = new Set()): string | undefined {
  const groups = sets();
  for (const e of circuit.elements) {
    if (leaveOut.has(e.kind)) continue;
    for (const [a, b] of endsOf(e)) groups.join(a, b);
  }
  return [...nodes.keys()].find((n) => groups.find(n) !== groups.find(REFERENCE));
}

/** An element that closes a loop in which every voltage is fixed. */
function voltageLoop(circuit: Circuit): string | undefined {
  const groups = sets();
  for (const e of circuit.elements) {
    const fixed = e.kind === 'voltage-source' || e.kind === 'controlled-voltage' || e.kind === 'current-sense' || e.kind === 'op-amp' || e.kind === 'transfer' || e.kind === 'sampled' || e.kind === 'sampled-control' || e.kind === 'comparator' || (e.kind === 'capacitor' && e.esr === 0);
    if (fixed) for (const [a, b] of endsOf(e)) if (!groups.join(a, b)) return e.id;
  }
  return undefined;
}
