import { freeColumns } from '../circuit/layout';
import { copyState, restState, type Machine, type Prepared, type State } from '../circuit/machine';
import { apply, dot, solveInPlace } from '../linear/dense';
import { eigenvalues } from '../linear/eigen';
import { fail, ok, type Problem, type Result } from '../problem';
import { DEFAULT_TOLERANCE, ROUNDING, workSince, type Tolerance, type Work } from '../linear/tolerance';
import { psiOf, scalesOf, type Cycle } from './cycle';
import { CLOCK, EARLIER, emptyTrace, march, type MarchOptions, type Trace } from './march';
import { sensitivity } from './sensitivity';

/** A settled cycle with what small signals and further runs need: its trace and the state it starts in. */
export interface SettledCycle extends Cycle {
  trace: Trace;
  state: State;
  /** dz(T)/dz(0) over all of z */
  X: Float64Array;
  /** Value of the source that regulation set, when there was one */
  setting?: number;
}

/** Mean of a quantity wanted over the period, with the value of one source as the unknown. */
export interface RegulatedMean {
  quantity: (p: Prepared) => Float64Array;
  target: number;
  /** Id of a constant source */
  source: string;
  min: number;
  max: number;
  /** Where to begin */
  guess: number;
}

export interface SettleOptions {
  /** s; the machine's own when left out */
  period?: number;
  /** Begin from here: a neighbouring cycle's state, or one a run ended in */
  near?: State;
  regulate?: RegulatedMean;
  /** Periods to run before Newton begins */
  warmUp?: number;
  tolerance?: Tolerance;
}

const MAX_ITERATIONS = 40;

/** Periods (of the fastest that repeats) that are run when Newton alone does not find the cycle, before it is tried once more. */
const LONG_RUN = 1000;
/** The same where a mean is regulated, and the setting is near already. */
const SHORT_RUN = 60;

/** Work after which a cycle is given up, in nanoseconds of an ordinary machine: some five seconds. */
const MOST_WORK = 3.5e9;

/** What work comes to: products of a state, of a sensitivity at each event (its exponential is a product of rungs), and ladders. */
function costOf(m: Machine, w: Work): number {
  const { size } = m.layout;
  return w.steps * costOfStep(size) + w.events * costOfEvent(size) + w.patterns * (60 * size ** 3 + 50_000);
}
/** Events and steps that may still be followed. */
function workLeft(m: Machine, before: Work): { events: number; steps: number } {
  const left = MOST_WORK - costOf(m, workSince(m.work, before));
  const step = costOfStep(m.layout.size);
  return { events: Math.max(1, Math.floor(left / (costOfEvent(m.layout.size) + 10 * step))), steps: Math.max(1, Math.floor(left / step)) };
}
/** A step is a rung, or several with a Taylor series behind them. */
const costOfStep = (size: number): number => 3 * size ** 2 + 800;
const costOfEvent = (size: number): number => 8 * size ** 3 + 10 * size ** 2 + 10_000;

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
 *   the source can do), "subharmonic" (only cycles of several periods repeat), "no-cycle", "work"
 */
export function settleCycle(m: Machine, options: SettleOptions = {}): Result<SettledCycle> {
  if (m.clash && options.period === undefined) return { ok: false, problem: m.clash };
  const T = options.period ?? m.period;
  if (!(T > 0)) return fail('no-period', '', 'nothing in this circuit repeats, so it has no cycle', 'state a period, or add a modulator that has one');
  const begin = options.near ?? restState(m);
  const still = standing(m, begin);
  if (!still.ok) return still;
  const found = search(m, T, { ...options, near: still.value }, options.near !== undefined);
  if (!found.ok) return found;
  // What is still to come is met by a run that goes on from here.
  const memory = found.value.state.memory.map((own, i) => (m.agents[i]!.once ? [...begin.memory[i]!] : own));
  return ok({ ...found.value, state: { ...found.value.state, memory } });
}

/** The state with all that moves once held where it is; problem "moving" where it is on its way. */
function standing(m: Machine, from: State): Result<State> {
  if (!m.agents.some((a) => a.once)) return ok(from);
  for (const a of m.agents) {
    const slope = m.layout.column.get(`${a.id} slope`);
    if (a.once && slope !== undefined && from.z[slope] !== 0) return fail('moving', a.id, 'this source is on its way, so nothing settles', 'begin before it moves or after it has come to rest');
  }
  return ok({ ...from, memory: from.memory.map((own, i) => (m.agents[i]!.once ? [Infinity] : own)) });
}

