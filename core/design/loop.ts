import { buildable, exactNetwork, networkCorners, preferredNetwork, type Network } from '../control/network';
import { placeTypeThree } from '../control/place';
import { compensatorGain, type TypeThree } from '../control/typeThree';
import { add, complex, over, scale, size, times, turn, type Complex } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import { averagedModel } from '../response/averaged';
import { voltageLoop } from '../response/voltageLoop';
import { closeLoop, dominantPole } from '../response/closedLoop';
import { bode, margins, type BodeCurve, type Margins } from '../response/margins';
import { stepFigures, type StepFigures } from '../response/step';
import { SmallSignal } from '../response/exact';
import { refined, resonancesOf } from '../response/refine';
import { frequencyResponse, logSpaced, type LinearSystem } from '../response/system';
import type { OperatingPoint, Sizing, Spec, Topology } from '../topology';
import type { LoopFigures } from './figures';
import type { Control, Design } from './schema';
import { peakCurrentOf } from './additions/currentControl';
import { stepInTime, type Disturbance } from './stepInTime';
import type { Quantity } from '../orbit/measure';
import { isDiscontinuous } from '../converter/conduction';
import type { Roles } from '../converter/roles';
import { COMMAND } from './assemble';
import { regulation, settleStage, type SettledStage } from './settleStage';

/** °C of the parts that the compensator is placed with, so that it does not move with their heat */
const AMBIENT = 25;
/** Points of a curve before it is refined where it bends (response/refine) */
const GRID = 200;
/** Hz: no loop of this trade crosses below */
const LOWEST = 1e-4;

/** The point that the compensator is placed at: middle of the line, full load, parts at 25 °C. */
export const placementPoint = (d: Design): OperatingPoint => ({
  line: (d.brief.line.min + d.brief.line.max) / 2,
  load: d.brief.load.max,
  air: AMBIENT,
});

export interface Compensator {
  placed: TypeThree;
  wanted: TypeThree;
  built: TypeThree;
  network: Network;
}

interface Plant {
  /** Averaged model: time responses and poles, and the judge of the exact one at low frequencies */
  system: LinearSystem;
  /** Its inputs by source */
  inputs: Readonly<Record<string, number>>;
  /** Exact response of the settled cycle from a source to the output */
  from(source: string, frequency: readonly number[]): Complex[];
}

/** Ω that the current drawn from the mains is measured by: at its largest it shall be as large as the reference. */
export const senseResistance = (t: Topology, d: Design, spec: Spec, sizing: Sizing): number => d.control.reference / t.mains!.crest(spec, sizing, { line: d.brief.line.min, load: d.brief.load.max });

/** What the loop feeds back, in V: the output, or on the mains the current drawn, by its sense resistance. */
function fedBack(t: Topology, roles: Roles, d: Design, spec: Spec, sizing: Sizing, point: OperatingPoint): Quantity {
  const { quantity } = regulation(t, roles, spec, point);
  if (!t.mains) return quantity;
  const ohms = senseResistance(t, d, spec, sizing);
  return (p) => quantity(p).map((v) => v * ohms);
}

function plantOf(stage: SettledStage, output: Quantity): Plant {
  const { system, inputs } = averagedModel(stage.gauge, stage.perDuty, output);
  const exact = new SmallSignal(stage.machine, stage.cycle);
  const responders = new Map<string, ReturnType<SmallSignal['responder']>>();
  return {
    system,
    inputs: inputs.sources,
    from(source, frequency) {
      let responder = responders.get(source);
      if (!responder) responders.set(source, (responder = exact.responder(source, [output])));
      return responder(frequency)[0]!;
    },
  };
}

/** Modulator and delay: duty per volt of the error amplifier. */
const modulator = (control: Control, f: number): Complex => scale(turn(-2 * Math.PI * f * control.delay), 1 / control.ramp);

const known = new WeakMap<Design, Result<Compensator>>();

/** The compensator of a design: placed, overridden where the design says so, and as its network builds it. */
export function compensatorOf(topology: Topology, d: Design, spec: Spec, sizing: Sizing): Result<Compensator> {
  let found = known.get(d);
  if (!found) known.set(d, (found = solveCompensator(topology, d, spec, sizing)));
  return found;
}

