import { amplifierNamed, innerKey, structureNamed } from '../control';
import { COMMAND } from '../control/command';
import { controllerAt, type Controller } from '../control/controller';
import type { Control, InnerLoop } from '../control/types';
import { remembered } from '../design/remembered';
import { withoutLineFilter } from '../design/topologyOf';
import type { Design } from '../design/schema';
import { scale, times, turn, type Complex } from '../linear/complex';
import type { Quantity } from '../orbit/measure';
import { measuredAt } from '../measured/response';
import type { Measured } from '../measured/types';
import { ok, type Result } from '../problem';
import { SmallSignal } from '../response/exact';
import { injectionPointAt, loopAt, type InjectionPoint } from '../response/injectionPoint';
import type { Roles } from '../converter/roles';
import { LINE } from '../surroundings/line';
import type { OperatingPoint } from '../topology';
import { namesOf, opened, REFERENCE_SOURCE, type Forward, type Loop, type Loops, type SensedBy } from './assemble';
import { amplifierOf, billOf, structureOf, type Bill } from './bill';
import { closeStage, meanOf, type ClosedStage } from './closed';
import { recent } from '../recent';
import { builtCompensator, measuredPlantAt, placedCompensator, placedCorners, type Asked, type Compensator, type Placed } from './placing';
import { resistanceAt, settleStage, type SettledStage } from './settleStage';
import { slowPlant, slowPlantAt } from './slowPlant';
import { standAt, type OnMains } from './standing';

/** °C of the parts that compensators are placed with, so that they do not move with their heat */
const AMBIENT = 25;

/** The point that compensators are placed at: middle of the line, full load, parts at 25 °C. */
export const placementPoint = (d: Design): OperatingPoint => ({
  line: (d.brief.line.min + d.brief.line.max) / 2,
  load: d.brief.load.max,
  air: AMBIENT,
});

/** A loop as a design asks for it. */
export interface LoopAsked extends Asked {
  title: string;
  sensed: SensedBy;
  /** The measured plant that it is placed on, where it is one */
  measured?: Measured;
}

/** Ω that the current drawn from the mains is measured by: at its largest it shall be as large as the reference. */
export const senseResistance = ({ topology, input, sizing }: Bill, d: Design): number => d.control.reference / topology.mains!.levelAt(input, sizing, { line: d.brief.line.min, load: d.brief.load.max });

/** V per A that an inner loop senses its current by: a volt at its largest mean, where the design says nothing else. */
export const senseGain = (bill: Bill, { control }: Design): number => (control.senseGain as number | null) ?? 1 / bill.sizing.inductorCurrent;

/** What an inner loop's amplifier reads of a design's control: its own keys, without their beginning. */
export function innerControl(control: Control, { amplifier, crossover }: InnerLoop, frequency: number): Control {
  const own = Object.keys({ ...amplifierNamed(amplifier)!.settings }).flatMap((key) => {
    const value = control[innerKey(key)];
    return value === undefined ? [] : [[key, value] as const];
  });
  // What the amplifier of the outer loop can put out limits what the inner is asked, and not this one.
  return { ...control, clipsLow: null, clipsHigh: null, ...Object.fromEntries(own), crossover: (control.innerCrossover as number | null) ?? crossover * frequency, phaseMargin: control.innerPhaseMargin as number };
}

/** The loops of a design around a stage, inner first. */
export function loopsAsked(bill: Bill, roles: Pick<Roles, 'mains'>, d: Design): LoopAsked[] {
  const { control, brief } = d;
  // Where the command is held over the mains it is the output that sets it.
  const mains = bill.drive.held ? undefined : roles.mains;
  const { inner } = structureOf(bill.input);
  const plant = d.measured?.find((m) => m.of === 'plant' && m.title === control.placedOn);
  const { least, most } = bill.drive.commands ?? { least: 0, most: 1 };
  // Of what is fed forward it may have to take all off again.
  const forward = mains && typeof control.feedForward === 'number' ? control.feedForward : 0;
  const commanded = { low: (least - forward) * control.ramp, high: most * control.ramp };
  const outer: LoopAsked = {
    title: mains ? 'current' : 'output voltage',
    amplifier: amplifierOf(bill.input),
    control,
    sensed: mains ? { current: mains.current, ohms: senseResistance(bill, d) } : 'output',
    // A current's command is the reference itself: there is nothing to divide.
    held: { output: mains ? control.reference : brief.output.voltage, reference: control.reference },
    // What it asks of an inner loop that loop's converter has to read.
    span: inner ? { low: 0, high: control.converterRange as number } : commanded,
    ...(plant ? { measured: plant } : {}),
  };
  if (!inner) return [outer];
  const own = innerControl(control, inner, brief.frequency);
  return [{ title: inner.title, amplifier: amplifierNamed(inner.amplifier)!, control: own, sensed: { current: inner.senses, ohms: senseGain(bill, d) }, held: { output: control.reference, reference: control.reference }, span: commanded }, outer];
}

