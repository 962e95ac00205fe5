import type { ElementOf } from '../elements';
import type { Pattern } from '../pattern';
import { beginning, NONE, rebased, stepOf, type EventSource, type GuardRow } from './eventSource';

/**
 * A difference equation. What it keeps are held columns: the output, the output under way, and the
 * inputs and outputs of earlier samples; a sample is a linear reset of them all at once. An output that would lie beyond its
 * range stands at its end, whatever the state: its row is nothing there. It is kept as it went out (Åström, Wittenmark,
 * "Computer-Controlled Systems", ch. 3, on windup of controllers that compute).
 * memory: [index of the next clock; with a delay, samples and outputs alternate]
 */
export function sampled(e: ElementOf<'sampled'>): EventSource {
  const lead = e.denominator[0]!;
  const b = e.numerator.map((v) => v / lead);
  const a = e.denominator.slice(1).map((v) => v / lead);
  const name = (what: string): string => `held ${e.id}${what}`;
  const inputs = b.slice(1).map((_, i) => name(`.e${i + 1}`));
  const outputs = a.map((_, i) => name(`.y${i + 1}`));
  const delayed = e.delay > 0;
  const result = delayed ? name('.next') : name('');
  const unit = (p: Pattern, column: string, factor = 1): Float64Array => {
    const row = new Float64Array(p.size);
    row[p.layout.column.get(column)!] = factor;
    return row;
  };
  const error = (p: Pattern): Float64Array => p.voltage(e.plus, e.minus);
  const equation = (p: Pattern): Float64Array => {
    const row = error(p).map((v) => v * b[0]!);
    inputs.forEach((column, i) => (row[p.layout.column.get(column)!]! += b[i + 1]!));
    outputs.forEach((column, i) => (row[p.layout.column.get(column)!]! -= a[i]!));
    return row;
  };
  const rows: GuardRow[] = [equation, error, ...[...inputs, ...outputs, result].map((column) => (p: Pattern) => unit(p, column))].map((row) => ({ owner: e.id, row }));
  const perPeriod = delayed ? 2 : 1;
  return {
    id: e.id,
    rows,
    held: [name(''), ...(delayed ? [result] : []), ...inputs, ...outputs],
    gates: [],
    period: e.period,
    begin: () => [beginning(e)],
    next: ([k]) => (Math.floor(k! / perPeriod) + e.phase) * e.period + stepOf(k!, perPeriod) * e.delay,
    clock(memory, hands) {
      const goesOut = stepOf(memory[0]!, perPeriod) === 1;
      memory[0]!++;
      if (goesOut) return hands.set(name(''), { row: rows.length - 1 });
      const wanted = hands.value(0);
      const cut = Math.min(e.high ?? Infinity, Math.max(e.low ?? -Infinity, wanted));
      const output = cut === wanted ? { row: 0 } : cut;
      hands.set(result, output);
      inputs.forEach((column, i) => hands.set(column, { row: i === 0 ? 1 : 2 + i - 1 }));
      outputs.forEach((column, i) => hands.set(column, i === 0 ? output : { row: 2 + inputs.length + i - 1 }));
    },
    active: () => NONE,
    fire: () => undefined,
    rebase: (memory, shift) => rebased(memory, shift, e.period, perPeriod, []),
  };
}
