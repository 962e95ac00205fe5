import { freeColumns } from '../circuit/layout';
import { copyState, type Machine, type Prepared, type State } from '../circuit/machine';
import { dot, solveInPlace } from '../linear/dense';
import { DEFAULT_TOLERANCE, ROUNDING, type Tolerance } from '../linear/tolerance';
import { fail, ok, type Result } from '../problem';
import type { Budget } from './budget';
import { areaOf, scalesOf, type Cycle } from './cycle';
import { integrators, looseDirection, unheld } from './held';
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
  /** s; the machine's own when left out. Of a free cycle where it is looked for first */
  period?: number;
  /** Begin from here: a neighbouring cycle's state, or one a run ended in */
  near?: State;
  regulate?: RegulatedMean;
  /** Periods to run before Newton begins */
  warmUp?: number;
  tolerance?: Tolerance;
  /** ns of an ordinary machine that it may take; by how many turns a period has where left out */
  most?: number;
}

const MAX_ITERATIONS = 40;

export interface Attempt {
  /** Does it begin at a neighbour, with its devices in order? */
  warm: boolean;
  budget: Budget;
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

/**
 * One way to the settled cycle of a period T in s: Newton on x(T) = x(0) and, where regulated, on mean = target. Of a free
 * cycle T is an unknown more, and moves along the cycle itself are none: f(0)·δx = 0 (Aprille, Trick, "A computer algorithm to
 * determine the steady-state response of nonlinear oscillators", IEEE Trans. Circuit Theory 19, 1972, p. 354).
 * `stepwise` goes there in steps of ever more periods (Kelley, Keyes 1998).
 * @returns the cycle; problems "no-cycle", "unheld", "work", and those of running the circuit
 */
export function attempt(m: Machine, first: number, options: SettleOptions & { near: State }, { warm, budget, stepwise = false }: Attempt): Result<SettledCycle> {
  const free = freeColumns(m.layout);
  const n = free.length;
  const { size } = m.layout;
  const { regulate } = options;
  const running = m.circuit.free === true;
  let T = first;
  const { relative, time: moment } = options.tolerance ?? DEFAULT_TOLERANCE;
  const controlInput = regulate ? m.layout.column.get(regulate.source)! : -1;

  let state = copyState(options.near);
  if (regulate) state.z[controlInput] = regulate.guess;
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
    if (budget.over()) return budget.exceeded();
    m.work.iterations++;
    for (let k = 0; k < warmUp; k++) {
      const run = march(m, state, state.t + T, { budget });
      if (!run.ok) return run;
      m.work.periods++;
      state = rebase(m, run.value, T);
    }
    warmUp = 0;
    const clear = withoutPending(m, state, T, budget);
    if (!clear.ok) return clear;
    state = clear.value;
    const trace = emptyTrace();
    const run = march(m, state, state.t + T, { trace, budget });
    if (!run.ok) {
      if (run.problem.code === 'work') return run;
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

    const own = running ? n + (regulate ? 1 : 0) : -1;
    const unknowns = n + (regulate ? 1 : 0) + (running ? 1 : 0);
    const J = new Float64Array(unknowns * unknowns);
    const r = new Float64Array(unknowns);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) J[i * unknowns + j] = X[free[i]! * size + free[j]!]! - (i === j ? 1 + 1 / periods : 0);
      r[i] = state.z[free[i]!]! - end.z[free[i]!]!;
    }
    let mean = 0;
    if (regulate) {
      mean = integralOf(trace, regulate.quantity, size) / T;
      for (let i = 0; i < n; i++) J[i * unknowns + n] = X[free[i]! * size + controlInput]!;
      for (let j = 0; j < n; j++) J[n * unknowns + j] = sense.integral[free[j]!]! / T;
      J[n * unknowns + n] = sense.integral[controlInput]! / T;
      r[n] = regulate.target - mean;
    }
    const largest = scalesOf(m.layout, trace.intervals, free);
    // How the states go at the beginning, and at the end.
    const [going, gone] = running ? [rateAt(trace, 0, state.z, free), rateAt(trace, -1, end.z, free)] : [undefined, undefined];
    if (running) {
      const fastest = going!.reduce((most, v, i) => Math.max(most, Math.abs(v) / largest[i]!), 0);
      for (let i = 0; i < n; i++) {
        J[i * unknowns + own] = gone![i]!;
        J[own * unknowns + i] = going![i]! / (fastest * largest[i]! * largest[i]!);
      }
      if (regulate) J[n * unknowns + own] = (lastOf(trace, regulate.quantity, end.z) - mean) / T;
    }
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
          const walked = march(m, from, from.t + Math.max(1, Math.round(ON_FOOT / turnsIn(m, T))) * T, { budget });
          if (!walked.ok) return walked;
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
    if (iteration === RUNS_ON) for (const [c, d] of drift) if (d.sign !== 0 && d.least > d.most / 2) return unheld(m, c, regulate?.source, turnsIn(m, T) > 100 ? 'runs-on' : 'unheld');
    // A direction that comes back as it left: nothing holds it there, and Newton would throw it anywhere.
    const held = going ? withoutPhase(X, size, free, going) : X;
    const loose = iteration === 1 || stepwise ? looseDirection(held, size, free, largest) : undefined;
    if (loose === undefined) looseFor = 0;
    else if (!stepwise || ++looseFor >= LOOSE) return unheld(m, loose, regulate?.source);
    const singular = solveInPlace(J, r, unknowns, 1);
    if (singular >= 0) return unheld(m, free[singular], regulate?.source);

