import { copyState, type Machine, type Prepared, type State } from '../circuit/machine';
import { apply, dot } from '../linear/dense';
import { climb } from '../linear/stepTable';
import { budgetOf } from '../orbit/budget';
import { carryOver } from '../orbit/carry';
import { march } from '../orbit/march';
import type { Interval } from '../orbit/cycle';
import type { Quantity } from '../orbit/measure';
import type { SettledCycle } from '../orbit/settle';
import { sensitivityAfterEvents, sensitivityAt } from '../orbit/sensitivity';

/** A source that goes from one value to another, in `rise` seconds. */
export interface Disturbance {
  source: string;
  from: number;
  to: number;
  rise?: number;
}

/** What a quantity does after a disturbance, less what it does in the settled cycle at the same phase. */
export interface StepAnswer {
  /** By the period map, linearised where it stands, or by running the circuit on */
  how: 'linearised' | 'in time';
  time: number[];
  value: number[];
  /** Largest |value|; Infinity where it is not known how far it goes */
  deviation: number;
  /** s until |value| stays within a tenth of that */
  recovery: number;
}

/** A moment of the period at which it is looked at. */
interface Phase {
  time: number;
  /** What stands there in the settled cycle */
  settled: number;
  /** d value / dz(0) */
  sensitivity: Float64Array;
}

/** Phases of a period, about; none at an edge, which may move */
const PHASES = 6;
/** An interval shorter than this share of the period has none, unless all are */
const LONG = 0.05;
/** Share by which rounding may put an interval on the other side of that: a dead time may be just so long */
const EVEN = 1e-9;

/** Shares of an interval that begins with a gate at which one without a clock is looked at */
const LOOKED = [0.17, 0.5, 0.83];

/** What conducts, as a name: of two patterns alike, the same. */
const alike = (p: Interval['pattern']): string => [...p.on].sort().join();

/** Intervals that begin with a gate: the first begins in the middle of one. */
const gated = ({ intervals }: SettledCycle): number[] => intervals.flatMap((s, k) => (k > 0 && alike(s.pattern) !== alike(intervals[k - 1]!.pattern) ? [k] : []));

function phasesOf(cycle: SettledCycle, size: number, quantity: Quantity): Phase[] {
  const { intervals, period } = cycle;
  const longest = Math.max(...intervals.map((s) => s.duration));
  const chosen = cycle.free ? gated(cycle) : intervals.flatMap((s, k) => (s.duration >= Math.min(longest, LONG * period * (1 - EVEN)) ? [k] : []));
  const at = (cycle.free ? sensitivityAfterEvents : sensitivityAt)(cycle.trace, size, chosen);
  return chosen.flatMap((k, i) => {
    const s = intervals[k]!;
    const p = s.pattern as Prepared;
    const row = quantity(p);
    const X = at[i]!;
    const count = Math.max(1, Math.round((PHASES * s.duration) / period));
    const shares = cycle.free ? LOOKED : Array.from({ length: count }, (_, n) => (n + 0.5) / count);
    return shares.map((share) => {
      const after = share * s.duration;
      // row · Φ(after) · X, by columns
      const sensitivity = new Float64Array(size);
      const column = new Float64Array(size);
      for (let c = 0; c < size; c++) {
        for (let r = 0; r < size; r++) column[r] = X[r * size + c]!;
        sensitivity[c] = dot(row, climb(p.stepTable, column, after), size);
      }
      return { time: s.start - intervals[0]!.start + after, settled: dot(row, climb(p.stepTable, s.z0, after), size), sensitivity };
    });
  });
}

/** Periods that a step is followed for at most, in time and by the map */
const [MOST_PERIODS, MOST_MAPPED] = [4000, 200_000];
/** ns of an ordinary machine, likewise: most stages take a tenth of a millisecond a period */
const MOST_WORK = 0.8e9;
/** Share of its furthest below which a deviation has turned, and below which it is back */
const [TURNED, BACK] = [0.9, 0.05];
/** Share of the time asked for that is followed in any case */
const LEAST = 0.15;
/** Times asked for after which it is no longer waited for the last tenth to go */
const LONGEST = 4;
/** Times the periods after which it is asked again whether the map holds for what is left */
const AGAIN = 1.5;
/** Share of the deviation by which the map may be off in all, by what single periods show */
const OFF = 0.02;
/** The same of what is left after a run in time: what is read of that is when it is back below a tenth */
const REST_OFF = 0.004;

/** Deviations by phase and period, watched until the furthest has been seen and they are back for as long as they were away. */
interface Watch {
  time: number[];
  value: number[];
  see(k: number, time: number, value: number): void;
  done(k: number): boolean;
  furthest(): { value: number; period: number };
  /** One that has seen the same */
  fork(): Watch;
}