function solveCompensator(topology: Topology, d: Design, spec: Spec, sizing: Sizing): Result<Compensator> {
  const { control } = d;
  const placement25 = placementPoint(d);
  const point = topology.mains ? { ...placement25, angle: Math.PI / 2, drawn: topology.mains.crest(spec, sizing, placement25) } : placement25;
  const stage = settleStage(topology, spec, sizing, point, () => AMBIENT);
  if (!stage.ok) return stage;
  const [at] = plantOf(stage.value, fedBack(topology, stage.value.roles, d, spec, sizing, point)).from(COMMAND, [control.crossover]);
  const plant = times(at!, modulator(control, control.crossover));
  const placement = placeTypeThree(plant, control.crossover, control.phaseMargin);
  if (!placement.ok) return placement;
  const placed = placement.value.compensator;
  const wanted: TypeThree = {
    integrator: control.integrator ?? placed.integrator,
    zero1: control.zero1 ?? placed.zero1,
    zero2: control.zero2 ?? placed.zero2,
    pole1: control.pole1 ?? placed.pole1,
    pole2: control.pole2 ?? placed.pole2,
  };
  if (!buildable(wanted))
    return fail('network', 'control.zero1', 'a zero at or above its pole can not be built with this network', 'move the zeros below the poles');
  const build = control.rounded ? preferredNetwork : exactNetwork;
  // A current's command is the reference itself: there is nothing to divide.
  const network = build(wanted, control.inputResistor, topology.mains ? control.reference : d.brief.output.voltage, control.reference);
  return ok({ placed, wanted, network, built: networkCorners(network) });
}

type Curve = Pick<StepFigures, 'time' | 'value'>;

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
function disturbances(t: Topology, { line, outputs }: Roles, { brief }: Design, point: OperatingPoint): Disturbances {
  const { lineStep } = brief;
  const up = point.line + (lineStep ?? 0) <= brief.line.max * (1 + 1e-9);
  return {
    load: { source: outputs[0]!.step!, from: 0, to: brief.loadStep, rise: brief.loadStepTime },
    ...(lineStep !== undefined && !t.mains ? { line: { source: line, from: point.line, to: point.line + (up ? lineStep : -lineStep) } } : {}),
  };
}

/** Does the loop keep its cycle, and what a disturbance does to the output. */
interface Answer {
  stable: boolean;
  to(d: Disturbance): StepFigures;
}

/** Continuous conduction: the exact response of the closed averaged loop. It has lost the duty input, so its inputs are one place earlier. */
function averagedAnswer(closed: LinearSystem, inputs: Readonly<Record<string, number>>, pace: number): Answer {
  const stable = dominantPole(closed).rate < 0;
  return { stable, to: ({ source, from, to, rise }) => stepFigures(closed, inputs[source]! - 1, to - from, stable, pace, rise) };
}

/** Discontinuous conduction, which a step leads out of, and whatever does not average: run in time, from the closed cycle itself. */
function answerInTime(d: Design, stage: SettledStage, built: TypeThree, load: Disturbance): Answer {
  const { control, brief } = d;
  const run = (by: Disturbance): StepFigures & { stable: boolean } => {
    const found = stepInTime(stage, brief.output.voltage, built, control.ramp, control.delay, by, 20 / (2 * Math.PI * control.crossover) + (by.rise ?? 0));
    if (!found) return { stable: false, time: [], value: [], deviation: Infinity, recovery: Infinity };
    const { stable, time, value } = found;
    if (!stable) return { stable, time, value, deviation: Infinity, recovery: Infinity };
    const deviation = Math.max(...value.map(Math.abs));
    const outside = value.findLastIndex((v) => Math.abs(v) > deviation / 10);
    // Still on its way out at the end of what is followed: how far it goes is not known.
    if (Math.abs(value.at(-1)!) >= deviation) return { stable, time, value, deviation: Infinity, recovery: Infinity };
    return { stable, time, value, deviation, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : time[outside]! };
  };
  const first = run(load);
  return { stable: first.stable, to: (by) => (by === load ? first : run(by)) };
}

/** The load step is answered by the slow loop; the current loop inside must be sound by its margins. */
function voltageLoopAnswer(closed: LinearSystem, frequency: number, { phaseMargin, gainMargin }: Margins): Answer {
  const stable = phaseMargin > 0 && gainMargin > 0;
  return { stable, to: ({ from, to, rise }) => stepFigures(closed, 0, to - from, stable, frequency, rise) };
}

