import { controllerAt } from '../control/controller';
import { crossoverOf, placeMainsLoop, throughLoop } from '../control/mainsLoop';
import { heldCommand } from '../control/held';
import { editDesign } from '../design/edit';
import type { Design } from '../design/schema';
import { decibels, size } from '../linear/complex';
import { fail, ok, type Result } from '../problem';
import type { UnitName } from '../quantity';
import { stepFigures } from '../response/step';
import { voltageLoop } from '../response/voltageLoop';
import { crestOf } from '../surroundings/mains';
import type { OperatingPoint } from '../topology';
import { billOf } from './bill';
import { compensatorsOf, loopsAsked, placementPoint, plantOf, modulatorAt } from './compensator';
import { evaluate } from './evaluate';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/**
 * A cascade on the mains tuned as it is done on the bench: stand still at an angle, see the plant of the current exactly and place its loop
 * as fast as its margins allow; then the plant of the output on the closed current, and its loop so slow, with a notch, that it leaves the current a sine.
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18; Leonhard, "Control of Electrical Drives", ch. 7 (the inner loop first).
 */

/** A figure of a step, with its unit. */
export interface TuningFigure {
  value: number;
  unit: UnitName;
}

export interface TuningStep {
  title: string;
  figures: TuningFigure[];
  /** What is done or seen there, in a sentence */
  note: string;
}

export interface Tuning {
  /** What it changes of the design, by path */
  changes: Record<string, number | string | boolean | null>;
  steps: TuningStep[];
}

/** Crossovers that are tried, as shares of the switching frequency, fastest first; what margins have to spare */
const SHARES = [1 / 9, 1 / 11, 1 / 13, 1 / 16, 1 / 20, 1 / 25, 1 / 32, 1 / 40];
const SPARE = 4;
/** Margin of the voltage loop, and quality of its notch */
const [CALM, NOTCH] = [60, 1];
/** Step of the reference that is looked at, as a share of the output */
const STEP = 0.05;

/** A share of the switching frequency in a number that is easily said. */
const plain = (hertz: number): number => Number(hertz.toPrecision(2));

/**
 * What of a design's control makes it draw a sine, and how that came about, step by step.
 * @param point where it stands; the crest of the mains where it says no angle
 * @returns problems "range" on a dc line, "margins" where no crossover has the margins that are required, and those of settling
 */
export function tuneMains(d: Design, point: OperatingPoint): Result<Tuning> {
  const { brief, control, requirements } = d;
  const mains = brief.line.mains;
  if (mains === undefined) return fail('range', 'brief.line', 'this line is dc: there is no cascade on the mains to tune', 'give it a mains frequency');
  if (heldCommand(control)) return fail('range', 'control.method', 'its command is held over the mains: there is no loop of the current to place', 'place the one loop there is a fifth as fast as the mains, or take voltage mode');
  const sampled = control.sampled !== 'none';
  const margin = Math.max(30, requirements.phaseMargin.limit + SPARE);
  const common: Tuning['changes'] = { ...(sampled ? { 'control.carrier': 'double', 'control.sampleAt': 0.5 } : {}), 'control.feedForward': 1, 'control.outerCrossover': null, 'control.outerPhaseMargin': CALM, 'control.notchQuality': NOTCH, ...nothingBy(d) };
  const made = SHARES.flatMap((share) => {
    const changes = { ...common, 'control.crossover': plain(share * brief.frequency), 'control.phaseMargin': margin };
    const edited = editDesign(d, changes);
    if (!edited.ok) return [];
    const placed = compensatorsOf(edited.value);
    return placed.ok && !placed.value.at(-1)!.short ? [{ changes, design: edited.value, slowGain: size(controllerAt(placed.value.at(-1)!.controller, 2 * mains)) }] : [];
  });
  // The one that follows best what is slow, of those that hold the margins at both ends of the line.
  for (const one of made.toSorted((a, b) => b.slowGain - a.slowGain)) {
    const ends = [brief.line.min, brief.line.max].map((line) => evaluate(one.design, { ...point, line, load: brief.load.max }));
    const good = ends.every((f) => f.ok && f.value.loop?.stable === true && f.value.loop.phaseMargin >= requirements.phaseMargin.limit && f.value.loop.gainMargin >= requirements.gainMargin.limit);
    if (good) return stepsOf(d, one.design, one.changes, point, mains);
  }
  return fail('margins', 'control.crossover', `no crossover from ${plain(SHARES.at(-1)! * brief.frequency)} to ${plain(SHARES[0]! * brief.frequency)} Hz has the margins that are required, at both ends of the line`, 'compute in less time, damp what stands before it, or ask for less margin');
}

