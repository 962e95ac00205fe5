import type { Design } from '../design/schema';
import { fail, ok, type Problem, type Result } from '../problem';
import { printTyped } from '../quantity';
import type { Pinned } from '../surroundings/schedule';
import type { OperatingPoint } from '../topology';
import { recordBounded } from './recorded';
import { beginRun } from './run';
import { schedulesOf } from './schedule';

/** What is required of runs, held at a point. */

/** One of them at a point. */
export interface PinnedStanding {
  /** Least and most of the trace in its window; NaN where it can not be run */
  least: number;
  most: number;
  /** How much of what it may is used: 1 at the limit */
  share: number;
  holds: boolean;
  problem?: Problem;
}

/** "Output within 23.5–24.5 V from 2 ms on, through start-up" */
export function pinnedInWords({ title, unit, low, high, from, until, schedule }: Pinned): string {
  const span = low !== undefined && high !== undefined ? `within ${printTyped(low, unit, 4)} and ${printTyped(high, unit, 4)}` : high !== undefined ? `at most ${printTyped(high, unit, 4)}` : `at least ${printTyped(low!, unit, 4)}`;
  const when = until !== undefined ? ` from ${printTyped(from, 's', 3)} to ${printTyped(until, 's', 3)}` : from > 0 ? ` from ${printTyped(from, 's', 3)} on` : '';
  return `${title} ${span}${when}, through ${schedule}`;
}

/** How much of what it may a trace uses. */
export function shareOf({ low, high }: Pick<Pinned, 'low' | 'high'>, least: number, most: number): number {
  if (low !== undefined && high !== undefined) return Math.max(Math.abs(most - (low + high) / 2), Math.abs(least - (low + high) / 2)) / ((high - low) / 2);
  if (high !== undefined) return 1 + (most - high) / (Math.abs(high) || 1);
  return 1 + (low! - least) / (Math.abs(low!) || 1);
}

/** Run what a design requires of runs at a point: one run for all that go through the same schedule. */
export function pinnedAt(d: Design, point: OperatingPoint): PinnedStanding[] {
  const pins = d.pins ?? [];
  const runs = new Map<string, Result<(p: Pinned) => PinnedStanding>>();
  const through = (name: string): Result<(p: Pinned) => PinnedStanding> => {
    const schedule = schedulesOf(d, point).find((s) => s.name === name);
    if (!schedule) return fail('unknown', 'pins', `there is no schedule "${name}" any more`, 'take the requirement away, or make the schedule again');
    const ids = [...new Set(pins.filter((p) => p.schedule === name).map((p) => p.trace))];
    const ready = beginRun(d, point, schedule, ids);
    if (!ready.ok) return ready;
    const run = recordBounded(ready.value, schedule);
    if (!run.ok) return run;
    return ok((p) => {
      const read = run.value.record.read(ids.indexOf(p.trace), p.from, Math.min(p.until ?? schedule.lasts, schedule.lasts));
      if (!read) return { least: NaN, most: NaN, share: NaN, holds: false, problem: { code: 'range', where: 'pins', message: `the run ends before ${printTyped(p.from, 's', 3)}`, remedy: 'let it begin sooner' } };
      const share = shareOf(p, read.least, read.most);
      return { least: read.least, most: read.most, share, holds: share <= 1 };
    });
  };
  return pins.map((p) => {
    let run = runs.get(p.schedule);
    if (!run) runs.set(p.schedule, (run = through(p.schedule)));
    return run.ok ? run.value(p) : { least: NaN, most: NaN, share: NaN, holds: false, problem: run.problem };
  });
}