function watching(period: number, duration: number, [time, value, furthest, at, away] = [[0], [0], 0, 0, 0] as [number[], number[], number, number, number]): Watch {
  return {
    time,
    value,
    see(k, t, v) {
      time.push(t);
      value.push(v);
      if (Math.abs(v) > furthest) [furthest, at] = [Math.abs(v), k];
      if (Math.abs(v) > BACK * furthest) away = k;
    },
    done: (k) => ((k + 1) * period >= LONGEST * duration && Math.abs(value.at(-1)!) <= TURNED * furthest) || ((k + 1) * period >= LEAST * duration && k + 1 > 2 * (away + 1) && furthest > 0),
    furthest: () => ({ value: furthest, period: at }),
    fork: () => watching(period, duration, [time.slice(), value.slice(), furthest, at, away]),
  };
}

function read(how: StepAnswer['how'], { time, value }: Watch): StepAnswer {
  const deviation = value.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  // Still on its way out at the end of what is followed: how far it goes is not known.
  if (!(Math.abs(value.at(-1)!) < deviation) && deviation > 0) return { how, time, value, deviation: Infinity, recovery: Infinity };
  const outside = value.findLastIndex((v) => Math.abs(v) > deviation / 10);
  return { how, time, value, deviation, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : time[outside]! };
}

/**
 * The period map, linearised where a settled cycle stands and iterated: δz(k+1) = X δz(k), with the step standing in the
 * column of its source. Exact for small steps: no averaging, and what happens within the periods comes from the same trace.
 */
function mapOf(m: Machine, cycle: SettledCycle, phases: readonly Phase[]) {
  const { X, period } = cycle;
  const { size } = m.layout;
  const section = sectionOf(m, cycle);
  const product = (delta: Float64Array): Float64Array => {
    const next = new Float64Array(size);
    apply(X, delta, next, size);
    return section(next);
  };
  /**
   * Is what a single period from a deviation made of it close enough to what the map makes of it? What it misses is
   * carried on to what that does to the quantity: about as many of them add up as it takes to the furthest.
   */
  function held(from: Float64Array, to: Float64Array, furthest: { value: number; period: number }, share = REST_OFF): boolean {
    const allowed = (share * furthest.value) / Math.max(1, furthest.period);
    const mapped = product(from);
    let missed: Float64Array = to.map((v, i) => v - mapped[i]!);
    for (let later = 0; later <= 2 * furthest.period; later++) {
      for (const p of phases) if (!(Math.abs(dot(p.sensitivity, missed, size)) <= allowed)) return false;
      missed = product(missed);
    }
    return true;
  }
  return {
    held,
    /**
     * From a deviation at the beginning of period `first` on, for as long as it is watched.
     * @returns what has seen it; undefined where the map does not hold for it: single periods run from its own states say so
     */
    follow(delta: Float64Array, first: number, watch: Watch): Watch | undefined {
      const kept: Float64Array[] = [];
      let k = first;
      for (let d: Float64Array = delta; k < first + MOST_MAPPED; k++, d = product(d)) {
        for (const p of phases) watch.see(k, k * period + p.time, dot(p.sensitivity, d, size));
        if (kept.length < MOST_PERIODS) kept.push(d);
        if (watch.done(k)) break;
      }
      const furthest = watch.furthest();
      for (const at of checkedAt(first === 0 ? furthest.period : (k - first) >> 2)) {
        const off = kept[at];
        if (!off) continue;
        const run = march(m, { ...cycle.state, z: cycle.state.z.map((v, i) => v + off[i]!) }, cycle.state.t + period);
        if (!run.ok || !held(off, section(deviationOf(run.value, cycle)), furthest, first === 0 ? OFF : REST_OFF)) return undefined;
      }
      return watch;
    },
  };
}

/**
 * A deviation taken along the cycle to where its phase is that of the cycle's beginning: without a clock a run comes back a little
 * earlier or later, and is looked at then. To first order that is δz − f (f·δz)/(f·f) (Poincaré section); with a clock it stays what it is.
 */
function sectionOf(m: Machine, { free, intervals, state }: SettledCycle): (delta: Float64Array) => Float64Array {
  if (!free) return (delta) => delta;
  const { F } = intervals[0]!.pattern;
  const { n, size } = m.layout;
  const f = Float64Array.from({ length: n }, (_, i) => dot(F.subarray(i * size, (i + 1) * size), state.z, size));
  const square = dot(f, f, n);
  return (delta) => {
    const along = dot(f, delta, n) / square;
    return delta.map((v, i) => (i < n ? v - along * f[i]! : v));
  };
}

/** Periods at which the map is held against a run, about one of them that says most */
const checkedAt = (k: number): Set<number> => new Set([0, 1, k >> 2, k >> 1, k, 2 * k]);

const deviationOf = ({ z }: State, { state }: SettledCycle): Float64Array => z.map((v, i) => v - state.z[i]!);

