import type { Design } from '../design/schema';
import { topologyOf } from '../design/topologyOf';
import type { Part } from '../parts/schema';
import type { Problem } from '../problem';
import type { Recording } from '../recording';
import { MOST_TRACES } from '../schedule/traces';
import { beginRun, FEEDBACK, recordBounded } from '../schedule';
import type { Failure, Schedule } from '../surroundings/schedule';
import type { OperatingPoint } from '../topology';
import { printQuantity as print, type UnitName } from '../quantity';

/**
 * Faults: each part opened, shorted or leaking, the feedback lost, the line dipping and surging, each run from the settled cycle and held
 * against ratings. What goes first is what is beyond its rating first.
 */
export interface Fault {
  id: string;
  title: string;
  /** What it happens to; none of the line */
  part?: string;
  schedule: Schedule;
}

/** A figure of a run beyond what stands it. */
export interface Beyond {
  /** The slot, and what of it */
  of: string;
  what: string;
  unit: UnitName;
  value: number;
  rating: number;
  /** s after the fault at which it is reached */
  after: number;
}

export interface FaultFound {
  id: string;
  title: string;
  part?: string;
  /** Beyond their ratings, the earliest first: the first of them goes */
  beyond: Beyond[];
  /** What is nearest to its rating where nothing is beyond it */
  nearest?: Omit<Beyond, 'after'>;
  /** V that the output has at least and at most after it, and A drawn from the line at most */
  output: { least: number; most: number };
  lineCurrent: number;
  /** The run can not be made, and why */
  problem?: Problem;
}

/** Loop times that are run after a fault; shares of the line of a dip and a surge; share of the full load that leaks */
const [AFTER, DIP, SURGE, LEAK] = [40, 0.5, 1.3, 0.1];
/** Periods that are run before it; cycles of the mains after it */
const [BEFORE, CYCLES] = [4, 3];
/** Halvings by which the moment is looked for at which a rating is passed */
const HALVINGS = 24;

/** The faults of a design at a point. */
export function faultsOf(d: Design, point: OperatingPoint): Fault[] {
  const { brief } = d;
  const { mains } = brief.line;
  const at = mains === undefined ? BEFORE / brief.frequency : 1 / mains;
  const lasts = at + (mains === undefined ? AFTER / (2 * Math.PI * d.control.crossover) : CYCLES / mains);
  const leak = brief.output.voltage / (LEAK * brief.load.max);
  const schedule = (more: Partial<Schedule>): Schedule => ({ name: 'fault', begins: 'settled', lasts, steps: [], ...more });
  const fails = (part: string, how: Failure['how'], resistance = leak): Schedule => schedule({ fails: [{ at, part, how, resistance }] });
  const parts = topologyOf(d)!.slots.flatMap(({ id, kind }): Fault[] => {
    const one = (how: Failure['how'], said: string): Fault => ({ id: `${id} ${how}`, title: `${id} ${said}`, part: id, schedule: fails(id, how) });
    // An inductor that opens leaves its current nowhere to go, and a winding is no part of its own: those are not run.
    if (kind === 'transformer') return [];
    return [...(kind === 'inductor' ? [] : [one('open', 'open')]), one('short', 'shorted'), ...(kind === 'inductor' ? [] : [one('leaky', 'leaking')])];
  });
  const line = (id: string, title: string, share: number): Fault => {
    const to = mains === undefined ? share * (share < 1 ? brief.line.min : brief.line.max) : share < 1 ? 0 : share * brief.line.max;
    const back = mains === undefined ? at + (lasts - at) / 2 : at + 1 / mains;
    return { id, title, schedule: schedule({ steps: [{ at, what: 'line', to, takes: 0 }, { at: back, what: 'line', to: point.line, takes: 0 }] }) };
  };
  return [
    ...parts,
    { id: 'feedback', title: 'feedback lost', part: FEEDBACK, schedule: fails(FEEDBACK, 'open') },
    line('dip', mains === undefined ? 'line dips to half its lowest' : 'a cycle of the mains left out', DIP),
    line('surge', 'line surges to 1.3 of its highest', SURGE),
  ];
}

/** What of a slot is held against its rating, by the id of its trace. */
function ratingOf(slot: string, part: Part): { trace: string; what: string; unit: UnitName; rating: number } {
  switch (part.kind) {
    case 'switch':
    case 'diode':
      return { trace: `${slot}.voltage`, what: 'blocked voltage', unit: 'V', rating: part.blockingVoltage };
    case 'capacitor':
      return { trace: `${slot}.voltage`, what: 'voltage', unit: 'V', rating: part.ratedVoltage * part.series };
    case 'inductor':
    case 'transformer':
      return { trace: `${slot}.flux`, what: 'flux density', unit: 'T', rating: part.maxFluxDensity };
  }
}

/** The first moment (s) at which a quantity has gone beyond a size; it has to do so in the recording. */
function passes(record: Recording, quantity: number, from: number, until: number, size: number): number {
  let [low, high] = [from, until];
  for (let k = 0; k < HALVINGS; k++) {
    const middle = (low + high) / 2;
    const read = record.read(quantity, from, middle);
    if (read && Math.max(Math.abs(read.least), Math.abs(read.most)) > size) high = middle;
    else low = middle;
  }
  return high;
}