/** Problems of one way to the cycle, after which another is tried. */
const LOST = new Set(['no-cycle', 'limit', 'unheld', 'chatter', 'no-pattern', 'overflow']);

function search(m: Machine, T: number, options: SettleOptions & { near: State }, warm: boolean): Result<SettledCycle> {
  const before = { ...m.work };
  const counted = (r: Result<SettledCycle>): Result<SettledCycle> => (r.ok ? ok({ ...r.value, work: workSince(m.work, before) }) : r);
  const lost = (r: Result<SettledCycle>): boolean => !r.ok && LOST.has(r.problem.code);
  const first = attempt(m, T, options, { warm, before });
  if (!lost(first)) return counted(first);
  // Slow states grown from where they are, in steps of ever more periods.
  const second = attempt(m, T, { ...options, warmUp: 0 }, { warm, before, stepwise: true });
  if (!lost(second)) return counted(second);
  if (!options.regulate && !second.ok && second.problem.code === 'unheld') return second;
  // A closed loop far from where it settles, or devices that have not found their order: let it come near by itself.
  const start = copyState(options.near);
  if (options.regulate) start.z[m.layout.column.get(options.regulate.source)!] = options.regulate.guess;
  const run = march(m, start, start.t + Math.max(5, Math.ceil((options.regulate ? SHORT_RUN : LONG_RUN) / turnsIn(m, T))) * T, { events: workLeft(m, before).events });
  if (!run.ok && options.regulate) return first;
  if (!run.ok) return run.problem.code === 'events' ? workedLong(m, workSince(m.work, before)) : run;
  const near = rebase(m, run.value, T);
  const third = attempt(m, T, { ...options, near, warmUp: 0 }, { warm: true, before });
  if (options.regulate) return lost(third) ? first : counted(third);
  return lost(third) ? describeFailure(m, near, T, options.tolerance ?? DEFAULT_TOLERANCE) : counted(third);
}

/**
 * The same run a little later, at a moment when no gate edge is under way that follows the state: a period
 * that begins with one would need its time as one more unknown. The moment is the middle of the gap between the
 * last such edge and the next event that one follows. Given back as it is where there is no gap.
 */
function withoutPending(m: Machine, from: State, T: number, limits: MarchOptions): Result<State> {
  const follows = (s: State): State['pending'] => s.pending.filter((p) => p.cause !== CLOCK);
  let state = from;
  for (let round = 0; round < 6 && follows(state).length > 0; round++) {
    const run = march(m, state, Math.max(...follows(state).map((p) => p.time)) + 1e-9 * T, limits);
    if (!run.ok) return run;
    state = run.value;
  }
  if (follows(state).length > 0) return ok({ ...from, pending: from.pending.map((p) => ({ ...p, cause: EARLIER })) });
  if (state === from) return ok(from);
  const trace = emptyTrace();
  const ahead = march(m, state, state.t + T, { trace, ...limits });
  if (!ahead.ok) return ahead;
  const next = Math.min(state.t + T, ...trace.all.flatMap((j, k) => (j.cause >= 0 && j.cause !== k ? [trace.all[j.cause]!.t] : [])));
  return march(m, state, (state.t + next) / 2);
}

/** How many of the fastest repetitions make one period: thousands in a mains cycle. */
const turnsIn = (m: Machine, T: number): number => T / Math.min(m.fastest, T);

interface Attempt {
  /** Does it begin at a neighbour, with its devices in order? */
  warm: boolean;
  /** What had been done before the search began */
  before: Work;
  /** In steps of ever more periods */
  stepwise?: boolean;
}

/**
 * Pseudo-transient continuation: rounds at most; change of the states, against the largest, below which a step is
 * done; rounds after which it is not; how much longer and shorter the next one is then; and the length at which a
 * step is no different from Newton's.
 */
const MOST_STEPS = 400;
const DONE = 1e-3;
const ROUNDS = 8;
const [LONGER, SHORTER] = [6, 8];
const NO_END = 1e12;
/** Periods run where not even a step of one can be taken. */
const ON_FOOT = 30;

