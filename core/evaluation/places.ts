import type { Circuit, Element } from '../circuit/elements';
import { buildMachine } from '../circuit/machine';
import { COMMAND } from '../control/command';
import type { Roles } from '../converter/roles';
import { carryOver } from '../orbit/carry';
import { settleCycle } from '../orbit/settle';
import { fail, ok, type Result } from '../problem';
import { injectionPointAt, type InjectionPoint } from '../response/injectionPoint';
import { namesOf } from './assemble';
import type { ClosedStage } from './closed';

/** Where the loops of a closed stage can be broken, and what is read there. */

export const PLACES = ['output', 'current', 'comparator', 'command'] as const;
export type PlaceId = (typeof PLACES)[number];

/** A place where a loop can be broken. */
export interface LoopPlace {
  id: PlaceId;
  title: string;
  /** The slot whose current is fed back there; the output, or what commands the modulator, where it is none */
  slot?: string;
  /** What of the others is closed while this is broken: why its gain is another */
  note: string;
}

const DRIVES: ReadonlySet<Element['kind']> = new Set(['transfer', 'sampled', 'current-sense', 'controlled-voltage', 'op-amp']);

/** What drives a node of a circuit. */
const driverOf = (circuit: Circuit, node: string): Element | undefined => circuit.elements.find((e) => 'a' in e && e.a === node && DRIVES.has(e.kind));

/** The element that tells a modulator the current, where the current is compared with a command. */
function comparedIn(circuit: Circuit): { node: string; of: string } | undefined {
  const m = circuit.modulators.find((x) => x.kind === 'current-mode');
  const e = m?.kind === 'current-mode' ? driverOf(circuit, m.sense[0]) : undefined;
  return e?.kind === 'current-sense' ? { node: e.a, of: e.of } : undefined;
}

const slotOf = ({ parts }: Pick<Roles, 'parts'>, element: string): string | undefined => Object.entries(parts).find(([, p]) => p.elements.includes(element))?.[0];

/** The places of a closed stage, the one that its figures are read at first. */
export function placesOf({ circuit }: Pick<ClosedStage, 'circuit'>, roles: Pick<Roles, 'parts'>): LoopPlace[] {
  const inner = circuit.elements.some((e) => e.id === namesOf(false).breaks);
  const outer = circuit.elements.find((e) => e.id === 'sense');
  const innerSense = circuit.elements.find((e) => e.id === 'inner sense');
  const compared = comparedIn(circuit);
  const slot = (of: string | undefined): { slot?: string } => {
    const found = of === undefined ? undefined : slotOf(roles, of);
    return found === undefined ? {} : { slot: found };
  };
  const current = outer?.kind === 'current-sense';
  return [
    { id: 'output', title: current ? 'current' : 'output', ...(current ? slot(outer.of) : {}), note: inner ? 'the current loop is closed inside of it' : compared ? 'the comparator holds the current inside of it' : 'the only loop there is' },
    ...(innerSense?.kind === 'current-sense' ? [{ id: 'current' as const, title: 'current', ...slot(innerSense.of), note: 'the loop of the output is closed around it, and acts below its own crossover' }] : []),
    ...(compared ? [{ id: 'comparator' as const, title: 'comparator', ...slot(compared.of), note: 'the current that the comparator sees, the loop of the output closed around it: it decides once a period' }] : []),
    { id: 'command', title: 'command', note: inner ? 'all loops are broken at once: what a slower or weaker modulator meets' : 'the same loop, broken behind its amplifier' },
  ];
}

/** A circuit with a source of zero volts in series with what drives a node. */
function brokenAt(circuit: Circuit, node: string, id: string): Circuit {
  const driver = driverOf(circuit, node)!;
  const arrives = `${node} arriving`;
  return { ...circuit, elements: [...circuit.elements.map((e) => (e === driver ? ({ ...e, a: arrives } as Element) : e)), { kind: 'voltage-source', id, a: arrives, b: node, value: 0 }] };
}

/** The name of the source where a loop is broken elsewhere than where it is fed back */
const BROKEN = 'broken here';

/**
 * A closed stage with its loop broken at a place: the same cycle, where a signal can be put in series with what arrives there.
 * @returns problem "place" where it has no such place, and those of settling it
 */
export function breakAt(closed: ClosedStage, id: PlaceId): Result<{ closed: ClosedStage; point: InjectionPoint }> {
  const at = (own: ClosedStage, source: string): ReturnType<typeof breakAt> => {
    const point = injectionPointAt(own.circuit, source);
    return point.ok ? ok({ closed: own, point: point.value }) : point;
  };
  if (id === 'output') return at(closed, namesOf(true).breaks);
  if (id === 'current') return at(closed, namesOf(false).breaks);
  const node = id === 'command' ? COMMAND : comparedIn(closed.circuit)?.node;
  if (node === undefined || !driverOf(closed.circuit, node)) return fail('place', id, 'the loop has no such place', 'choose one that is offered');
  const circuit = brokenAt(closed.circuit, node, BROKEN);
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value, { near: carryOver(closed.machine, machine.value, closed.cycle.state), ...(closed.cycle.free ? { period: closed.cycle.period } : {}) });
  return cycle.ok ? at({ circuit, machine: machine.value, cycle: cycle.value }, BROKEN) : cycle;
}
