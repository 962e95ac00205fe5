import { freeColumns } from '../circuit/layout';
import { copyState, restState, type Machine, type Prepared, type State } from '../circuit/machine';
import { apply, dot, solveInPlace } from '../linear/dense';
import { eigenvalues } from '../linear/eigen';
import { fail, ok, type Problem, type Result } from '../problem';
import { largestStates, psiOf, type Cycle } from './cycle';
import { CLOCK, EARLIER, emptyTrace, march, type Trace } from './march';
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
}

const MAX_ITERATIONS = 40;

/** Periods (of the fastest that repeats) that are run when Newton alone does not find the cycle, before it is tried once more. */
const LONG_RUN = 1000;

/**
 * Solve for the settled cycle of a machine: Newton on x(T) − x(0) = 0 (and, where regulated, on
 * mean = target with a source's value as one more unknown). The Jacobian comes from the trace of the
 * period itself (see sensitivity). Where Newton leads away, a few periods are run and it begins again.
 *
 * @returns the cycle; problems "no-period", "limit" (the target lies outside what the source can do),
 *   "subharmonic" (only cycles of several periods repeat), "no-cycle"
 */
export function settleCycle(m: Machine, options: SettleOptions = {}): Result<SettledCycle> {
  const T = options.period ?? m.period;
  if (!(T > 0)) return fail('no-period', '', 'nothing in this circuit repeats, so it has no cycle', 'state a period, or add a modulator that has one');
  const first = attempt(m, T, options);
  if (first.ok || first.problem.code !== 'no-cycle' || options.regulate) return first;
  // A closed loop far from where it settles: let it come near by itself.
  const start = options.near ?? restState(m);
  const run = march(m, start, start.t + Math.max(5, Math.ceil(LONG_RUN / turnsIn(m, T))) * T);
  if (!run.ok) return run;
  const near = rebase(m, run.value, T);
  const second = attempt(m, T, { ...options, near, warmUp: 0 });
  return second.ok || second.problem.code !== 'no-cycle' ? second : describeFailure(m, near, T);
}

/**
 * The same run a little later, at a moment when no gate edge is under way that follows the state: a period
 * that begins with one would need its time as one more unknown. The moment is the middle of the gap between the
 * last such edge and the next event that one follows. Given back as it is where there is no gap.
 */
function withoutPending(m: Machine, from: State, T: number): Result<State> {
  const follows = (s: State): State['pending'] => s.pending.filter((p) => p.cause !== CLOCK);
  let state = from;
  for (let round = 0; round < 6 && follows(state).length > 0; round++) {
    const run = march(m, state, Math.max(...follows(state).map((p) => p.time)) + 1e-9 * T);
    if (!run.ok) return run;
    state = run.value;
  }
  if (follows(state).length > 0) return ok({ ...from, pending: from.pending.map((p) => ({ ...p, cause: EARLIER })) });
  if (state === from) return ok(from);
  const trace = emptyTrace();
  const ahead = march(m, state, state.t + T, { trace });
  if (!ahead.ok) return ahead;
  const next = Math.min(state.t + T, ...trace.all.flatMap((j, k) => (j.cause >= 0 && j.cause !== k ? [trace.all[j.cause]!.t] : [])));
  return march(m, state, (state.t + next) / 2);
}

/** How many of the fastest repetitions make one period: thousands in a mains cycle. */
function turnsIn(m: Machine, T: number): number {
  const shortest = Math.min(...m.agents.map((a) => a.period).filter((p) => p > 0), T);
  return T / shortest;
}

