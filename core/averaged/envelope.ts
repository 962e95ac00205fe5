import { freeColumns } from '../circuit/layout';
import type { Machine, State } from '../circuit/machine';
import { apply, dot } from '../linear/dense';
import type { Budget } from '../orbit/budget';
import { scalesOf } from '../orbit/cycle';
import { emptyTrace, march, type Trace } from '../orbit/march';
import type { Quantity } from '../orbit/measure';
import { integralOf, toldFrom } from '../orbit/newton';
import { sensitivities } from '../orbit/sensitivity';
import { ok, type Result } from '../problem';

/**
 * The means of a run over its switching periods, of which only some are run. A period takes the states from z to P(z); how that
 * follows from where it begins, X = ∂P/∂z, says what the next ones do,
 *
 *   z_{k+1} − z_k = X (z_k − z_{k−1}),
 *
 * as long as X stays what it is. The next that is run moves the states by nearly what was foreseen. What it is off by has grown as
 * the square of their number, so that all that were left out are off by a third of that each; they are as many as keep this small,
 * and where they were too many they are gone through again. It is right for whatever a period is made of: what ends by itself within
 * it, samplers, currents that stop, a mains behind a bridge. What dies within a period costs nothing, since X has it.
 *
 * Source: Petzold, "An efficient numerical method for highly oscillatory ordinary differential equations", SIAM J. Numer. Anal. 18 (1981);
 * Kundert, White, Sangiovanni-Vincentelli, "An envelope-following method for the efficient transient simulation of switching power and
 * filter circuits", ICCAD 1988; the way over many periods is that of the exponential integrators, Hochbruck, Ostermann, Acta Numerica 19 (2010).
 */
export interface Envelope {
  /** Where it has ended */
  end: State;
  /** Switching periods that were run */
  run: number;
}

/** Share of the largest that a state has been, by which what is left out at once may be off; and of the largest of its kind, below which a state is as good as nothing */
const [OFF, SMALL] = [1e-3, 1e-3];
/** By how much more may be left out at once than the last time, as a share of what is allowed, and periods at most */
const [GROWS, CAREFUL, MOST] = [3, 0.8, 2000];
/** Fewer cost more than they save: then so many are run before it is tried again */
const [WORTH, ON_FOOT] = [3, 4];
/** Means that are told of what is left out at once, at most */
const TOLD = 64;
/** Share of a period below which nothing is left of it */
const NOTHING = 1e-6;

/** What is left out, and what was foreseen of the period after it. */
interface Jump {
  length: number;
  move: Float64Array;
  /** Where it began */
  from: State;
}

/**
 * @param period s of its switching, in which all its clocks repeat
 * @param until s
 * @param tell is told of the mean of each quantity over a period, by the time at its middle, in order
 * @returns problems of running it; "work" of the budget
 */
export function envelope(m: Machine, begin: State, period: number, until: number, quantities: readonly Quantity[], tell: (t: number, means: readonly number[]) => void, budget?: Budget): Result<Envelope> {
  const size = begin.z.length;
  const free = freeColumns(m.layout);
  const largest = new Float64Array(free.length);
  const once = m.eventSources.flatMap((a, i) => (a.once ? [i] : []));
  /** When the next thing happens that does so once and for all */
  const nextOnce = (s: State): number => Math.min(Infinity, ...once.map((i) => m.eventSources[i]!.next(s.memory[i]!)));
  const meansOf = (trace: Trace, lasts: number): number[] => quantities.map((q) => integralOf(trace, q, size) / lasts);

  let [state, run, most, walk] = [begin, 0, WORTH, 0];
  let jump: Jump | undefined;
  /** Means of what is left out, told once it is seen that it may be */
  let kept: { t: number; means: number[] }[] = [];
  while (until - state.t > NOTHING * period) {
    const lasts = Math.min(period, until - state.t);
    const trace = emptyTrace();
    const ran = march(m, state, state.t + lasts, { trace, ...(budget ? { budget } : {}) });
    if (!ran.ok) return ran;
    const end = ran.value;
    run++;
    if (jump) {
      const { length, move, from } = jump;
      let off = 0;
      free.forEach((c, i) => (off = Math.max(off, Math.abs(end.z[c]! - state.z[c]! - move[c]!) / largest[i]!)));
      off *= length / 3;
      jump = undefined;
      most = Math.min(GROWS * length, MOST, Math.floor(CAREFUL * length * Math.cbrt(OFF / Math.max(off, Number.MIN_VALUE))));
      if (most < WORTH) [most, walk] = [WORTH, ON_FOOT];
      if (off > OFF) {
        [state, kept] = [from, []];
        continue;
      }
      for (const { t, means } of kept) tell(t, means);
      kept = [];
    }
    const scales = scalesOf(m.layout, [{ z0: end.z }], free);
    free.forEach((c, i) => (largest[i] = Math.max(largest[i]!, Math.abs(end.z[c]!), SMALL * scales[i]!)));
    const means = meansOf(trace, lasts);
    tell(state.t + lasts / 2, means);
    // The last whole period is run, and what happens once is in a period like no other.
    const clear = Math.floor((Math.min(until - period, nextOnce(end)) - end.t) / period - NOTHING);
    const length = Math.min(most, clear);
    if (walk > 0 || length < WORTH || nextOnce(state) < end.t) {
      walk = Math.max(0, walk - 1);
      state = end;
      continue;
    }

    const { X, integrals } = sensitivities(trace, size, quantities);
    const reached = end.z.slice();
    let move = reached.map((v, i) => v - state.z[i]!);
    let next = new Float64Array(size);
    const every = Math.ceil(length / TOLD);
    for (let j = 0; ; j++) {
      if (j < length && (length - j) % every === 0) kept.push({ t: end.t + (j + 0.5) * period, means: means.map((v, q) => v + (dot(integrals[q]!, reached, size) - dot(integrals[q]!, state.z, size)) / period) });
      apply(X, move, next, size);
      [move, next] = [next, move];
      if (j === length) break;
      for (let i = 0; i < size; i++) reached[i]! += move[i]!;
    }
    jump = { length, move, from: end };
    state = { ...toldFrom(m, end, -length * period), z: reached };
  }
  return ok({ end: state, run });
}