/** Loop figures at a settled point, with the curves when they are asked for. */
export function loopFigures(
  topology: Topology,
  d: Design,
  spec: Spec,
  sizing: Sizing,
  point: OperatingPoint,
  stage: SettledStage,
  withCurves: boolean,
): Result<{ loop: LoopFigures; curves?: LoopCurves; step: Curve; lineStep?: Curve }> {
  const compensator = compensatorOf(topology, d, spec, sizing);
  if (!compensator.ok) return compensator;
  const { built } = compensator.value;
  const { control } = d;
  const output = fedBack(topology, stage.roles, d, spec, sizing, { ...point, angle: point.angle ?? Math.PI / 2, drawn: 0 });
  const { system, inputs, from } = plantOf(stage, output);

  const plantAt = (f: readonly number[]): Complex[] => from(COMMAND, f);
  const around = (f: number): Complex => times(compensatorGain(built, f), modulator(control, f));
  // Low enough to see the crossover: where the gain is below one already, decade by decade further down.
  let lowest = 10 ** Math.floor(Math.log10(d.brief.frequency / 2000));
  const gainAt = (f: number): number => size(times(plantAt([f])[0]!, around(f)));
  while (gainAt(lowest) < 1 && lowest > LOWEST) lowest /= 10;
  const { frequency, response: plant } = refined(logSpaced(lowest, d.brief.frequency, GRID), plantAt, resonancesOf(stage.cycle));
  const loopValues = plant.map((p, i) => times(p, around(frequency[i]!)));
  const loopCurve = bode(frequency, loopValues);
  const read = margins((f) => times(plantAt([f])[0]!, around(f)), loopCurve);

  const leads = [
    { zero: built.zero1, pole: built.pole1 },
    { zero: built.zero2, pole: built.pole2 },
  ];
  const closed = closeLoop(system, { integrator: built.integrator, leads, modulator: 1 / control.ramp, delay: control.delay });
  const pace = Number.isFinite(read.crossover) ? read.crossover : d.brief.frequency / 20;
  const closedBy = (open: Complex[]): Complex[] => open.map((v, i) => over(v, add(complex(1), loopValues[i]!)));
  const outer = topology.mains && voltageLoop(sizing.values[topology.mains.reservoirPlace]!.taken, d.brief.output.voltage / point.load, topology.mains.voltageLoop(spec));
  const by = disturbances(topology, stage.roles, d, point);
  const answer = outer
    ? voltageLoopAnswer(outer.closed, topology.mains!.voltageLoop(spec), read)
    : topology.timedBy !== undefined || topology.places.some((p) => p.kind === 'transformer') || isDiscontinuous(stage.cycle, stage.roles.conduction)
      ? answerInTime(d, stage, built, by.load)
      : averagedAnswer(closed, inputs, pace);
  const step = answer.to(by.load);
  const lineStep = by.line && answer.to(by.line);
  const loop: LoopFigures = {
    ...read,
    ...compensator.value,
    stable: answer.stable,
    ...(topology.timedBy ? { peakCurrent: peakCurrentOf(topology, spec, sizing, control.slope) } : {}),
    outer: outer && { crossover: topology.mains!.voltageLoop(spec), phaseMargin: outer.phaseMargin, senseResistance: senseResistance(topology, d, spec, sizing) },
    landmarks: topology.landmarks(spec, sizing, point),
    deviation: step.deviation,
    recovery: step.recovery,
    ...(lineStep ? { line: { step: by.line!.to - by.line!.from, deviation: lineStep.deviation, recovery: lineStep.recovery } } : {}),
  };
  if (!withCurves) return ok({ loop, step, lineStep });

  return ok({
    loop,
    step,
    lineStep,
    curves: {
      plant: bode(frequency, plant),
      ...(topology.timedBy ? {} : { averaged: bode(frequency, frequencyResponse(system, 0, frequency)) }),
      compensator: bode(frequency, frequency.map((f) => compensatorGain(built, f))),
      loop: loopCurve,
      ...(outer
        ? {}
        : {
            outputImpedance: bode(frequency, closedBy(from(by.load.source, frequency)).map((v) => scale(v, -1))),
            lineRejection: bode(frequency, closedBy(from(stage.roles.line, frequency))),
          }),
    },
  });
}
