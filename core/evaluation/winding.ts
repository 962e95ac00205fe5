import type { Design } from '../design/schema';
import { overCores, overTurns, woundAs, type Choice, type WindingDuty, type Wound } from '../magnetics/wind';
import { inductanceAt } from '../magnetics/gap';
import { gapped } from '../magnetics/wind';
import { factorAt } from '../magnetics/window';
import type { Core, Goods, Material, Wire } from '../parts/goods';
import type { InductorPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { logSpaced } from '../response/system';
import type { OperatingPoint } from '../topology';
import { evaluateStage, warmedAt } from './evaluate';
import { spectrumOf, windingVoltages } from './partStates';

/** How an inductor of a design is wound, what that costs, and what would do better. */

/** What an inductor has to do at a point, its largest current that of all corners. */
export function windingDuty(d: Design, slot: string, point: OperatingPoint, corners: readonly OperatingPoint[]): Result<WindingDuty> {
  if (d.parts[slot]?.kind !== 'inductor') return fail('part', slot, 'it is no inductor', 'choose one on the power path');
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const { warm, standing } = found.value;
  const { stage } = warm;
  if (stage.roles.parts[slot]!.core) return fail('part', slot, 'it stands on the core of another inductor', 'look at that one');
  const peaks = [point, ...corners].map((at) => evaluateStage(d, at)).flatMap((f) => (f.ok ? [f.value.duties[slot]!.peak] : []));
  return ok({
    inductance: standing.bill.sizing.values[slot]!.taken,
    rms: warm.duties[slot]!.rms,
    spectrum: spectrumOf(stage, slot),
    frequency: stage.cycle.free ? 1 / stage.cycle.period : d.brief.frequency,
    voltages: windingVoltages(stage, slot),
    peak: Math.max(...peaks),
    air: point.air,
  });
}

/** What a part says of its winding, as a choice; undefined where it says nothing. */
export function choiceOf(part: InductorPart): Choice | undefined {
  const { winding: w } = part;
  if (!w) return undefined;
  return {
    core: { part: part.part, coreArea: part.coreArea, coreVolume: part.coreVolume, windowWidth: w.windowWidth, windowHeight: w.windowHeight, turnLength: w.turnLength, thermalResistance: part.thermalResistance, height: part.height ?? 1e-3 },
    material: { part: '', permeability: w.permeability, maxFluxDensity: part.maxFluxDensity, steinmetz: part.steinmetz },
    wire: { diameter: w.diameter, strands: w.strands, outerDiameter: w.outerDiameter },
    turns: part.turns,
    parallel: w.parallel,
    gaps: w.gaps,
  };
}

export interface WindingStudy {
  duty: WindingDuty;
  /** As it is wound; undefined where the part does not say */
  now?: Wound;
  /** Resistance over that at dc, over the frequency; and inductance over the current */
  factors: { frequency: number; factor: number }[];
  falls: { current: number; inductance: number }[];
  /** Other turns on the same core, the gap following and the best wire for each */
  turns: Wound[];
  /** The best winding of each core that serves, from the smallest on */
  cores: Wound[];
}

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
  const duty = asked.value;
  const of = <K extends Goods['kind']>(kind: K): Extract<Goods, { kind: K }>[] => goods.filter((g): g is Extract<Goods, { kind: K }> => g.kind === kind);
  const [cores, materials, wires]: [Core[], Material[], Wire[]] = [of('core'), of('material'), of('wire')];
  const part = d.parts[slot] as InductorPart;
  const own = choiceOf(part);
  const limit = Math.min(part.maxTemperature, d.requirements.winding.limit);
  // What is not wound yet is shown on the smallest core that serves.
  const best = overCores(cores, materials, wires, duty, limit);
  const now = own && woundAs(own, duty);
  const shown = now ?? best[0];
  return ok({
    duty,
    ...(now ? { now } : {}),
    factors: shown ? logSpaced(1e3, 10e6, POINTS).map((frequency) => ({ frequency, factor: factorAt(shown.core, shown.wire, shown.turns, shown.parallel, frequency, shown.temperature) })) : [],
    falls: shown?.gap !== undefined ? Array.from({ length: POINTS }, (_, k) => (BEYOND * duty.peak * k) / (POINTS - 1)).map((current) => ({ current, inductance: inductanceAt(gapped(shown), shown.turns, shown.gap!, current) })) : [],
    turns: shown ? overTurns({ core: shown.core, material: shown.material, gaps: shown.gaps }, wires, duty) : [],
    cores: best,
  });
}