    let change = 0;
    for (let i = 0; i < n; i++) change = Math.max(change, Math.abs(r[i]!) / largest[i]!);
    if (running) change = Math.max(change, Math.abs(r[own]!) / T);
    if (!Number.isFinite(change)) return fail('no-cycle', '', 'the solution grows without bound', 'check the part values');
    const wanted = regulate ? state.z[controlInput]! + r[n]! : 0;
    const setting = regulate ? Math.min(regulate.max, Math.max(regulate.min, wanted)) : 0;
    if (regulate) change = Math.max(change, Math.abs(setting - state.z[controlInput]!) / (regulate.max - regulate.min));

    const back = rebase(m, end, T);
    const same = end.pending.every((p) => p.cause === CLOCK) && end.segments.every((v, i) => v === state.segments[i]) && standsAlike(m, state, back, moment * T);
    const settled = same && !(periods < NO_END) && residual < ROUNDING * relative && (change < relative || (change < ROUNDING * relative && change >= lastChange / 2));
    if (settled && (!regulate || (wanted >= regulate.min && wanted <= regulate.max))) {
      // What lets go only where it settles (a limit that is just touched) is held by nothing either.
      const unbound = looseDirection(held, size, free, largest);
      if (unbound !== undefined) return unheld(m, unbound, regulate?.source);
      const monodromy = new Float64Array(n * n);
      for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) monodromy[i * n + j] = held[free[i]! * size + free[j]!]!;
      return ok({ period: T, ...(running ? { free: true } : {}), intervals: trace.intervals, closure: residual, iterations: iteration, work: m.work, monodromy, states: n, trace, state, X, ...(regulate ? { setting: state.z[controlInput]! } : {}) });
    }
    if (regulate && iteration > 8 && !stepwise && setting !== wanted)
      return fail('no-cycle', regulate.source, `the mean wanted of ${regulate.target.toPrecision(4)} drives ${regulate.source} beyond its ends, and no cycle was found there`, 'change the line, the load or what is wanted');

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
      for (const c of sourceColumns(m)) if (c !== controlInput) next.z[c] = end.z[c]!;
    }
    // Far steps are cut short, but where no event follows the state: there the period map is affine, and the step exact.
    const follows = trace.all.some((j, k) => j.cause === k && free.some((c) => j.gradient![c] !== 0));
    const damp = change > 1 && follows ? 1 / change : 1;
    for (let i = 0; i < n; i++) next.z[free[i]!]! += damp * r[i]!;
    if (regulate) next.z[controlInput] = state.z[controlInput]! + damp * (setting - state.z[controlInput]!);
    state = rebase(m, next, T);
    if (running) T *= Math.min(2, Math.max(0.5, 1 + (damp * r[own]!) / T));
    if (running && !(T > first / FAR && T < first * FAR)) return fail('no-cycle', '', 'no period was found that it comes back after', 'state one that is nearer, or run it in time');
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

/** Times that a period of its own may be longer or shorter than where it is looked for first */
const FAR = 1e3;

/** How the states go in an interval of a trace, the last where it is −1: F z. */
function rateAt(trace: Trace, k: number, z: Float64Array, free: readonly number[]): Float64Array {
  const p = trace.intervals.at(k)!.pattern as Prepared;
  return Float64Array.from(free, (c) => dot(p.F.subarray(c * p.size, (c + 1) * p.size), z, p.size));
}

/** What a quantity is at the end of a trace. */
const lastOf = (trace: Trace, quantity: (p: Prepared) => Float64Array, z: Float64Array): number => {
  const p = trace.intervals.at(-1)!.pattern as Prepared;
  return dot(quantity(p), z, p.size);
};

/**
 * A period's map without what moves along the cycle, which comes back as it went: X − f fᵀ/fᵀf. All other multipliers stay what they
 * are (Wielandt's deflation; Saad, "Numerical Methods for Large Eigenvalue Problems", ch. 4).
 */
