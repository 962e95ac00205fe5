import { windowOf } from '../evaluation/windings';
import { lossAt, type Phasor } from '../magnetics/field';
import { coreLoss, fluxDensity, type Core } from '../magnetics/flux';
import { ungapped } from '../magnetics/gap';
import { factorAt } from '../magnetics/window';
import type { CapacitorPart, DiodePart, InductorPart, Part, SwitchPart, TransformerPart } from '../parts/schema';
import { outputEnergy, tableEnergy } from '../parts/switchEnergy';
import { onResistance, slopeResistance, turnResistance, windingResistance } from '../parts/schema';
import type { Drive, Forecast, OperatingPoint, Sizing, SizingInput, Topology } from '../topology';
import { derated } from '../design/derated';
import { PLAIN, SINK_RISE, type Wishes } from './wishes';

/** Parts of a shelf held against a place: what it has to stand there, whether a part does, and how good it is. */

/** The corners of line and load, with the middle of each: where stresses are looked for. */
export const region = ({ brief }: SizingInput): Pick<OperatingPoint, 'line' | 'load'>[] =>
  [brief.line.min, (brief.line.min + brief.line.max) / 2, brief.line.max].flatMap((line) => [brief.load.min, (brief.load.min + brief.load.max) / 2, brief.load.max].map((load) => ({ line, load })));

/** The largest of each figure of a place over the region. */
export interface Need {
  mean: number;
  rms: number;
  peak: number;
  peakToPeak: number;
  /** V at most, of switches, diodes and capacitors */
  voltage: number;
}

/** What each place has to stand over the whole region. */
export function needsOf(t: Topology, input: SizingInput, sizing: Sizing): Record<string, Need> {
  const all = region(input).map((p) => t.forecast(input, sizing, p));
  const most = (id: string, key: 'mean' | 'rms' | 'peak' | 'peakToPeak'): number => Math.max(...all.map((f: Forecast) => Math.abs(f.parts[id]![key])));
  return Object.fromEntries(t.slots.map(({ id }) => [id, { mean: most(id, 'mean'), rms: most(id, 'rms'), peak: most(id, 'peak'), peakToPeak: most(id, 'peakToPeak'), voltage: sizing.blocking[id]?.most ?? 0 }]));
}

/** A part of the shelf held against a place: does it fit, and how good is it (the smaller the better)? */
export interface Suggestion {
  part: Part;
  merit: number;
  /** So many of them stand there */
  pieces: number;
  /** What the merit is */
  unit: 'W' | 'J' | 'm³';
  /** The merit against that of the part that stands there now, where that one fits: what ranks parts leaves out what the others of the stage decide, so it is good to compare by, and no second figure of a loss */
  against?: number;
}

/**
 * Parts of the shelf that fit a place, the best first. Switches and diodes: by the watts they would burn;
 * inductors: the smallest core that neither saturates nor overheats; capacitors: the least energy rating that
 * carries ripple and current.
 */
export function suggest(t: Topology, input: SizingInput, sizing: Sizing, slot: string, shelf: readonly Part[], wishes = PLAIN): Suggestion[] {
  const { kind } = t.slots.find((p) => p.id === slot)!;
  const holds = judgeOf(t, input, sizing, slot, wishes);
  const list = shelf.flatMap((part) => (part.kind === kind ? (holds(part) ?? []) : [])).sort((a, b) => a.merit - b.merit);
  const own = list.find((s) => s.part.part === input.parts[slot]!.part)?.merit;
  return own === undefined ? list : list.map((s) => ({ ...s, against: s.merit / own }));
}

/** The first of them, without holding them all: parts are held in the order of what each has at least, until none can be better. */
export function best(t: Topology, input: SizingInput, sizing: Sizing, slot: string, shelf: readonly Part[], wishes = PLAIN): Suggestion | undefined {
  const { kind } = t.slots.find((p) => p.id === slot)!;
  const holds = judgeOf(t, input, sizing, slot, wishes);
  const list = shelf.flatMap((part, index) => (part.kind === kind ? [{ part, index, least: wishes.by === 'size' ? leastMerit(part) : wishes.by === 'cost' ? costOf(part, 1) : 0 }] : [])).sort((a, b) => a.least - b.least);
  let found: { index: number; suggestion: Suggestion } | undefined;
  for (const { part, index, least } of list) {
    if (found && least > found.suggestion.merit) break;
    const fits = holds(part);
    const suggestion = fits && (wishes.by === 'cost' ? { ...fits, merit: costOf(fits.part, fits.pieces) } : fits);
    if (suggestion && (!found || suggestion.merit < found.suggestion.merit || (suggestion.merit === found.suggestion.merit && index < found.index))) found = { index, suggestion };
  }
  return found?.suggestion;
}

