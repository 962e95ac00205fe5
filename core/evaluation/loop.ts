import { continuous, controllerAt } from '../control/controller';
import { decibels, scale, size, times, type Complex } from '../linear/complex';
import { ok, type Result } from '../problem';
import { averagedModel } from '../response/averaged';
import { voltageLoop } from '../response/voltageLoop';
import { flatStretch } from '../response/flat';
import { bode, margins, type BodeCurve, type Margins } from '../response/margins';
import { stepFigures } from '../response/step';
import { loopAt, type InjectionPoint } from '../response/injectionPoint';
import { leastAlong } from '../response/along';
import { refined, resonancesOf } from '../response/refine';
import { frequencyResponse, logSpaced } from '../response/system';
import { instability } from '../orbit/stability';
import { structureOf } from './bill';
import { offCompensator } from './placing';
import { compensatorsOf, loopsAround, loopsAsked, modulatorAt, placeIn, plantOf, quantityOf, senseGain, senseResistance, type LoopAsked } from './compensator';
import type { CompensatorFigures, InnerLoopFigures, LoopFigures } from './figures';
import type { Compensator } from './placing';
import { loopModes, phaseShares } from './reading';
import { sampledFigures } from './sampled';
import { placeMainsLoop } from '../control/mainsLoop';
import type { Standing } from './standing';
import type { Design } from '../design/schema';
import { clipped, closeStage, type ClosedStage } from './closed';
import { frontOf, type FrontCurves } from './front';
import { againstMask, endsOf } from './impedance';
import { breakAt, placesOf, type PlaceId } from './places';
import { answerTo, disturbances, referenceStep, UNKNOWN, type Curve } from './steps';
import { largestMultiplier, type SettledStage } from './settleStage';

/** Points of a curve before it is refined where it bends and where modes ring (response/refine); and so many where they only bracket what is then found exactly */
const [GRID, BRACKETS] = [200, 64];
/** Share of the switching frequency to which curves go: at that itself a signal is what the switching makes anyway */
const HIGHEST = 0.8;
/** Times that an inner loop has to cross higher than the one around it, to follow what that asks */
const APART = 4;
/** Hz: no loop of this trade crosses below */
const LOWEST = 1e-4;

export interface LoopCurves {
  plant: BodeCurve;
  /** The plant by the averaged model, to compare; there is none of a sampled current */
  averaged?: BodeCurve;
  /** As it stands in the circuit; where it samples with its delay and hold, and what it stands for beside it */
  compensator: BodeCurve;
  continuous?: BodeCurve;
  loop: BodeCurve;
  /** The loop inside of it, where it is a cascade */
  inner?: BodeCurve;
  /** Not of a current loop */
  outputImpedance?: BodeCurve;
  lineRejection?: BodeCurve;
  inputImpedance?: BodeCurve;
  /** Of the line with its filter, and of the converter, where the line is not stiff */
  front?: FrontCurves;
  /** The loop broken elsewhere, where that is asked for */
  place?: BodeCurve;
}

/** What is known of a loop at a point. */
export interface Looped {
  loop: LoopFigures;
  curves?: LoopCurves;
  step: Curve;
  lineStep?: Curve;
  referenceStep?: Curve;
}

/** A plant that is made when it is first asked for; nothing to be read where there is none. */
function whenAsked(make: () => ReturnType<typeof plantOf>): (f: readonly number[]) => Complex[] {
  let found: ReturnType<typeof plantOf> | undefined;
  return (f) => {
    found ??= make();
    return found.ok ? found.value(f) : f.map(() => ({ re: NaN, im: NaN }));
  };
}

/** The outermost loop of a closed stage read, or that broken at a place: its curve, exact where the closed circuit has a cycle, and its margins. */
function readLoop(d: Design, stage: SettledStage, closed: ReturnType<typeof closeStage>, product: (f: readonly number[]) => Complex[], withCurves: boolean, place?: InjectionPoint): { frequency: number[]; curve: BodeCurve; read: Margins; scaled(by: number): Margins; at(f: number): Complex } {
  // Where the closed circuit has no cycle, what is left is the product of its parts.
  const loopOf = closed.ok ? loopAt(closed.value.machine, closed.value.cycle, place ?? placeIn(closed.value)) : product;
  // Low enough to see the crossover: where the gain is below one already, decade by decade further down.
  let lowest = 10 ** Math.floor(Math.log10(d.brief.frequency / 2000));
  while (size(loopOf([lowest])[0]!) < 1 && lowest > LOWEST) lowest /= 10;
  const { frequency, response } = refined(logSpaced(lowest, HIGHEST * d.brief.frequency, withCurves ? GRID : BRACKETS), loopOf, [...resonancesOf(stage.cycle), ...(closed.ok ? resonancesOf(closed.value.cycle) : [])]);
  const curve = bode(frequency, response);
  const stable = closed.ok && instability(closed.value.cycle) === undefined;
  return {
    frequency, curve,
    at: (f) => loopOf([f])[0]!,
    read: margins((f) => loopOf([f])[0]!, curve, response, stable),
    scaled: (by) => margins((f) => scale(loopOf([f])[0]!, by), { ...curve, gain: curve.gain.map((g) => g + decibels(by)) }, response.map((v) => scale(v, by)), stable),
  };
}

