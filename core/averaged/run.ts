import { carryOver } from '../orbit/carry';
import { budgetOf } from '../orbit/budget';
import type { Quantity } from '../orbit/measure';
import type { Design } from '../design/schema';
import { fail, ok, type Result } from '../problem';
import { recording, type Points, type Recording } from '../recording';
import { beginRun } from '../schedule/run';
import type { Trace } from '../schedule/traces';
import type { Schedule } from '../surroundings/schedule';
import type { OperatingPoint } from '../topology';
import { envelope } from './envelope';

/** A converter's run through a schedule, averaged over its switching period: without ripple, and with most periods left out. */

export interface Averaged {
  traces: Trace[];
  record: Recording;
  points: Points;
  /** Switching periods that were run, of so many */
  run: number;
  periods: number;
}

/** ns of an ordinary machine that it may take */
const MOST_WORK = 6e10;

/**
 * Run a design through a schedule, averaged.
 * @returns problems of the schedule, of settling, placing and closing; "averaged" where it has no period to average over; "work"
 */
export function averagedRun(d: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<Averaged> {
  const ready = beginRun(d, point, schedule, wanted);
  if (!ready.ok) return ready;
  const { phases, begin, traces, watched, period } = ready.value;
  const own = phases[0]!.machine.eventSources.find((a) => a.gates.length > 0 && a.period === 0);
  if (own) return fail('averaged', own.id, 'it decides by itself when to switch, so there is no period to average over', 'look at it switched');
  const shown = traces.flatMap((trace, k) => ('row' in watched[k]! ? [{ trace, row: watched[k].row }] : []));
  if (shown.length === 0) return fail('averaged', 'traces', 'a mean is shown of voltages and currents, not of their products', 'add a voltage or a current');

  const rows: Quantity[] = shown.map((s) => s.row);
  const time: number[] = [];
  const values: number[][] = rows.map(() => []);
  const tell = (t: number, means: readonly number[]): void => {
    time.push(t - begin.state.t);
    means.forEach((v, q) => values[q]!.push(v));
  };
  let { state } = begin;
  let run = 0;
  for (const [k, { machine, from }] of phases.entries()) {
    if (k > 0) state = carryOver(phases[k - 1]!.machine, machine, state);
    const until = begin.state.t + Math.min(schedule.lasts, phases[k + 1]?.from ?? Infinity);
    if (!(until > begin.state.t + from)) continue;
    const found = envelope(machine, state, period, until, rows, tell, budgetOf(machine, MOST_WORK));
    if (!found.ok) return found;
    state = found.value.end;
    run += found.value.run;
  }
  const points: Points = { time: Float64Array.from(time), values: values.map((v) => Float64Array.from(v)), events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } };
  const record = recording(rows.length);
  record.add(points);
  return ok({ traces: shown.map((s) => s.trace), record, points, run, periods: Math.ceil(schedule.lasts / period) });
}
