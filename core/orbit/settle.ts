import { copyState, restState, type Machine, type State } from '../circuit/machine';
import { findRoot } from '../linear/root';
import { DEFAULT_TOLERANCE, type Tolerance } from '../linear/tolerance';
import { fail, ok, type Result } from '../problem';
import { budgetOf, LONG_WORK, type Budget } from './budget';
import { scalesOf } from './cycle';
import { onEdge } from './edge';
import { integrators, unheld } from './held';
import { march } from './march';
import { attempt, integralOf, rebase, turnsIn, type RegulatedMean, type SettledCycle, type SettleOptions } from './newton';

export type { RegulatedMean, SettledCycle, SettleOptions } from './newton';

/** Periods (of the fastest that repeats) that are run when Newton alone does not find the cycle, before it is tried once more. */
const LONG_RUN = 1000;
/** The same where nothing holds a state to begin with: a controller that has wound up at its end comes back from it after thousands. */
const UNWINDING = 10_000;
/** The same where a mean is regulated, and the setting is near already. */
const SHORT_RUN = 60;

/**
 * What makes a cycle settled: after one period every state is what it was, to what the tolerance asks of Newton's last
 * step; every switch, clock, sampler and source stands as it stood. The period is one that all that repeats fits
 * into. Sources that move once stand as they do before anything moves (or where the given state has left them): the
 * cycle is of that time, and a run that begins with it meets what is still to come.
 *
 * Solve for the settled cycle of a machine: Newton on x(T) − x(0) = 0 (and, where regulated, on
 * mean = target with a source's value as one more unknown). The Jacobian comes from the trace of the
 * period itself (see sensitivity). Where Newton leads away, the way is taken in steps of ever more periods
 * (pseudo-transient continuation: implicit Euler on the period map; Kelley, Keyes 1998), and last by running on.
 *
 * @returns the cycle; problems "no-period", "period" (two clocks do not fit), "limit" (the target lies outside what
 *   the source can do), "subharmonic" (only cycles of several periods repeat), "no-cycle", "work", "edge" (something compares what stays equal)
 */
export function settleCycle(m: Machine, options: SettleOptions = {}): Result<SettledCycle> {
  const clock = m.circuit.free ? m.eventSources.find((a) => a.period > 0) : undefined;
  if (clock) return fail('period', clock.id, 'it has a clock, so the period of this circuit is not its own', 'leave out "free"');
  if (m.clash && options.period === undefined) return { ok: false, problem: m.clash };
  const T = options.period ?? m.period;
  if (!(T > 0)) return fail('no-period', '', 'nothing in this circuit repeats, so it has no cycle', 'state a period, or add a modulator that has one');
  const begin = options.near ?? restState(m);
  const still = standing(m, begin);
  if (!still.ok) return still;
  const first = search(m, T, { ...options, near: still.value }, options.near !== undefined);
  const found = first.ok && m.circuit.free ? shortest(m, first.value, options) : first;
  if (!found.ok) return found;
  const edge = onEdge(m, found.value);
  if (edge) return edge;
  // What is still to come is met by a run that goes on from here.
  const memory = found.value.state.memory.map((own, i) => (m.eventSources[i]!.once ? [...begin.memory[i]!] : own));
  return ok({ ...found.value, state: { ...found.value.state, memory } });
}

/** Of a free cycle that goes round several times in its period, once round. */
function shortest(m: Machine, found: SettledCycle, options: SettleOptions): Result<SettledCycle> {
  const acted = new Map<string, number>();
  for (const j of found.trace.all) acted.set(j.owner, (acted.get(j.owner) ?? 0) + 1);
  const divisor = (a: number, b: number): number => (b === 0 ? a : divisor(b, a % b));
  const most = [...acted.values()].reduce(divisor, 0);
  for (let turns = most; turns > 1; turns--) {
    if (most % turns !== 0) continue;
    const once = attempt(m, found.period / turns, { ...options, near: found.state, ...(options.regulate ? { regulate: { ...options.regulate, guess: found.setting! } } : {}) }, { warm: true, budget: budgetOf(m) });
    if (once.ok && Math.abs((once.value.period * turns) / found.period - 1) < SAME_PERIOD) return once;
  }
  return ok(found);
}

