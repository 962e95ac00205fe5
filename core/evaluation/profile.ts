import type { Design } from '../design/schema';
import { exponentialStep } from '../linear/exponential';
import { apply } from '../linear/dense';
import { fail, ok, type Result } from '../problem';
import { byRange, rainflow } from '../thermal/cycles';
import type { ThermalNode } from '../thermal/network';
import { systemOf } from '../thermal/warmUp';
import type { OperatingPoint } from '../topology';
import { heatedAt } from './warming';

/** A design under a load that changes over seconds to hours: its temperatures, and the cycles that they go through. */

/** Loads (A), each from its time (s) until the next. */
export interface Profile {
  time: Float64Array;
  load: Float64Array;
}

/** Rows of a profile at most */
const MOST_ROWS = 1_000_000;

/** A profile from text: two columns, s and A, a first line of words or units left out. @returns it; problems "number", "order", "size", "empty" with the line */
export function readProfile(text: string): Result<Profile> {
  const lines = text.split(/\r?\n/);
  if (lines.length > MOST_ROWS + 10) return fail('size', 'profile', `${lines.length.toLocaleString('en')} rows are more than ${MOST_ROWS.toLocaleString('en')}`, 'take means of some of them');
  const [time, load] = [new Float64Array(lines.length), new Float64Array(lines.length)];
  let n = 0;
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!.trim();
    if (line === '') continue;
    const cells = line.split(line.includes(';') ? ';' : /[\t,]|\s+/).map((c) => c.trim());
    const [t, a] = cells.slice(0, 2).map((c) => (c === '' ? NaN : Number(line.includes(';') ? c.replace(',', '.') : c)));
    if (t === undefined || a === undefined || !Number.isFinite(t) || !Number.isFinite(a)) {
      if (n === 0) continue;
      return fail('number', `line ${i + 1}`, `"${line.slice(0, 40)}" is not a time and a load`, 'give s and A, a row each');
    }
    if (n > 0 && !(t > time[n - 1]!)) return fail('order', `line ${i + 1}`, `its time of ${t} s does not come after the one before`, 'give times that rise');
    if (a < 0) return fail('range', `line ${i + 1}`, `a load of ${a} A would feed the converter`, 'give zero or more');
    [time[n], load[n]] = [t, a];
    n++;
  }
  if (n < 2) return fail('empty', 'profile', 'there are fewer than two rows of a time and a load in it', 'give s and A, a row each, the last for where it ends');
  return ok({ time: time.slice(0, n), load: load.slice(0, n) });
}

export interface Under {
  nodes: ThermalNode[];
  /** s, and °C of each node then: of a long profile every so many rows, of a short one several of each */
  time: Float64Array;
  temperatures: Float64Array[];
  /** °C of each node at most, and when (s) */
  hottest: { temperature: number; at: number }[];
  /** Of each node its cycles of a kelvin or more, by their range in K, the largest first */
  cycles: { from: number; to: number; count: number }[][];
  /** How many they are together */
  counted: number[];
}

/** Loads that are settled, evenly over those of the profile; moments that are kept to be drawn, and those of a row at most */
const [LEVELS, DRAWN, WITHIN] = [24, 4000, 40];

/**
 * A design warmed and cooled by a load profile at a line and in an air, from the air on.
 * @returns problems of settling at one of its loads; "runaway"
 */
export function underProfile(d: Design, point: Pick<OperatingPoint, 'line' | 'air'>, profile: Profile): Result<Under> {
  const rows = profile.time.length;
  let [low, high] = [Infinity, 0];
  for (const v of profile.load) [low, high] = [Math.min(low, v), Math.max(high, v)];
  // What no load at all loses is hardly less than a hundredth of one; a converter without any is asked nothing.
  const least = 0.01 * d.brief.load.max;
  const levels = high > low ? LEVELS : 1;
  const loads = Array.from({ length: levels }, (_, k) => Math.max(least, low + ((high - low) * k) / Math.max(1, levels - 1)));
  const systems: Float64Array[] = [];
  let nodes: ThermalNode[] = [];
  for (const load of loads) {
    const heated = heatedAt(d, { ...point, load });
    if (!heated.ok) return heated;
    nodes = heated.value.nodes;
    systems.push(systemOf(heated.value.storing, heated.value.heat, point.air));
  }
  const n = nodes.length;
  const size = n + 1;
  const steps = new Map<string, Float64Array>();
  const stepOf = (level: number, seconds: number): Float64Array => {
    const key = `${level} ${seconds.toPrecision(9)}`;
    let phi = steps.get(key);
    if (!phi) {
      if (steps.size > MOST_STEPS) steps.clear();
      steps.set(key, (phi = exponentialStep(systems[level]!, seconds, size).phi));
    }
    return phi;
  };
  // Between rows that are far apart it bends, and is looked at so often.
  const within = Math.min(WITHIN, Math.max(1, Math.floor(DRAWN / rows)));
  const count = (rows - 1) * within + 1;
  const time = new Float64Array(count);
  const all = nodes.map(() => new Float64Array(count));
  let z = new Float64Array(size).fill(point.air);
  let next = new Float64Array(size);
  z[n] = 1;
  for (let k = 0, at = 0; k < rows; k++) {
    const last = k + 1 === rows;
    const level = levels === 1 ? 0 : Math.round(((profile.load[k]! - low) / (high - low)) * (levels - 1));
    const step = last ? 0 : (profile.time[k + 1]! - profile.time[k]!) / within;
    for (let part = 0; part < (last ? 1 : within); part++, at++) {
      time[at] = profile.time[k]! + part * step;
      for (let i = 0; i < n; i++) all[i]![at] = z[i]!;
      if (last) break;
      apply(stepOf(level, step), z, next, size);
      [z, next] = [next, z];
    }
  }
  const hottest = all.map((list) => {
    let at = 0;
    for (let k = 1; k < count; k++) if (list[k]! > list[at]!) at = k;
    return { temperature: list[at]!, at: time[at]! };
  });
  const every = Math.ceil(count / DRAWN);
  const kept = Array.from({ length: Math.ceil(count / every) }, (_, k) => Math.min(count - 1, k * every));
  const cycles = all.map((list) => byRange(rainflow(list)));
  return ok({
    nodes,
    time: Float64Array.from(kept, (k) => time[k]!),
    temperatures: all.map((list) => Float64Array.from(kept, (k) => list[k]!)),
    hottest,
    cycles,
    counted: cycles.map((list) => list.reduce((sum, c) => sum + c.count, 0)),
  });
}

/** Steps of different length that are kept */
const MOST_STEPS = 5000;