/** Cost of so many of a part, in that of the first class; one whose class is not known is the last to be taken. */
export const costOf = ({ costClass }: Part, pieces: number): number => (costClass === undefined ? NOT_KNOWN : COST_STEP ** (costClass - 1) * pieces);
const [COST_STEP, NOT_KNOWN] = [1.5, 1e12];

/** What the merit of a part is at least, wherever it stands. */
function leastMerit(part: Part): number {
  if (part.kind === 'capacitor') return capacitorSize(part, 1);
  return part.kind === 'inductor' || part.kind === 'transformer' ? part.coreVolume : 0;
}

/** Holds parts against one place: undefined for one that does not fit. */
function judgeOf(t: Topology, input: SizingInput, sizing: Sizing, slot: string, wishes = PLAIN): (part: Part) => Suggestion | undefined {
  const needs = needsOf(t, input, sizing);
  const need = harder(needs[slot]!, wishes.harder[slot] ?? 1);
  const cooler = wishes.cooler[slot] ?? 0;
  return (part) => {
    switch (part.kind) {
      case 'switch':
        return fitsSwitch(part, need, input) ? inParallel(part, need, input, wishes, cooler, (each) => switchLoss(part, each, input.drive, input.brief.frequency)) : undefined;
      case 'diode':
        return part.blockingVoltage * input.allowed.stress >= need.voltage ? inParallel(part, need, input, wishes, cooler, (each) => diodeLoss(part, each, input.brief.frequency)) : undefined;
      case 'inductor':
        return inductorMerit(part, withCore(t, slot, need, needs), input, sizing.values[slot]!.suggested, sizing.duty.max, wishes, cooler);
      case 'capacitor':
        return Array.from({ length: wishes.parallel > 1 ? MOST_SERIES : 1 }, (_, k) => (k === 0 ? part : { ...part, series: k + 1 })).reduce<Suggestion | undefined>((found, some) => found ?? capacitorMerit(t, some, need, input, slot), undefined);
      case 'transformer':
        return transformerMerit(t, part, input, slot, wishes, cooler);
    }
  };
}

const fitsSwitch = (p: SwitchPart, need: Need, input: SizingInput): boolean => p.blockingVoltage * input.allowed.stress >= need.voltage && p.plateauVoltage < 0.8 * input.drive.voltage;

/** W of one switch, warm: conduction, overlap at both edges, output capacitance, gate. */
export function switchLoss(p: SwitchPart, need: Need, drive: Drive, frequency: number): number {
  const overlap = p.switchingCharge * ((drive.turnOffResistance ?? drive.gateResistance) / p.plateauVoltage + drive.gateResistance / (drive.voltage - p.plateauVoltage));
  const at = { volts: need.voltage, amps: need.peak, junction: 100 };
  const measured = p.switchingEnergy && tableEnergy(p, 'on', { ...at, gate: drive.gateResistance })! + tableEnergy(p, 'off', { ...at, gate: drive.turnOffResistance ?? drive.gateResistance })!;
  const edges = (measured ?? 0.5 * need.voltage * need.peak * overlap + outputEnergy(p, need.voltage) / p.count) + p.gateCharge * drive.voltage;
  return need.rms ** 2 * onResistance(p, 100) + frequency * edges;
}

/** W of one diode: drop, slope, and the charge it makes its partner sweep out. */
export const diodeLoss = (p: DiodePart, need: Need, frequency: number): number =>
  need.mean * p.drop + need.rms ** 2 * slopeResistance(p) + frequency * need.voltage * ((p.recoveryCharge * need.peak) / p.recoveryCurrent + 0.5 * p.junctionCapacitance * need.voltage);

/** What a core has to stand for the windings of all on it: the flux of the other's current as well. */
function withCore(t: Topology, slot: string, need: Need, all: Record<string, Need>): Need {
  const second = t.slots.find((p) => p.core && (p.id === slot || p.core.slot === slot));
  if (!second) return need;
  const other = second.id === slot ? second.core!.slot : second.id;
  return { ...need, peak: need.peak + second.core!.k * all[other]!.peak };
}

