import type { Circuit } from '../circuit/elements';
import type { Roles } from '../converter/roles';
import { freeColumns } from '../circuit/layout';
import { buildMachine, restState, type Machine } from '../circuit/machine';
import type { State } from '../circuit/machine';
import { keptMeasures } from '../converter/measures';
import { cycleIntegrals, type CycleIntegrals, type Measures, type Quantity } from '../orbit/measure';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { multipliers } from '../orbit/stability';
import type { Tolerance } from '../linear/tolerance';
import { intervalSlopes } from '../response/averaged';
import { onResistance, slopeResistance, turnResistance, windingResistance, type Part } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import type { Signal } from '../topology';
import { COMMAND } from '../control/command';
import { leastOnOf } from '../control/limits';
import { opened, type Assembled, type Range } from './assemble';
import type { Bill } from './bill';
import type { View } from './standing';

/** A power stage settled at one point with given part temperatures. */
export interface SettledStage {
  assembled: Assembled;
  circuit: Circuit;
  roles: Roles;
  machine: Machine;
  cycle: SettledCycle;
  /** Share of the period that the switch conducts, and the value of the control input: the same where that is the duty */
  duty: number;
  setting: number;
  cycleIntegrals: CycleIntegrals;
  /** What the control input was searched in, and where first */
  range: Range;
  /** s of each interval per unit of duty */
  perDuty: number[];
  /** °C that it was settled with */
  temperature: (slot: string) => number;
  /** Ω of each part with a hot spot */
  resistance: (slot: string) => number;
  /** Measures of a voltage or current; each is computed once, and extremes only when read. */
  measure(of: Signal['of']): Measures;
}

/** Ω of the part at a temperature in °C: of a turn that fills the window for transformers; capacitors keep theirs in the circuit. */
export function resistanceAt(part: Part, temperature: number): number {
  switch (part.kind) {
    case 'switch':
      return onResistance(part, temperature);
    case 'diode':
      return slopeResistance(part);
    case 'inductor':
      return windingResistance(part, temperature);
    case 'transformer':
      return turnResistance(part, temperature);
    case 'capacitor':
      return 0;
  }
}

/** Where the search for a cycle begins. */
export interface Near {
  state: State;
  setting: number;
  /** Of a circuit that differs in the values of constant sources only: its patterns serve again */
  machine?: Machine;
  /** Of the same point at other temperatures: forecasts do not ask for those */
  range?: Range;
  /** As of its stage, where it has a clock there */
  clock?: number;
}

/** Share by which a time may miss a limit and be it; times a least time within which a forecast says that it is what fails */
const [EVEN, ROOM] = [1e-9, 1.2];

