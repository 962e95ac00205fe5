import { restState } from '../circuit/machine';
import { structureNamed } from '../control';
import { COMMAND } from '../control/command';
import { isDiscontinuous } from '../converter/conduction';
import type { Design } from '../design/schema';
import { closedDesign } from '../evaluation/closedDesign';
import { meanOf } from '../evaluation/closed';
import { quantityOf } from '../evaluation/compensator';
import { apply, dot } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import { cycleIntegrals as cycleIntegralsOf, range, type Quantity } from '../orbit/measure';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { recording, type Points, type Recording } from '../recording';
import { meanState } from '../response/averaged';
import { scheduleProblem, wavesOf } from '../schedule/schedule';
import { tracesNamed, tracesOffered, type Trace } from '../schedule/traces';
import type { Schedule } from '../surroundings/schedule';
import type { OperatingPoint } from '../topology';
import { stepped } from './controller';

/**
 * A converter averaged over its switching period and run through a schedule: a fraction of the work of the switched one, without
 * ripple, and right while what conducts keeps its order. Each pattern of the settled cycle counts by the share of the period that
 * it lasts, which the duty moves along; the loops are networks that act all the time. What ripple that comes through them does to the
 * duty is left out, and where that is much there is no such run.
 *
 *   z' = (F̄ + (d − d₀) G) z,    F̄ = Σ (t_k/T) F_k,    G = Σ (∂t_k/∂d)/T F_k
 *
 * Source: Middlebrook, Ćuk, "A general unified approach to modelling switching-converter power stages", PESC 1976; for the peak of a
 * current as the command Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12.
 */

export interface Averaged {
  traces: Trace[];
  record: Recording;
  points: Points;
  /** Steps that were taken */
  steps: number;
}

/** Ways to control whose command is the duty, and the one whose command is the peak of a current */
const [BY_DUTY, BY_PEAK] = [['voltage', 'average-current'], 'peak-current'];
/** Share of the ramp that the ripple of the command may be: what it does to the duty is left out */
const MOST_RIPPLE = 0.05;
/** Duties that the step is worked out for; between them it goes straight */
const DUTIES = 64;
/** Share of the period of the highest crossover that a step takes at most */
const STEP = 0.01;
/** Steps at most, whose points are all kept */
const MOST_STEPS = 3_000_000;
/** What leaves a kink behind every step: none here */
const NO_EVENTS = { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) };

/**
 * Run a design through a schedule, averaged.
 * @returns problems of the schedule, of settling, placing and closing; "averaged" where it has no such model
 */
