import { COMMAND } from '../control/command';
import { valueAt } from '../control/rational';
import { transferOf } from '../control';
import type { Held, Control, Corners, Network, Rational } from '../control/types';
import { over, scale, size, times, turn, type Complex } from '../linear/complex';
import { ok, type Result } from '../problem';
import { buildMachine } from '../circuit/machine';
import { stepAnswer, type Disturbance, type StepAnswer } from '../converter/step';
import { averagedModel } from '../response/averaged';
import { voltageLoop } from '../response/voltageLoop';
import { bode, margins, type BodeCurve } from '../response/margins';
import { stepFigures } from '../response/step';
import { SmallSignal } from '../response/exact';
import { loopAt, injectionPointAt, type InjectionPoint } from '../response/injectionPoint';
import { refined, resonancesOf } from '../response/refine';
import { frequencyResponse, logSpaced } from '../response/system';
import { instability } from '../orbit/stability';
import type { OperatingPoint } from '../topology';
import { amplifierOf, billOf, structureOf, type Bill } from './bill';
import type { LoopFigures } from './figures';
import { voltageLoopAt } from '../surroundings/mains';
import { remembered } from '../design/remembered';
import { crestAt, standAt, type Standing } from './standing';
import type { Design } from '../design/schema';
import { BREAK, closed as closedCircuit, type Loop } from './assemble';
import { closeStage, type ClosedStage } from './closed';
import type { Quantity } from '../orbit/measure';
import type { Roles } from '../converter/roles';
import { largestMultiplier, regulated, settleStage, type SettledStage } from './settleStage';

/** °C of the parts that the compensator is placed with, so that it does not move with their heat */
const AMBIENT = 25;
/** Points of a curve before it is refined where it bends and where modes ring (response/refine); and so many where they only bracket what is then found exactly */
const [GRID, BRACKETS] = [200, 64];
/** Share of the switching frequency to which curves go: at that itself a signal is what the switching makes anyway */
const HIGHEST = 0.8;
/** Hz: no loop of this trade crosses below */
const LOWEST = 1e-4;

/** Placements at most, and the change of the plant after which no more is made */
const [ROUNDS, AGREED] = [5, 2e-3];

/** The point that the compensator is placed at: middle of the line, full load, parts at 25 °C. */
export const placementPoint = (d: Design): OperatingPoint => ({
  line: (d.brief.line.min + d.brief.line.max) / 2,
  load: d.brief.load.max,
  air: AMBIENT,
});

export interface Compensator {
  placed: Corners;
  wanted: Corners;
  built: Corners;
  network: Network;
}

/** Ω that the current drawn from the mains is measured by: at its largest it shall be as large as the reference. */
export const senseResistance = (bill: Bill, d: Design): number => d.control.reference / crestAt(bill, { line: d.brief.line.min, load: d.brief.load.max });

/** What the loop feeds back, in V: the output, or on the mains the current drawn, by its sense resistance. */
function fedBack(bill: Bill, roles: Roles, d: Design): Quantity {
  const quantity = regulated(roles);
  if (!roles.mains) return quantity;
  const ohms = senseResistance(bill, d);
  return (p) => quantity(p).map((v) => v * ohms);
}

/** Exact response of a settled stage from its command to what is fed back. */
function plantOf(stage: SettledStage, output: Quantity): (frequency: readonly number[]) => Complex[] {
  const responder = new SmallSignal(stage.machine, stage.cycle).responder(COMMAND, [output]);
  return (frequency) => responder(frequency)[0]!;
}

/** Modulator and delay: duty per volt of the error amplifier. */
const modulator = (control: Control, f: number): Complex => scale(turn(-2 * Math.PI * f * control.delay), 1 / control.ramp);

