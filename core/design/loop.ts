import { buildable, exactNetwork, networkCorners, preferredNetwork, type Network } from '../control/network';
import { placeTypeThree } from '../control/place';
import { compensatorGain, type TypeThree } from '../control/typeThree';
import { add, complex, over, scale, times, turn, type Complex } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import { averagedModel } from '../response/averaged';
import { voltageLoop } from '../control/voltageLoop';
import { closeLoop, dominantPole } from '../response/closedLoop';
import { bode, margins, type BodeCurve, type Margins } from '../response/margins';
import { loadStepFigures } from '../response/step';
import { SmallSignal } from '../response/exact';
import { frequencyResponse, logSpaced, type LinearSystem } from '../response/system';
import type { OperatingPoint, Sizing, Spec, Topology } from '../topology';
import type { LoopFigures } from './figures';
import type { Control, Design } from './schema';
import { loadStepInTime } from './stepInTime';
import type { Quantity } from '../orbit/measure';
import { isDiscontinuous, regulation, settleStage, type SettledStage } from './settleStage';

const AMBIENT = 25;
const GRID = 200;

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
  loadInput: number;
  /** Exact response of the settled cycle from a source to the output */
  from(source: string, frequency: readonly number[]): Complex[];
}

/** Ω that the current drawn from the mains is measured by: at its largest it shall be as large as the reference. */
export const senseResistance = (t: Topology, d: Design, spec: Spec, sizing: Sizing): number => d.control.reference / t.mains!.crest(spec, sizing, { line: d.brief.line.min, load: d.brief.load.max });

/** What the loop feeds back, in V: the output, or on the mains the current drawn, by its sense resistance. */
function fedBack(t: Topology, d: Design, spec: Spec, sizing: Sizing, point: OperatingPoint): Quantity {
  const { quantity } = regulation(t, spec, point);
  if (!t.mains) return quantity;
  const ohms = senseResistance(t, d, spec, sizing);
  return (p) => quantity(p).map((v) => v * ohms);
}

function plantOf(topology: Topology, stage: SettledStage, output: Quantity): Plant {
  const { system, inputs } = averagedModel(stage.gauge, stage.perDuty, output);
  const exact = new SmallSignal(stage.machine, stage.cycle);
  const responders = new Map<string, ReturnType<SmallSignal['responder']>>();
  return {
    system,
    loadInput: inputs.sources[topology.loadStep]!,
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
  const [at] = plantOf(topology, stage.value, fedBack(topology, d, spec, sizing, point)).from(topology.knob, [control.crossover]);
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

export interface LoopCurves {
  plant: BodeCurve;
  /** The plant by the averaged model, to compare */
  averaged: BodeCurve;
  compensator: BodeCurve;
  loop: BodeCurve;
  /** Not of a current loop */
  outputImpedance?: BodeCurve;
  lineRejection?: BodeCurve;
}

type Step = ReturnType<typeof loadStepFigures>;

/** Continuous conduction: the exact response of the closed averaged loop. It has lost the duty input, so its inputs are one place earlier. */
function stepOfAverage(closed: LinearSystem, loadInput: number, d: Design, pace: number): { stable: boolean; step: Step } {
  const stable = dominantPole(closed).rate < 0;
  return { stable, step: loadStepFigures(closed, loadInput - 1, d.brief.loadStep, stable, pace) };
}

/** Discontinuous conduction, which a load step leads out of, and whatever does not average: run in time, from the closed cycle itself. */
function stepInTime(topology: Topology, d: Design, stage: SettledStage, built: TypeThree): { stable: boolean; step: Step } {
  const { control, brief } = d;
  const run = loadStepInTime(stage, topology, brief.output.voltage, built, control.ramp, control.delay, brief.loadStep, 20 / (2 * Math.PI * control.crossover));
  if (!run) return { stable: false, step: { time: [], value: [], deviation: Infinity, recovery: Infinity } };
  const { stable, time, value } = run;
  if (!stable) return { stable, step: { time, value, deviation: Infinity, recovery: Infinity } };
  const deviation = Math.max(...value.map(Math.abs));
  const outside = value.findLastIndex((v) => Math.abs(v) > deviation / 10);
  return { stable, step: { time, value, deviation, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : time[outside]! } };
}

/** The load step is answered by the slow loop; the current loop inside must be sound by its margins. */
function stepOfVoltageLoop(closed: LinearSystem, d: Design, frequency: number, { phaseMargin, gainMargin }: Margins): { stable: boolean; step: Step } {
  const stable = phaseMargin > 0 && gainMargin > 0;
  return { stable, step: loadStepFigures(closed, 0, d.brief.loadStep, stable, frequency) };
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
): Result<{ loop: LoopFigures; curves?: LoopCurves; step: { time: number[]; value: number[] } }> {
  const compensator = compensatorOf(topology, d, spec, sizing);
  if (!compensator.ok) return compensator;
  const { built } = compensator.value;
  const { control } = d;
  const output = fedBack(topology, d, spec, sizing, { ...point, angle: point.angle ?? Math.PI / 2, drawn: 0 });
  const { system, loadInput, from } = plantOf(topology, stage, output);

  const frequency = logSpaced(10 ** Math.floor(Math.log10(d.brief.frequency / 2000)), d.brief.frequency, GRID);
  const plantAt = (f: readonly number[]): Complex[] => from(topology.knob, f);
  const around = (f: number): Complex => times(compensatorGain(built, f), modulator(control, f));
  const plant = plantAt(frequency);
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
  const { stable, step } = outer
    ? stepOfVoltageLoop(outer.closed, d, topology.mains!.voltageLoop(spec), read)
    : topology.averages === false || isDiscontinuous(stage, topology)
    ? stepInTime(topology, d, stage, built)
    : stepOfAverage(closed, loadInput, d, pace);
  const loop: LoopFigures = {
    ...read,
    ...compensator.value,
    stable,
    outer: outer && { crossover: topology.mains!.voltageLoop(spec), phaseMargin: outer.phaseMargin, senseResistance: senseResistance(topology, d, spec, sizing) },
    landmarks: topology.landmarks(spec, sizing, point),
    deviation: step.deviation,
    recovery: step.recovery,
  };
  if (!withCurves) return ok({ loop, step });

  return ok({
    loop,
    step,
    curves: {
      plant: bode(frequency, plant),
      averaged: bode(frequency, frequencyResponse(system, 0, frequency)),
      compensator: bode(frequency, frequency.map((f) => compensatorGain(built, f))),
      loop: loopCurve,
      ...(outer
        ? {}
        : {
            outputImpedance: bode(frequency, closedBy(from(topology.loadStep, frequency)).map((v) => scale(v, -1))),
            lineRejection: bode(frequency, closedBy(from(topology.line, frequency))),
          }),
    },
  });
}