/** Corners that were overridden are placed again. */
const nothingBy = ({ control }: Design): Record<string, null> => Object.fromEntries(['integrator', 'zero1', 'zero2', 'pole1', 'pole2'].filter((key) => control[key] !== null && control[key] !== undefined).map((key) => [`control.${key}`, null]));

function stepsOf(before: Design, d: Design, changes: Tuning['changes'], point: OperatingPoint, mains: number): Result<Tuning> {
  const bill = billOf(d);
  const standing = standAt(bill, placementPoint(d));
  if (!standing.ok) return standing;
  const along = standing.value.mains!;
  const stage = settleStage(bill, along.at(Math.PI / 2, along.level()), () => point.air);
  if (!stage.ok) return stage;
  const [asked] = loopsAsked(bill, stage.value.roles, d);
  const plant = plantOf(d, stage.value, [], asked!.sensed);
  if (!plant.ok) return plant;
  const figures = evaluate(d, { ...placementPoint(d), air: point.air });
  if (!figures.ok) return figures;
  const loop = figures.value.loop;
  if (!loop) return { ok: false, problem: figures.value.problems.loop! };
  const crossover = d.control.crossover;
  const at = plant.value([crossover])[0]!;
  const reservoir = bill.sizing.values[stage.value.roles.mains!.reservoir]!.taken;
  const { load, output, line } = d.brief;
  const outer = placeMainsLoop(d.control, mains, reservoir);
  const slow = voltageLoop(outer, reservoir, output.voltage / load.max);
  const reference = stepFigures(slow.closed, 1, STEP * output.voltage, true, slow.crossover);
  const over = reference.deviation / (STEP * output.voltage) - 1;
  const crossing = crossoverOf(d.control, mains);
  const third = thirdOf(before, reservoir, mains);
  return ok({
    changes,
    steps: [
      { title: 'stand at the crest', figures: [{ value: crestOf(placementPoint(d).line), unit: 'V' }, { value: along.level(), unit: 'A' }], note: `a dc line of as many volts, at ${load.max} A of load: the mains stands still within a switching period` },
      { title: 'plant of the current', figures: [{ value: decibels(size(at) * size(modulatorAt(d.control, crossover))), unit: 'dB' }], note: 'exact, at the wanted crossover: from the command to the current that is sensed' },
      { title: 'place its loop', figures: [{ value: loop.crossover, unit: 'Hz' }, { value: loop.phaseMargin, unit: '°' }], note: 'the fastest of some crossovers that follow what is slow, with the margins that are required left over at both ends of the line' },
      { title: 'feed the duty forward', figures: [{ value: d.control.feedForward as number, unit: '%' }], note: '1 − v / Vout of the line comes at once: the current loop does what is left' },
      { title: 'plant of the output', figures: [{ value: 1 / (2 * Math.PI * crossing * reservoir), unit: 'Ω' }], note: 'on the closed current: what is fed into the reservoir' },
      { title: 'place the loop around it', figures: [{ value: slow.crossover, unit: 'Hz' }, { value: slow.phaseMargin, unit: '°' }], note: `with a notch at ${2 * mains} Hz, which lets ${(100 * thirdOf(d, reservoir, mains)).toFixed(1)} % of third harmonic through; it was ${(100 * third).toFixed(1)} %` },
      { title: `step the reference by ${STEP * 100} %`, figures: [{ value: over, unit: '%' }], note: 'overshoot of the output, seen slowly' },
      { title: 'back to the mains', figures: [{ value: line.min, unit: 'V' }, { value: line.max, unit: 'V' }], note: 'the whole circuit settled over a cycle of it: power factor and harmonics stand beside this' },
    ],
  });
}

/**
 * Third harmonic that the voltage loop makes of the ripple at twice the mains, as a share of the fundamental: what is drawn follows
 * g (1 + m sin 2θ) sin θ, half of m is third. Source: Erickson, Maksimović, ch. 18.
 */
export function thirdOf({ control, brief }: Design, reservoir: number, mains: number): number {
  const loop = placeMainsLoop(control, mains, reservoir);
  const ripple = brief.load.max / (2 * 2 * Math.PI * mains * reservoir);
  return (throughLoop(loop, 2 * mains) * ripple) / brief.load.max / 2;
}
