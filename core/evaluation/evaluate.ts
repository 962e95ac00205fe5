import { fluxDensity } from '../magnetics/flux';
import { sample } from '../orbit/sample';
import { ok, type Problem, type Result } from '../problem';
import { copiesOf, type OperatingPoint, type Slot, type Sizing, type Topology } from '../topology';
import { DIVIDER, dividerLoss, dividerWorking } from './divider';
import type { Figures, PartLoss, StageFigures, Stress } from './figures';
import { coldStage, lossWorkings, warmStage, type WarmStage } from './heat';
import { compareMeasured } from './measured';
import { heldLoop } from './heldLoop';
import { loopFigures, type Looped } from './loop';
import type { PlaceId } from './places';
import { recent } from '../recent';
import { billOf, type Bill } from './bill';
import { compensatorsOf, withoutCorners } from './compensator';
import type { Design } from '../design/schema';
import { isDiscontinuous } from '../converter/conduction';
import { esrOf } from '../converter/fragment';
import type { CapacitorPart } from '../parts/schema';
import { crestOf } from '../surroundings/mains';
import type { Network } from '../control';
import { outputPower, powerBalance } from '../converter/power';
import type { PartStress } from '../converter/stresses';
import { quantityOf } from '../converter/measures';
import { largestMultiplier } from './settleStage';
import { atLightLoad, type LightLoad } from '../design/conduction';
import { mainsCurves, mainsFigures } from './mainsFigures';
import { POST, postFigures, postNode } from './postRegulator';
import { standAt, type Standing } from './standing';
import { loopWorkings } from './workings';

/** The values that the brief wants and the ones taken, with their workings. Needs no operating point. */
export const sizeDesign = (d: Design): Sizing => billOf(d).sizing;

/** How the conduction wanted at the smallest load is met, with the ripple share that was taken for it; undefined where none is wanted. */
export function lightLoadOf(d: Design): { wanted: NonNullable<Design['brief']['lightLoad']>; share: number; fails: LightLoad[] } | undefined {
  const wanted = d.brief.lightLoad;
  if (wanted === undefined) return undefined;
  const { topology, input } = billOf(d);
  return { wanted, share: input.brief.rippleShare, fails: atLightLoad(topology, input).filter((l) => l.mode !== wanted) };
}

export interface Extent {
  /** Also compute what is only drawn or explained: waveforms, Bode curves, workings, power balance. */
  detail?: boolean;
  /** Where its loop is read besides, broken at another place; with detail */
  place?: PlaceId;
  /** In the place of the design's own: with values or parts changed since it was sized */
  bill?: Bill;
  /** °C by slot that its temperatures are looked for from: those of a design that differs little */
  from?: (slot: string) => number;
  /** Factors that parts of the outermost loop's network are off by, by their ids */
  network?: Readonly<Record<string, number>>;
}

/**
 * Everything known of a design at an operating point. Every screen, command, report and test shows
 * figures from here and from nowhere else.
 *
 * @param d a checked design
 * @param point line in V, load in A, air in °C
 * @returns the figures; where only the loop can not be placed or built ("boost", "network"), or heat and resistance drive
 *   each other up ("runaway": then those of the cold stage), the rest of them, with the reason in `problems`. Problems
 *   "range" (a point that makes no sense), "duty-limit" and those of settling, with the field or part they belong to
 */
export function evaluate(d: Design, point: OperatingPoint, extent: Extent = {}): Result<Figures> {
  const settled = extent.from ? warmed(d, point, extent.bill ?? billOf(d), extent.from) : warmedAt(d, point, extent.bill);
  if (!settled.ok) return settled;
  const { standing, warm } = settled.value;
  const { topology } = standing.bill;
  const { stage } = warm;
  const looped = standing.bill.drive.held ? heldLoop(d, standing, stage, warm.mains!.level, extent.detail === true, extent.network) : loopFigures(d, standing, stage, extent.detail === true, extent.place, extent.network);
  const { loop, curves, step, lineStep, referenceStep } = looped.ok ? looped.value : ({} as Partial<Looped>);
  const bare = stageOf(d, point, settled.value, loop && dividerLoss(d, loop.network));
  const figures: Figures = { ...bare, ...(loop ? { loop } : {}), problems: { ...bare.problems, ...(looped.ok ? {} : { loop: looped.problem }) } };
  if (!extent.detail) return ok(figures);
  figures.detail = {
    waves: { ids: topology.signals.map((s) => s.id), units: topology.signals.map((s) => s.unit), ...sample(stage.cycle, topology.signals.map((s) => quantityOf(s.of, stage.roles))) },
    ...(warm.mains ? { mains: mainsCurves(standing, warm) } : {}),
    ...(curves ? { bode: curves } : {}),
    ...(curves && d.measured?.length ? { measured: d.measured.map((m) => compareMeasured(d, curves, m)) } : {}),
    ...(step ? { step: { time: step.time, value: step.value } } : {}),
    ...(lineStep ? { lineStep: { time: lineStep.time, value: lineStep.value } } : {}),
    ...(referenceStep ? { referenceStep: { time: referenceStep.time, value: referenceStep.value } } : {}),
    balance: powerBalance(stage.circuit, stage.roles, stage.cycleIntegrals),
    workings: { ...lossWorkings(topology, warm, standing.mains?.seen), ...(loop ? dividerWorking(d, loop.network) : {}), ...loopWorkings(d, figures) },
  };
  return ok(figures);
}