function attempt(m: Machine, T: number, options: SettleOptions & { near: State }, { warm, before, stepwise = false }: Attempt): Result<SettledCycle> {
  const free = freeColumns(m.layout);
  const n = free.length;
  const { size } = m.layout;
  const { regulate } = options;
  const { relative } = options.tolerance ?? DEFAULT_TOLERANCE;
  const knob = regulate ? m.layout.column.get(regulate.source)! : -1;

  let state = copyState(options.near);
  if (regulate) state.z[knob] = regulate.guess;
  state = rebase(m, state, T);
  // Diodes want to find their order first; gates alone have it from the start.
  let warmUp = options.warmUp ?? (warm || m.bent.length === 0 ? 0 : turnsIn(m, T) > 100 ? 1 : 3);
  let lastChange = Infinity;
  let stuck = 0;
  // Stepwise: the periods that one step stands for, where it begins, and how it goes.
  let periods = stepwise ? 1 : Infinity;
  let from = state;
  let [rounds, lastMiss] = [0, Infinity];
  let last: State | undefined;
  let lost = 0;
  let looseFor = 0;
  const drift = new Map(stepwise ? [] : integrators(m).map((c) => [c, { least: Infinity, most: 0, sign: 0 }]));
  for (let iteration = 1; iteration <= (stepwise ? MOST_STEPS : MAX_ITERATIONS); iteration++) {
    const spent = workSince(m.work, before);
    if (costOf(m, spent) > MOST_WORK) return workedLong(m, spent);
    m.work.iterations++;
    for (let k = 0; k < warmUp; k++) {
      if (costOf(m, workSince(m.work, before)) > MOST_WORK) return workedLong(m, workSince(m.work, before));
      const run = march(m, state, state.t + T, workLeft(m, before));
      if (!run.ok) return run.problem.code === 'events' ? workedLong(m, workSince(m.work, before)) : run;
      m.work.periods++;
      state = rebase(m, run.value, T);
    }
    warmUp = 0;
    const clear = withoutPending(m, state, T, workLeft(m, before));
    if (!clear.ok) return clear.problem.code === 'events' ? workedLong(m, workSince(m.work, before)) : clear;
    state = clear.value;
    const trace = emptyTrace();
    const run = march(m, state, state.t + T, { trace, ...workLeft(m, before) });
    if (!run.ok && run.problem.code === 'events') return workedLong(m, workSince(m.work, before));
    if (!run.ok) {
      // Newton has led to a state that can not be run from: half way back, as often as it takes.
      if (!last || ++lost > 8) return run;
      state = between(last, state);
      continue;
    }
    last = state;
    m.work.periods++;
    const end = run.value;
    const sense = sensitivity(trace, size, regulate?.quantity);
    const { X } = sense;

    const unknowns = regulate ? n + 1 : n;
    const J = new Float64Array(unknowns * unknowns);
    const r = new Float64Array(unknowns);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) J[i * unknowns + j] = X[free[i]! * size + free[j]!]! - (i === j ? 1 + 1 / periods : 0);
      r[i] = state.z[free[i]!]! - end.z[free[i]!]!;
    }
    let mean = 0;
    if (regulate) {
      mean = integralOf(trace, regulate.quantity, size) / T;
      for (let i = 0; i < n; i++) J[i * unknowns + n] = X[free[i]! * size + knob]!;
      for (let j = 0; j < n; j++) J[n * unknowns + j] = sense.integral[free[j]!]! / T;
      J[n * unknowns + n] = sense.integral[knob]! / T;
      r[n] = regulate.target - mean;
    }
    const largest = scalesOf(m.layout, trace.stretches, free);
    let residual = 0;
    for (let i = 0; i < n; i++) residual = Math.max(residual, Math.abs(r[i]!) / largest[i]!);
    if (stepwise) {
      // x − P(x) + (x − y)/N: implicit Euler over N periods from y.
      let miss = regulate ? Math.abs(r[n]!) / (Math.abs(regulate.target) || 1) : 0;
      for (let i = 0; i < n; i++) {
        r[i]! += (state.z[free[i]!]! - from.z[free[i]!]!) / periods;
        miss = Math.max(miss, Math.abs(r[i]!) / largest[i]!);
      }
      if (rounds > ROUNDS || (rounds > 2 && miss > 0.7 * lastMiss)) {
        periods /= SHORTER;
        if (periods < 1) {
          periods = 1;
          const walked = march(m, from, from.t + Math.max(1, Math.round(ON_FOOT / turnsIn(m, T))) * T, workLeft(m, before));
          if (!walked.ok) return walked.problem.code === 'events' ? workedLong(m, workSince(m.work, before)) : walked;
          from = rebase(m, walked.value, T);
        }
        state = from;
        [rounds, lastMiss, lastChange] = [0, Infinity, Infinity];
        continue;
      }
      lastMiss = miss;
    }
    // A pure integrator that runs on evenly, whatever Newton has done: nothing brings its input back to zero.
    for (const [c, d] of drift) {
      const step = end.z[c]! - state.z[c]!;
      drift.set(c, { least: Math.min(d.least, Math.abs(step)), most: Math.max(d.most, Math.abs(step)), sign: iteration === 1 || d.sign * step > 0 ? Math.sign(step) : 0 });
    }
    if (iteration === RUNS_ON) for (const [c, d] of drift) if (d.sign !== 0 && d.least > d.most / 2) return unheld(m, c, regulate, turnsIn(m, T) > 100 ? 'runs-on' : 'unheld');
    // A direction that comes back as it left: nothing holds it there, and Newton would throw it anywhere.
    const loose = iteration === 1 || stepwise ? looseDirection(X, size, free, largest) : undefined;
    if (loose === undefined) looseFor = 0;
    else if (!stepwise || ++looseFor >= LOOSE) return unheld(m, loose, regulate);
    const singular = solveInPlace(J, r, unknowns, 1);
    if (singular >= 0) return unheld(m, free[singular], regulate);

    let change = 0;
    for (let i = 0; i < n; i++) change = Math.max(change, Math.abs(r[i]!) / largest[i]!);
    if (!Number.isFinite(change)) return fail('no-cycle', '', 'the solution grows without bound', 'check the part values');
    const wanted = regulate ? state.z[knob]! + r[n]! : 0;
    const setting = regulate ? Math.min(regulate.max, Math.max(regulate.min, wanted)) : 0;
    if (regulate) change = Math.max(change, Math.abs(setting - state.z[knob]!) / (regulate.max - regulate.min));

    const back = rebase(m, end, T);
    const same = end.pending.length === state.pending.length && end.pending.every((p) => p.cause === CLOCK) && end.segments.every((v, i) => v === state.segments[i]) && standsAlike(m, state, back, T);
    const settled = same && !(periods < NO_END) && residual < ROUNDING * relative && (change < relative || (change < ROUNDING * relative && change >= lastChange / 2));
    if (settled && (!regulate || (wanted >= regulate.min && wanted <= regulate.max))) {
      const monodromy = new Float64Array(n * n);
      for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) monodromy[i * n + j] = X[free[i]! * size + free[j]!]!;
      return ok({ period: T, stretches: trace.stretches, closure: residual, iterations: iteration, work: m.work, monodromy, states: n, trace, state, X, ...(regulate ? { setting: state.z[knob]! } : {}) });
    }
    if (regulate && iteration > 8 && !stepwise && setting !== wanted)
      return fail('limit', regulate.source, `no value between ${regulate.min} and ${regulate.max} brings the mean to ${regulate.target.toPrecision(4)} (${mean.toPrecision(4)} at the limit)`, 'change the line, the load or what is wanted');

    // A step that does not shrink what is left is not trusted: run on for a while, then try again.
    stuck = change > 0.5 * lastChange && change > 1e4 * relative ? stuck + 1 : 0;
    lastChange = change;
    const next = copyState(state);
    if (!same) {
      // What stands at the period's start has changed: take over what the run ended in.
      next.segments = end.segments.slice();
      next.gates = { ...end.gates };
      next.pending = back.pending;
      next.memory = back.memory;
      for (const c of sourceColumns(m)) if (c !== knob) next.z[c] = end.z[c]!;
    }
    // Far steps are cut short, but where no event follows the state: there the period map is affine, and the step exact.
    const follows = trace.all.some((j, k) => j.cause === k && free.some((c) => j.gradient![c] !== 0));
    const damp = change > 1 && follows ? 1 / change : 1;
    for (let i = 0; i < n; i++) next.z[free[i]!]! += damp * r[i]!;
    if (regulate) next.z[knob] = state.z[knob]! + damp * (setting - state.z[knob]!);
    state = rebase(m, next, T);
    if (stepwise) {
      rounds++;
      if (change < DONE && same) {
        if (rounds <= ROUNDS / 2) periods = Math.min(NO_END, periods * LONGER);
        from = state;
        [rounds, lastMiss] = [0, Infinity];
      }
    } else if (stuck >= 4) {
      stuck = 0;
      lastChange = Infinity;
      warmUp = Math.max(1, Math.round((10 * iteration) / turnsIn(m, T)));
      state = back;
    }
  }
  return fail('no-cycle', '', 'no cycle of one period was found', 'run it in time and look at where it goes');
}

