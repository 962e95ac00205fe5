import { z } from 'zod';

/** Points of a capture that a design carries at most, and captures */
export const [MOST_CAPTURED, MOST_CAPTURES] = [2000, 4];

const numbers = z.array(z.number()).min(2).max(MOST_CAPTURED);

/** A capture that a design carries: what it is of, and how it is laid over runs: value · scale + offset at time + shift. */
export const Captured = z
  .strictObject({
    title: z.string().min(1).max(60),
    /** Id of the trace it is laid over */
    trace: z.string().min(1).max(120),
    /** Name of the schedule it is of; of any where left out */
    schedule: z.string().min(1).max(60).optional(),
    /** s */
    time: numbers,
    value: numbers,
    shift: z.number().default(0),
    scale: z.number().default(1),
    offset: z.number().default(0),
  })
  .refine((c) => c.value.length === c.time.length, 'as many values as times')
  .refine((c) => c.time.every((t, i) => i === 0 || t >= c.time[i - 1]!), 'times that do not go back');
export type Captured = z.infer<typeof Captured>;
