import type { ElementOf } from '../elements';
import type { Pattern } from '../pattern';
import { NONE, type EventSource } from './eventSource';

/** memory: [started, high] */
export function comparator(e: ElementOf<'comparator'>): EventSource {
  const above = (p: Pattern): Float64Array => p.voltage(e.plus, e.minus);
  return {
    id: e.id,
    rows: [{ owner: e.id, row: above }, { owner: e.id, row: (p) => above(p).map((v) => -v) }],
    held: [],
    gates: [e.id],
    period: 0,
    begin: () => [0, 0],
    next: ([started]) => (started ? Infinity : 0),
    clock(memory, hands) {
      memory[0] = 1;
      memory[1] = hands.value(0) > 0 ? 1 : 0;
      hands.command(e.id, memory[1] === 1, 0);
    },
    active: (memory) => (memory[0] ? [{ index: memory[1]!, offset: -e.hysteresis / 2, slope: 0, from: 0 }] : NONE),
    fire(memory, index, hands) {
      memory[1] = index === 0 ? 1 : 0;
      hands.command(e.id, memory[1] === 1, e.delay);
    },
    rebase: (memory) => [...memory],
  };
}