/**
 * The circuit run on with the step in it, looked at at the same phases of every period.
 * @param map follows what is left, once it has turned and a period shows that the map holds for it; not where the
 *   source is on its way in a circuit of its own
 */
function inTime(stepped: Machine, from: State, cycle: SettledCycle, phases: readonly Phase[], quantity: Quantity, watch: Watch, map?: ReturnType<typeof mapOf>): StepAnswer | undefined {
  const T = cycle.period;
  let state = from;
  const begin = state.t;
  const budget = budgetOf(stepped, MOST_WORK);
  let tried = 0;
  if (cycle.free) return byEvents(stepped, from, cycle, quantity, watch);
  for (let k = 0; k < MOST_PERIODS && !budget.over(); k++) {
    let next = 0;
    const run = march(stepped, state, begin + (k + 1) * T, {
      each(s) {
        for (let p = phases[next]; p && begin + k * T + p.time < s.start + s.duration; p = phases[++next]) {
          const pattern = s.pattern as Prepared;
          const z = climb(pattern.stepTable, s.z0, Math.max(0, begin + k * T + p.time - s.start));
          watch.see(k, k * T + p.time, dot(quantity(pattern), z, pattern.size) - p.settled);
        }
      },
    });
    if (!run.ok) return undefined;
    const before = state;
    state = run.value;
    if (watch.done(k)) break;
    const furthest = watch.furthest();
    if (map && k > 2 * furthest.period && k >= tried && map.held(deviationOf(before, cycle), deviationOf(state, cycle), furthest)) {
      const rest = map.follow(deviationOf(state, cycle), k + 1, watch.fork());
      if (rest) return read('in time', rest);
      tried = AGAIN * k;
    }
  }
  return read('in time', watch);
}

/**
 * The same of a circuit without a clock: a run is looked at as long after a gate has changed as the cycle is after the same, for its
 * periods are longer or shorter meanwhile.
 */
function byEvents(m: Machine, from: State, cycle: SettledCycle, quantity: Quantity, watch: Watch): StepAnswer | undefined {
  const settled = new Map<string, { since: number; value: number }[]>();
  for (const k of gated(cycle)) {
    const s = cycle.intervals[k]!;
    const row = quantity(s.pattern);
    const list = LOOKED.map((share) => ({ since: share * s.duration, value: dot(row, climb((s.pattern as Prepared).stepTable, s.z0, share * s.duration), s.pattern.size) }));
    settled.set(alike(s.pattern), [...(settled.get(alike(s.pattern)) ?? []), ...list]);
  }
  const budget = budgetOf(m, MOST_WORK);
  let [state, k, gone] = [from, 0, false];
  let before: string | undefined;
  while (k < MOST_PERIODS && !budget.over()) {
    const run = march(m, state, from.t + (k + 1) * cycle.period, {
      each(s) {
        const now = alike(s.pattern);
        const changed = before !== undefined && now !== before;
        before = now;
        if (!changed) return;
        const row = quantity(s.pattern);
        for (const p of settled.get(now) ?? []) if (p.since < s.duration) watch.see(k, s.start - from.t + p.since, dot(row, climb((s.pattern as Prepared).stepTable, s.z0, p.since), s.pattern.size) - p.value);
      },
    });
    if (!run.ok) return undefined;
    state = run.value;
    if (watch.done(k)) {
      gone = true;
      break;
    }
    k++;
  }
  return gone || watch.value.length > 1 ? read('in time', watch) : undefined;
}

/**
 * What a quantity of a settled, stable, closed cycle does after a step of one of its sources. One function decides: by the
 * linearised map where single periods show that it holds for a step of this size, else by running on until it does for
 * what is left.
 *
 * @param stepped the same circuit with the source on its way, where it takes its time
 * @param duration s that are of interest; longer while it is still on its way
 * @param only one of both, to hold one against the other
 * @returns undefined where the circuit can not be run
 */
export function stepAnswer(m: Machine, cycle: SettledCycle, by: Disturbance, quantity: Quantity, duration: number, stepped: () => Machine | undefined, only?: StepAnswer['how']): StepAnswer | undefined {
  const phases = phasesOf(cycle, m.layout.size, quantity);
  const map = only === 'in time' ? undefined : mapOf(m, cycle, phases);
  const watch = watching(cycle.period, duration);
  if (by.rise) {
    const other = stepped();
    return other && inTime(other, carryOver(m, other, cycle.state), cycle, phases, quantity, watch);
  }
  // A constant source stands in the state itself.
  const from = copyState(cycle.state);
  from.z[m.layout.column.get(by.source)!] = by.to;
  const small = map?.follow(deviationOf(from, cycle), 0, watch.fork());
  return small ? read('linearised', small) : inTime(m, from, cycle, phases, quantity, watch, map);
}
