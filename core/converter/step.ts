import { copyState, type Machine, type Prepared, type State } from '../circuit/machine';
import { apply, dot } from '../linear/dense';
import { climb } from '../linear/ladder';
import { budgetOf } from '../orbit/budget';
import { carryOver } from '../orbit/carry';
import { march } from '../orbit/march';
import type { Quantity } from '../orbit/measure';
import type { SettledCycle } from '../orbit/settle';
import { sensitivityAt } from '../orbit/sensitivity';

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
/** A stretch shorter than this share of the period has none, unless all are */
const LONG = 0.05;

function phasesOf(cycle: SettledCycle, size: number, quantity: Quantity): Phase[] {
  const { stretches, period } = cycle;
  const longest = Math.max(...stretches.map((s) => s.duration));
  const chosen = stretches.flatMap((s, k) => (s.duration >= Math.min(longest, LONG * period) ? [k] : []));
  const at = sensitivityAt(cycle.trace, size, chosen);
  return chosen.flatMap((k, i) => {
    const s = stretches[k]!;
    const p = s.pattern as Prepared;
    const row = quantity(p);
    const X = at[i]!;
    const count = Math.max(1, Math.round((PHASES * s.duration) / period));
    return Array.from({ length: count }, (_, n) => {
      const after = ((n + 0.5) * s.duration) / count;
      // row · Φ(after) · X, by columns
      const sensitivity = new Float64Array(size);
      const column = new Float64Array(size);
      for (let c = 0; c < size; c++) {
        for (let r = 0; r < size; r++) column[r] = X[r * size + c]!;
        sensitivity[c] = dot(row, climb(p.ladder, column, after), size);
      }
      return { time: s.start - stretches[0]!.start + after, settled: dot(row, climb(p.ladder, s.z0, after), size), sensitivity };
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
/** Share of the deviation by which the map may be off in all, by what single periods show */
const OFF = 0.02;

/** Deviations by phase and period, watched until the furthest has been seen and they are back for as long as they were away. */
function watching(period: number, duration: number): { see(k: number, time: number, value: number): void; done(k: number): boolean; time: number[]; value: number[]; furthest(): { value: number; period: number } } {
  const time = [0];
  const value = [0];
  let [furthest, at, away] = [0, 0, 0];
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
  };
}

function read(how: StepAnswer['how'], time: number[], value: number[]): StepAnswer {
  const deviation = value.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  // Still on its way out at the end of what is followed: how far it goes is not known.
  if (!(Math.abs(value.at(-1)!) < deviation) && deviation > 0) return { how, time, value, deviation: Infinity, recovery: Infinity };
  const outside = value.findLastIndex((v) => Math.abs(v) > deviation / 10);
  return { how, time, value, deviation, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : time[outside]! };
}

/**
 * The period map, linearised where it stands and iterated: δz(k+1) = X δz(k), with the step standing in the column of
 * its source. Exact for small steps: no averaging, and what happens within the periods comes from the same trace.
 * @returns undefined where it does not hold for a step of this size: single periods run from its own states say so
 */
function linearised(m: Machine, cycle: SettledCycle, by: Disturbance, phases: readonly Phase[], duration: number): StepAnswer | undefined {
  const { size } = m.layout;
  const T = cycle.period;
  const column = m.layout.column.get(by.source)!;
  let delta: Float64Array = new Float64Array(size);
  delta[column] = by.to - by.from;
  let next: Float64Array = new Float64Array(size);
  const watch = watching(T, duration);
  const kept: Float64Array[] = [];
  for (let k = 0; k < MOST_MAPPED; k++) {
    for (const p of phases) watch.see(k, k * T + p.time, dot(p.sensitivity, delta, size));
    if (k < MOST_PERIODS) kept.push(delta.slice());
    if (watch.done(k)) break;
    apply(cycle.X, delta, next, size);
    [delta, next] = [next, delta];
  }
  const { value: furthest, period: peak } = watch.furthest();
  // What single periods miss, carried on to what it does to the quantity: about as many of them add up as it takes to the furthest.
  const allowed = (OFF * furthest) / Math.max(1, peak);
  for (const k of new Set([0, 1, peak >> 2, peak >> 1, peak, 2 * peak])) {
    const off = kept[k];
    if (!off) continue;
    const run = march(m, { ...cycle.state, z: cycle.state.z.map((v, i) => v + off[i]!) }, cycle.state.t + T);
    if (!run.ok) return undefined;
    apply(cycle.X, off, next, size);
    let missed: Float64Array = run.value.z.map((v, i) => v - cycle.state.z[i]! - next[i]!);
    for (let later = 0; later <= 2 * peak; later++) {
      for (const p of phases) if (!(Math.abs(dot(p.sensitivity, missed, size)) <= allowed)) return undefined;
      apply(cycle.X, missed, next, size);
      [missed, next] = [next, missed];
    }
  }
  return read('linearised', watch.time, watch.value);
}

/** The circuit run on with the step in it, looked at at the same phases of every period. */
function inTime(stepped: Machine, from: State, T: number, phases: readonly Phase[], quantity: Quantity, duration: number): StepAnswer | undefined {
  let state = from;
  const begin = state.t;
  const watch = watching(T, duration);
  const budget = budgetOf(stepped, MOST_WORK);
  for (let k = 0; k < MOST_PERIODS && !budget.over(); k++) {
    let next = 0;
    const run = march(stepped, state, begin + (k + 1) * T, {
      each(s) {
        for (let p = phases[next]; p && begin + k * T + p.time < s.start + s.duration; p = phases[++next]) {
          const pattern = s.pattern as Prepared;
          const z = climb(pattern.ladder, s.z0, Math.max(0, begin + k * T + p.time - s.start));
          watch.see(k, k * T + p.time, dot(quantity(pattern), z, pattern.size) - p.settled);
        }
      },
    });
    if (!run.ok) return undefined;
    state = run.value;
    if (watch.done(k)) break;
  }
  return read('in time', watch.time, watch.value);
}

/**
 * What a quantity of a settled, stable, closed cycle does after a step of one of its sources. One function decides: by the
 * linearised map where single periods show that it holds for a step of this size, else by running on.
 *
 * @param stepped the same circuit with the source on its way, where it takes its time
 * @param duration s that are of interest; longer while it is still on its way
 * @param only one of both, to hold one against the other
 * @returns undefined where the circuit can not be run
 */
export function stepAnswer(m: Machine, cycle: SettledCycle, by: Disturbance, quantity: Quantity, duration: number, stepped: () => Machine | undefined, only?: StepAnswer['how']): StepAnswer | undefined {
  const phases = phasesOf(cycle, m.layout.size, quantity);
  const small = by.rise || only === 'in time' ? undefined : linearised(m, cycle, by, phases, duration);
  if (small) return small;
  if (by.rise) {
    const other = stepped();
    return other && inTime(other, carryOver(m, other, cycle.state), cycle.period, phases, quantity, duration);
  }
  // A constant source stands in the state itself.
  const from = copyState(cycle.state);
  from.z[m.layout.column.get(by.source)!] = by.to;
  return inTime(m, from, cycle.period, phases, quantity, duration);
}