/** What a loop feeds back, in V, of a pattern. */
export function quantityOf(sensed: SensedBy, { outputs }: Pick<Roles, 'outputs'>): Quantity {
  return sensed === 'output' ? (p) => p.voltage(...(outputs[0]!.sensed ?? outputs[0]!.nodes)) : (p) => p.current(sensed.current).map((v) => v * sensed.ohms);
}

/** What of the duty 1 − v/Vout is fed forward to a ramp; nothing where none is. */
const forwardOf = ({ feedForward, ramp }: Control, output: number): Forward | undefined => (typeof feedForward === 'number' ? { level: feedForward * ramp, perVolt: (feedForward * ramp) / output } : undefined);

/** What closes loops of a design around a stage: the outermost of them holds the mean where the open stage has it. */
export const loopsAround = ({ brief, control }: Design, stage: SettledStage, loops: readonly Loop[]): Loops => {
  const { sensed } = loops.at(-1)!;
  const reference = sensed === 'output' ? brief.output.voltage : meanOf(stage, sensed);
  const shaped = stage.roles.mains && !stage.assembled.drive.held;
  const forward = shaped ? forwardOf(control, brief.output.voltage) : undefined;
  // What is drawn from the mains is asked for in step with it: behind a filter that is what is left of the mains there.
  const follows = shaped && stage.roles.front ? { follows: reference / stage.measure({ voltage: [LINE] }).mean } : {};
  return { loops, ramp: control.ramp, delay: control.delay, reference, ...follows, ...(forward ? { forward } : {}) };
};

/** Where a loop of a closed stage is broken. */
export function placeIn({ circuit }: ClosedStage, outermost = true): InjectionPoint {
  const found = injectionPointAt(circuit, namesOf(outermost).breaks);
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
}

/** Modulator and delay: duty per volt of the error amplifier. */
export const modulatorAt = (control: Control, f: number): Complex => scale(turn(-2 * Math.PI * f * control.delay), 1 / control.ramp);

/**
 * Exact response from what a loop commands to what it feeds back: of the open stage from its duty (or what its modulator is
 * commanded by), of one with inner loops from their reference.
 */
export function plantOf(d: Design, stage: SettledStage, inner: readonly Loop[], sensed: SensedBy): Result<(frequency: readonly number[]) => Complex[]> {
  const quantity = quantityOf(sensed, stage.roles);
  if (inner.length === 0) {
    const responder = new SmallSignal(stage.machine, stage.cycle).responder(COMMAND, [quantity]);
    return ok((frequency) => responder(frequency)[0]!);
  }
  const closed = closeStage(stage, loopsAround(d, stage, inner));
  if (!closed.ok) return { ok: false, problem: { code: 'inner-loop', where: 'control.innerCrossover', message: `with its inner loop alone the converter has no cycle (${closed.problem.message})`, remedy: 'lower the crossover of the inner loop' } };
  const responder = new SmallSignal(closed.value.machine, closed.value.cycle).responder(REFERENCE_SOURCE, [quantity]);
  return ok((frequency) => responder(frequency)[0]!);
}

/** The loop of a design with a controller in it, where it is to cross: on the measured plant that it is placed on, or as the closed circuit shows it. */
function loopWith(d: Design, stage: SettledStage, inner: readonly Loop[], { sensed, measured, control: { crossover } }: LoopAsked, controller: Controller): Complex | undefined {
  if (measured) return times(measuredAt(measured, crossover), controllerAt(controller, crossover));
  const closed = closeStage(stage, loopsAround(d, stage, [...inner, { controller, sensed }]));
  return closed.ok ? loopAt(closed.value.machine, closed.value.cycle, placeIn(closed.value))([crossover])[0]! : undefined;
}

/** Place one loop's compensator around a stage whose inner loops are closed. */
function place(d: Design, stage: SettledStage, inner: readonly Loop[], asked: LoopAsked): Result<Placed> {
  const { control, sensed, measured } = asked;
  const plant = plantOf(d, stage, inner, sensed);
  if (!plant.ok) return plant;
  const at = measured ? measuredPlantAt(measured, control.crossover) : ok(times(plant.value([control.crossover])[0]!, inner.length === 0 ? modulatorAt(control, control.crossover) : { re: 1, im: 0 }));
  return at.ok ? placedCorners(asked, d.brief.frequency, at.value, (controller) => loopWith(d, stage, inner, asked, controller)) : at;
}