/** What is asked of a place, with so much more than the closed forms promise. */
const harder = (need: Need, factor: number): Need => (factor === 1 ? need : { mean: need.mean * factor, rms: need.rms * factor, peak: need.peak * factor, peakToPeak: need.peakToPeak, voltage: need.voltage * factor });

/** As many in parallel as keep their junctions cool, or, where watts count, as burn least; undefined where no number does. */
function inParallel(part: SwitchPart | DiodePart, need: Need, input: SizingInput, wishes: Wishes, cooler: number, loss: (each: Need) => number): Suggestion | undefined {
  let found: Suggestion | undefined;
  const most = Math.min(part.maxJunction * 0.9, wishes.junction) - cooler - SPARE;
  for (let count = 1; count <= wishes.parallel; count++) {
    const each = loss({ ...need, mean: need.mean / count, rms: need.rms / count, peak: need.peak / count });
    // Looked through for one place, a part is shown whatever it would burn there.
    const cool = wishes.parallel === 1 || input.brief.air.max + SINK_RISE + each * (part.junctionToCase + part.caseToSink) <= most;
    const merit = wishes.parallel === 1 ? each : count * each * (1 + MORE_JOINTS * (count - 1)) * (1 + FAR_ABOVE * Math.max(0, part.blockingVoltage / (need.voltage / input.allowed.stress) - 2));
    if (cool && (!found || merit < found.merit)) found = { part: wishes.parallel === 1 ? part : { ...part, count }, merit, pieces: count, unit: 'W' };
    if (found && wishes.by !== 'loss') break;
  }
  return found;
}

/** K that are left for what the estimates do not see. */
const SPARE = 10;
/** What a rating far above the one that is wanted costs, as a share of the watts for each time beyond twice it. */
const FAR_ABOVE = 0.15;
/** What each further part in parallel costs, as a share of its watts. */
const MORE_JOINTS = 0.05;

/** Where watts count: those of a core, and what its size is worth, so that not the largest there is wins by a milliwatt. */
const leanMerit = (watts: number, part: { coreVolume: number }): number => watts + part.coreVolume * SPACE;
/** W that a cubic metre of core has to save: a fiftieth of a watt for a cubic centimetre */
const SPACE = 2e4;

/** °C that a winding may reach by these estimates. */
const coolOf = (p: InductorPart | TransformerPart, { winding }: Wishes, cooler: number): number => Math.min(p.maxTemperature * 0.84, winding) - SPARE - cooler;

function inductorMerit(part: InductorPart, need: Need, input: SizingInput, inductance: number, duty: number, wishes: Wishes, cooler: number): Suggestion | undefined {
  if (fluxDensity(part, inductance, need.peak) > part.maxFluxDensity * input.allowed.stress || inductance > (1 + GRADES) * mostInductance(part)) return undefined;
  const core = triangularCoreLoss(part, inductance * need.peakToPeak, duty, input.brief.frequency);
  const watts = inductorCopper(part, need, input.brief.frequency) + core;
  if (!(input.brief.air.max + watts * part.thermalResistance < coolOf(part, wishes, cooler))) return undefined;
  return { part, merit: wishes.by === 'loss' ? leanMerit(watts, part) : part.coreVolume, pieces: 1, unit: 'm³' };
}

/** W of core and copper at the region's corners, warm, against what the winding may reach. */
function transformerMerit(t: Topology, part: TransformerPart, input: SizingInput, slot: string, wishes: Wishes, cooler: number): Suggestion | undefined {
  const own: SizingInput = { ...input, parts: { ...input.parts, [slot]: { ...part, primaryTurns: null, secondaryTurns: null, thirdTurns: null, inductance: null } } };
  const { values } = t.size(own);
  const turns = values[`${slot} primary`]!.taken;
  const inductance = values[slot]!.taken;
  if (!(turns < MOST_TURNS)) return undefined;
  let most = 0;
  const fits = region(own).every((at) => {
    const { parts, duty } = t.forecast(own, { values }, at);
    const { peak, peakToPeak } = parts[slot]!;
    if (fluxDensity({ turns, coreArea: part.coreArea }, inductance, peak) > part.maxFluxDensity * input.allowed.stress) return false;
    const copper = transformerCopper(t, part, slot, values, parts, input.brief.frequency);
    const core = triangularCoreLoss({ ...part, turns }, inductance * peakToPeak, duty, input.brief.frequency);
    most = Math.max(most, copper + core);
    return input.brief.air.max + (copper + core) * part.thermalResistance < coolOf(part, wishes, cooler);
  });
  return fits ? { part, merit: wishes.by === 'loss' ? leanMerit(most, part) : part.coreVolume, pieces: 1, unit: 'm³' } : undefined;
}
/** H that an inductor has without any gap; without bound where its core is not known. */
const mostInductance = (part: InductorPart): number => (part.winding ? part.turns ** 2 / ungapped({ area: part.coreArea, pathLength: part.coreVolume / part.coreArea, permeability: part.winding.permeability }) : Infinity);
/** Share by which its material may be above what is stated */
const GRADES = 0.1;