function attempt(m: Machine, T: number, options: SettleOptions): Result<SettledCycle> {
  const free = freeColumns(m.layout);
  const n = free.length;
  const { size } = m.layout;
  const regulate = options.regulate;
  const knob = regulate ? m.layout.column.get(regulate.source)! : -1;

  let state = copyState(options.near ?? restState(m));
  if (regulate) state.z[knob] = regulate.guess;
  state = rebase(m, state, T);
  // Diodes want to find their order first; gates alone have it from the start.
  let warmUp = options.warmUp ?? (options.near || m.bent.length === 0 ? 0 : turnsIn(m, T) > 100 ? 1 : 3);
  let lastChange = Infinity;
  let stuck = 0;
  for (let iteration = 1; iteration <= MAX_ITERATIONS; iteration++) {
    for (let k = 0; k < warmUp; k++) {
      const run = march(m, state, state.t + T);
      if (!run.ok) return run;
      state = rebase(m, run.value, T);
    }
    warmUp = 0;
    const clear = withoutPending(m, state, T);
    if (!clear.ok) return clear;
    state = clear.value;
    const trace = emptyTrace();
    const run = march(m, state, state.t + T, { trace });
    if (!run.ok) return run;
    const end = run.value;
    const sense = sensitivity(trace, size, regulate?.quantity);
    const { X } = sense;

    const unknowns = regulate ? n + 1 : n;
    const J = new Float64Array(unknowns * unknowns);
    const r = new Float64Array(unknowns);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) J[i * unknowns + j] = X[free[i]! * size + free[j]!]! - (i === j ? 1 : 0);
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
    const largest = largestStates(trace.stretches, free);
    let residual = 0;
    for (let i = 0; i < n; i++) residual = Math.max(residual, Math.abs(r[i]!) / (largest[i]! || 1));
    if (solveInPlace(J, r, unknowns, 1) >= 0)
      return fail('no-cycle', regulate?.source ?? '', 'nothing holds the cycle in place: a state or the regulated mean does not depend on what is solved for', 'check that each state has a path for its current and that the output is connected');

    let change = 0;
    for (let i = 0; i < n; i++) change = Math.max(change, Math.abs(r[i]!) / (largest[i]! || 1));
    if (!Number.isFinite(change)) return fail('no-cycle', '', 'the solution grows without bound', 'check the part values');
    const wanted = regulate ? state.z[knob]! + r[n]! : 0;
    const setting = regulate ? Math.min(regulate.max, Math.max(regulate.min, wanted)) : 0;
    if (regulate) change = Math.max(change, Math.abs(setting - state.z[knob]!) / (regulate.max - regulate.min));

    const same = end.pending.length === state.pending.length && end.pending.every((p) => p.cause === CLOCK) && end.segments.every((v, i) => v === state.segments[i]);
    const settled = same && residual < 1e-7 && (change < 1e-10 || (change < 1e-7 && change >= lastChange / 2));
    if (settled && (!regulate || (wanted >= regulate.min && wanted <= regulate.max))) {
      const monodromy = new Float64Array(n * n);
      for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) monodromy[i * n + j] = X[free[i]! * size + free[j]!]!;
      return ok({ period: T, stretches: trace.stretches, closure: residual, iterations: iteration, monodromy, states: n, trace, state, X, ...(regulate ? { setting: state.z[knob]! } : {}) });
    }
    if (regulate && iteration > 8 && setting !== wanted)
      return fail('limit', regulate.source, `no value between ${regulate.min} and ${regulate.max} brings the mean to ${regulate.target.toPrecision(4)} (${mean.toPrecision(4)} at the limit)`, 'change the line, the load or what is wanted');

    // A step that does not shrink what is left is not trusted: run on for a while, then try again.
    stuck = change > 0.5 * lastChange && change > 1e-6 ? stuck + 1 : 0;
    lastChange = change;
    const next = copyState(state);
    if (!same) {
      // The pattern at the period's start has changed: take over what the run ended in.
      next.segments = end.segments.slice();
      next.gates = { ...end.gates };
      next.pending = end.pending.map((p) => ({ ...p, time: p.time - T, cause: p.cause === CLOCK ? CLOCK : EARLIER }));
      next.memory = rebase(m, end, T).memory;
    }
    // Far steps are cut short, but where no event follows the state: there the period map is affine, and the step exact.
    const follows = trace.all.some((j, k) => j.cause === k && free.some((c) => j.gradient![c] !== 0));
    const damp = change > 1 && follows ? 1 / change : 1;
    for (let i = 0; i < n; i++) next.z[free[i]!]! += damp * r[i]!;
    if (regulate) next.z[knob] = state.z[knob]! + damp * (setting - state.z[knob]!);
    state = rebase(m, next, T);
    if (stuck >= 4) {
      stuck = 0;
      lastChange = Infinity;
      warmUp = Math.max(1, Math.round((10 * iteration) / turnsIn(m, T)));
      state = rebase(m, { ...end, t: end.t }, T);
    }
  }
  return fail('no-cycle', '', 'no cycle of one period was found', 'run it in time and look at where it goes');
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

/** Why there is no cycle of one period: a subharmonic is one of several, found by running on. */
function describeFailure(m: Machine, from: State, T: number): Result<never> {
  let state = from;
  const starts: Float64Array[] = [];
  for (let k = 0; k < 16; k++) {
    const run = march(m, state, state.t + T);
    if (!run.ok) return run;
    state = rebase(m, run.value, T);
    starts.push(state.z);
  }
  const n = m.layout.n;
  const distance = (a: Float64Array, b: Float64Array): number => {
    let worst = 0;
    for (let i = 0; i < n; i++) worst = Math.max(worst, Math.abs(a[i]! - b[i]!) / (Math.abs(a[i]!) + Math.abs(b[i]!) + 1e-9));
    return worst;
  };
  for (const periods of [2, 3, 4, 8])
    if (distance(starts[0]!, starts[periods]!) < 1e-4 && distance(starts[0]!, starts[1]!) > 1e-3)
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