/** The compensator of a design, whatever becomes of its parts: placed, overridden where the design says so, and as its network builds it. */
export const compensatorOf = remembered((d: Design): Result<Compensator> => {
  const bill = billOf(d);
  const { control } = d;
  const standing = standAt(bill, placementPoint(d));
  if (!standing.ok) return standing;
  const { only, mains } = standing.value;
  const stage = settleStage(bill, only ?? mains!.at(Math.PI / 2, mains!.crest()), () => AMBIENT);
  if (!stage.ok) return stage;
  const [at] = plantOf(stage.value, fedBack(bill, stage.value.roles, d))([control.crossover]);
  let plant = times(at!, modulator(control, control.crossover));
  const amplifier = amplifierOf(bill.input);
  const held: Held = { output: stage.value.roles.mains ? control.reference : d.brief.output.voltage, reference: control.reference };
  let placed = amplifier.place(plant, control);
  if (!placed.ok) return placed;
  // Ripple that comes back through the compensator changes what the plant is: placed anew on what the closed circuit shows.
  for (let round = 0; round < ROUNDS; round++) {
    const network = amplifier.build(placed.value, { ...control, rounded: false }, held);
    const transfer = network.ok ? transferOf(amplifier, placed.value, network.value.network, control) : amplifier.transfer(placed.value);
    const closed = closeStage(stage.value, loopAround(d, stage.value, transfer, sensedOn(bill, stage.value.roles, d)));
    if (!closed.ok) break;
    const loop = loopAt(closed.value.machine, closed.value.cycle, placeIn(closed.value))([control.crossover])[0]!;
    // What the amplifier lacks is of the plant that its corners are placed on.
    const now = over(loop, valueAt(amplifier.transfer(placed.value), control.crossover));
    const again = amplifier.place(now, control);
    if (!again.ok) break;
    const moved = Math.hypot(now.re - plant.re, now.im - plant.im) / size(plant);
    [plant, placed] = [now, again];
    if (moved < AGREED) break;
  }
  const wanted = Object.fromEntries(amplifier.handles.map(({ key }) => [key, (control[key] as number | null) ?? placed.value[key]!]));
  // A current's command is the reference itself: there is nothing to divide.
  const built = amplifier.build(wanted, control, held);
  return built.ok ? ok({ placed: placed.value, wanted, ...built.value }) : built;
});

/** What is drawn of an answer to a step. */
type Curve = Pick<StepAnswer, 'time' | 'value'>;

export interface LoopCurves {
  plant: BodeCurve;
  /** The plant by the averaged model, to compare; there is none of a sampled current */
  averaged?: BodeCurve;
  compensator: BodeCurve;
  loop: BodeCurve;
  /** Not of a current loop */
  outputImpedance?: BodeCurve;
  lineRejection?: BodeCurve;
}

/** What a loop is disturbed by at a point, by the brief: its load, or its line towards the end of the range that has room. */
interface Disturbances {
  load: Disturbance;
  line?: Disturbance;
}
function disturbances({ circuit, roles: { line, outputs, mains } }: SettledStage, { brief }: Design): Disturbances {
  const { lineStep } = brief;
  const source = circuit.elements.find((e) => 'a' in e && e.id === line);
  const volts = source?.kind === 'voltage-source' && typeof source.value === 'number' ? source.value : 0;
  const up = volts + (lineStep ?? 0) <= brief.line.max * (1 + 1e-9);
  return {
    load: { source: outputs[0]!.step!, from: 0, to: brief.loadStep, rise: brief.loadStepTime },
    ...(lineStep !== undefined && !mains ? { line: { source: line, from: volts, to: volts + (up ? lineStep : -lineStep) } } : {}),
  };
}

/** Not known how far it goes: the loop is not stable, or its circuit can not be run. */
const UNKNOWN: StepAnswer = { how: 'in time', time: [], value: [], deviation: Infinity, recovery: Infinity };

/** rad of the crossover that a step is followed for */
const FOLLOWED = 20;

/** What the output does after a disturbance, by the closed circuit itself. */
function answerTo(stage: SettledStage, closed: ClosedStage, loop: Loop, crossover: number, by: Disturbance): StepAnswer {
  const output: Quantity = (p) => p.voltage(...stage.roles.outputs[0]!.nodes);
  const stepped = (): ClosedStage['machine'] | undefined => {
    const built = buildMachine(closedCircuit(stage.assembled, loop, by));
    return built.ok ? built.value : undefined;
  };
  return stepAnswer(closed.machine, closed.cycle, by, output, FOLLOWED / (2 * Math.PI * crossover) + (by.rise ?? 0), stepped) ?? UNKNOWN;
}

/** What is sensed: the output, or on the mains the current that is drawn. */
const sensedOn = (bill: Bill, { mains }: Roles, d: Design): Loop['sensed'] => (mains ? { current: mains.current, ohms: senseResistance(bill, d) } : 'output');

/** Where a closed stage's loop is broken. */
function placeIn({ circuit }: ClosedStage): InjectionPoint {
  const found = injectionPointAt(circuit, BREAK);
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
}

/** What closes the loop of a design around a stage: it holds the mean where the open stage has it. */
export const loopAround = ({ brief, control }: Design, stage: SettledStage, transfer: Rational, sensed: Loop['sensed'] = 'output'): Loop => ({
  transfer, sensed, ramp: control.ramp, delay: control.delay,
  reference: sensed === 'output' ? brief.output.voltage : sensed.ohms * stage.measure({ current: sensed.current }).mean,
});

/** What is known of a loop at a point. */
export interface Looped {
  loop: LoopFigures;
  curves?: LoopCurves;
  step: Curve;
  lineStep?: Curve;
}

