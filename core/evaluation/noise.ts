import { BRANCHES } from '../branches';
import { slotsOf } from '../branches/branch';
import { resistorOf } from '../branches/resistor';
import { esrOf } from '../converter/fragment';
import { quantityOf } from '../converter/measures';
import type { Design } from '../design/schema';
import { size } from '../linear/complex';
import { overlapTime } from '../loss/overlap';
import type { SwitchState } from '../loss';
import { betweenLines, toEarth, type LadderStage, type Shunt } from '../noise/network';
import { BANDWIDTH, closest, HIGHEST, LOWEST, dBuV, readings, STANDARDS, type NoiseStandard, type Reading } from '../noise/receiver';
import { sinc } from '../noise/trapezoid';
import { type Quantity } from '../orbit/measure';
import { harmonicsOf } from '../orbit/spectrum';
import type { CapacitorPart } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { crestOf } from '../surroundings/mains';
import type { OperatingPoint } from '../topology';
import type { Bill } from './bill';
import { warmedAt } from './evaluate';
import type { SettledStage } from './settleStage';

/**
 * Conducted noise of a design as a receiver would read it at its line. Between the lines: the exact spectrum of the current that the converter
 * draws in its settled cycle, through its capacitors and filters with their strays. To earth: the exact spectrum of the voltage at its switch node, through a
 * stated capacitance. Edges that the cycle has at once take the time of their gates: |sinc(f t)|. Both are added as sizes.
 */
export interface NoiseStudy {
  standard: string;
  quasiPeak: NoiseStandard['quasiPeak'];
  average: NoiseStandard['average'];
  readings: (Reading & { between: number; earth: number })[];
  /** Where each detector is nearest to its limit: dB of room, below zero beyond it */
  nearest: { quasiPeak?: NonNullable<ReturnType<typeof closest>>; average?: NonNullable<ReturnType<typeof closest>> };
  strays: { toEarth: number; windingCapacitance: number; leadInductance: number; edge: number };
  /** On the mains: A to earth through the capacitors there, Ω that empties those between the lines within a second, and W that it burns */
  leakage?: number;
  discharge?: { capacitance: number; resistance: number; watts: number };
  /** What it does not see */
  leavesOut: string;
}

/** What is taken where a design says nothing: F, F, H */
export const STRAYS = { toEarth: 30e-12, windingCapacitance: 15e-12, leadInductance: 10e-9 };
/** Multiples that are looked at, at most */
const MOST = 600;
/** s in which capacitors between the lines sink to 37 % once a plug is pulled (IEC 60950-1:2005, 2.1.1.7) */
const EMPTIES = 1;

const LEAVES_OUT = 'quasi-peak is taken as peak, which it never exceeds; what couples past the filter; recovery and ringing of edges; the earth’s own inductance; a plan of the board';

/** The filters before a line as ladders: between the lines, and from both to earth. */
export function laddersOf({ input, sizing }: Pick<Bill, 'input' | 'sizing'>, d: Design, strays: NoiseStudy['strays'], resistance: (slot: string) => number): { between: LadderStage[]; earth: LadderStage[] } {
  const shunt = (slot: string, more = 0): Shunt => ({ capacitance: sizing.values[slot]!.taken, resistance: esrOf(input.parts[slot] as CapacitorPart, sizing.values[slot]!.taken) + more, inductance: strays.leadInductance / (sizing.values[slot]!.count ?? 1) });
  const beside = input.parts.C1?.kind === 'capacitor' && sizing.values.C1 ? [shunt('C1')] : [];
  const filters = Object.entries(d.branches ?? {}).filter(([, b]) => BRANCHES[b.kind].line);
  const between = filters.map(([id, b], k): LadderStage => {
    const { L, C, E } = slotsOf(id);
    const ohms = sizing.values[resistorOf(b.damped === 'series' ? C : E)]?.taken ?? 0;
    return {
      shunts: [...(k === 0 ? beside : []), shunt(C, b.damped === 'series' ? ohms : 0), ...(b.damped === 'parallel' ? [shunt(E, ohms)] : [])],
      series: { inductance: sizing.values[L]!.taken, resistance: resistance(L), capacitance: strays.windingCapacitance },
    };
  });
  const earth = filters.flatMap(([, b]): LadderStage[] =>
    b.commonMode || b.toEarth
      ? [{ shunts: b.toEarth ? [{ capacitance: 2 * b.toEarth, resistance: 0.02, inductance: strays.leadInductance / 2 }] : [], ...(b.commonMode ? { series: { inductance: b.commonMode, resistance: 0, capacitance: strays.windingCapacitance } } : {}) }]
      : [],
  );
  return { between: between.length > 0 ? between : beside.length > 0 ? [{ shunts: beside }] : [], earth };
}

