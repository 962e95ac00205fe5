import type { Waveform } from '../circuit/elements';
import type { Design } from '../design/schema';
import { fail, ok, type Problem, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { Schedule, type What } from '../surroundings/schedule';
import type { OperatingPoint } from '../topology';

/** Times the loop's own that a run goes on after the last thing has happened */
const AFTER = 40;

/** Switching periods of a run at most: some hours of work */
const MOST_PERIODS = 1e8;

/** Cycles of the mains that its usual schedules go over: its voltage loop takes some to come to rest */
const CYCLES = 16;

/** What every design can be run through from a point: a start, the load step of the brief and back, its line to either end; on the mains a cycle that is left out. */
export function usualSchedules({ brief, control }: Design, point: OperatingPoint): Schedule[] {
  const { mains } = brief.line;
  // Steps come where the mains goes through zero.
  const own = mains === undefined ? AFTER / (2 * Math.PI * control.crossover) : CYCLES / 2 / mains;
  const begin = mains === undefined ? 0.2 * own : 1 / mains;
  const rise = (control.softStart as number | null) ?? 0;
  const takes = brief.loadStepTime ?? 0;
  return [
    { name: 'start-up', begins: 'rest', lasts: rise + 1.5 * own, steps: [] },
    { name: 'load step', begins: 'settled', lasts: begin + 2 * own + 2 * takes, steps: [{ at: begin, what: 'load', to: point.load + brief.loadStep, takes }, { at: begin + own + takes, what: 'load', to: point.load, takes }] },
    { name: 'line step', begins: 'settled', lasts: begin + 2 * own, steps: [{ at: begin, what: 'line', to: brief.line.max, takes: 0 }, { at: begin + own, what: 'line', to: brief.line.min, takes: 0 }] },
    ...(mains === undefined ? [] : [{ name: 'line dip', begins: 'settled' as const, lasts: begin + own, steps: [{ at: begin, what: 'line' as const, to: 0, takes: 0 }, { at: begin + 1 / mains, what: 'line' as const, to: point.line, takes: 0 }] }]),
  ];
}

/** All that a design can be run through: the usual ones, and its own. */
export const schedulesOf = (d: Design, point: OperatingPoint): Schedule[] => [...usualSchedules(d, point), ...(d.schedules ?? [])];

/** The first thing of a schedule that can not be; undefined where it can be run. */
export function scheduleProblem(s: Schedule, { brief }: Design): Problem | undefined {
  for (const [k, step] of s.steps.entries()) {
    const where = `steps.${k}`;
    if (step.at + step.takes > s.lasts) return { code: 'range', where, message: `it ends at ${print(step.at + step.takes, 's')}, after the run, which lasts ${print(s.lasts, 's')}`, remedy: 'let the run last longer, or the step come sooner' };
    if (step.what === 'load' && step.to < 0) return { code: 'range', where, message: `a load of ${print(step.to, 'A')} would feed the converter`, remedy: 'give zero or more' };
    if (step.what === 'enable' && step.to !== 0 && step.to !== 1) return { code: 'range', where, message: `gates are let go or not, ${step.to} is neither`, remedy: 'give 1 or 0' };
    const gone = step.what === 'line' && brief.line.mains !== undefined && step.to === 0;
    if (step.what !== 'load' && step.what !== 'enable' && !gone && !(step.to > 0)) return { code: 'range', where, message: `a ${step.what} of ${print(step.to, 'V')} is nothing to run on`, remedy: 'give more than zero' };
    if (step.what === 'line' && brief.line.mains !== undefined && step.takes > 0) return { code: 'range', where, message: 'the mains goes to another voltage at once', remedy: 'let the step take no time, or make several of it' };
  }
  for (const [k, failure] of (s.fails ?? []).entries())
    if (failure.at > s.lasts) return { code: 'range', where: `fails.${k}`, message: `${failure.part} fails at ${print(failure.at, 's')}, after the run, which lasts ${print(s.lasts, 's')}`, remedy: 'let the run last longer, or the part fail sooner' };
  const periods = s.lasts * brief.frequency;
  if (periods > MOST_PERIODS) return { code: 'size', where: 'lasts', message: `a run of ${print(s.lasts, 's')} goes over ${periods.toExponential(1)} switching periods`, remedy: `let it last ${print(MOST_PERIODS / brief.frequency, 's', 2)} at most; hours of heating are no switching` };
  return undefined;
}

/** Read a schedule from parsed JSON, and hold it against a design. */
export function readSchedule(raw: unknown, d: Design): Result<Schedule> {
  const parsed = Schedule.safeParse(raw);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    return fail('value', issue!.path.join('.') || 'schedule', issue!.message.replace(/^Invalid input: /, '').toLowerCase(), 'a schedule has a name, where it begins ("rest" or "settled"), how long it lasts (s) and steps of at, what, to, takes; fails of at, part, how, resistance');
  }
  const problem = scheduleProblem(parsed.data, d);
  return problem ? { ok: false, problem } : ok(parsed.data);
}

/** What something does over a schedule, as points between which it goes straight; undefined where it stands still. @param from where it begins */
export function wavesOf({ steps, lasts }: Schedule, what: What, from: number): Waveform | undefined {
  const own = steps.filter((s) => s.what === what).toSorted((a, b) => a.at - b.at);
  if (own.length === 0) return undefined;
  const straight = what !== 'enable';
  const points: [number, number][] = [[0, from]];
  let now = from;
  for (const { at, to, takes } of own) {
    // What is under way when the next comes goes no further.
    const start = Math.max(at, points.at(-1)![0]);
    points.push([start, now], [start + (straight ? takes : 0), to]);
    now = to;
  }
  if (points.at(-1)![0] < lasts) points.push([lasts, now]);
  return { shape: 'points', points };
}