/** A design as all that is no compensator sees it: without its name, what was measured, and what is overridden of corners. */
export function withoutCorners(d: Design): Design {
  const { inner } = structureNamed(d.control.method)!;
  const own = [...amplifierNamed(d.control.amplifier)!.handles.map((h) => h.key), ...(inner ? amplifierNamed(inner.amplifier)!.handles.map((h) => innerKey(h.key)) : [])];
  return { ...d, name: '', measured: undefined, schedules: undefined, lanes: undefined, looks: undefined, pins: undefined, captures: undefined, tolerances: undefined, control: { ...d.control, ...Object.fromEntries(own.map((key) => [key, null])) } };
}

/** Corners placed of late, by all that they depend on: what is overridden of a loop's own corners, or only asked for, moves none of them. */
const placedOfLate = recent<string, Result<Placed>>(24);

/** Compensators built of late: looking for a network of preferred values takes as long as a corner. */
const builtOfLate = recent<string, Result<Compensator>>(24);

/**
 * What the placing of a loop depends on: the circuit as it stands at 25 °C with its loops open, what each loop is asked, and which of them it is.
 * What only burns or warms moves none of it.
 */
const placingOf = (circuit: string, { brief, control, measured }: Design, all: readonly LoopAsked[], own: readonly string[], which: number): string =>
  JSON.stringify([which, circuit, brief.frequency, all.map(({ amplifier, sensed, held, span, control: c }) => [amplifier.id, sensed, held, span, Object.entries(c).filter(([key]) => !own.includes(key))]), Object.entries(control).filter(([key]) => !own.includes(key)), measured?.find((m) => m.title === control.placedOn)]);

/** The keys of a loop's corners in a design's control. */
const cornerKeys = ({ amplifier }: LoopAsked, inner: boolean): string[] => amplifier.handles.map(({ key }) => (inner ? innerKey(key) : key));

/**
 * The compensators of a design, inner first, whatever becomes of its parts. They are placed as on a line without a filter: a filter that is
 * damped well moves nothing of a loop, and what one does that is not is to be seen, not to be placed around.
 */
export const compensatorsOf = remembered((given: Design): Result<Compensator[]> => {
  const d = withoutLineFilter(given);
  const bill = billOf(d);
  const standing = standAt(bill, placementPoint(d));
  if (!standing.ok) return standing;
  const { only, mains } = standing.value;
  if (bill.drive.held) return heldCompensator(d, bill, mains!);
  // Settled when the first of them has to be placed.
  let settled: Result<SettledStage> | undefined;
  const view = only ?? mains!.at(Math.PI / 2, mains!.level());
  const stage = (): Result<SettledStage> => (settled ??= settleStage(bill, view, () => AMBIENT));
  const assembled = view.assemble((slot) => resistanceAt(bill.input.parts[slot]!, AMBIENT));
  if (!assembled.ok) return assembled;
  const { roles: seen, target } = assembled.value;
  const circuit = JSON.stringify([opened(assembled.value), seen, target]);
  const found: Compensator[] = [];
  const loops: Loop[] = [];
  let roles: Pick<Roles, 'mains'> = {};
  if (mains) {
    const at = stage();
    if (!at.ok) return at;
    roles = at.value.roles;
  }
  const all = loopsAsked(bill, roles, d);
  for (const [k, asked] of all.entries()) {
    const inner = k < all.length - 1;
    const placed = placedOfLate(placingOf(circuit, d, all, cornerKeys(asked, inner), k), () => {
      const at = stage();
      return at.ok ? place(d, at.value, loops, asked) : at;
    });
    if (!placed.ok) return placed;
    const one = builtOfLate(JSON.stringify([asked.amplifier.id, asked.control, asked.held, asked.span, d.brief.frequency, placed.value]), () => builtCompensator(asked, d.brief.frequency, placed.value));
    if (!one.ok) return one;
    found.push(one.value);
    loops.push({ controller: one.value.controller, sensed: asked.sensed });
  }
  return ok(found);
});

/** That of a stage whose command is held over the mains: placed on its slow plant, with what the forecast has the command at. */
function heldCompensator(d: Design, bill: Bill, mains: OnMains): Result<Compensator[]> {
  const [asked] = loopsAsked(bill, {}, d);
  const { crossover } = asked!.control;
  const plant = slowPlantAt(slowPlant(bill, placementPoint(d), mains.level()), crossover);
  const at = times(plant, modulatorAt(asked!.control, crossover));
  const placed = placedCompensator(asked!, d.brief.frequency, at, (controller) => times(at, controllerAt(controller, crossover)));
  return placed.ok ? ok([placed.value]) : placed;
}

/** The compensator of a design's outermost loop. */
export function compensatorOf(d: Design): Result<Compensator> {
  const all = compensatorsOf(d);
  return all.ok ? ok(all.value.at(-1)!) : all;
}