/**
 * What is known of the power stage alone: the same figures without the loop, there also where no compensator can be
 * placed. The loss of its divider is not among them then.
 */
export function evaluateStage(d: Design, point: OperatingPoint): Result<StageFigures> {
  const settled = warmedAt(d, point);
  return settled.ok ? ok(stageOf(d, point, settled.value)) : settled;
}

/** The divider of a design's output as it is placed; undefined where it can not be. */
export const dividerOf = (d: Design): Network['divider'] | undefined => {
  const placed = compensatorsOf(d);
  return placed.ok ? placed.value.at(-1)!.network.divider : undefined;
};

/**
 * Losses and heat at a point, the divider's too, without what the loop does there: for maps, where that is most of the work.
 * @param divider that of the design where left out
 */
export function evaluateLosses(d: Design, point: OperatingPoint, divider = dividerOf(d)): Result<StageFigures> {
  const settled = warmedAt(d, point);
  return settled.ok ? ok(stageOf(d, point, settled.value, divider ? dividerLoss(d, { divider }) : 0)) : settled;
}

/** What controller and drivers take for themselves, as it stands among the losses. */
export const CONTROL = 'control';

/** What is known of a stage that stands warm at a point. */
export interface Warmed {
  standing: Standing;
  warm: WarmStage;
  /** Why it is the cold stage after all */
  runaway?: Problem;
}

/** Power stages that were warmed of late, by all that they depend on: a corner of a compensator is none of it. */
const warmedOfLate = recent<string, Result<Warmed>>(4);

export const warmedAt = (d: Design, point: OperatingPoint, bill?: Bill): Result<Warmed> =>
  bill ? warmed(d, point, bill) : warmedOfLate(JSON.stringify([withoutCorners(d), point]), () => warmed(d, point, billOf(d)));

function warmed(d: Design, point: OperatingPoint, bill: Bill, from?: (slot: string) => number): Result<Warmed> {
  const standing = standAt(bill, point);
  if (!standing.ok) return standing;
  const warm = warmStage(standing.value, d, from);
  if (warm.ok) return ok({ standing: standing.value, warm: warm.value });
  // Where heat runs away there is still the stage as it is in the first moment.
  if (warm.problem.code !== 'runaway') return warm;
  const cold = coldStage(standing.value);
  // What burns without bound even then has no figures at all.
  const bounded = cold.ok && cold.value.losses.every((l) => Number.isFinite(l.total));
  return bounded ? ok({ standing: standing.value, warm: cold.value, runaway: warm.problem }) : warm;
}

function stageOf(d: Design, point: OperatingPoint, { standing, warm, runaway }: Warmed, divider = 0): StageFigures {
  const { topology: t, input, sizing } = standing.bill;
  const { stage } = warm;
  const signals = Object.fromEntries(t.signals.map((s) => [s.id, { ...stage.measure(s.of) }]));
  const aside = (id: string, mechanism: string, watts: number): PartLoss[] => (watts > 0 ? [{ id, mechanisms: { [mechanism]: watts }, total: watts, temperature: standing.air }] : []);
  const post = postFigures(d, stage, standing.load, standing.air);
  const parts = [...warm.losses, ...(post ? aside(POST, 'pass', post.watts) : []), ...aside(DIVIDER, 'divider', divider), ...aside(CONTROL, 'supply', input.drive.supplyPower ?? 0)];
  const total = parts.reduce((sum, l) => sum + l.total, 0);
  // What a regulator behind it burns of what the converter gives is lost.
  const output = outputPower(stage.circuit, stage.roles, stage.measure, stage.cycleIntegrals) - (post ? (stage.measure({ output: 0 }).mean - post.voltage) * standing.load : 0);
  return {
    point,
    sizing,
    cycle: {
      duty: stage.duty,
      conduction: isDiscontinuous(stage.cycle, stage.roles.conduction) ? 'discontinuous' : 'continuous',
      period: stage.cycle.period,
      rippleShare: Math.max(0, ...mainMagnetics(t).map((p) => warm.duties[p.id]!.peakToPeak)) / sizing.inductorCurrent,
      closure: stage.cycle.closure,
      multiplier: largestMultiplier(stage.cycle),
      signals,
      outputRipple: warm.mains ? warm.mains.output.peakToPeak : signals.output!.peakToPeak,
      start: Array.from(stage.cycle.intervals[0]!.z0.subarray(0, stage.cycle.states)),
    },
    ...(warm.mains ? { mains: mainsFigures(warm.mains, standing.mains!.seen, heldUp(standing, warm.stage), t.mains!.charges ? inrushOf(standing, warm.stage) : undefined) } : {}),
    losses: { output, total, input: output + total, efficiency: output / (output + total), parts },
    heat: { rungs: runaway ? [] : [...warm.rungs, ...(post ? [postNode(post, standing.air)] : [])], iterations: warm.iterations },
    ...(post ? { post } : {}),
    problems: runaway ? { heat: runaway } : {},
    duties: warm.duties,
    stresses: stressesOf(input.parts, t, sizing, warm.duties),
  };
}

