import type { Machine } from '../circuit/machine';
import { workSince, type Work } from '../linear/tolerance';
import { fail, type Result } from '../problem';

/**
 * Work is bounded, and counted rather than timed: the same input ends the same way on any machine. What it comes to is
 * reckoned in nanoseconds of an ordinary machine (8×8 product in 150 ns), by size of the state.
 */
export interface Budget {
  /** What has been done since the budget began */
  spent(): Work;
  over(): boolean;
  /** Problem "work": what it was spent on */
  exceeded(): Result<never>;
}

/** ns: some two seconds, of which a machine of a third of the speed makes six. */
const MOST_WORK = 1.8e9;
/** Where a period is a mains cycle or the like: thousands of turns are no fault of the search. */
export const LONG_WORK = 3e9;

/** A product, with the look at what is watched that goes with it */
const costOfStep = (size: number): number => 3 * size ** 2 + 700;
/** An event: its sensitivity is a product of rungs */
const costOfEvent = (size: number): number => 8 * size ** 3 + 10 * size ** 2 + 10_000;
/** A pattern: its equations, step table and modes */
const costOfPattern = (size: number): number => 150 * size ** 3 + 300_000;

/** @param most ns of an ordinary machine */
export function budgetOf(m: Machine, most = MOST_WORK): Budget {
  const before = { ...m.work };
  const { size } = m.layout;
  const [step, event, pattern] = [costOfStep(size), costOfEvent(size), costOfPattern(size)];
  const spent = (): Work => workSince(m.work, before);
  return {
    spent,
    over: () => (m.work.steps - before.steps) * step + (m.work.events - before.events) * event + (m.work.patterns - before.patterns) * pattern > most,
    exceeded() {
      const { iterations, events } = spent();
      const free = m.circuit.modulators.filter((x) => x.kind === 'hysteretic' || x.kind === 'constant-on-time').map((x) => x.id);
      const cause = free.length > 0 ? `; ${free.join(', ')} switches by itself, in no fixed relation to the period` : '';
      return fail('work', free.join(', '), `no cycle was found in good time: ${iterations} iterations with ${events.toLocaleString('en')} events${cause}`, 'state a shorter period that everything repeats in, or run it in time and look at where it goes');
    },
  };
}