export function averagedRun(d: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<Averaged> {
  const wrong = scheduleProblem(schedule, d);
  if (wrong) return { ok: false, problem: wrong };
  const none = (message: string): Result<never> => fail('averaged', 'fidelity', message, 'look at it switched');
  if (d.brief.line.mains !== undefined) return none('on the mains there is no one cycle to average over');
  if ((schedule.fails ?? []).length > 0 || schedule.steps.some((s) => s.what === 'enable')) return none('where gates are let go or parts fail nothing keeps its order');
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const { bill, stage, loops, cycle: closedCycle } = found.value;
  const { roles, machine, cycle, cycleIntegrals, perDuty, setting } = stage;
  const byPeak = d.control.method === BY_PEAK;
  if (!BY_DUTY.includes(d.control.method) && !byPeak) return none(`controlled ${structureNamed(d.control.method)!.by ?? 'so'} it has no averaged run`);
  if (loops.loops.some((l) => l.controller.kind !== 'continuous')) return none('a controller that samples acts once a period');
  if (isDiscontinuous(cycle, roles.conduction)) return none('its current stops within every period here');
  const own = cycle.trace.all.find((e, k) => e.cause === k && machine.devices.some((x) => x.id === e.owner));
  if (own) return none(`how long ${own.owner} conducts is decided by the circuit itself within every period`);

  // The ramp meets the command where the ripple that comes through the network has it just then, and not at its mean.
  const command = range(cycleIntegralsOf(closedCycle), (p) => p.voltage(COMMAND));
  const ripple = (command.max - command.min) / loops.ramp;
  if (ripple > MOST_RIPPLE && !byPeak) return none(`so much ripple comes through its network, ${print(ripple, '%', 2)} of the ramp, that it moves the duty by itself`);
  const T = cycle.period;
  const { size, layout } = cycle.intervals[0]!.pattern;
  const shares = cycle.intervals.map((s) => s.duration / T);
  const on = (k: number): boolean => cycle.intervals[k]!.pattern.on.has(bill.drive.dutySwitch ?? '');
  // Where a current is the command the duty is what its switch is on for.
  const d0 = byPeak ? stage.duty : setting;
  const slopes = byPeak ? shares.map((s, k) => (on(k) ? s / d0 : -s / (1 - d0))) : perDuty.map((s) => s / T);
  const blend = (of: (k: number) => Float64Array): { at: Float64Array; by: Float64Array } => {
    const [at, by] = [new Float64Array(of(0).length), new Float64Array(of(0).length)];
    cycle.intervals.forEach((_, k) => of(k).forEach((v, i) => {
      at[i]! += shares[k]! * v;
      by[i]! += slopes[k]! * v;
    }));
    return { at, by };
  };
  const F = blend((k) => cycle.intervals[k]!.pattern.F);
  const rowOf = (q: Quantity): { at: Float64Array; by: Float64Array } => blend((k) => q(cycle.intervals[k]!.pattern));
  const read = (r: { at: Float64Array; by: Float64Array }, z: Float64Array, duty: number): number => dot(r.at, z, size) + (duty - d0) * dot(r.by, z, size);

  const highest = Math.max(...loops.loops.map((_, k) => (k === loops.loops.length - 1 ? d.control.crossover : ((d.control.innerCrossover as number | null) ?? 0.1 * d.brief.frequency))));
  const steps = Math.ceil(schedule.lasts / Math.min(schedule.lasts / 200, Math.max(T / 4, STEP / highest)));
  if (steps > MOST_STEPS) return none(`a run of ${print(schedule.lasts, 's', 2)} would take ${steps.toExponential(0)} steps`);
  const h = schedule.lasts / steps;
  const phis = Array.from({ length: DUTIES + 1 }, (_, k) => exponentialStep(F.at.map((v, i) => v + (k / DUTIES - d0) * F.by[i]!), h, size).phi);
  const controllers = loops.loops.map((l) => stepped(l.controller as Extract<typeof l.controller, { kind: 'continuous' }>, h));
  const sensed = loops.loops.map((l) => rowOf(quantityOf(l.sensed, roles)));

  // Where the peak of a current is the command: its mean while the switch is on, half its rise, and the ramp that is added.
  const modulator = machine.circuit.modulators.find((m) => m.kind === 'current-mode');
  const peak = byPeak && modulator?.kind === 'current-mode' ? { row: onMean(cycle.intervals, on, (p) => p.voltage(...modulator.sense)), rise: onMean(cycle.intervals, on, (p) => rateOf(p.voltage(...modulator.sense), p.F, size)), slope: modulator.slope, most: modulator.maxDuty } : undefined;
  const dutyOf = (command: number): number => {
    const share = command / loops.ramp;
    const duty = peak ? (share - dot(peak.row, z, size)) / ((dot(peak.rise, z, size) / 2 + peak.slope) * T) : share;
    return Math.min(peak?.most ?? 1, Math.max(0, duty));
  };

  const offered = tracesOffered(bill, roles, found.value.circuit).filter((o) => 'row' in o.watched && !['command', 'reference', 'inner-reference'].includes(o.id));
  const traces = tracesNamed((wanted ?? offered.filter((o) => bill.topology.signals.some((s) => s.lane && s.id === o.id)).map((o) => o.id)).filter((id) => offered.some((o) => o.id === id || o.also === id)), offered, found.value.circuit);
  if (!traces.ok) return traces;
  const rows = traces.value.map((t) => rowOf((t.watched as { row: Quantity }).row));

  const rest = schedule.begins === 'rest';
  const rise = rest ? ((d.control.softStart as number | null) ?? 0) : 0;
  const soft = rise > 0 ? { ...schedule, steps: [{ at: 0, what: 'reference' as const, to: loops.reference, takes: rise }, ...schedule.steps] } : schedule;
  const line = waveOf(soft, 'line', point.line);
  const load = waveOf(soft, 'load', point.load);
  const reference = waveOf(soft, 'reference', rise > 0 ? 0 : loops.reference);
  const [lineAt, loadAt] = [layout.column.get(roles.line)!, layout.column.get(roles.outputs[0]!.step!)];

  let z: Float64Array = rest ? restState(machine).z.slice() : meanState(cycleIntegrals);
  z[layout.column.get(COMMAND)!] = 0;
  if (!rest) controllers.forEach((c, k) => c.stand(k === 0 ? setting * loops.ramp : meanOf(stage, loops.loops[k - 1]!.sensed)));
  const sources = (t: number, until?: number): void => {
    z[lineAt] = line(t, until);
    if (loadAt !== undefined) z[loadAt] = load(t, until) - point.load;
  };
  /** Commands and duty at a time, outermost first: what each asks is what the next is held to. @param ahead errors a step before, where the controllers still stand there */
  const errors = new Float64Array(controllers.length);
  const judge = (t: number, before: number, ahead?: Float64Array): number => {
    let asked = reference(t);
    for (let k = controllers.length - 1; k >= 0; k--) {
      errors[k] = asked - read(sensed[k]!, z, before);
      asked = ahead ? controllers[k]!.ahead(ahead[k]!, errors[k]!) : controllers[k]!.output(errors[k]!);
    }
    return dutyOf(asked);
  };
  const time = new Float64Array(steps + 1);
  const values = rows.map(() => new Float64Array(steps + 1));
  const along = (from: Float64Array, by: number): Float64Array => {
    const at = Math.min(DUTIES - 1, Math.floor(by * DUTIES));
    const share = by * DUTIES - at;
    apply(phis[at]!, from, next, size);
    apply(phis[at + 1]!, from, other, size);
    return next.map((v, i) => v + share * (other[i]! - v));
  };
  const next = new Float64Array(size);
  const other = new Float64Array(size);
  let duty = rest ? 0 : d0;
  sources(0);
  duty = judge(0, duty);
  for (let k = 0; k <= steps; k++) {
    time[k] = k * h;
    rows.forEach((r, i) => (values[i]![k] = read(r, z, duty)));
    if (k === steps) break;
    // Sources as they are over the step on the mean.
    sources(k * h, (k + 1) * h);
    const begin = z;
    const before = errors.slice();
    // Once with the duty there was, to learn which there will be; then with the middle of both.
    z = along(begin, duty);
    sources((k + 1) * h);
    const foreseen = judge((k + 1) * h, duty, before);
    z = along(begin, (duty + foreseen) / 2);
    sources((k + 1) * h);
    judge((k + 1) * h, foreseen, before);
    controllers.forEach((c, i) => c.advance(before[i]!, errors[i]!));
    duty = judge((k + 1) * h, foreseen);
  }
  const points: Points = { time, values, events: NO_EVENTS };
  const record = recording(rows.length);
  record.add(points);
  return ok({ traces: traces.value.map(({ id, title, unit, of }) => ({ id, title, unit, ...(of === undefined ? {} : { of }) })), record, points, steps });
}

/** A quantity's row, mean over where the switch is on. */
function onMean(intervals: readonly { pattern: Parameters<Quantity>[0]; duration: number }[], on: (k: number) => boolean, q: Quantity): Float64Array {
  const list = intervals.flatMap((s, k) => (on(k) ? [s] : []));
  const all = list.reduce((sum, s) => sum + s.duration, 0);
  const row = new Float64Array(intervals[0]!.pattern.size);
  for (const s of list) q(s.pattern).forEach((v, i) => (row[i]! += (v * s.duration) / all));
  return row;
}

/** A row's rate: row · F. */
function rateOf(row: Float64Array, F: Float64Array, size: number): Float64Array {
  const rate = new Float64Array(size);
  for (let i = 0; i < size; i++) if (row[i] !== 0) for (let j = 0; j < size; j++) rate[j]! += row[i]! * F[i * size + j]!;
  return rate;
}

/** What something does over a schedule: its mean from one time to another, and where both are one its value then. */
function waveOf(s: Schedule, what: 'line' | 'load' | 'reference', from: number): (t: number, until?: number) => number {
  const wave = wavesOf(s, what, from);
  if (!wave || typeof wave !== 'object' || wave.shape !== 'points') return () => from;
  const { points } = wave;
  const last = (t: number): number => points.findLastIndex(([at]) => at <= t);
  const value = (t: number): number => {
    const k = Math.max(0, last(t));
    const [[t0, v0], [t1, v1]] = [points[k]!, points[Math.min(points.length - 1, k + 1)]!];
    return t1 > t0 ? v0 + ((v1 - v0) * Math.min(1, Math.max(0, (t - t0) / (t1 - t0)))) : v1;
  };
  return (t, until = t) => {
    const kinks = points.slice(last(t) + 1).filter(([at]) => at < until);
    if (kinks.length === 0) return value((t + until) / 2);
    // Straight between kinks, where it may jump: what it comes to a kink with is the first of the points there.
    let [sum, at, v] = [0, t, value(t)];
    for (const [then, w] of [...kinks, [until, kinks.at(-1)![0] < until ? value(until) : kinks.at(-1)![1]] as const]) {
      sum += ((v + w) / 2) * (then - at);
      [at, v] = [then, w];
    }
    return sum / (until - t);
  };
}