/** Why what is no element of the circuit is not run */
const BESIDE: Problem = { code: 'value', where: '', message: 'it stands beside a line without impedance: open it changes nothing, shorted it shorts the line', remedy: 'give the line a resistance or an inductance to see more' };

/** Times its rating beyond which a figure is that of a current with nowhere to go, and no figure of the part */
const NOWHERE = 20;

/** "L1 flux density 635 mT of 320 mT, after 28.9 µs" */
export function beyondInWords({ of, what, unit, value, rating, after }: Beyond): string {
  // Beyond saturation the flux hardly rises: the figure would be one of the current.
  if (unit === 'T') return `${of} saturates, after ${print(after, 's', 3)}`;
  const figure = value > NOWHERE * rating && unit === 'V' ? `without bound, a current has nowhere to go (${print(rating, unit, 3)} is its rating)` : `${print(value, unit, 3)} of ${print(rating, unit, 3)}`;
  return `${of} ${what} ${figure}, after ${print(after, 's', 3)}`;
}

/** Run a fault from a point, and hold what it does against ratings. */
export function faultAt(d: Design, point: OperatingPoint, { id, title, part, schedule }: Fault): FaultFound {
  const none: FaultFound = { id, title, ...(part ? { part } : {}), beyond: [], output: { least: NaN, most: NaN }, lineCurrent: NaN };
  const held = topologyOf(d)!.slots.flatMap(({ id: slot }) => {
    // What is broken has no rating any more.
    return slot === part ? [] : [{ slot, ...ratingOf(slot, d.parts[slot]!) }];
  });
  const first = beginRun(d, point, schedule, ['line.current']);
  if (!first.ok) return { ...none, problem: first.problem.code === 'value' && first.problem.where === `part ${part}` ? BESIDE : first.problem };
  const roles = first.value.roles.parts;
  const output = first.value.roles.outputs[0]!.nodes;
  const volts = `voltage:${output.join(',')}`;
  // A second winding has the flux of the first; and what stands for no element of its own is not seen.
  const watched = held.filter((h) => roles[h.slot]?.elements[0] !== undefined && (!h.trace.endsWith('.flux') || roles[h.slot]!.core === undefined));
  const beyond: Beyond[] = [];
  let [nearest, least, most, drawn]: [FaultFound['nearest'], number, number, number] = [undefined, Infinity, -Infinity, 0];
  const at = schedule.fails?.[0]?.at ?? schedule.steps[0]!.at;
  for (let from = 0; from === 0 || from < watched.length; from += MOST_TRACES - 2) {
    const some = watched.slice(from, from + MOST_TRACES - 2);
    const run = beginRun(d, point, schedule, ['line.current', volts, ...some.map((h) => h.trace)]);
    if (!run.ok) return { ...none, problem: run.problem };
    const recorded = recordBounded(run.value, schedule);
    if (!recorded.ok) return { ...none, beyond, problem: recorded.problem };
    const { record } = recorded.value;
    const read = (k: number): { least: number; most: number } => record.read(k, at, schedule.lasts) ?? { least: NaN, most: NaN };
    const [current, voltage] = [read(0), read(1)];
    [least, most, drawn] = [Math.min(least, voltage.least), Math.max(most, voltage.most), Math.max(drawn, Math.abs(current.most), Math.abs(current.least))];
    some.forEach(({ slot, what, unit, rating }, k) => {
      const figures = read(k + 2);
      const value = Math.max(Math.abs(figures.least), Math.abs(figures.most));
      const told = { of: slot, what, unit, value, rating };
      if (value > rating) beyond.push({ ...told, after: passes(record, k + 2, at, schedule.lasts, rating) - at });
      else if (value / rating > (nearest ? nearest.value / nearest.rating : 0)) nearest = told;
    });
  }
  return { ...none, beyond: beyond.sort((a, b) => a.after - b.after), ...(nearest ? { nearest } : {}), output: { least, most }, lineCurrent: drawn };
}

/** All faults of a design from a point, those that destroy first first. @param told after each; true stops */
export function allFaults(d: Design, point: OperatingPoint, told?: (done: number, of: number) => boolean | void): FaultFound[] {
  const all = faultsOf(d, point);
  const found: FaultFound[] = [];
  for (const fault of all) {
    found.push(faultAt(d, point, fault));
    if (told?.(found.length, all.length)) break;
  }
  return inOrder(found);
}

/** Those beyond ratings first, the soonest of them first; then what could not be run; then by how near they come. */
export const inOrder = (found: readonly FaultFound[]): FaultFound[] =>
  found.toSorted((a, b) => {
    const key = (f: FaultFound): number => (f.beyond[0] ? f.beyond[0].after : f.problem ? 1e6 : 2e6 - (f.nearest ? f.nearest.value / f.nearest.rating : 0));
    return key(a) - key(b);
  });