/** W of an inductor's copper, warm: with what its ripple, as a triangle, sees more than dc does, where it is known how it is wound. */
export function inductorCopper(part: InductorPart, { rms, peakToPeak }: Pick<Need, 'rms' | 'peakToPeak'>, frequency: number): number {
  const { winding } = part;
  const more = winding ? (peakToPeak ** 2 / 12) * (factorAt(winding, winding, part.turns, winding.parallel, frequency, WARM) - 1) : 0;
  return (rms ** 2 + more) * windingResistance(part, WARM);
}

/** W of a transformer's copper, warm: pulses as a sine of twice the frequency, primary and secondaries against one another. */
export function transformerCopper(t: Topology, part: TransformerPart, slot: string, values: Sizing['values'], carried: Forecast['parts'], frequency: number): number {
  const windings = t.windings![slot]!;
  const turn = turnResistance(part, WARM);
  const dc = (w: (typeof windings)[number], squared: number): number => (squared * turn * values[w.turns]!.taken ** 2) / w.share;
  const all = windings.reduce((sum, w) => sum + dc(w, carried[w.element]!.rms ** 2), 0);
  if (!part.winding) return all;
  const window = windowOf(t, { values }, slot, part, windings);
  const alternating = windings.map((w) => Math.sqrt(Math.max(0, carried[w.element]!.rms ** 2 - carried[w.element]!.mean ** 2)));
  const currents = alternating.map((rms, i): Phasor => [window.windings[i]!.primary ? rms : -rms, 0]);
  return all + lossAt(window, currents, STEEP * frequency, turn, WARM).reduce((sum, watts, i) => sum + watts - dc(windings[i]!, alternating[i]! ** 2), 0);
}
/** °C that copper is estimated at; times the frequency that pulses look like to it */
const [WARM, STEEP] = [90, 2];
/** More than anybody winds onto a core here */
const MOST_TURNS = 400;

/** W of a core whose flux linkage rises by `swing` V·s in D of the period and falls back in the rest. */
function triangularCoreLoss(core: Core, swing: number, duty: number, frequency: number): number {
  const T = 1 / frequency;
  const D = Math.min(0.9, Math.max(0.1, duty));
  return coreLoss(core, [{ volts: swing / (D * T), seconds: D * T }, { volts: -swing / ((1 - D) * T), seconds: (1 - D) * T }]);
}

function capacitorMerit(t: Topology, part: CapacitorPart, need: Need, input: SizingInput, slot: string): Suggestion | undefined {
  // Two percent for the ripple on top.
  if (part.series * part.ratedVoltage * input.allowed.stress < need.voltage * 1.02) return undefined;
  const carrying = Math.max(1, Math.ceil(need.rms / (part.ratedCurrent * input.allowed.stress)));
  if (carrying > MOST_CAPACITORS) return undefined;
  const wanted = t.size(derated(t, { ...input, parts: { ...input.parts, [slot]: { ...part, count: null } } })).values[slot]!.suggestedCount!;
  const count = Math.max(wanted, carrying);
  if (count > MOST_CAPACITORS) return undefined;
  return { part: { ...part, count: wanted < count ? count : null }, merit: capacitorSize(part, count), pieces: count * part.series, unit: 'J' };
}

/** In parallel: beyond, another kind of capacitor is the answer. */
const MOST_CAPACITORS = 12;

/** J that so many could store at their ratings, and a little for each joint. */
const capacitorSize = (p: CapacitorPart, count: number): number => (1 + 0.15 * count * p.series) * count * p.series * 0.5 * p.capacitance * p.ratedVoltage ** 2;
/** In series: beyond, a kind for higher voltages is the answer. */
const MOST_SERIES = 3;
