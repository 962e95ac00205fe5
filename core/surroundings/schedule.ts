import { z } from 'zod';
import type { Problem } from '../problem';

/** What happens to a converter over time: where it begins, what its load, line and reference do then, when its gates are let go, and what fails. */

export const WHAT = ['load', 'line', 'reference', 'enable'] as const;
export type What = (typeof WHAT)[number];

/** At a time, what goes where, and in how long. Load in A, line and reference (as the output it asks for) in V; enable is 1 or 0, gates stay off at 0. */
export const ScheduleStep = z.strictObject({ at: z.number().nonnegative(), what: z.enum(WHAT), to: z.number(), takes: z.number().nonnegative().default(0) });
export type ScheduleStep = z.infer<typeof ScheduleStep>;

export const HOW = ['open', 'short', 'leaky'] as const;
/** A part that fails at a time: it opens, it is a short from then on, or it leaks (by so many Ω). */
export const Failure = z.strictObject({ at: z.number().nonnegative(), part: z.string().min(1).max(60), how: z.enum(HOW), resistance: z.number().positive().default(1e3) });
export type Failure = z.infer<typeof Failure>;

export const Schedule = z.strictObject({
  name: z.string().min(1).max(60),
  /** At rest, line and load there and the reference rising by the soft start; or on the settled cycle */
  begins: z.enum(['rest', 'settled']),
  /** s */
  lasts: z.number().positive(),
  steps: z.array(ScheduleStep).max(40),
  fails: z.array(Failure).max(8).optional(),
});
export type Schedule = z.infer<typeof Schedule>;

/** What is required of a trace through a schedule, from a time on and until another: within which it has to stay, at every corner. */
export const Pinned = z.strictObject({
  /** The schedule's name, one that every design has or one of its own */
  schedule: z.string().min(1).max(60),
  /** The trace's id */
  trace: z.string().min(1).max(120),
  /** As it is read: "Output" */
  title: z.string().min(1).max(80),
  unit: z.enum(['V', 'A', 'W', 'T', 'J']),
  low: z.number().optional(),
  high: z.number().optional(),
  /** s */
  from: z.number().nonnegative(),
  until: z.number().positive().optional(),
});
export type Pinned = z.infer<typeof Pinned>;
/** Of them at most */
export const MOST_PINNED = 8;

/** Schedules that a design has of its own at most */
export const MOST_SCHEDULES = 8;

/** Why a requirement of that kind can not be; undefined where it can. */
export function pinnedProblem({ low, high, from, until }: Pinned, where: string): Problem | undefined {
  if (low === undefined && high === undefined) return { code: 'empty', where, message: 'nothing is required', remedy: 'give a least, a most, or both' };
  if (low !== undefined && high !== undefined && !(low < high)) return { code: 'range', where, message: 'its least is not below its most', remedy: 'give a lower one' };
  if (until !== undefined && until <= from) return { code: 'range', where, message: 'it ends before it begins', remedy: 'let it end later' };
  return undefined;
}
