import type { Budget } from '../orbit/budget';
import { ok, type Result } from '../problem';
import { recording, type Recording } from '../recording';
import type { Schedule } from '../surroundings/schedule';
import { recordStretch, stillMoves, stretchEnds, type Ending, type Running } from './run';

/** A run in whole. */
export interface Recorded {
  record: Recording;
  end: Ending;
}

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

/** Share of the largest of its kind by which a state may move in a period where a run is called settled */
export const SETTLED = 1e-5;
/** Stretches that are run on at most until it is */
const MOST_ON = 400;

/** Run on until it is settled. @returns the end, and whether it is: what still moves, and by how much in a period */
export function runUntilSettled(run: Running, from: Ending, stretch: number, each: (s: { until: number; end: Ending }) => void = () => undefined): Result<{ end: Ending; share: number; of: string }> {
  let end = from;
  for (let k = 0; ; k++) {
    const moves = stillMoves(run, end);
    if (!moves.ok) return moves;
    if (moves.value.share <= SETTLED || k === MOST_ON) return ok({ end, ...moves.value });
    const part = recordStretch(run, end, end.t + stretch);
    if (!part.ok) return part;
    ({ end } = part.value);
    each({ until: end.t, end });
  }
}