/** Conducted noise at a point. @returns problems of settling it; "range" where it switches above what is read */
export function conductedNoise(d: Design, point: OperatingPoint): Result<NoiseStudy> {
  const { frequency } = d.brief;
  if (frequency > HIGHEST) return fail('range', 'brief.frequency', 'it switches above 30 MHz, where no conducted noise is read', 'lower the frequency');
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const { standing: { bill }, warm } = found.value;
  const standard = STANDARDS.find((s) => s.id === (d.noise?.standard ?? (d.brief.line.mains === undefined ? 'cispr-25-3' : 'cispr-32-B')))!;
  const first = bill.topology.slots.find((p) => p.kind === 'switch')!.id;
  const state = warm.states[first] as SwitchState;
  const strays = { ...STRAYS, ...straysOf(d.noise), edge: (overlapTime(state, 'on') + overlapTime(state, 'off')) / 2 };
  const ladders = laddersOf(bill, d, strays, warm.stage.resistance);
  // Along the mains each angle has its own spectrum: the peak detector reads the largest, the average one the mean over the time.
  const views = warm.mains ? warm.mains.at.map(({ stage, weight }) => ({ stage, weight })) : [{ stage: warm.stage, weight: 1 }];
  const spectra = views.map((v): View => {
    const own = 1 / v.stage.cycle.period;
    return { weight: v.weight, own, lines: linesOf(v.stage, bill, Math.min(MOST, Math.floor(HIGHEST / own))) };
  });
  const through = (f: number): [number, number] => {
    const rms = Math.abs(sinc(f * strays.edge)) / Math.SQRT2;
    return [size(betweenLines(ladders.between, f, standard.network)) * rms, size(toEarth(ladders.earth, f, standard.network, strays.toEarth)) * rms];
  };
  // Where the frequency follows the line, each angle has lines of its own, and a receiver hears each for as long as it is there.
  const apart = spectra.some((s) => Math.abs(s.own / spectra[0]!.own - 1) > 1e-6);
  const lines = (apart ? spectra.flatMap((s) => linesAlong([s], through)).sort((a, b) => a.frequency - b.frequency) : linesAlong(spectra, through)).filter((l) => l.frequency >= LOWEST);
  const peaks = readings(lines, BANDWIDTH);
  const read = peaks.map((r, i) => ({ ...r, average: Math.min(r.peak, dBuV(lines[i]!.mean)), between: dBuV(lines[i]!.between), earth: dBuV(lines[i]!.earth) }));
  const quasiPeak = d.noise?.quasiPeak ?? standard.quasiPeak;
  const average = d.noise?.average ?? standard.average;
  const [nearPeak, nearMean] = [closest(read, quasiPeak, 'peak'), closest(read, average, 'average')];
  return ok({
    standard: standard.title, quasiPeak, average, readings: read,
    nearest: { ...(nearPeak ? { quasiPeak: nearPeak } : {}), ...(nearMean ? { average: nearMean } : {}) },
    strays, ...onMains(d, bill), leavesOut: LEAVES_OUT,
  });
}

/** What is heard in one view: its share of the time, Hz that its lines are multiples of, and what drives them. */
interface View {
  weight: number;
  own: number;
  lines: { drawn: number; node: number }[];
}

/** Lines of views of one frequency, V rms at the receiver: the largest of them, and the mean over the time. */
function linesAlong(views: readonly View[], through: (f: number) => [number, number]): { frequency: number; value: number; between: number; earth: number; mean: number }[] {
  return views[0]!.lines.map((_, i) => {
    const frequency = (i + 1) * views[0]!.own;
    const [a, b] = through(frequency);
    const each = views.map((s) => ({ weight: s.weight, between: a * s.lines[i]!.drawn, earth: b * s.lines[i]!.node }));
    const most = each.reduce((x, y) => (y.between + y.earth > x.between + x.earth ? y : x));
    return { frequency, value: most.between + most.earth, between: most.between, earth: most.earth, mean: each.reduce((s, e) => s + e.weight * (e.between + e.earth), 0) };
  });
}

/** The strays that a design states. */
export const straysOf = (n: Design['noise']): Partial<typeof STRAYS> => Object.fromEntries(Object.entries(n ?? {}).filter(([key, v]) => key in STRAYS && typeof v === 'number'));

/** Peaks of each multiple of the switching frequency: A that the converter draws, V of its switch node. */
function linesOf({ cycleIntegrals, roles }: SettledStage, { topology }: Pick<Bill, 'topology'>, count: number): { drawn: number; node: number }[] {
  const source = roles.front?.feeds ?? roles.line;
  const drawn: Quantity = (p) => p.current(source);
  const signal = topology.signals.find((s) => s.id === 'switchNode');
  const all = harmonicsOf(cycleIntegrals, signal ? [drawn, quantityOf(signal.of, roles)] : [drawn], count);
  return Array.from({ length: count }, (_, i) => ({ drawn: all[0]![i + 1]!.amplitude, node: all[1]?.[i + 1]!.amplitude ?? 0 }));
}

/** What capacitors on the mains do besides: current to earth, and a charge that is left when the plug is pulled. */
function onMains(d: Design, { sizing }: Pick<Bill, 'sizing'>): Pick<NoiseStudy, 'leakage' | 'discharge'> {
  const { mains, max } = d.brief.line;
  if (mains === undefined) return {};
  const own = Object.entries(d.branches ?? {}).filter(([, b]) => BRANCHES[b.kind].line);
  const between = own.reduce((sum, [id, b]) => sum + sizing.values[slotsOf(id).C]!.taken + (b.damped === 'parallel' ? sizing.values[slotsOf(id).E]!.taken : 0), 0);
  const earth = own.reduce((sum, [, b]) => sum + (b.toEarth ?? 0), 0);
  return {
    ...(earth > 0 ? { leakage: 2 * Math.PI * mains * earth * max } : {}),
    ...(between > 0 ? { discharge: { capacitance: between, resistance: dischargeResistance(between), watts: (crestOf(max) / Math.SQRT2) ** 2 / dischargeResistance(between) } } : {}),
  };
}

/** Ω that lets capacitors (F) between the lines sink to 37 % within a second. */
export const dischargeResistance = (capacitance: number): number => EMPTIES / capacitance;
