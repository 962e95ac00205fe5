import { hottestOf } from '../thermal/network';
import { holdCorners, judge, type Corner } from '../corners/corners';
import type { Design } from '../design/schema';
import { evaluate, evaluateStage, type Figures } from '../evaluation';
import type { Part } from '../parts/schema';
import { ok, type Problem, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { TOPOLOGIES, type OperatingPoint } from '../topology';
import { estimateOf, partCount } from '../choice/candidates';
import { chooseTopology } from '../choice/choose';
import { blank, type Asked, type Taken } from './usual';
import { SINK_RISE, wishesOf, type Wishes } from '../choice/wishes';

/** A design made of nothing but what it is asked for. */
export interface NewDesign {
  design: Design;
  taken: Taken[];
}

/** Times that the parts are chosen anew, with what was learned of the design before. */
const ROUNDS = 10;
/** Rounds without anything gained after which no more are made */
const PATIENCE = 3;

/** Where a new design is held while its parts are being chosen: the ends of line and load. */
const ends = ({ brief: { line, load, air } }: Design): OperatingPoint[] => [line.min, line.max].flatMap((volts) => [load.max, load.min].map((amps) => ({ line: volts, load: amps, air: air.max })));

/**
 * A design of one topology for what is asked. Parts are chosen by the closed forms; then it is settled at the ends of
 * line and load, and where a requirement fails there, chosen anew with more room just for that. What comes nearest is
 * given, whether or not all of it holds.
 * @returns problems as of `chooseTopology`
 */
export function newDesign(asked: Asked, topology: string, shelf: readonly Part[], name = 'New design'): Result<NewDesign> {
  const { design: first, taken } = blank(asked, name);
  let base = first;
  let wishes = wishesOf(first.requirements);
  let stuck = 0;
  let nearest: { design: Design; lack: number } | undefined;
  for (let round = 0; round < ROUNDS; round++) {
    const chosen = chooseTopology(base, topology, shelf, wishes);
    if (!chosen.ok) {
      if (!nearest) return chosen;
      break;
    }
    if (round === 0) {
      const hopeless = beyondEfficiency(chosen.value);
      if (hopeless) return { ok: false, problem: hopeless };
    }
    const design = withSink(chosen.value);
    const held = ends(design).map((point): Held => {
      const figures = evaluate(design, point);
      return { corner: judge(design, point, figures), ...(figures.ok ? { figures: figures.value } : {}) };
    });
    const lack = held.reduce((sum, h) => sum + lackOf(h.corner), 0);
    if (!nearest || lack < nearest.lack) nearest = { design, lack };
    if (lack === 0) break;
    if (nearest.design !== design && ++stuck > PATIENCE) break;
    [base, wishes] = learned({ ...base, control: { ...base.control, crossover: design.control.crossover } }, wishes, held, asked.frequency === undefined);
  }
  return ok({ design: nearest!.design, taken });
}

/** Share by which the closed forms may be too dark */
const DARK = 0.03;

/** Why a power stage can not be as efficient as is asked, by what its parts alone burn in the closed forms. */
function beyondEfficiency(d: Design): Problem | undefined {
  const { limit, on } = d.requirements.efficiency;
  const { output, losses } = estimateOf(d);
  const watts = losses.reduce((sum, l) => sum + l.watts, 0);
  const reached = output / (output + watts);
  if (!on || reached >= limit - DARK) return undefined;
  const most = losses.reduce((a, b) => (b.watts > a.watts ? b : a));
  return { code: 'impossible', where: 'requirements.efficiency.limit', message: `its parts would burn ${print(watts, 'W')} of ${print(output, 'W')}, ${print(most.watts, 'W')} of it in ${most.slot}: ${print(reached, '%')} at most, and ${print(limit, '%')} is asked`, remedy: 'take a topology with less in the way of the current, or ask for less' };
}

/** A point with its verdict, and what it goes by where there are figures. */
interface Held {
  corner: Corner;
  figures?: Figures;
}

/** How far a point is from holding: by shares of the limits, and more than any where it has no figures. */
const lackOf = (c: Corner): number => (c.problem ? NO_FIGURES : c.requirements.reduce((sum, r) => sum + (r.holds ? 0 : Math.min(NO_FIGURES, Math.abs(r.value - r.limit) / Math.abs(r.limit)) + AT_ALL), 0));
/** Failing by next to nothing is failing too. */
const AT_ALL = 0.02;
const NO_FIGURES = 5;

/** A sink that keeps within its rise at full load and the lowest line; none smaller than what is bought as one, or larger than fans cool. */
function withSink(d: Design): Design {
  const { line, load, air } = d.brief;
  const stage = evaluateStage({ ...d, sink: { thermalResistance: COOL } }, { line: line.min, load: load.max, air: air.max });
  if (!stage.ok) return d;
  const watts = stage.value.losses.parts.reduce((sum, p) => sum + (['switch', 'diode'].includes(d.parts[p.id]?.kind ?? '') ? p.total : 0), 0);
  return { ...d, sink: { thermalResistance: Math.min(LARGEST, Math.max(SMALLEST, Number((SINK_RISE / watts).toPrecision(2)))) } };
}
const COOL = 0.1;
const [SMALLEST, LARGEST] = [0.02, 20];

/** What a failing design teaches: the brief and control, and the wishes, for the next. */
function learned(d: Design, wishes: Wishes, held: readonly Held[], free: boolean): [Design, Wishes] {
  const corners = held.map((h) => h.corner);
  const fails = new Map<string, number>();
  for (const c of corners) for (const r of c.requirements) if (!r.holds) fails.set(r.id, Math.max(fails.get(r.id) ?? 0, Math.abs(r.value / r.limit)));
  const problems = corners.flatMap((c) => c.problem ?? []);
  const next = { ...wishes, cooler: { ...wishes.cooler }, harder: { ...wishes.harder } };
  let { crossover, phaseMargin } = d.control;
  let { frequency, rippleShare } = d.brief;
  let { gateResistance } = d.drive;
  const lost = corners.filter((c) => c.loop && c.requirements.some((r) => LOOP.has(r.id) && !r.holds));
  if (problems.some((p) => LOOP.has(p.code))) crossover *= 0.7;
  if (lost.length > 0) {
    // Where the loop is slower than it was placed (light loads), what helps is zeros further down: more lift. Where it is faster, or as fast, a lower crossover.
    const slow = lost.filter((c) => c.loop!.crossover < SLOWER * crossover);
    if (slow.length > 0 && phaseMargin < MOST_MARGIN) phaseMargin = Math.min(MOST_MARGIN, phaseMargin + 8);
    if (slow.length < lost.length || phaseMargin >= MOST_MARGIN) crossover *= 0.7;
  }
  // Continuous at full load and not at the smallest, the plant is two: with a smaller ripple it is one.
  const modes = new Set(held.flatMap((h) => h.figures?.cycle.conduction ?? []));
  const { load, line } = d.brief;
  const one = Math.max(LEAST_RIPPLE, (1.8 * load.min * line.min) / (load.max * line.max));
  if ((lost.length > 0 || fails.has('deviation')) && modes.size > 1 && one < rippleShare) rippleShare = Number(one.toPrecision(2));
  if (fails.has('deviation')) next.deviation *= Math.max(0.4, Math.min(0.87, 0.95 / fails.get('deviation')!));
  if (fails.has('ripple')) next.ripple *= Math.min(0.87, 0.95 / fails.get('ripple')!);
  const hot = new Map<string, number>();
  for (const { id, over } of hotSlots(d, held)) hot.set(id, Math.max(hot.get(id) ?? 0, over));
  for (const p of problems) if (p.code === 'runaway') hot.set(p.where, 20);
  for (const [id, over] of hot) next.cooler[id] = (next.cooler[id] ?? 0) + over + 5;
  for (const c of corners)
    for (const s of c.stresses) if (s.value > s.rating * d.requirements.ratings.limit) next.harder[s.slot] = Math.max(next.harder[s.slot] ?? 1, (wishes.harder[s.slot] ?? 1) * 1.05 * (s.value / s.rating / d.requirements.ratings.limit));
  if (fails.has('efficiency')) {
    if (wishes.by === 'loss' && free) frequency = Number((frequency * 0.7).toPrecision(2));
    // Where the frequency is asked for, edges are what is left: faster gates.
    if (wishes.by === 'loss' && !free) gateResistance = Math.max(LEAST_GATE, Number((gateResistance * 0.6).toPrecision(2)));
    next.by = 'loss';
  }
  if (free && hot.size > 0 && wishes.by === 'loss') frequency = Number((frequency * 0.8).toPrecision(2));
  if (hot.size > 0) next.by = 'loss';
  crossover = Math.min(crossover, frequency / 8);
  return [{ ...d, drive: { ...d.drive, gateResistance }, brief: { ...d.brief, frequency, rippleShare }, control: { ...d.control, crossover, phaseMargin } }, next];
}

/** What says that the loop is to be placed otherwise: requirements, and problems of placing it. */
const LOOP = new Set(['phaseMargin', 'gainMargin', 'boost', 'network']);
/** Share of the crossover that was wanted, below which a loop is called slower than it was placed */
const SLOWER = 0.6;
/** Ω that gate and driver have by themselves */
const LEAST_GATE = 1;
/** Share of the ripple below which the inductor grows without bound */
const LEAST_RIPPLE = 0.08;
/** °: more lift than for that is hardly to be had */
const MOST_MARGIN = 78;

/** Slots whose junctions or windings are hotter than they may be, and by how many K. */
function hotSlots(d: Design, held: readonly Held[]): { id: string; over: number }[] {
  const { junction, winding } = d.requirements;
  return held.flatMap(({ figures }) => (figures?.heat.rungs ?? []).flatMap((r) => {
    const { slot, spot } = r;
    const over = hottestOf(r) - (spot === 'junction' ? junction : spot === 'winding' ? winding : { limit: Infinity }).limit;
    return slot !== undefined && over > 0 ? [{ id: slot, over }] : [];
  }));
}

/** One topology held against what is asked, by its closed forms alone: good to rank by, and quick enough while one types. */
export interface FirstLook {
  id: string;
  title: string;
  refusal?: Problem;
  /** Share of what is drawn that comes out, estimated; and how many parts it takes */
  efficiency?: number;
  partCount?: number;
  /** Its output is negative */
  inverts?: true;
  /** It parts the output from the line, and nobody asks for that */
  unasked?: true;
  /** Parts as the closed forms choose them */
  design?: Design;
}

/** The first look at a topology. @param index below `candidateCount` */
export function firstLook(asked: Asked, index: number, shelf: readonly Part[]): FirstLook {
  const { id, title, inverts, isolated } = TOPOLOGIES[index]!;
  const { design } = blank(asked, 'New design');
  const chosen = chooseTopology(design, id, shelf, wishesOf(design.requirements));
  if (!chosen.ok) return { id, title, refusal: chosen.problem };
  const hopeless = beyondEfficiency(chosen.value);
  if (hopeless) return { id, title, refusal: hopeless };
  const { output, losses } = estimateOf(chosen.value);
  const watts = losses.reduce((sum, l) => sum + l.watts, 0);
  return { id, title, efficiency: output / (output + watts), partCount: partCount(chosen.value), ...(inverts ? { inverts } : {}), ...(isolated && !asked.isolated ? { unasked: true as const } : {}), design: chosen.value };
}

/** Efficiency that a further part has to bring */
const WORTH = 0.01;
/** And what it has to bring to be likelier than one whose output is positive: who wants a negative one takes it */
const NEGATIVE = 0.1;
/** And one with a transformer, where nobody asks for isolation */
const PARTED = 0.04;
const likely = (l: FirstLook): number => l.efficiency! - WORTH * l.partCount! - (l.inverts ? NEGATIVE : 0) - (l.unasked ? PARTED : 0);
/** The likeliest first: by efficiency, less what its parts are worth. */
export const ranked = (looks: readonly FirstLook[]): FirstLook[] =>
  looks.filter((l) => l.refusal === undefined).sort((a, b) => likely(b) - likely(a));

/** How many of the likeliest are made in full before the nearest is taken. */
const TRIED = 3;

/**
 * The design for what is asked, whatever its topology: of the likeliest the first that holds at every corner, or the one
 * that comes nearest. Problem "impossible" of the first topology, where none can serve.
 */
export function bestDesign(asked: Asked, shelf: readonly Part[], name?: string): Result<NewDesign & { holding: number; corners: number }> {
  const looks = TOPOLOGIES.map((_, k) => firstLook(asked, k, shelf));
  let nearest: (NewDesign & { holding: number; corners: number }) | undefined;
  for (const { id } of ranked(looks).slice(0, TRIED)) {
    const made = newDesign(asked, id, shelf, name);
    if (!made.ok) continue;
    const { holding, corners } = holdCorners(made.value.design);
    if (!nearest || holding / corners.length > nearest.holding / nearest.corners) nearest = { ...made.value, holding, corners: corners.length };
    if (holding === corners.length) break;
  }
  return nearest ? ok(nearest) : { ok: false, problem: noneCan(looks) };
}

/** Why no topology serves, by the reason that most of them give. */
function noneCan(looks: readonly FirstLook[]): Problem {
  const reasons = new Map<string, Problem[]>();
  for (const { refusal } of looks) if (refusal) reasons.set(refusal.where, [...(reasons.get(refusal.where) ?? []), refusal]);
  const [most] = [...reasons.values()].sort((a, b) => b.length - a.length);
  const [first] = most!;
  return { ...first!, message: `no power stage here can serve that; ${most!.length} of ${looks.length} for the like of: ${first!.message}` };
}