/** Loop figures at a settled point, with the curves when they are asked for. */
export function loopFigures(d: Design, standing: Standing, stage: SettledStage, withCurves: boolean): Result<Looped> {
  const { bill } = standing;
  const compensator = compensatorOf(d);
  if (!compensator.ok) return compensator;
  const structure = structureOf(bill.input);
  const transfer = transferOf(amplifierOf(bill.input), compensator.value.built, compensator.value.network, d.control);
  const { control } = d;
  const { drive } = stage.assembled;
  const fed = fedBack(bill, stage.roles, d);
  const loop = loopAround(d, stage, transfer, sensedOn(bill, stage.roles, d));
  const closed = closeStage(stage, loop);

  const around = (f: number): Complex => times(valueAt(transfer, f), modulator(control, f));
  let plant: ReturnType<typeof plantOf> | undefined;
  const plantAt = (f: readonly number[]): Complex[] => (plant ??= plantOf(stage, fed))(f);
  const opened = (f: readonly number[]): Complex[] => plantAt(f).map((v, i) => times(v, around(f[i]!)));
  // Where the closed circuit has no cycle, what is left is the product of its parts.
  const loopOf = closed.ok ? loopAt(closed.value.machine, closed.value.cycle, placeIn(closed.value)) : opened;
  // Low enough to see the crossover: where the gain is below one already, decade by decade further down.
  let lowest = 10 ** Math.floor(Math.log10(d.brief.frequency / 2000));
  while (size(loopOf([lowest])[0]!) < 1 && lowest > LOWEST) lowest /= 10;
  const { frequency, response } = refined(logSpaced(lowest, HIGHEST * d.brief.frequency, withCurves ? GRID : BRACKETS), loopOf, [...resonancesOf(stage.cycle), ...(closed.ok ? resonancesOf(closed.value.cycle) : [])]);
  const loopCurve = bode(frequency, response);
  const stable = closed.ok && instability(closed.value.cycle) === undefined;
  const read = margins((f) => loopOf([f])[0]!, loopCurve, response, stable);

  const { mains } = stage.roles;
  // A fifth of the mains frequency, or nothing where the line is dc.
  const pace = voltageLoopAt(d.brief.line.mains ?? 0);
  const outer = mains && voltageLoop(bill.sizing.values[mains.reservoir]!.taken, d.brief.output.voltage / standing.load, pace);
  const by = disturbances(stage, d);
  // The slow loop around the mains stands outside of what is settled within a switching period.
  const slow = outer && stepFigures(outer.closed, 0, by.load.to - by.load.from, stable, pace, by.load.rise);
  const answer = stable && !slow ? answerTo(stage, closed.value, loop, control.crossover, by.load) : UNKNOWN;
  const step = slow ?? answer;
  const lineStep = by.line && (stable ? answerTo(stage, closed.value, loop, control.crossover, by.line) : UNKNOWN);
  const figures: LoopFigures = {
    ...read,
    ...compensator.value,
    stable,
    drive: drive.figures,
    ...(structure.lost && largestMultiplier(stage.cycle) > 1 ? { lost: structure.lost(largestMultiplier(stage.cycle), drive.figures) } : {}),
    outer: outer && { crossover: pace, phaseMargin: outer.phaseMargin, senseResistance: senseResistance(bill, d) },
    landmarks: standing.landmarks(),
    deviation: step.deviation,
    recovery: step.recovery,
    answeredBy: slow ? 'voltage loop' : answer.how,
    ...(lineStep ? { line: { step: by.line!.to - by.line!.from, deviation: lineStep.deviation, recovery: lineStep.recovery } } : {}),
  };
  if (!withCurves) return ok({ loop: figures, step, lineStep });

  const { system } = averagedModel(stage.cycleIntegrals, stage.perDuty, fed);
  const small = closed.ok && !outer ? new SmallSignal(closed.value.machine, closed.value.cycle) : undefined;
  const from = (source: string): Complex[] => small!.respond(source, [(p) => p.voltage(...stage.roles.outputs[0]!.nodes)], frequency)[0]!;
  return ok({
    loop: figures,
    step,
    lineStep,
    curves: {
      plant: bode(frequency, plantAt(frequency)),
      ...(structure.averages ? { averaged: bode(frequency, frequencyResponse(system, 0, frequency)) } : {}),
      compensator: bode(frequency, frequency.map((f) => valueAt(transfer, f))),
      loop: loopCurve,
      ...(small ? { outputImpedance: bode(frequency, from(by.load.source).map((v) => scale(v, -1))), lineRejection: bode(frequency, from(stage.roles.line)) } : {}),
    },
  });
}