/** Build the circuit at a point and settle it at the regulated output. */
export function settleStage({ input }: Bill, view: Pick<View, 'assemble'>, temperature: (slot: string) => number, near?: Near, tolerance?: Tolerance): Result<SettledStage> {
  const resistance = (slot: string): number => resistanceAt(input.parts[slot]!, temperature(slot));
  const made = view.assemble(resistance);
  if (!made.ok) return made;
  const { roles, drive, target } = made.value;
  const circuit = opened(made.value);
  // What is driven by its own rest at one angle of the mains has a clock at another.
  const { drive: { clockAt }, clock } = made.value;
  const same = near?.machine !== undefined && (clockAt === undefined || JSON.stringify(near.machine.circuit.modulators) === JSON.stringify(circuit.modulators));
  // At another angle its period is another: only where it was found at this one before is that near.
  const alike = clockAt === undefined || (near?.range !== undefined && clock === near.clock);
  const machine = same ? ok(near.machine!) : buildMachine(circuit);
  if (!machine.ok) return machine;
  const range = near?.range ?? made.value.range();
  const { held } = made.value;
  const from = (begin: State): Result<SettledCycle> => settleCycle(machine.value, {
    near: begin,
    ...(tolerance ? { tolerance } : {}),
    ...(held === undefined ? { regulate: { quantity: regulated(roles), target, source: COMMAND, min: range.min, max: range.max, guess: near?.setting ?? range.guess } } : {}),
  });
  const cold = (): State => withSources(machine.value, circuit, startState(machine.value, made.value.start()));
  const warm = near && alike ? from(fromNeighbour(machine.value, circuit, near.state)) : undefined;
  // From rest too, where it is lost from there: what has no clock may have moved too far, and so may a guess.
  const settled = warm && (warm.ok || (clockAt === undefined && warm.problem.code !== 'no-cycle')) ? warm : from(cold());
  if (!settled.ok && drive.given && made.value.period - drive.given.on < ROOM * drive.given.leastOff)
    return fail('duty-limit', 'control.minimumOff', `it would be off for ${print(made.value.period - drive.given.on, 's')}, and is so for ${print(drive.given.leastOff, 's')} at least`, 'shorten the least time off, or lengthen the time on');
  if (!settled.ok) return settled.problem.code === 'limit' ? dutyLimit(range, settled.problem.message) : settled;
  const cycle = settled.value;
  const setting = held ?? cycle.setting!;
  const duty = drive.dutySwitch === undefined ? setting : shareOn(cycle, drive.dutySwitch);
  const leastOn = leastOnOf(input.control);
  if (duty * cycle.period < leastOn * (1 - EVEN))
    return fail('duty-limit', 'control.minimumOn', `its gate would be on for ${print(duty * cycle.period, 's')}, and is so for ${print(leastOn, 's')} at least: it would skip periods`, 'lower the frequency, narrow the line, or take a modulator that is faster');
  const g = cycleIntegrals(cycle);
  return ok({
    assembled: made.value,
    circuit,
    roles,
    machine: machine.value,
    cycle,
    duty,
    setting,
    range,
    cycleIntegrals: g,
    perDuty: intervalSlopes(cycle.trace, machine.value.layout.column.get(COMMAND)!),
    temperature,
    resistance,
    measure: keptMeasures(g, roles),
  });
}

/** What the command is set by: the mean of the output, or that of the current drawn from the mains. */
export const regulated = ({ outputs, mains }: Pick<Roles, 'outputs' | 'mains'>): Quantity => (mains ? (p) => p.current(mains.current) : (p) => p.voltage(...(outputs[0]!.sensed ?? outputs[0]!.nodes)));

/** A drawn from the mains within a switching period; the source that stands for it gives it. */
export function drawnIn({ roles, measure }: Pick<SettledStage, 'roles' | 'measure'>): Pick<Measures, 'mean' | 'min' | 'max'> {
  const { current } = roles.mains!;
  const m = measure({ current });
  return current === roles.line ? { mean: -m.mean, get min() { return -m.max; }, get max() { return -m.min; } } : m;
}

/** Share of the period in which a switch is on. */
const shareOn = ({ intervals, period }: SettledCycle, id: string): number => intervals.reduce((s, x) => s + (x.pattern.on.has(id) ? x.duration : 0), 0) / period;

/** A neighbour's inductor currents and capacitor voltages, with the sources of this circuit. */
function fromNeighbour(machine: Machine, circuit: Circuit, neighbour: State): State {
  const state = { ...neighbour, z: restState(machine).z };
  for (const column of freeColumns(machine.layout)) state.z[column] = neighbour.z[column]!;
  return withSources(machine, circuit, state);
}

/** A state with the constant sources of a circuit, which may be others than those that its machine was made with. */
function withSources(machine: Machine, circuit: Circuit, state: State): State {
  for (const e of circuit.elements) if ((e.kind === 'voltage-source' || e.kind === 'current-source') && typeof e.value === 'number') state.z[machine.layout.column.get(e.id)!] = e.value;
  return state;
}

/** From rest, but with some states where they are expected. */
function startState(machine: Machine, expected: Readonly<Record<string, number>>): State {
  const state = restState(machine);
  for (const [element, value] of Object.entries(expected)) state.z[machine.layout.column.get(element)!] = value;
  return state;
}

const dutyLimit = (range: Range, detail: string): Result<never> =>
  fail(
    'duty-limit',
    'duty',
    `no duty between ${(range.min * 100).toFixed(0)} % and ${(range.max * 100).toFixed(0)} % reaches the output (${detail.replace(/^.*\(/, '').replace(/\)$/, '')})`,
    'change the line range or the output voltage',
  );

/** Size of the largest multiplier of the cycle with the duty held. */
export const largestMultiplier = (cycle: SettledCycle): number => multipliers(cycle)[0]?.size ?? 0;