/** Share by which periods may differ that are the same */
const SAME_PERIOD = 1e-6;

/** The state with all that moves once held where it is; problem "moving" where it is on its way. */
function standing(m: Machine, from: State): Result<State> {
  if (!m.eventSources.some((a) => a.once)) return ok(from);
  for (const a of m.eventSources) {
    const slope = m.layout.column.get(`${a.id} slope`);
    if (a.once && slope !== undefined && from.z[slope] !== 0) return fail('moving', a.id, 'this source is on its way, so nothing settles', 'begin before it moves or after it has come to rest');
  }
  return ok({ ...from, memory: from.memory.map((own, i) => (m.eventSources[i]!.once ? [Infinity] : own)) });
}

/** Turns of what is fastest above which a period is a long one */
const MANY_TURNS = 300;

/** Problems of one way to the cycle, after which another is tried. */
const LOST = new Set(['no-cycle', 'limit', 'unheld', 'chatter', 'no-pattern', 'overflow']);

function search(m: Machine, T: number, options: SettleOptions & { near: State }, warm: boolean): Result<SettledCycle> {
  const budget = options.most !== undefined ? budgetOf(m, options.most) : turnsIn(m, T) > MANY_TURNS ? budgetOf(m, LONG_WORK) : budgetOf(m);
  const counted = (r: Result<SettledCycle>): Result<SettledCycle> => (r.ok ? ok({ ...r.value, work: budget.spent() }) : r);
  const lost = (r: Result<SettledCycle>): boolean => !r.ok && LOST.has(r.problem.code);
  const first = attempt(m, T, options, { warm, budget });
  if (!lost(first)) return counted(first);
  // Slow states grown from where they are, in steps of ever more periods.
  const second = attempt(m, T, { ...options, warmUp: 0 }, { warm, budget, stepwise: true });
  if (!lost(second)) return counted(second);
  if (options.regulate) {
    const bracketed = byBracket(m, T, options, options.regulate, budget);
    if (bracketed) return counted(bracketed);
  }
  // A closed loop far from where it settles, or devices that have not found their order: let it come near by itself.
  const start = copyState(options.near);
  if (options.regulate) start.z[m.layout.column.get(options.regulate.source)!] = options.regulate.guess;
  const unheldOnTheWay = !options.regulate && !second.ok && second.problem.code === 'unheld';
  const run = march(m, start, start.t + Math.max(5, Math.ceil((options.regulate ? SHORT_RUN : unheldOnTheWay ? UNWINDING : LONG_RUN) / turnsIn(m, T))) * T, { budget });
  if (!run.ok && unheldOnTheWay) return second;
  if (!run.ok && options.regulate) return first;
  if (!run.ok) return run;
  const near = rebase(m, run.value, T);
  const third = attempt(m, T, { ...options, near, warmUp: 0 }, { warm: true, budget });
  if (options.regulate) return lost(third) ? first : counted(third);
  // What nothing holds on the way may be held further on; where it is not, that is the reason.
  if (lost(third) && unheldOnTheWay) return second;
  return lost(third) ? describeFailure(m, near, T, options.tolerance ?? DEFAULT_TOLERANCE) : counted(third);
}

/** Share of the control input's range to which the bracket is closed before Newton takes over. */
const BRACKETED = 1e-5;

/**
 * The setting by the one root finder, each value with its own settled cycle and nothing regulated: for means that Newton
 * loses its way to (a bridge that rests at light load answers its duty with a kink), and the only judge of
 * whether a mean is out of reach: "limit" is said of cycles that have settled. The ends are tried from the guess outwards.
 *
 * @returns undefined where a cycle on the way does not settle
 */
