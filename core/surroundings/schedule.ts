import { z } from 'zod';

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

/** Schedules that a design has of its own at most */
export const MOST_SCHEDULES = 8;
