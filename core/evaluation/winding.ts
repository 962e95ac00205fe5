import { warmestOf } from '../design/limits';
import type { Design } from '../design/schema';
import { inductanceAt } from '../magnetics/gap';
import { gapped, overCores, overTurns, serves, woundAs, type Choice, type WindingDuty, type Wound } from '../magnetics/wind';
import { factorAt, lay, resistanceOf } from '../magnetics/window';
import type { Core, Goods, Material, Wire } from '../parts/goods';
import type { InductorPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { logSpaced } from '../response/system';
import type { OperatingPoint } from '../topology';
import { evaluateStage, warmedAt } from './evaluate';
import { switchedAt, windingVoltages } from './partStates';
import { spectrumOf } from './windings';

/** How an inductor of a design is wound, what that costs, and what would do better. */

/** What an inductor has to do at a point, and where it is hottest, with the largest current of all corners in both. */
export function windingDuty(d: Design, slot: string, point: OperatingPoint, corners: readonly OperatingPoint[]): Result<{ here: WindingDuty; worst: WindingDuty }> {
  if (d.parts[slot]?.kind !== 'inductor') return fail('part', slot, 'it is no inductor', 'choose one on the power path');
  const all = [point, ...corners].flatMap((at) => {
    const found = evaluateStage(d, at);
    return found.ok ? [{ at, ...found.value.duties[slot]! }] : [];
  });
  const peak = Math.max(...all.map((a) => a.peak));
  // What heats it most is the largest current, in the warmest air that it has it in.
  const worst = all.reduce((a, b) => (b.rms > a.rms * (1 + 1e-3) || (b.rms > a.rms * (1 - 1e-3) && b.at.air > a.at.air) ? b : a), all[0] ?? { at: point, rms: 0 });
  const dutyAt = (at: OperatingPoint): Result<WindingDuty> => {
    const found = warmedAt(d, at);
    if (!found.ok) return found;
    const { warm, standing } = found.value;
    const { stage } = warm;
    if (stage.roles.parts[slot]!.core) return fail('part', slot, 'it stands on the core of another inductor', 'look at that one');
    return ok({
      inductance: standing.bill.sizing.values[slot]!.taken,
      rms: warm.duties[slot]!.rms,
      spectrum: spectrumOf(stage, slot),
      frequency: switchedAt(stage, d.brief.frequency),
      voltages: windingVoltages(stage, slot),
      peak,
      air: at.air,
    });
  };
  const here = dutyAt(point);
  if (!here.ok) return here;
  const there = dutyAt(worst.at);
  return there.ok ? ok({ here: here.value, worst: there.value }) : there;
}

/** What a part says of its winding, as a choice; undefined where it says nothing. */
export function choiceOf(part: InductorPart): Choice | undefined {
  const { winding: w } = part;
  if (!w) return undefined;
  return {
    core: { part: part.part, coreArea: part.coreArea, coreVolume: part.coreVolume, windowWidth: w.windowWidth, windowHeight: w.windowHeight, turnLength: w.turnLength, thermalResistance: part.thermalResistance, height: part.height ?? 1e-3 },
    material: { part: '', permeability: w.permeability, maxFluxDensity: part.maxFluxDensity, steinmetz: part.steinmetz },
    wire: { diameter: w.diameter, strands: w.strands, outerDiameter: w.outerDiameter, width: w.width },
    turns: part.turns,
    parallel: w.parallel,
    gaps: w.gaps,
  };
}

/** A winding at the point that is looked at, and °C of it where it is hottest. */
export interface Judged extends Wound {
  hottest: number;
  /** Not too full, not too warm anywhere, and there is a gap for it and room */
  serves: boolean;
}

export interface WindingStudy {
  duty: WindingDuty;
  /** As it is wound; undefined where the part does not say */
  now?: Judged;
  /** As it may be wound, where the part does not say: on its own core where that is on the shelf, with a wire of its resistance */
  likely?: Judged;
  /** Resistance over that at dc, over the frequency; and inductance over the current */
  factors: { frequency: number; factor: number }[];
  falls: { current: number; inductance: number }[];
  /** Other turns on the same core, the gap following and the best wire for each */
  turns: Judged[];
  /** The best winding of each core that serves at every corner, from the smallest on */
  cores: Judged[];
}

/** The core, material and wire of the shelf that come nearest to what a part says of itself. */
function likelyChoice(part: InductorPart, cores: readonly Core[], materials: readonly Material[], wires: readonly Wire[]): Choice | undefined {
  const off = (a: number, b: number): number => Math.abs(Math.log(a / b));
  const core = cores.find((c) => off(c.coreArea, part.coreArea) < NEAR && off(c.coreVolume, part.coreVolume) < NEAR);
  if (!core) return undefined;
  const [material] = materials.toSorted((a, b) => off(a.steinmetz.k, part.steinmetz.k) + off(a.maxFluxDensity, part.maxFluxDensity) - off(b.steinmetz.k, part.steinmetz.k) - off(b.maxFluxDensity, part.maxFluxDensity));
  if (!material) return undefined;
  const ways = wires.flatMap((wire) => [1, 2, 3, 4, 5, 6].map((parallel) => ({ wire, parallel }))).filter((w) => lay(core, w.wire, part.turns, w.parallel).fits);
  const [way] = ways.toSorted((a, b) => off(resistanceOf(core, a.wire, part.turns, a.parallel), part.resistance) - off(resistanceOf(core, b.wire, part.turns, b.parallel), part.resistance));
  return way && { core, material, turns: part.turns, gaps: 1, ...way };
}

/** Difference of logarithms within which two cores are one */
const NEAR = 0.05;

/** Points of its curves, and times the largest current that the inductance is shown to */
const [POINTS, BEYOND] = [60, 1.6];

/**
 * All that is said of an inductor's winding.
 * @param goods cores, materials and wires to choose from @param corners where its current is looked at
 * @returns problems of the point, "part" where it is no inductor of its own
 */
export function windingStudy(d: Design, slot: string, point: OperatingPoint, goods: readonly Goods[], corners: readonly OperatingPoint[]): Result<WindingStudy> {
  const asked = windingDuty(d, slot, point, corners);
  if (!asked.ok) return asked;
  const { here: duty, worst } = asked.value;
  const of = <K extends Goods['kind']>(kind: K): Extract<Goods, { kind: K }>[] => goods.filter((g): g is Extract<Goods, { kind: K }> => g.kind === kind);
  const [cores, materials, wires]: [Core[], Material[], Wire[]] = [of('core'), of('material'), of('wire')];
  const part = d.parts[slot] as InductorPart;
  const limit = warmestOf(d, 'winding', part.maxTemperature);
  const judged = (c: Choice): Judged => {
    const there = woundAs(c, worst);
    return { ...woundAs(c, duty), hottest: there.temperature, serves: serves(there, limit) };
  };
  const own = choiceOf(part);
  const guess = own ? undefined : likelyChoice(part, cores, materials, wires);
  const best = overCores(cores, materials, wires, worst, limit).map(judged);
  const now = own && judged(own);
  const likely = own ? undefined : guess ? judged(guess) : best[0];
  const shown = now ?? likely;
  return ok({
    duty,
    ...(now ? { now } : {}),
    ...(likely ? { likely } : {}),
    factors: shown ? logSpaced(1e3, 10e6, POINTS).map((frequency) => ({ frequency, factor: factorAt(shown.core, shown.wire, shown.turns, shown.parallel, frequency, shown.temperature) })) : [],
    falls: shown?.gap !== undefined ? Array.from({ length: POINTS }, (_, k) => (BEYOND * duty.peak * k) / (POINTS - 1)).map((current) => ({ current, inductance: inductanceAt(gapped(shown), shown.turns, shown.gap!, current) })) : [],
    turns: shown ? overTurns({ core: shown.core, material: shown.material, gaps: shown.gaps }, wires, duty).map(judged) : [],
    cores: best,
  });
}
