import { DEFAULT_TOLERANCE } from '../linear/tolerance';
import { fail, ok, type Result } from '../problem';
import type { EventSource } from './eventSources';
import type { Circuit } from './elements';
import { isSource, tonesOf } from './layout';

/** A cycle is at most so many periods of anything in it. */
export const MOST_TURNS = 200_000;

/** Something that repeats by itself. */
interface Repeating {
  name: string;
  /** s */
  period: number;
}

/** All that repeats by itself: modulators and samplers with a clock, pulses, tones. */
function repeatingIn(circuit: Circuit, eventSources: readonly EventSource[]): Repeating[] {
  const tones = circuit.elements.filter(isSource).flatMap((e) => tonesOf(e.value).map((t) => ({ name: e.id, period: 1 / t.frequency })));
  return [...eventSources.filter((a) => a.period > 0).map((a) => ({ name: a.id, period: a.period })), ...tones];
}

/**
 * The smallest period in which everything that repeats by itself does so a whole number of times, found by continued
 * fractions; a stated period is checked the same way. A clock may miss the period's end by the tolerance's share of
 * its own period, no more.
 *
 * @returns s, 0 when nothing repeats and none is stated; problem "period": the two that do not fit
 */
export function commonPeriod(circuit: Circuit, eventSources: readonly EventSource[]): Result<number> {
  const all = repeatingIn(circuit, eventSources);
  const stated = circuit.period;
  if (stated !== undefined) {
    for (const r of all)
      if (!fits(stated, r.period))
        return fail('period', r.name, `its period of ${seconds(r.period)} does not fit a whole number of times into the stated period of ${seconds(stated)}`, 'state a period that all fit into, or leave it out');
    return ok(stated);
  }
  let common: Repeating | undefined;
  for (const r of all) {
    if (!common) {
      common = r;
      continue;
    }
    const [p, q] = ratio(common.period / r.period, MOST_TURNS);
    const period = r.period * p;
    // q times what was common, p times this one.
    if (!(p > 0) || !fits(period, r.period) || !fits(period, common.period) || all.some((x) => period / x.period > MOST_TURNS))
      return fail('period', `${common.name}, ${r.name}`, `their periods of ${seconds(common.period)} and ${seconds(r.period)} have no common multiple within ${MOST_TURNS.toLocaleString('en')} turns`, 'give periods whose ratio is that of small whole numbers, with all their digits, or run it in time');
    if (q > 1) common = p === 1 ? r : { name: `${common.name} with ${r.name}`, period };
  }
  return ok(common?.period ?? 0);
}

const seconds = (s: number): string => `${Number(s.toPrecision(9))} s`;

/** Is a period a whole number of turns of another, to the tolerance's share of that one? */
function fits(whole: number, part: number): boolean {
  const turns = Math.round(whole / part);
  return turns >= 1 && Math.abs(whole / part - turns) <= DEFAULT_TOLERANCE.time;
}

/** The fraction p/q of least denominator that is within rounding of x, by continued fractions; [0, 1] when none is within the most. */
function ratio(x: number, most: number): [number, number] {
  let [p0, q0, p1, q1] = [0, 1, 1, 0];
  let rest = x;
  for (let k = 0; k < 40; k++) {
    const whole = Math.floor(rest);
    [p0, q0, p1, q1] = [p1, q1, whole * p1 + p0, whole * q1 + q0];
    if (p1 > most || q1 > most) return [0, 1];
    // Off by less than the tolerance's share of the faster one, after all turns.
    if (Math.abs(x * q1 - p1) <= DEFAULT_TOLERANCE.time * Math.min(1, x)) return [p1, q1];
    rest = 1 / (rest - whole);
  }
  return [0, 1];
}