/** Iterations after which an even drift is one for good. */
const RUNS_ON = 9;

/** Columns of pure integrators: the outermost state of a block without a constant in its denominator. */
const integrators = (m: Machine): number[] => m.circuit.elements.flatMap((e) => (e.kind === 'transfer' && e.denominator[0] === 0 && e.denominator.length > 1 ? [m.layout.column.get(`${e.id}.0`)!] : []));

/** Rounds in which a direction has to be loose: a controller that is saturated to begin with lets go of its integrator too. */
const LOOSE = 60;

/** How little may bring a state back in a period before that is taken for rounding. */
const HELD = 1e-13;

/** A state that the period brings back as it was, whatever it was: X − I is singular with it. Undefined where there is none. */
function looseDirection(X: Float64Array, size: number, free: readonly number[], scale: Float64Array): number | undefined {
  const n = free.length;
  const a = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) a[i * n + j] = ((X[free[i]! * size + free[j]!]! - (i === j ? 1 : 0)) * scale[j]!) / scale[i]!;
  // Elimination with complete pivoting: what is left when no pivot is found spans the loose directions.
  const columns = Array.from({ length: n }, (_, j) => j);
  for (let k = 0; k < n; k++) {
    let [p, q, best] = [k, k, 0];
    for (let i = k; i < n; i++) for (let j = k; j < n; j++) if (Math.abs(a[i * n + j]!) > best) [p, q, best] = [i, j, Math.abs(a[i * n + j]!)];
    if (best <= HELD) {
      // Back substitution of the first free column: the direction, in shares of each state's size.
      const v = new Float64Array(n);
      v[k] = 1;
      for (let i = k - 1; i >= 0; i--) {
        let sum = 0;
        for (let j = i + 1; j <= k; j++) sum += a[i * n + j]! * v[j]!;
        v[i] = -sum / a[i * n + i]!;
      }
      const most = Math.max(...v.map(Math.abs));
      // Of those that take part, the first: states of the circuit stand before what samplers keep.
      return free[Math.min(...columns.filter((_, i) => Math.abs(v[i]!) > 0.3 * most))]!;
    }
    for (let j = 0; j < n; j++) [a[p * n + j], a[k * n + j]] = [a[k * n + j]!, a[p * n + j]!];
    for (let i = 0; i < n; i++) [a[i * n + q], a[i * n + k]] = [a[i * n + k]!, a[i * n + q]!];
    [columns[q], columns[k]] = [columns[k]!, columns[q]!];
    for (let i = k + 1; i < n; i++) {
      const f = a[i * n + k]! / a[k * n + k]!;
      if (f !== 0) for (let j = k; j < n; j++) a[i * n + j]! -= f * a[k * n + j]!;
    }
  }
  return undefined;
}