function byBracket(m: Machine, T: number, options: SettleOptions & { near: State }, regulate: RegulatedMean, budget: Budget): Result<SettledCycle> | undefined {
  const { min, max, guess, target, source } = regulate;
  const column = m.layout.column.get(source)!;
  const { regulate: _, ...plain } = options;
  let near = options.near;
  let broke: Result<SettledCycle> | undefined;
  const offAt = (setting: number): number => {
    const start = copyState(near);
    start.z[column] = setting;
    let found = attempt(m, T, { ...plain, near: start }, { warm: true, budget });
    if (!found.ok && LOST.has(found.problem.code)) found = attempt(m, T, { ...plain, near: start, warmUp: 0 }, { warm: true, budget, stepwise: true });
    if (!found.ok) {
      broke = found;
      return NaN;
    }
    near = found.value.state;
    return integralOf(found.value.trace, regulate.quantity, m.layout.size) / T - target;
  };
  const first = offAt(guess);
  if (broke) return undefined;
  // More of the control input is more of the mean nearly everywhere: that side first, half way and to its end, then the other.
  const sides = first < 0 ? [max, min] : [min, max];
  let [nearest, nearestOff] = [guess, first];
  for (const end of sides) {
    let [a, atA] = [guess, first];
    for (const b of [(guess + end) / 2, end]) {
      if (a === b) continue;
      const atB = offAt(b);
      if (broke) return undefined;
      if (Math.abs(atB) < Math.abs(nearestOff)) [nearest, nearestOff] = [b, atB];
      if (atA * atB <= 0) {
        const [low, high, atLow, atHigh] = a < b ? [a, b, atA, atB] : [b, a, atB, atA];
        const { at } = findRoot(offAt, { low, high, atLow, atHigh }, { width: BRACKETED * (max - min), value: BRACKETED * Math.abs(target) });
        if (broke) return undefined;
        const polished = attempt(m, T, { ...options, near, regulate: { ...regulate, guess: at } }, { warm: true, budget });
        return !polished.ok && LOST.has(polished.problem.code) ? undefined : polished;
      }
      [a, atA] = [b, atB];
    }
  }
  return outOfReach(regulate, target + nearestOff, nearest);
}

const outOfReach = ({ source, min, max, target }: RegulatedMean, mean: number, at: number): Result<never> =>
  fail('limit', source, `no value between ${min} and ${max} brings the mean to ${target.toPrecision(4)} (${mean.toPrecision(4)} at ${at === min || at === max ? 'the limit' : at.toPrecision(3)})`, 'change the line, the load or what is wanted');

/** Events of one period at most, where it is only looked at. */
const MOST_MARCHED = 100_000;

/** Why there is no cycle of one period: a subharmonic is one of several, found by running on. */
function describeFailure(m: Machine, from: State, T: number, { relative }: Tolerance): Result<never> {
  let state = from;
  const starts: Float64Array[] = [from.z];
  for (let k = 0; k < (turnsIn(m, T) > 100 ? 5 : 16); k++) {
    const run = march(m, state, state.t + T, { events: MOST_MARCHED });
    if (!run.ok) return run;
    state = rebase(m, run.value, T);
    starts.push(state.z);
  }
  const columns = Array.from({ length: m.layout.n }, (_, i) => i);
  const scale = scalesOf(m.layout, starts.map((z0) => ({ z0 })), columns);
  const distance = (a: Float64Array, b: Float64Array): number => columns.reduce((worst, i) => Math.max(worst, Math.abs(a[i]! - b[i]!) / scale[i]!), 0);
  // Marching comes near its end as slowly as it does: a millionth tells one cycle of several from another.
  // A pure integrator whose input keeps its sign runs on for ever, evenly or faster.
  for (const c of integrators(m)) {
    const steps = starts.slice(1).map((z, k) => z[c]! - starts[k]![c]!);
    const last = steps.at(-1)!;
    if (steps.slice(1).every((d) => d * last > 0 && Math.abs(d) > 1e6 * relative * scale[c]! && Math.abs(last) > 0.5 * Math.abs(d))) return unheld(m, c);
  }
  for (const periods of [2, 3, 4, 8])
    if (starts[periods] && distance(starts[0]!, starts[periods]!) < 1e6 * relative && distance(starts[0]!, starts[1]!) > 1e7 * relative)
      return fail('subharmonic', '', `it repeats only after ${periods} periods`, 'add slope to the ramp, or lower the bandwidth');
  return fail('no-cycle', '', 'no cycle of one period was found', 'run it in time and look at where it goes');
}

