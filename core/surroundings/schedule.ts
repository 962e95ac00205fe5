import { z } from 'zod';

/** What happens to a converter over time: where it begins, and what its load, line and reference do then. */

export const WHAT = ['load', 'line', 'reference'] as const;
export type What = (typeof WHAT)[number];

/** At a time, what goes where, and in how long. Load in A, line and reference (as the output it asks for) in V. */
export const ScheduleStep = z.strictObject({ at: z.number().nonnegative(), what: z.enum(WHAT), to: z.number(), takes: z.number().nonnegative().default(0) });
export type ScheduleStep = z.infer<typeof ScheduleStep>;

export const Schedule = z.strictObject({
  name: z.string().min(1).max(60),
  /** At rest, line and load there and the reference rising by the soft start; or on the settled cycle */
  begins: z.enum(['rest', 'settled']),
  /** s */
  lasts: z.number().positive(),
  steps: z.array(ScheduleStep).max(40),
});
export type Schedule = z.infer<typeof Schedule>;

/** Schedules that a design has of its own at most */
export const MOST_SCHEDULES = 8;