function workedLong(m: Machine, spent: Work): Result<never> {
  const free = m.circuit.modulators.filter((x) => x.kind === 'hysteretic' || x.kind === 'constant-on-time').map((x) => x.id);
  const cause = free.length > 0 ? `; ${free.join(', ')} switches by itself, in no fixed relation to the period` : '';
  return fail('work', free.join(', '), `no cycle was found in good time: ${spent.iterations} iterations with ${spent.events.toLocaleString('en')} events${cause}`, 'state a shorter period that everything repeats in, or run it in time and look at where it goes');
}

/** Half way from one state to another, with the devices of the first. */
const between = (a: State, b: State): State => ({ ...copyState(a), z: a.z.map((v, i) => (v + b.z[i]!) / 2) });

/** The state that nothing brings back, by its element's name. */
function unheld(m: Machine, column: number | undefined, regulate: RegulatedMean | undefined, code = 'unheld'): Result<never> {
  if (column === undefined) return fail('no-cycle', regulate?.source ?? '', 'the regulated mean does not depend on what is solved for', 'check that the output is connected');
  const name = [...m.layout.column].find(([, i]) => i === column)![0].replace(/^held /, '');
  const owner = m.circuit.elements.find((e) => e.id === name || name.startsWith(`${e.id}.`));
  return fail(code, owner?.id ?? name, `nothing holds ${owner?.kind === 'transfer' || owner?.kind === 'op-amp' ? 'this integrator' : 'this state'}: it keeps whatever it begins with, or runs on for ever`, 'let something follow it, give it a path back to rest (a resistance, a leak, a feedback), or run it in time');
}

