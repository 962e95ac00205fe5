import { freeColumns } from '../circuit/layout';
import { buildMachine, restState, type Machine, type State } from '../circuit/machine';
import type { Roles } from '../converter/roles';
import type { Design } from '../design/schema';
import { closed, ENABLE, REFERENCE_SOURCE } from '../evaluation/assemble';
import { closedDesign } from '../evaluation/closedDesign';
import { OUTPUT_REFERENCE } from '../evaluation/mainsWhole';
import { carryOver } from '../orbit/carry';
import type { Budget } from '../orbit/budget';
import { scalesOf } from '../orbit/cycle';
import { march } from '../orbit/march';
import { fail, ok, type Result } from '../problem';
import { recorderOf, type Carried, type Points, type Recorder, type Watched } from '../recording';
import { named, type Named } from '../recording/words';
import type { OperatingPoint } from '../topology';
import type { Schedule } from '../surroundings/schedule';
import { failing, FEEDBACK, unfed, withBodies } from './failing';
import { wholeMains } from './onMains';
import { scheduleProblem, wavesOf } from './schedule';
import { tracesNamed, tracesOffered, usualTraces, type Offered, type Trace } from './traces';

/** A converter run through a schedule, stretch by stretch: exact from event to event, the closed circuit and nothing else. */

/** The circuit from a time on: another one after every part that fails. */
interface Phase {
  /** s after the beginning */
  from: number;
  machine: Machine;
}

/** Where a stretch ends, and the next goes on. */
export interface Ending {
  /** s after the beginning */
  t: number;
  phase: number;
  state: State;
  /** What its recording goes on with */
  recorded?: Carried;
}

/** A run made ready: its circuits, where it begins, and what is looked at. */
export interface Running {
  phases: readonly Phase[];
  begin: Ending;
  traces: Trace[];
  watched: Watched[];
  /** How a stretch of it is recorded: times less by so many s, and what it goes on with */
  record: (shift: number, from?: Carried) => Recorder;
  /** All that could be looked at */
  offered: Trace[];
  /** The nodes of its circuit, between any two of which a voltage can be looked at */
  nodes: string[];
  /** Its devices, as events are said with */
  devices: Named[];
  /** s in which its reference rises as it begins */
  softStart: number;
  /** s of its switching, and of the cycle that it settles to, which on the mains is that of the mains; Hz that the brief states */
  period: number;
  cycle: number;
  frequency: number;
  roles: Roles;
}

/** A stretch of a run: points, events, and where it ends. */
export interface Stretch extends Points {
  end: Ending;
}

/**
 * Make a run ready, parts as warm as the air.
 * @param wanted ids of the traces that are looked at; the topology's own signals where left out
 * On the mains it is the whole of it: the mains itself, its rectifier, and a voltage loop around the current loop.
 * @returns problems of the schedule, of settling, placing and closing; "trace"; "value" of a part that can not fail so
 */
