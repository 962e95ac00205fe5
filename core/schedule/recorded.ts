import { budgetOf, type Budget } from '../orbit/budget';
import { ok, type Result } from '../problem';
import { recording, type Recording } from '../recording';
import type { Schedule } from '../surroundings/schedule';
import { recordStretch, stretchEnds, type Ending, type Running } from './run';

/** A run in whole. */
export interface Recorded {
  record: Recording;
  end: Ending;
}

/** ns of an ordinary machine that a run may take where nobody watches it: at a corner, in a sweep */
const MOST_WORK = 6e9;

/** Run all of a schedule where nobody watches and can stop it. @returns as of recordRun; "work" where it would take too long */
export const recordBounded = (run: Running, schedule: Pick<Schedule, 'lasts'>): Result<Recorded> => recordRun(run, schedule, budgetOf(run.phases[0]!.machine, MOST_WORK));

/** Run all of a schedule at once. @returns what has been recorded, and where it ends; problems of running it */
export function recordRun(run: Running, schedule: Pick<Schedule, 'lasts'>, budget?: Budget): Result<Recorded> {
  const record = recording(run.watched.length);
  let { begin: end } = run;
  for (const until of stretchEnds(schedule, run.frequency)) {
    const part = recordStretch(run, end, until, budget);
    if (!part.ok) return part;
    record.add(part.value);
    ({ end } = part.value);
  }
  return ok({ record, end });
}