/** Loop figures at a settled point, with the curves when they are asked for. */
export function loopFigures(d: Design, standing: Standing, stage: SettledStage, withCurves: boolean, place?: PlaceId, network?: Readonly<Record<string, number>>): Result<Looped> {
  const { bill } = standing;
  const placed = compensatorsOf(d);
  if (!placed.ok) return placed;
  const structure = structureOf(bill.input);
  const { control } = d;
  const { drive } = stage.assembled;
  const asked = loopsAsked(bill, stage.roles, d);
  const compensators = { value: network ? placed.value.map((c, k) => (k < placed.value.length - 1 ? c : offCompensator(asked[k]!, d.brief.frequency, c, network))) : placed.value };
  const all = asked.map(({ sensed }, k) => ({ sensed, controller: compensators.value[k]!.controller }));
  const loops = loopsAround(d, stage, all);
  const clips = clipped(stage, loops);
  if (clips) return { ok: false, problem: clips };
  const closed = closeStage(stage, loops);
  const { sensed } = asked.at(-1)!;
  const compensator = compensators.value.at(-1)!;
  const { controller } = compensator;
  const innermost = all.length === 1;

  const plantAt = whenAsked(() => plantOf(d, stage, all.slice(0, -1), sensed));
  const opened = (f: readonly number[]): Complex[] => plantAt(f).map((v, i) => times(times(v, controllerAt(controller, f[i]!)), innermost ? modulatorAt(control, f[i]!) : { re: 1, im: 0 }));
  const { frequency, curve: loopCurve, read, scaled, at } = readLoop(d, stage, closed, opened, withCurves);
  const stable = closed.ok && instability(closed.value.cycle) === undefined;
  const inner = innermost ? undefined : innerLoop(d, stage, asked[0]!, compensators.value[0]!, senseGain(bill, d), withCurves);

  const { mains } = stage.roles;
  const reservoir = mains ? bill.sizing.values[mains.reservoir]!.taken : NaN;
  const outer = mains && voltageLoop(placeMainsLoop(d.control, d.brief.line.mains!, reservoir), reservoir, d.brief.output.voltage / standing.load);
  const by = disturbances(stage, d);
  // The slow loop around the mains stands outside of what is settled within a switching period.
  const slow = outer && stepFigures(outer.closed, 0, by.load.to - by.load.from, stable, outer.crossover, by.load.rise);
  const answer = stable && !slow ? answerTo(stage, closed.value, loops, control.crossover, by.load) : UNKNOWN;
  const step = slow ?? answer;
  const lineStep = by.line && (stable ? answerTo(stage, closed.value, loops, control.crossover, by.line) : UNKNOWN);
  // Where the margin is least, of several crossovers.
  const least = read.dip?.marginAt ?? read.crossover;
  const flat = withCurves && Number.isFinite(read.crossover) ? flatStretch(loopCurve, read.crossover) : undefined;
  const spread = asked.at(-1)!.amplifier.spread?.(control) ?? 0;
  const ends = closed.ok && !outer ? endsOf(stage, closed.value) : undefined;
  const front = closed.ok ? frontOf(stage, closed.value, withCurves) : undefined;
  const { impedanceMask, gainUpTo } = d.brief;
  const reference = withCurves && stable && !outer ? referenceStep(stage, closed.value, loops, control.crossover) : undefined;
  const elsewhere = withCurves && place !== undefined && place !== 'output' && closed.ok ? brokenElsewhere(d, stage, closed.value, place) : undefined;
  const figures: LoopFigures = {
    ...read,
    ...cornersOf(d, stage, asked.at(-1)!, compensator, innermost),
    stable,
    shares: Number.isFinite(least) ? phaseShares(d, asked.at(-1)!, compensator, at(least), least, innermost, standing.landmarks()) : [],
    modes: closed.ok ? loopModes(closed.value) : [],
    ...(flat ? { flat } : {}),
    ...(spread > 0 ? { spread: { share: spread, least: scaled(1 - spread), most: scaled(1 + spread) } } : {}),
    ...(inner ? { inner: { ...inner.figures, apart: inner.figures.crossover / read.crossover, follows: !(inner.figures.crossover < APART * read.crossover) } } : {}),
    drive: drive.figures,
    ...(structure.lost && largestMultiplier(stage.cycle) > 1 ? { lost: structure.lost(largestMultiplier(stage.cycle), drive.figures) } : {}),
    outer: outer && { crossover: outer.crossover, phaseMargin: outer.phaseMargin, senseResistance: senseResistance(bill, d) },
    landmarks: standing.landmarks(),
    deviation: step.deviation,
    recovery: step.recovery,
    answeredBy: slow ? 'voltage loop' : answer.how,
    ...(lineStep ? { line: { step: by.line!.to - by.line!.from, deviation: lineStep.deviation, recovery: lineStep.recovery } } : {}),
    ...(reference ? { reference: reference.figures } : {}),
    ...(gainUpTo !== undefined ? { lowGain: lowGain(loopCurve, gainUpTo, at) } : {}),
    ...(impedanceMask && ends && stable ? { impedance: againstMask(ends, impedanceMask, closed.value) } : {}),
    ...(front ? { front: front.figures } : {}),
    places: closed.ok ? placesOf(closed.value, stage.roles) : [],
    ...(elsewhere?.ok ? { place: { id: place!, ...elsewhere.value.read } } : {}),
  };
  if (!withCurves) return ok({ loop: figures, step, lineStep });

  const fromLine = ends?.line(frequency);
  const { system } = averagedModel(stage.cycleIntegrals, stage.perDuty, quantityOf(sensed, stage.roles));
  return ok({
    loop: figures,
    step,
    lineStep,
    ...(reference ? { referenceStep: reference.curve } : {}),
    curves: {
      plant: bode(frequency, plantAt(frequency)),
      ...(structure.averages && innermost ? { averaged: bode(frequency, frequencyResponse(system, 0, frequency)) } : {}),
      compensator: bode(frequency, frequency.map((f) => controllerAt(controller, f))),
      ...(compensator.continuous ? { continuous: bode(frequency, frequency.map((f) => controllerAt(continuous(compensator.continuous!), f))) } : {}),
      ...(inner?.curve ? { inner: inner.curve } : {}),
      loop: loopCurve,
      ...(ends && fromLine ? { outputImpedance: bode(frequency, ends.output(frequency)), lineRejection: bode(frequency, fromLine.toOutput), inputImpedance: bode(frequency, fromLine.input) } : {}),
      ...(front?.curves ? { front: front.curves } : {}),
      ...(elsewhere?.ok ? { place: elsewhere.value.curve } : {}),
    },
  });
}

