import { buildMachine, restState, type Machine, type State } from '../circuit/machine';
import { quantityOf } from '../converter/measures';
import type { Roles } from '../converter/roles';
import type { Design } from '../design/schema';
import { closed, REFERENCE_SOURCE } from '../evaluation/assemble';
import { closedDesign } from '../evaluation/closedDesign';
import { carryOver } from '../orbit/carry';
import type { Budget } from '../orbit/budget';
import type { Quantity } from '../orbit/measure';
import { march } from '../orbit/march';
import { drawEnvelope } from '../orbit/record';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import type { Schedule } from '../surroundings/schedule';
import { scheduleProblem, wavesOf } from './schedule';

/** A converter run through a schedule, slice by slice: exact from event to event, the closed circuit and nothing else. */

/** What is seen of a run. */
export interface Trace {
  id: string;
  title: string;
  unit: 'V' | 'A';
}

/** A run made ready: its circuit, where it begins, and what is looked at. */
export interface Running {
  machine: Machine;
  begin: State;
  traces: Trace[];
  quantities: Quantity[];
  /** s of its switching, that of the cycle */
  period: number;
  roles: Roles;
}

/** A stretch of a run: least and most of each trace in equal bins, and where it ends, to go on from. */
export interface Slice {
  edges: number[];
  least: Float64Array[];
  most: Float64Array[];
  end: State;
}

/**
 * Make a run ready, parts as warm as the air.
 * @returns problems of the schedule, of settling, placing and closing; "range" on the mains
 */
export function beginRun(d: Design, point: OperatingPoint, schedule: Schedule): Result<Running> {
  const wrong = scheduleProblem(schedule, d);
  if (wrong) return { ok: false, problem: wrong };
  if (d.brief.line.mains !== undefined) return fail('range', 'brief.line.mains', 'on the mains a run goes over many of its cycles, and is not made here', 'look at a design on a dc line');
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const { bill, stage: { assembled, roles }, loops, machine: still, cycle } = found.value;

  const rise = schedule.begins === 'rest' ? ((d.control.softStart as number | null) ?? 0) : 0;
  // A soft start is the first thing that the reference does.
  const soft = rise > 0 ? { ...schedule, steps: [{ at: 0, what: 'reference' as const, to: loops.reference, takes: rise }, ...schedule.steps] } : schedule;
  // Of the load what it is besides the point's own.
  const load = wavesOf(soft, 'load', point.load);
  const over = {
    ...(load && typeof load === 'object' && load.shape === 'points' ? { [roles.outputs[0]!.step!]: { ...load, points: load.points.map(([t, v]): [number, number] => [t, v - point.load]) } } : {}),
    ...named(roles.line, wavesOf(soft, 'line', point.line)),
    ...named(REFERENCE_SOURCE, wavesOf(soft, 'reference', rise > 0 ? 0 : loops.reference)),
  };
  const machine = buildMachine(closed(assembled, loops, over));
  if (!machine.ok) return machine;
  const rest = restState(machine.value);
  const begin = schedule.begins === 'rest' ? rest : fromCycle(still, machine.value, cycle.state, rest, Object.keys(over));
  // Over a run the whole of a signal is seen, where the cycle's lane shows its ripple alone.
  const signals = bill.topology.signals.filter((s) => s.lane);
  return ok({ machine: machine.value, begin, traces: signals.map(({ id, title, unit }) => ({ id, title: title.replace(/ ripple$/, ''), unit })), quantities: signals.map((s) => quantityOf(s.of, roles)), period: cycle.period, roles });
}

const named = <T>(id: string, value: T | undefined): Record<string, T> => (value === undefined ? {} : { [id]: value });

/** A state of the settled cycle in a circuit whose sources do something: those as they begin, all else as it stands. */
function fromCycle(of: Machine, to: Machine, state: State, rest: State, moved: readonly string[]): State {
  const carried = carryOver(of, to, state);
  for (const id of moved) for (const [name, column] of to.layout.column) if (name === id || name.startsWith(`${id} `)) carried.z[column] = rest.z[column]!;
  return carried;
}

/** Bins of a slice at most */
const MOST_BINS = 100_000;

/**
 * Run on from a state until a time (s after the beginning of the run).
 * @param bins equal ones, in each of which least and most are located exactly
 * @param budget work it may take, where it is held to any
 * @returns what was seen, and the state to go on from; problems of running it
 */
export function runSlice(run: Running, from: State, until: number, bins: number, budget?: Budget): Result<Slice> {
  if (!(bins >= 1 && bins <= MOST_BINS)) return fail('range', 'bins', 'that is no number of bins', `give 1 to ${MOST_BINS}`);
  const end = run.begin.t + until;
  const { envelope, each } = drawEnvelope(run.quantities, from.t, end, bins);
  const marched = march(run.machine, from, end, { each, ...(budget ? { budget } : {}) });
  if (!marched.ok) return marched;
  return ok({ edges: envelope.edges.map((t) => t - run.begin.t), least: envelope.least, most: envelope.most, end: marched.value });
}