export function beginRun(d: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<Running> {
  const wrong = scheduleProblem(schedule, d);
  if (wrong) return { ok: false, problem: wrong };
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const { bill, loops } = found.value;
  const mains = d.brief.line.mains === undefined ? undefined : wholeMains(d, point, found.value);
  const assembled = mains ? mains.with(lineChanges(schedule)) : found.value.stage.assembled;
  const { roles } = assembled;
  if (assembled.sensedBy && schedule.steps.some((s) => s.what === 'enable')) return fail('range', 'schedule', 'the gates of this stage are let go by the halves of the mains, and by nothing else', 'step its reference, its load or the mains instead');

  const rise = schedule.begins === 'rest' ? ((d.control.softStart as number | null) ?? 0) : 0;
  // A soft start is the first thing that the reference does.
  const held = mains ? d.brief.output.voltage : loops.reference;
  const soft = rise > 0 ? { ...schedule, steps: [{ at: 0, what: 'reference' as const, to: held, takes: rise }, ...schedule.steps] } : schedule;
  // Of the load what it is besides the point's own.
  const load = wavesOf(soft, 'load', point.load);
  const over = {
    ...(load && typeof load === 'object' && load.shape === 'points' ? { [roles.outputs[0]!.step!]: { ...load, points: load.points.map(([t, v]): [number, number] => [t, v - point.load]) } } : {}),
    ...(mains ? {} : present(roles.line, wavesOf(soft, 'line', point.line))),
    ...present(assembled.asked ? OUTPUT_REFERENCE : REFERENCE_SOURCE, wavesOf(soft, 'reference', rise > 0 ? 0 : held)),
    ...present(ENABLE, wavesOf(soft, 'enable', 1)),
  };
  const letGo = (schedule.fails ?? []).length > 0 || schedule.steps.some((s) => s.what === 'enable');
  let elements = letGo ? withBodies(assembled.elements, roles, bill.input.parts, (a, b) => found.value.stage.measure({ voltage: [a, b] }).mean) : assembled.elements;
  const phases: Phase[] = [];
  let lost = false;
  for (const failure of [undefined, ...(schedule.fails ?? []).toSorted((a, b) => a.at - b.at)]) {
    if (failure?.part === FEEDBACK) lost = true;
    else if (failure) {
      const broken = failing(elements, roles, failure);
      if (!broken.ok) return broken;
      elements = broken.value;
    }
    const circuit = closed({ ...assembled, elements }, loops, over);
    const machine = buildMachine(lost ? unfed(circuit) : circuit);
    if (!machine.ok) return machine;
    phases.push({ from: failure?.at ?? 0, machine: machine.value });
  }
  const { machine } = phases[0]!;
  const rest = restState(machine);
  const still = mains && schedule.begins === 'settled' ? mains.settled() : ok(found.value);
  if (!still.ok) return still;
  const { cycle } = still.value;
  const state = schedule.begins === 'rest' ? rest : fromCycle(still.value.machine, machine, cycle.state, rest, Object.keys(over));
  const offered = tracesOffered(bill, roles, machine.circuit);
  const traces = tracesNamed(wanted ?? usualTraces(bill.topology), offered, machine.circuit);
  if (!traces.ok) return traces;
  const watched = traces.value.map((t) => t.watched);
  const period = mains ? assembled.period : found.value.cycle.period;
  return ok({ phases, begin: { t: 0, phase: 0, state }, traces: traces.value.map(said), ...looking(watched, machine, period), offered: offered.map(said), nodes: [...new Set(machine.circuit.elements.flatMap((e) => ('a' in e ? [e.a, e.b] : [])))].toSorted(), devices: named(machine.devices), softStart: rise, period, cycle: mains ? mains.period : period, frequency: d.brief.frequency, roles });
}

/** What of a run is recorded, and how. */
const looking = (watched: Watched[], { devices }: Machine, period: number): Pick<Running, 'watched' | 'record'> => ({ watched, record: recorderOf(watched, devices, period / DRAWN) });

/** The same run with something else recorded of it. */
export const lookedAtBy = (run: Running, watched: Watched[]): Running => ({ ...run, ...looking(watched, run.phases[0]!.machine, run.period) });

/** What the mains does over a schedule: another voltage from a time on. */
const lineChanges = ({ steps }: Schedule): [number, number][] => steps.filter((s) => s.what === 'line').toSorted((a, b) => a.at - b.at).map(({ at, to }) => [at, to]);

const said = ({ id, title, unit, of }: Offered): Trace => ({ id, title, unit, ...(of === undefined ? {} : { of }) });

const present = <T>(id: string, value: T | undefined): Record<string, T> => (value === undefined ? {} : { [id]: value });

/** A state of the settled cycle in a circuit whose sources do something: those as they begin, all else as it stands. */
function fromCycle(of: Machine, to: Machine, state: State, rest: State, moved: readonly string[]): State {
  const carried = carryOver(of, to, state);
  for (const id of moved) for (const [name, column] of to.layout.column) if (name === id || name.startsWith(`${id} `)) carried.z[column] = rest.z[column]!;
  return carried;
}

/** Drawing points of a period at least where something bends, besides events and extremes */
const DRAWN = 4;

/**
 * Run on from where a stretch has ended until a time (s after the beginning of the run).
 * @param budget work it may take, where it is held to any
 * @returns its points, and where to go on from; problems of running it
 */
export function recordStretch(run: Running, from: Ending, until: number, budget?: Budget): Result<Stretch> {
  // The beginning of all times: s at which the first state stands.
  const zero = run.begin.state.t;
  const record = run.record(zero, from.recorded);
  let { phase, state } = from;
  for (;;) {
    const { machine } = run.phases[phase]!;
    const next = run.phases[phase + 1];
    const stops = next !== undefined && next.from < until;
    const marched = march(machine, state, zero + (stops ? next.from : until), { each: record.each, ...(budget ? { budget } : {}) });
    if (!marched.ok) return marched;
    state = marched.value;
    if (!stops) break;
    state = carryOver(machine, next.machine, state);
    phase++;
  }
  return ok({ ...record.points(), end: { t: until, phase, state, recorded: record.carried } });
}

/** Stretches that a run is made in at least, and periods of one at most: what is there is seen, and it can be stopped, after each */
const [STRETCHES, PERIODS] = [4, 400];

/** s at which the stretches of a run end: the same wherever it is run. @param frequency Hz of the brief */
export function stretchEnds({ lasts }: Pick<Schedule, 'lasts'>, frequency: number): number[] {
  const n = Math.max(STRETCHES, Math.ceil((lasts * frequency) / PERIODS));
  return Array.from({ length: n }, (_, k) => (lasts * (k + 1)) / n);
}

/** Share of the largest of its kind by which a state may move in a period where a run is called settled */
export const SETTLED = 1e-5;

/** How far a run is from its settled cycle. */
export interface Moves {
  /** The largest change of a state in one more period (of the mains where it is on them), as a share of the largest of its kind, and which state that is */
  share: number;
  of: string;
  /** Nothing of its schedule is still to come, and no state moves by more than SETTLED */
  settled: boolean;
}

/** s at which the last thing of a schedule has happened. */
const lastOf = ({ steps, fails = [] }: Pick<Schedule, 'steps' | 'fails'>): number => Math.max(0, ...steps.map((s) => s.at + s.takes), ...fails.map((f) => f.at));

/** Whether a run has come to rest where it has ended: what is settled comes back to what it was after one more period. */
export function movesAt(run: Running, schedule: Pick<Schedule, 'steps' | 'fails'>, { t, phase, state }: Ending): Result<Moves> {
  const { machine: m } = run.phases[phase]!;
  const after = march(m, state, state.t + run.cycle);
  if (!after.ok) return after;
  const columns = freeColumns(m.layout);
  const scales = scalesOf(m.layout, [{ z0: state.z }, { z0: after.value.z }], columns);
  const share = columns.map((c, i) => (scales[i]! > 0 ? Math.abs(after.value.z[c]! - state.z[c]!) / scales[i]! : 0));
  const k = share.indexOf(Math.max(...share));
  return ok({ share: share[k]!, of: [...m.layout.column].find(([, c]) => c === columns[k])![0].replace(/^held /, ''), settled: share[k]! <= SETTLED && t >= Math.max(run.softStart, lastOf(schedule)) });
}
