import type { ElementOf } from '../elements';
import { CircuitError } from '../error';
import { readProgram, runProgram, type Dual } from '../program';
import type { Pattern } from '../pattern';
import { beginning, NONE, rebased, stepOf, type EventSource, type GuardRow } from './eventSource';

/** Columns of a sampled controller: its memory, and each output as it is and as it will be. */
const column = (id: string, name: string): string => `held ${id}.${name}`;

/**
 * A sampled controller. Its program is carried out on values with their gradients over z, so that what it
 * sets is a reset whose linear part is exact, clamps and products included.
 * memory: [index of the next clock; with a delay, samples and outputs alternate]
 */
export function sampledControl(e: ElementOf<'sampled-control'>): EventSource {
  const kept = Object.keys(e.memory);
  const outputs = Object.keys(e.outputs);
  const delayed = e.delay > 0;
  const next = (name: string): string => `${name}.next`;
  const read = readProgram(e);
  const unit = (name: string) => (p: Pattern): Float64Array => {
    const row = new Float64Array(p.size);
    row[p.layout.column.get(column(e.id, name))!] = 1;
    return row;
  };
  // Rows: inputs, memory, then outputs under way.
  const names = [...Object.keys(e.inputs), ...kept];
  const rows: GuardRow[] = [
    ...Object.values(e.inputs).map(([plus, minus]) => (p: Pattern) => p.voltage(plus, minus)),
    ...[...kept, ...(delayed ? outputs.map(next) : [])].map(unit),
  ].map((row) => ({ owner: e.id, row }));
  const perPeriod = delayed ? 2 : 1;
  return {
    id: e.id,
    rows,
    held: [...kept, ...outputs, ...(delayed ? outputs.map(next) : [])].map((n) => column(e.id, n)),
    gates: [],
    period: e.period,
    begin: () => [beginning(e)],
    next: ([k]) => (Math.floor(k! / perPeriod) + e.phase) * e.period + stepOf(k!, perPeriod) * e.delay,
    clock(memory, hands) {
      const output = stepOf(memory[0]!, perPeriod) === 1;
      memory[0]!++;
      if (output) return outputs.forEach((name, i) => hands.set(column(e.id, name), { row: names.length + i }));
      const values = new Map<string, Dual>(names.map((name, i) => [name, { value: hands.value(i), gradient: hands.row(i) }]));
      if (!read.ok) throw new CircuitError(read.problem);
      const done = runProgram(e.id, read.value, values);
      if (!done.ok) throw new CircuitError(done.problem);
      for (const name of kept) hands.set(column(e.id, name), values.get(name)!);
      for (const name of outputs) hands.set(column(e.id, delayed ? next(name) : name), values.get(name)!);
    },
    active: () => NONE,
    fire: () => undefined,
    rebase: (memory, shift) => rebased(memory, shift, e.period, perPeriod, []),
  };
}
