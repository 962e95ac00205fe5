import type { Circuit, Element } from '../circuit/elements';
import { COMMAND } from '../control/command';
import { quantityOf } from '../converter/measures';
import type { Design } from '../design/schema';
import type { Roles } from '../converter/roles';
import { INNER_REFERENCE, REFERENCE_SOURCE } from '../evaluation/assemble';
import type { Bill } from '../evaluation/bill';
import { fluxDensity } from '../magnetics/flux';
import type { Quantity } from '../orbit/measure';
import type { InductorPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import type { Topology } from '../topology';
import type { Watched } from '../recording';

/** What can be seen of a run. */
export interface Trace {
  id: string;
  title: string;
  unit: 'V' | 'A' | 'W' | 'T' | 'J';
  /** The slot of the part that it is of */
  of?: string;
}

/** A trace, and how it is read of the circuit. */
export interface Offered extends Trace {
  watched: Watched;
  /** What else it may be asked for by: a topology's signal that is a part's current */
  also?: string;
}

/** Traces under the names that the design gives them; where a name is there twice each says of what it is. */
export function calledIn<T extends Trace>({ looks }: Pick<Design, 'looks'>, traces: readonly T[]): T[] {
  const titles = traces.map((t) => looks?.[t.id]?.title ?? t.title);
  return traces.map((t, k) => ({ ...t, title: titles.filter((x) => x === titles[k]).length > 1 && looks?.[t.id]?.title !== undefined ? `${titles[k]!} (${t.id})` : titles[k]! }));
}

/** What is looked at of a run where nothing is said: the topology's own signals, on the mains what is drawn from it as well. */
export const usualTraces = ({ signals, mains }: Pick<Topology, 'signals' | 'mains'>): string[] => (mains ? ['line.voltage', 'line.current', 'output'] : signals.filter((s) => s.lane).map((s) => s.id));

/** Traces of a run at most */
export const MOST_TRACES = 16;

const across = (e: Element | undefined): [string, string] | undefined => (e && 'a' in e ? [e.a, e.b] : undefined);

/**
 * All that a run of a design can show: its topology's own signals, then by part current, voltage, instant power and, of an
 * inductor, flux density, then what its controller puts out and goes by.
 */
export function tracesOffered({ topology, input, sizing }: Pick<Bill, 'topology' | 'input' | 'sizing'>, roles: Roles, circuit: Circuit): Offered[] {
  const offered: Offered[] = topology.signals.filter((s) => s.lane).map((s) => ({ id: s.id, title: s.title.replace(/ ripple$|, switching$/, ''), unit: s.unit, watched: { row: quantityOf(s.of, roles) } }));
  const put = (trace: Offered): void => {
    const same = offered.find((o) => o.id === trace.id || o.title === trace.title);
    if (!same) offered.push(trace);
    else if (same.id !== trace.id) Object.assign(same, { also: trace.id, of: trace.of });
  };
  for (const { id: slot } of topology.slots) {
    const element = roles.parts[slot]?.elements[0];
    if (element === undefined) continue;
    const ends = across(circuit.elements.find((e) => e.id === element));
    if (!ends) continue;
    const current: Quantity = (p) => p.current(element);
    const voltage: Quantity = (p) => p.voltage(...ends);
    put({ id: `${slot}.current`, title: `${slot} current`, unit: 'A', of: slot, watched: { row: current } });
    put({ id: `${slot}.voltage`, title: `${slot} voltage`, unit: 'V', of: slot, watched: { row: voltage } });
    put({ id: `${slot}.power`, title: `${slot} power`, unit: 'W', of: slot, watched: { product: [voltage, current] } });
    put({ id: `${slot}.energy`, title: `${slot} energy`, unit: 'J', of: slot, watched: { product: [voltage, current], sum: true } });
    const part = input.parts[slot];
    if (part?.kind === 'inductor' && roles.parts[slot]!.core === undefined) {
      const teslas = fluxDensity(part as InductorPart, sizing.values[slot]!.taken, 1);
      put({ id: `${slot}.flux`, title: `${slot} flux density`, unit: 'T', of: slot, watched: { row: (p) => current(p).map((v) => v * teslas) } });
    }
    // What magnetises a transformer stands for it.
    if (part?.kind === 'transformer') {
      const teslas = fluxDensity({ turns: sizing.values[`${slot} primary`]!.taken, coreArea: part.coreArea }, sizing.values[slot]!.taken, 1);
      put({ id: `${slot}.flux`, title: `${slot} flux density`, unit: 'T', of: slot, watched: { row: (p) => current(p).map((v) => v * teslas) } });
    }
  }
  const fed = across(circuit.elements.find((e) => e.id === roles.line));
  if (topology.mains && fed) put({ id: 'line.voltage', title: 'line voltage', unit: 'V', of: 'line', watched: { row: (p) => p.voltage(...fed) } });
  put({ id: 'line.current', title: 'line current', unit: 'A', of: 'line', watched: { row: (p) => p.current(roles.line).map((v) => -v) } });
  const has = (node: string): boolean => circuit.elements.some((e) => 'a' in e && (e.a === node || e.b === node));
  for (const [id, title, node] of [['command', 'command', COMMAND], ['inner-reference', 'what the inner loop is to hold', INNER_REFERENCE], ['reference', 'reference', REFERENCE_SOURCE]] as const)
    if (has(node)) put({ id, title, unit: 'V', watched: { row: (p) => p.voltage(node) } });
  return offered;
}

/** "voltage:a,b": the voltage between two nodes of the circuit. */
const BETWEEN = /^voltage:([^,]+),([^,]+)$/;

/** The traces of those ids, of what is offered or between two nodes. Problem "trace" names what is not there. */
export function tracesNamed(ids: readonly string[], offered: readonly Offered[], circuit: Circuit): Result<Offered[]> {
  const found: Offered[] = [];
  for (const id of new Set(ids)) {
    const own = offered.find((o) => o.id === id || o.also === id);
    const [, a, b] = BETWEEN.exec(id) ?? [];
    const nodes = new Set(['0', ...circuit.elements.flatMap((e) => ('a' in e ? [e.a, e.b] : []))]);
    if (own) found.push(own);
    else if (a !== undefined && b !== undefined && nodes.has(a) && nodes.has(b)) found.push({ id, title: `${a} to ${b}`, unit: 'V', watched: { row: (p) => p.voltage(a, b) } });
    else return fail('trace', id, 'there is no such trace of this converter', `give one of ${offered.map((o) => o.also ?? o.id).join(', ')}, or voltage:a,b of two of its nodes`);
  }
  if (found.length === 0 || found.length > MOST_TRACES) return fail('trace', 'traces', `a run shows 1 to ${MOST_TRACES} traces, not ${found.length}`, found.length === 0 ? 'add one' : 'take some away');
  return ok(found);
}