function withoutPhase(X: Float64Array, size: number, free: readonly number[], f: Float64Array): Float64Array {
  const out = X.slice();
  const square = f.reduce((sum, v) => sum + v * v, 0);
  free.forEach((row, i) => free.forEach((column, j) => (out[row * size + column]! -= (f[i]! * f[j]!) / square)));
  return out;
}

/** Iterations after which an even drift is one for good. */
const RUNS_ON = 9;

/** Rounds in which a direction has to be loose: a controller that is saturated to begin with lets go of its integrator too. */
const LOOSE = 60;

/**
 * The same run a little later, at a moment when nothing is under way that follows the state, no gate edge and no end of a time on: a period
 * that begins with one would need its time as one more unknown. The moment is the middle of the gap between the
 * last such edge and the next event that one follows. Given back as it is where there is no gap.
 */
function withoutPending(m: Machine, from: State, T: number, budget: Budget): Result<State> {
  const follows = (s: State): State['pending'] => s.pending.filter((p) => p.cause !== CLOCK);
  let state = from;
  for (let round = 0; round < 6 && follows(state).length > 0; round++) {
    const run = march(m, state, Math.max(...follows(state).map((p) => p.time)) + 1e-9 * T, { budget });
    if (!run.ok) return run;
    state = run.value;
  }
  if (follows(state).length > 0) return ok(cutOff(from));
  if (state === from) return ok(from);
  const trace = emptyTrace();
  const ahead = march(m, state, state.t + T, { trace, budget });
  if (!ahead.ok) return ahead;
  const next = Math.min(state.t + T, ...trace.all.flatMap((j, k) => (j.cause >= 0 && j.cause !== k ? [trace.all[j.cause]!.t] : [])));
  const there = march(m, state, (state.t + next) / 2);
  // What rounding begins one time and not another may be under way all the same.
  return there.ok ? ok(cutOff(there.value)) : there;
}

/** The same state, what is under way in it following nothing that a run from here would meet. */
const cutOff = (s: State): State => ({ ...s, pending: s.pending.map((p) => (p.cause === CLOCK ? p : { ...p, cause: EARLIER })) });

/** How many of the fastest repetitions make one period: thousands in a mains cycle. */
export const turnsIn = (m: Machine, T: number): number => T / Math.min(m.fastest, T);

/** Half way from one state to another, with the devices of the first. */
const between = (a: State, b: State): State => ({ ...copyState(a), z: a.z.map((v, i) => (v + b.z[i]!) / 2) });

/** Columns of sources that repeat by themselves, tones left out: they stand as the clock has left them. */
const sourceColumns = (m: Machine): number[] => m.eventSources.filter((a) => a.period > 0 && m.layout.column.has(a.id)).map((a) => m.layout.column.get(a.id)!);

/** Do clocks, sources, gates and what is under way stand as they stood a period before? Moments, within `near` s. */
function standsAlike(m: Machine, then: State, now: State, near: number): boolean {
  for (const c of sourceColumns(m)) if (then.z[c] !== now.z[c]) return false;
  if (then.pending.length !== now.pending.length) return false;
  for (const p of now.pending) if (!then.pending.some((q) => Math.abs(q.time - p.time) <= near && ('wake' in p ? 'wake' in q && q.wake === p.wake : 'gate' in q && q.gate === p.gate && q.on === p.on))) return false;
  for (const gate of Object.keys(now.gates)) if ((then.gates[gate] ?? false) !== now.gates[gate]) return false;
  return now.memory.every((own, i) => m.eventSources[i]!.once || own.every((v, k) => v === then.memory[i]![k] || Math.abs(v - then.memory[i]![k]!) <= near));
}

/** ∫ y dt over a trace, exact: V·s, A·s. */
export function integralOf(trace: Trace, quantity: (p: Prepared) => Float64Array, size: number): number {
  return trace.intervals.reduce((sum, s) => sum + dot(quantity(s.pattern as Prepared), areaOf(s), size), 0);
}

/** The same state told from whole periods before: times and clocks are counted from the start of the first one again. */
export function rebase(m: Machine, s: State, T: number): State {
  const shift = Math.floor(s.t / T + 1e-6) * T;
  return shift === 0 ? s : toldFrom(m, s, shift);
}

/** The same state so many s sooner, a whole number of periods, or later where that is below zero. What moves once and for all does so when it did. */
export function toldFrom(m: Machine, s: State, shift: number): State {
  const memory = s.memory.map((old, i) => m.eventSources[i]!.rebase(old, shift));
  return { ...copyState(s), t: s.t - shift, memory, pending: cutOff(s).pending.map((p) => ({ ...p, time: p.time - shift })) };
}