/** What feeds the load of a point once the mains is gone. A string of diodes, or a motor, is taken as a constant current. */
function heldUp({ bill: { input, sizing }, load }: Standing, { roles }: WarmStage['stage']): Parameters<typeof mainsFigures>[2] {
  const { output: { voltage }, loadKind = 'resistance', holdUpTo = HELD_TO * input.brief.output.voltage } = input.brief;
  return { capacitance: sizing.values[roles.mains!.reservoir]!.taken, voltage, at: voltage, to: holdUpTo, load, kind: loadKind === 'resistance' || loadKind === 'constant-power' ? loadKind : 'constant-current' };
}

/** What lies between the mains and an empty reservoir while the gates are still: windings, the rectifier, the reservoir itself. */
function inrushOf({ bill: { input, sizing, topology } }: Standing, { roles, resistance }: WarmStage['stage']): Parameters<typeof mainsFigures>[3] {
  const { reservoir } = roles.mains!;
  const alike = (slot: string): number => copiesOf(topology.slots.find((p) => p.id === slot)!);
  const coils = topology.slots.filter((p) => p.kind === 'inductor').map((p) => p.id);
  const part = input.parts[reservoir] as CapacitorPart;
  const taken = sizing.values[reservoir]!.taken;
  return {
    volts: crestOf(input.brief.line.max),
    inductance: coils.reduce((sum, id) => sum + sizing.values[id]!.taken / alike(id), 0),
    resistance: coils.reduce((sum, id) => sum + resistance(id) / alike(id), 0) + (topology.mains!.conducting ?? 2) * resistance(topology.mains!.rectifier) + esrOf(part, taken) + (input.brief.inrushResistance ?? 0),
    capacitance: taken,
  };
}

/** Share of the output that it may sink to, where nothing is said */
const HELD_TO = 0.8;

/** The inductors, or the transformer that stores in their stead. */
function mainMagnetics(t: Topology): readonly Slot[] {
  const inductors = t.slots.filter((p) => p.kind === 'inductor');
  return inductors.length > 0 ? inductors : t.slots.filter((p) => p.kind === 'transformer');
}

/** Each part's electrical stress against its rating. */
function stressesOf(parts: Design['parts'], t: Topology, sizing: Sizing, duties: Record<string, PartStress>): Stress[] {
  const out: Stress[] = [];
  for (const { id, core } of t.slots) {
    const part = parts[id]!;
    const duty = duties[id]!;
    const push = (key: string, title: string, unit: Stress['unit'], value: number, rating: number): void => {
      out.push({ slot: id, id: `${id}/${key}`, title, unit, value, rating });
    };
    if (part.kind === 'switch' || part.kind === 'diode') push('voltage', 'blocked voltage', 'V', duty.voltage, part.blockingVoltage);
    // Windings on one core: their currents peak together, where the switch opens.
    const other = t.slots.find((p) => p.core?.slot === id);
    const amps = duty.peak + (other ? other.core!.k * duties[other.id]!.peak : 0);
    if (part.kind === 'inductor' && !core) push('flux', 'flux density', 'T', fluxDensity(part, sizing.values[id]!.taken, amps), part.maxFluxDensity);
    if (part.kind === 'transformer')
      push('flux', 'flux density', 'T', fluxDensity({ turns: sizing.values[`${id} primary`]!.taken, coreArea: part.coreArea }, sizing.values[id]!.taken, duty.peak), part.maxFluxDensity);
    if (part.kind === 'capacitor') {
      push('voltage', 'voltage', 'V', duty.voltage, part.ratedVoltage);
      push('current', 'ripple current', 'A', duty.rms, part.ratedCurrent * sizing.values[id]!.count!);
    }
  }
  return out;
}