/** Columns of sources that repeat by themselves, tones left out: they stand as the clock has left them. */
const sourceColumns = (m: Machine): number[] => m.agents.filter((a) => a.period > 0 && m.layout.column.has(a.id)).map((a) => m.layout.column.get(a.id)!);

/** Do clocks, sources and gates stand as they stood a period before? Moments that follow the state come as near as it does. */
function standsAlike(m: Machine, then: State, now: State, T: number): boolean {
  for (const c of sourceColumns(m)) if (then.z[c] !== now.z[c]) return false;
  for (const gate of Object.keys(now.gates)) if ((then.gates[gate] ?? false) !== now.gates[gate]) return false;
  return now.memory.every((own, i) => m.agents[i]!.once || own.every((v, k) => v === then.memory[i]![k] || Math.abs(v - then.memory[i]![k]!) <= 1e-6 * T));
}

/** ∫ y dt over a trace, exact. */
export function integralOf(trace: Trace, quantity: (p: Prepared) => Float64Array, size: number): number {
  const area = new Float64Array(size);
  return trace.stretches.reduce((sum, s) => {
    const p = s.pattern as Prepared;
    apply(psiOf(s), s.z0, area, size);
    return sum + dot(quantity(p), area, size);
  }, 0);
}

/** The same state told from whole periods before: times and clocks are counted from the start of the first one again. */
export function rebase(m: Machine, s: State, T: number): State {
  const shift = Math.floor(s.t / T + 1e-6) * T;
  if (shift === 0) return s;
  const memory = s.memory.map((old, i) => m.agents[i]!.rebase(old, shift));
  return { ...copyState(s), t: s.t - shift, memory, pending: s.pending.map((p) => ({ ...p, time: p.time - shift, cause: p.cause === CLOCK ? CLOCK : EARLIER })) };
}

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
    if (steps.slice(1).every((d) => d * last > 0 && Math.abs(d) > 1e6 * relative * scale[c]! && Math.abs(last) > 0.5 * Math.abs(d))) return unheld(m, c, undefined);
  }
  for (const periods of [2, 3, 4, 8])
    if (starts[periods] && distance(starts[0]!, starts[periods]!) < 1e6 * relative && distance(starts[0]!, starts[1]!) > 1e7 * relative)
      return fail('subharmonic', '', `it repeats only after ${periods} periods`, 'add slope to the ramp, or lower the bandwidth');
  return fail('no-cycle', '', 'no cycle of one period was found', 'run it in time and look at where it goes');
}

/** Multipliers of a cycle, largest first. */
export const multipliers = (c: Cycle): { re: number; im: number; size: number }[] =>
  eigenvalues(c.monodromy, c.states)
    .map((v) => ({ ...v, size: Math.hypot(v.re, v.im) }))
    .sort((a, b) => b.size - a.size);

/**
 * Does a cycle stay where it is? Undefined when all multipliers lie inside the unit circle; else a problem that
 * says how it leaves: "subharmonic" (alternating from period to period), "oscillation" or "drift", and the cure.
 */
export function instability(c: Cycle): Problem | undefined {
  const worst = multipliers(c)[0];
  if (!worst || worst.size < 1) return undefined;
  const size = worst.size.toFixed(3);
  if (Math.abs(worst.im) > 1e-6 * worst.size)
    return { code: 'oscillation', where: '', message: `the cycle does not stay: a pair of multipliers of size ${size} oscillates at ${(Math.abs(Math.atan2(worst.im, worst.re)) / (2 * Math.PI * c.period)).toPrecision(3)} Hz`, remedy: 'lower the bandwidth of the loop or give it more phase there; damp a filter that rings' };
  if (worst.re < 0) return { code: 'subharmonic', where: '', message: `the cycle does not stay: a multiplier of ${worst.re.toFixed(3)} alternates from period to period`, remedy: 'add slope to the current ramp, lower the duty, or lower the bandwidth' };
  return { code: 'drift', where: '', message: `the cycle does not stay: a multiplier of ${worst.re.toFixed(3)} drifts away`, remedy: 'check the sign of the feedback' };
}
