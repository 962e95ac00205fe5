import type { Pattern } from '../pattern';

/**
 * What an event source must keep to: its clock never goes back; what it does follows from its memory, its rows and
 * the moment alone; told the same memory a whole number of periods later it does the same again (`rebase`); a clock
 * that falls on the end of a run is carried out by the run that goes on from there.
 *
 * Event sources make things happen: modulators drive gates, moving sources pass their breakpoints. Each is a
 * small state machine on a few numbers of memory, with a clock (its next known time) and guards
 * (linear functions of z and t that act when they become positive).
 */

/** A guard's fixed part: its row in any pattern. */
export interface GuardRow {
  owner: string;
  row(p: Pattern): Float64Array;
}

/** A guard that is watched now: row·z + offset + slope·(t − from) > 0 fires. */
export interface ActiveGuard {
  /** Index into the event source's rows */
  index: number;
  offset: number;
  slope: number;
  from: number;
}

/** What an event source may do. */
export interface EventContext {
  t: number;
  /** Value of one of the event source's rows now */
  value(index: number): number;
  /** Turn a gate on or off after `after` seconds; replaces what was under way for it from then on. */
  command(gate: string, on: boolean, after: number): void;
  /** Be called as by a clock after so many seconds: a moment that follows what happens now. */
  wake(after: number): void;
  /** One of the event source's rows in the present pattern; empty where nobody wants gradients */
  row(index: number): Float64Array;
  /** Put a column of z to a value, to what a row is now (a sampler), or to a value with its gradient over z. */
  set(column: string, to: number | { row: number } | { value: number; gradient: Float64Array }): void;
}

export interface EventSource {
  id: string;
  rows: GuardRow[];
  /** Columns that samplers of this event source keep */
  held: string[];
  /** Gates this event source drives */
  gates: string[];
  /** s; 0 when it has none */
  period: number;
  /** It moves at stated times and then never again: a settled cycle is of the time before */
  once?: true;
  begin(): number[];
  /** Absolute time of the next clock */
  next(memory: readonly number[]): number;
  clock(memory: number[], hands: EventContext): void;
  active(memory: readonly number[]): ActiveGuard[];
  fire(memory: number[], index: number, hands: EventContext): void;
  /** The same memory told from `shift` seconds later: a whole number of its periods */
  rebase(memory: readonly number[], shift: number): number[];
}

/** Clock index and times moved back: `perPeriod` clocks in each period, times at the given places of the memory. */
export const rebased = (memory: readonly number[], shift: number, period: number, perPeriod: number, times: readonly number[]): number[] =>
  memory.map((v, i) => (i === 0 && perPeriod > 0 ? v - Math.round(shift / period) * perPeriod : times.includes(i) ? v - shift : v));

/** Which of `count` steps a clock's index stands for, before the first period too. */
export const stepOf = (index: number, count: number): number => ((index % count) + count) % count;

/** Where a sampler's clock begins: what was sampled a period before is still on its way out, where that ends in this one or with it. */
export const beginning = ({ period, phase, delay }: { period: number; phase: number; delay: number }): number => (delay > 0 && phase * period + delay >= period * (1 - 1e-9) ? -1 : 0);

export const NONE: ActiveGuard[] = [];
/** (a − b) · scale, entry by entry: the row of a difference of two quantities. */
export const minus = (a: Float64Array, b: Float64Array, scale = 1): Float64Array => a.map((v, i) => (v - b[i]!) * scale);
