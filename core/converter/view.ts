import type { Circuit, Element } from '../circuit/elements';
import { sample } from '../orbit/sample';
import type { Measures } from '../orbit/measure';
import { figuresOn, type ConverterFigures, type Settled } from './converter';
import { quantityOf, type Seen } from './measures';

/** What is looked at of a converter: a quantity with a name. */
export interface Looked {
  id: string;
  title: string;
  unit: 'V' | 'A';
  of: Seen;
  /** Drawn whole, or less its mean */
  lane: 'whole' | 'ripple';
}

/** A converter as it is shown: its figures, and what is drawn of it over one period. */
export interface ConverterView {
  figures: ConverterFigures;
  looked: Looked[];
  measures: Record<string, Measures>;
  waves: { ids: string[]; units: ('V' | 'A')[]; time: number[]; values: number[][] };
  /** W that each element takes, as a mean */
  watts: Record<string, number>;
}

/** Currents of parts that are drawn unasked, besides the outputs */
const MOST_PARTS = 3;

/** Elements with two ends, whose voltage and current can be looked at. */
export const twoEnded = (circuit: Circuit): Extract<Element, { a: string }>[] => circuit.elements.filter((e) => 'a' in e);

/** What can be seen of an element by itself. */
export function looksAt(circuit: Circuit, id: string): Looked[] {
  const e = twoEnded(circuit).find((x) => x.id === id);
  if (!e) return [];
  return [
    { id: `${id}, voltage`, title: `${id} voltage`, unit: 'V', of: { voltage: [e.a, e.b] }, lane: 'whole' },
    { id: `${id}, current`, title: `${id} current`, unit: 'A', of: { current: id }, lane: 'whole' },
  ];
}

/**
 * What a converter shows: its outputs, the currents of its first parts, and the element that is asked for.
 * @param selected id of an element with two ends
 */
export function viewOf(settled: Settled, selected?: string): ConverterView {
  const { circuit, roles, cycle, measured, watts } = settled;
  const outputs = roles.outputs.map((o, k): Looked => ({ id: `output ${k}`, title: `${o.nodes[0]} ripple`, unit: 'V', of: { output: k }, lane: 'ripple' }));
  const inductive = (id: string): boolean => circuit.elements.some((e) => 'a' in e && e.id === id && e.kind === 'inductor');
  // What stores first: its current tells most of a converter.
  const parts = Object.values(roles.parts).flatMap(({ elements: [first] }) => (first === undefined ? [] : [first]));
  const currents = [...parts.filter(inductive), ...parts.filter((id) => !inductive(id))].slice(0, MOST_PARTS).flatMap((id) => looksAt(circuit, id).slice(1));
  const asked = selected === undefined ? [] : looksAt(circuit, selected);
  const looked = [...outputs, ...currents, ...asked.filter((l) => !currents.some((c) => c.id === l.id))];
  return {
    figures: figuresOn(settled),
    looked,
    measures: Object.fromEntries(looked.map((l) => [l.id, { ...measured(l.of) }])),
    waves: { ids: looked.map((l) => l.id), units: looked.map((l) => l.unit), ...sample(cycle, looked.map((l) => quantityOf(l.of, roles))) },
    watts: { ...watts },
  };
}
