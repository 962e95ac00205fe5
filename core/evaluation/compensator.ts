import { amplifierNamed, innerKey, transferOf } from '../control';
import { COMMAND } from '../control/command';
import { continuous, controllerAt, type Controller } from '../control/controller';
import { discretise } from '../control/discretise';
import { samplingOf } from '../control/sampling';
import type { Amplifier, Control, Corners, Held, InnerLoop, Network, Rational } from '../control/types';
import { remembered } from '../design/remembered';
import type { Design } from '../design/schema';
import { over, scale, size, times, turn, type Complex } from '../linear/complex';
import type { Quantity } from '../orbit/measure';
import { measuredAt } from '../measured/response';
import type { Measured } from '../measured/types';
import { fail, ok, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { SmallSignal } from '../response/exact';
import { injectionPointAt, loopAt, type InjectionPoint } from '../response/injectionPoint';
import type { Roles } from '../converter/roles';
import type { OperatingPoint } from '../topology';
import { namesOf, REFERENCE_SOURCE, type Loop, type Loops, type SensedBy } from './assemble';
import { amplifierOf, billOf, structureOf, type Bill } from './bill';
import { closeStage, meanOf, type ClosedStage } from './closed';
import { settleStage, type SettledStage } from './settleStage';
import { crestAt, standAt } from './standing';

/** °C of the parts that compensators are placed with, so that they do not move with their heat */
const AMBIENT = 25;
/** Placements at most, and the change of the plant after which no more is made */
const [ROUNDS, AGREED] = [5, 2e-3];

/** The point that compensators are placed at: middle of the line, full load, parts at 25 °C. */
export const placementPoint = (d: Design): OperatingPoint => ({
  line: (d.brief.line.min + d.brief.line.max) / 2,
  load: d.brief.load.max,
  air: AMBIENT,
});

/** A compensator as placed, overridden where the design says so, and as it is built. */
export interface Compensator {
  placed: Corners;
  wanted: Corners;
  built: Corners;
  network: Network;
  /** What stands in the closed circuit */
  controller: Controller;
  /** Where that samples: what it stands for */
  continuous?: Rational;
}

/** A loop as a design asks for it. */
export interface LoopAsked {
  title: string;
  amplifier: Amplifier;
  /** The design's control as this loop's amplifier reads it */
  control: Control;
  sensed: SensedBy;
  held: Held;
  /** The measured plant that it is placed on, where it is one */
  measured?: Measured;
}

/** Ω that the current drawn from the mains is measured by: at its largest it shall be as large as the reference. */
export const senseResistance = (bill: Bill, d: Design): number => d.control.reference / crestAt(bill, { line: d.brief.line.min, load: d.brief.load.max });

/** V per A that an inner loop senses its current by: a volt at its largest mean, where the design says nothing else. */
export const senseGain = (bill: Bill, { control }: Design): number => (control.senseGain as number | null) ?? 1 / bill.sizing.inductorCurrent;

/** What an inner loop's amplifier reads of a design's control: its own keys, without their beginning. */
export function innerControl(control: Control, { amplifier, crossover }: InnerLoop, frequency: number): Control {
  const own = Object.keys({ ...amplifierNamed(amplifier)!.settings }).flatMap((key) => {
    const value = control[innerKey(key)];
    return value === undefined ? [] : [[key, value] as const];
  });
  return { ...control, ...Object.fromEntries(own), crossover: (control.innerCrossover as number | null) ?? crossover * frequency, phaseMargin: control.innerPhaseMargin as number };
}

/** The loops of a design around a stage, inner first. */
export function loopsAsked(bill: Bill, { mains }: Pick<Roles, 'mains'>, d: Design): LoopAsked[] {
  const { control, brief } = d;
  const { inner } = structureOf(bill.input);
  const plant = d.measured?.find((m) => m.of === 'plant' && m.title === control.placedOn);
  const outer: LoopAsked = {
    title: mains ? 'current' : 'output voltage',
    amplifier: amplifierOf(bill.input),
    control,
    sensed: mains ? { current: mains.current, ohms: senseResistance(bill, d) } : 'output',
    // A current's command is the reference itself: there is nothing to divide.
    held: { output: mains ? control.reference : brief.output.voltage, reference: control.reference },
    ...(plant ? { measured: plant } : {}),
  };
  if (!inner) return [outer];
  const own = innerControl(control, inner, brief.frequency);
  return [{ title: inner.title, amplifier: amplifierNamed(inner.amplifier)!, control: own, sensed: { current: inner.senses, ohms: senseGain(bill, d) }, held: { output: control.reference, reference: control.reference } }, outer];
}

/** What a loop feeds back, in V, of a pattern. */
export function quantityOf(sensed: SensedBy, { outputs }: Pick<Roles, 'outputs'>): Quantity {
  return sensed === 'output' ? (p) => p.voltage(...outputs[0]!.nodes) : (p) => p.current(sensed.current).map((v) => v * sensed.ohms);
}

/** What closes loops of a design around a stage: the outermost of them holds the mean where the open stage has it. */
export const loopsAround = ({ brief, control }: Design, stage: SettledStage, loops: readonly Loop[]): Loops => {
  const { sensed } = loops.at(-1)!;
  return { loops, ramp: control.ramp, delay: control.delay, reference: sensed === 'output' ? brief.output.voltage : meanOf(stage, sensed) };
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

/** What stands in the circuit for corners: a network with its amplifier, or a difference equation. */
function controllerFor(d: Design, { amplifier, control }: LoopAsked, corners: Corners, network: Network | undefined): { controller: Controller; continuous?: Rational } {
  const ideal = amplifier.transfer(corners);
  const sampling = samplingOf(control, d.brief.frequency);
  if (!sampling) return { controller: continuous(network ? transferOf(amplifier, corners, network, control) : ideal) };
  const { method, ...when } = sampling;
  const of = (kind: 'zero' | 'pole'): number[] => amplifier.handles.flatMap((h) => (h.kind === kind ? [corners[h.key]!] : []));
  return { controller: { kind: 'sampled', ...discretise(method, { integrator: corners.integrator!, zeros: of('zero'), poles: of('pole') }, when.period, control.crossover), ...when }, continuous: ideal };
}

/** Place and build one loop's compensator around a stage whose inner loops are closed. */
function place(d: Design, stage: SettledStage, inner: readonly Loop[], asked: LoopAsked): Result<Compensator> {
  const { amplifier, control, sensed, held } = asked;
  const plant = plantOf(d, stage, inner, sensed);
  if (!plant.ok) return plant;
  const measured = asked.measured;
  let at = measured ? measuredAt(measured, control.crossover) : times(plant.value([control.crossover])[0]!, inner.length === 0 ? modulatorAt(control, control.crossover) : { re: 1, im: 0 });
  if (!Number.isFinite(at.re)) return fail('range', 'control.crossover', `${print(control.crossover, 'Hz')} lies outside of what was measured, ${print(measured!.frequency[0]!, 'Hz')} to ${print(measured!.frequency.at(-1)!, 'Hz')}`, 'choose a crossover within it, or place on the computed plant');
  let placed = amplifier.place(at, control);
  if (!placed.ok) return placed;
  // Ripple that comes back through the compensator changes what the plant is, and so do its sampling and what its amplifier
  // lacks: placed anew on what the closed circuit shows.
  for (let round = 0; round < (measured ? 0 : ROUNDS); round++) {
    const network = amplifier.build(placed.value, { ...control, rounded: false }, held);
    const { controller } = controllerFor(d, asked, placed.value, network.ok ? network.value.network : undefined);
    const closed = closeStage(stage, loopsAround(d, stage, [...inner, { controller, sensed }]));
    if (!closed.ok) break;
    const loop = loopAt(closed.value.machine, closed.value.cycle, placeIn(closed.value))([control.crossover])[0]!;
    const now = over(loop, controllerAt(continuous(amplifier.transfer(placed.value)), control.crossover));
    const again = amplifier.place(now, control);
    if (!again.ok) break;
    const moved = Math.hypot(now.re - at.re, now.im - at.im) / size(at);
    [at, placed] = [now, again];
    if (moved < AGREED) break;
  }
  const wanted = Object.fromEntries(amplifier.handles.map(({ key }) => [key, (control[key] as number | null) ?? placed.value[key]!]));
  const sampled = samplingOf(control, d.brief.frequency) !== undefined;
  const built = amplifier.build(wanted, sampled ? { ...control, rounded: false } : control, held);
  if (!built.ok) return built;
  return ok({ placed: placed.value, wanted, ...built.value, ...controllerFor(d, asked, built.value.built, built.value.network) });
}

/** The compensators of a design, inner first, whatever becomes of its parts. */
export const compensatorsOf = remembered((d: Design): Result<Compensator[]> => {
  const bill = billOf(d);
  const standing = standAt(bill, placementPoint(d));
  if (!standing.ok) return standing;
  const { only, mains } = standing.value;
  const stage = settleStage(bill, only ?? mains!.at(Math.PI / 2, mains!.crest()), () => AMBIENT);
  if (!stage.ok) return stage;
  const found: Compensator[] = [];
  const loops: Loop[] = [];
  for (const asked of loopsAsked(bill, stage.value.roles, d)) {
    const one = place(d, stage.value, loops, asked);
    if (!one.ok) return one;
    found.push(one.value);
    loops.push({ controller: one.value.controller, sensed: asked.sensed });
  }
  return ok(found);
});

/** The compensator of a design's outermost loop. */
export function compensatorOf(d: Design): Result<Compensator> {
  const all = compensatorsOf(d);
  return all.ok ? ok(all.value.at(-1)!) : all;
}