/** The loop of a closed stage broken at another place. Problems as of breaking it there. */
function brokenElsewhere(d: Design, stage: SettledStage, closed: ClosedStage, place: PlaceId): Result<ReturnType<typeof readLoop>> {
  const broken = breakAt(closed, place);
  if (!broken.ok) return broken;
  const { closed: own, point } = broken.value;
  const found = readLoop(d, stage, ok(own), loopAt(own.machine, own.cycle, point), true, point);
  // A phase is drawn by the turn that its last crossover lies on below nothing: it may have begun anywhere.
  const last = found.read.crossovers.findLast((c) => !c.rises);
  const near = last ? found.curve.phase[Math.max(0, found.curve.frequency.findIndex((f) => f >= last.at))]! : 0;
  const turns = 360 * Math.ceil(near / 360);
  return ok({ ...found, curve: { ...found.curve, phase: found.curve.phase.map((p) => p - turns) } });
}

/** dB that the loop gain has at least up to a frequency (Hz), and where. */
function lowGain({ frequency, gain }: BodeCurve, upTo: number, at: (f: number) => Complex): { gain: number; at: number } {
  const read = (f: number): number => decibels(size(at(f)));
  const below = frequency.flatMap((f, i) => (f < upTo ? [{ f, gain: gain[i]! }] : []));
  const all = [...below, { f: upTo, gain: read(upTo) }];
  const { at: where, value } = leastAlong(all.map((x) => x.f), all.map((x) => x.gain), read);
  return { gain: value, at: where };
}

/** What of a compensator crosses to screens and files. */
function cornersOf(d: Design, stage: SettledStage, asked: LoopAsked, compensator: Compensator, innermost: boolean): CompensatorFigures {
  const { placed, wanted, built, network, short } = compensator;
  const sampled = sampledFigures(d, stage, asked, compensator, innermost);
  return { placed, wanted, built, network, ...(short ? { short } : {}), ...(sampled ? { sampled } : {}) };
}

/** The loop inside, as it is placed: what the outer one commands stands still. */
function innerLoop(d: Design, stage: SettledStage, asked: LoopAsked, compensator: Compensator, gain: number, withCurves: boolean): { figures: Omit<InnerLoopFigures, 'apart' | 'follows'>; curve?: BodeCurve } {
  const plantAt = whenAsked(() => plantOf(d, stage, [], asked.sensed));
  const product = (f: readonly number[]): Complex[] => plantAt(f).map((v, i) => times(v, times(controllerAt(compensator.controller, f[i]!), modulatorAt(d.control, f[i]!))));
  const { curve, read } = readLoop(d, stage, closeStage(stage, loopsAround(d, stage, [{ controller: compensator.controller, sensed: asked.sensed }])), product, withCurves);
  return {
    figures: { ...read, ...cornersOf(d, stage, asked, compensator, true), title: asked.title, senseGain: gain, asked: { crossover: asked.control.crossover, phaseMargin: asked.control.phaseMargin } },
    ...(withCurves ? { curve } : {}),
  };
}
