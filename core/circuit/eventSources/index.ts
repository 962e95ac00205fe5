import type { Circuit } from '../elements';
import { isSource } from '../layout';
import type { EventSource } from './eventSource';
import { comparator } from './comparator';
import { modulator } from './modulators';
import { sampled } from './sampled';
import { sampledControl } from './sampledControl';
import { moving } from './sources';

export type { EventSource, EventContext } from './eventSource';
export { gatesOf } from './modulators';
export { firstValue, toneAt } from './sources';

/** All event sources of a circuit. */
export function eventSourcesOf(circuit: Circuit): EventSource[] {
  const modulators = circuit.modulators.map(modulator);
  // Samplers first: a modulator whose clock falls on a sample compares with what was just computed.
  const samplers = circuit.elements.flatMap((e) => (e.kind === 'sampled' ? [sampled(e)] : e.kind === 'sampled-control' ? [sampledControl(e)] : []));
  const comparators = circuit.elements.flatMap((e) => (e.kind === 'comparator' ? [comparator(e)] : []));
  return [...samplers, ...comparators, ...modulators, ...circuit.elements.filter(isSource).flatMap((e) => moving(e) ?? [])];
}
