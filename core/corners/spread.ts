import { randomNormal } from 'd3-random';
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { mersenne } from 'pure-rand/generator/mersenne';
import { amplifierNamed } from '../control';
import { derated } from '../design/derated';
import { editDesign } from '../design/edit';
import type { Design, RequirementId } from '../design/schema';
import { billOf, changedBill, type Bill } from '../evaluation/bill';
import { compensatorsOf } from '../evaluation/compensator';
import { evaluate } from '../evaluation/evaluate';
import { warmthAt } from '../evaluation/warmth';
import type { Part } from '../parts/schema';
import type { Result } from '../problem';
import type { UnitName } from '../quantity';
import type { OperatingPoint } from '../topology';
import { fieldAt } from '../design/fields';
import { askedSpec } from '../design/sizingInput';
import { topologyOf } from '../design/topologyOf';
import { judge } from './corners';
import { requirementNamed } from './requirements';

/** Parts as they come: every value of a design drawn within its tolerance, again and again, and how many of those designs hold. */

/** What a value may be off by. */
export interface Tolerance {
  path: string;
  /** "network" for the parts of the compensator's */
  slot: string;
  key: string;
  title: string;
  /** Share either way: of a uniform spread its ends; of a normal one three standard deviations, of a truncated one its only one; beyond it is drawn again */
  share: number;
  shape: 'uniform' | 'normal' | 'truncated';
}

/** The slot that the parts of the compensator's network stand in. */
export const NETWORK = 'network';

type Spreads = Pick<Tolerance, 'share' | 'shape'>;
const of = (share: number, shape: Tolerance['shape'] = 'normal'): Spreads => ({ share, shape });

/** What is usual for a field of a part, where nobody states it. */
function usual(part: Part, key: string): Spreads | undefined {
  switch (part.kind) {
    case 'inductor':
      return { inductance: of(0.2, 'uniform'), resistance: of(0.1) }[key];
    case 'transformer':
      return { inductance: of(0.2, 'uniform'), leakagePermeance: of(0.3) }[key];
    case 'capacitor':
      return { capacitance: of(isWet(part) ? 0.2 : 0.1, 'uniform'), esr: of(0.3) }[key];
    case 'switch':
      return { onResistance: of(0.2), gateCharge: of(0.2), switchingCharge: of(0.25), outputCapacitance: of(0.2), recoveryCharge: of(0.3) }[key];
    case 'diode':
      return { drop: of(0.1), slopeResistance: of(0.2), recoveryCharge: of(0.3) }[key];
  }
}

/** What grows in the cold is wet: it spreads more, and ages. */
const isWet = (part: Part): boolean => part.kind === 'capacitor' && part.coldFactor !== undefined;

/** What is usual of a network's parts, by their units. */
const OF_NETWORK: Partial<Record<UnitName, Spreads>> = { Ω: of(0.01, 'uniform'), F: of(0.05, 'uniform'), S: of(0.2) };

/** Factors of a wet capacitor at the end of its life. Source: IEC 60384-4, limits after endurance: a fifth of the capacitance lost; tan δ doubled. */
const AGED: Readonly<Record<string, number>> = { capacitance: 0.8, esr: 2 };

/** Every value of a design that spreads, with what it may be off by: stated in the design, or usual for its kind. */
export function tolerancesOf(d: Design): Tolerance[] {
  const stated = d.tolerances?.values ?? {};
  const parts = topologyOf(d)!.slots.filter((p) => !p.core).flatMap(({ id }) => {
    const part = d.parts[id]!;
    return [...new Set([...Object.keys(part), ...Object.keys(stated[id] ?? {})])].flatMap((key): Tolerance[] => {
      const found = stated[id]?.[key] ?? usual(part, key);
      return found && found.share > 0 ? [{ path: `parts.${id}.${key}`, slot: id, key, title: `${id} ${fieldAt(`parts.${id}.${key}`)?.title ?? key}`, ...found }] : [];
    });
  });
  return [...parts, ...networkTolerances(d)];
}

/** Those of the compensator's parts, where its corners follow from them. */
function networkTolerances(d: Design): Tolerance[] {
  const placed = compensatorsOf(d);
  if (!placed.ok) return [];
  const { network, controller } = placed.value.at(-1)!;
  if (!amplifierNamed(d.control.amplifier)!.cornersOf || controller.kind === 'sampled') return [];
  return network.parts.flatMap(({ id, unit, value, title }): Tolerance[] => {
    const found = d.tolerances?.values[NETWORK]?.[id] ?? OF_NETWORK[unit];
    return found && found.share > 0 && Number.isFinite(value) ? [{ path: `${NETWORK}.${id}`, slot: NETWORK, key: id, title: `network ${title ?? id}`, ...found }] : [];
  });
}

/** One design as it is drawn. */
export interface Draw {
  /** Which, and by what every value is off, in the order of the tolerances (shares) */
  index: number;
  off: number[];
  /** The least room of each requirement over the points, and its figure there */
  room: Partial<Record<RequirementId, number>>;
  value: Partial<Record<RequirementId, number>>;
  holds: boolean;
  /** Hz and degrees of its loop where its margin is least */
  loop?: { crossover: number; phaseMargin: number };
}

/** Shares by which the k-th design is off: of its number and the seed alone, whoever draws it. */
export function offsOf(tolerances: readonly Tolerance[], seed: number, index: number, matched: readonly (readonly string[])[] = []): number[] {
  // Each design has a generator of its own, begun by its number and the seed.
  const generator = mersenne(Math.imul(seed, 0x9e3779b1) ^ Math.imul(index + 1, 0x85ebca6b));
  const source = (): number => uniformFloat64(generator);
  const [normal, cut] = [randomNormal.source(source)(0, 1 / 3), randomNormal.source(source)(0, 1)];
  const own = tolerances.map(({ share, shape }) => {
    if (shape === 'uniform') return share * (2 * source() - 1);
    const draw = shape === 'normal' ? normal : cut;
    let v = draw();
    while (Math.abs(v) > 1) v = draw();
    return share * v;
  });
  // What is matched is off by as many of its shares as the first of them.
  return tolerances.map((t, k) => {
    const group = matched.find((g) => g.includes(t.slot));
    const first = group ? tolerances.findIndex((x) => x.key === t.key && group.includes(x.slot)) : k;
    return first === k ? own[k]! : (own[first]! * t.share) / tolerances[first]!.share;
  });
}

/** What of a design is off by shares: its bill and its network, nothing of it sized, placed or rounded again. */
export function offBy(d: Design, tolerances: readonly Tolerance[], off: readonly number[]): { bill: Bill; network: Record<string, number> } {
  const bill = billOf(d);
  const factors: Record<string, Record<string, number>> = {};
  const network: Record<string, number> = {};
  const put = (slot: string, key: string, factor: number): void => {
    factors[slot] = { ...factors[slot], [key]: (factors[slot]?.[key] ?? 1) * factor };
  };
  if (d.tolerances?.aged) for (const { id } of bill.topology.slots) if (isWet(d.parts[id]!)) for (const [key, factor] of Object.entries(AGED)) put(id, key, factor);
  tolerances.forEach(({ slot, key }, k) => {
    if (slot === NETWORK) network[key] = 1 + off[k]!;
    else put(slot, key, 1 + off[k]!);
  });
  const values: Record<string, number> = {};
  const parts: Record<string, Partial<Part>> = {};
  const raw = { ...d.parts };
  for (const [slot, of] of Object.entries(factors)) {
    const part = d.parts[slot]! as unknown as Record<string, number>;
    raw[slot] = { ...d.parts[slot]!, ...Object.fromEntries(Object.entries(of).flatMap(([key, f]) => (key === 'inductance' ? [] : [[key, part[key]! * f]]))) } as Part;
    if (of.inductance !== undefined) values[slot] = bill.sizing.values[slot]!.taken * of.inductance;
  }
  // Capacitors stand where they stand: what their bias, their dielectric and the cold make of them is made again.
  const inUse = derated(bill.topology, { ...askedSpec(d), parts: raw }).parts;
  for (const slot of Object.keys(factors)) {
    parts[slot] = inUse[slot]!;
    const own = bill.input.parts[slot]!;
    if (own.kind === 'capacitor') values[slot] = (bill.sizing.values[slot]!.taken * (inUse[slot] as typeof own).capacitance) / own.capacitance;
  }
  // Windings on the core of another are off as it is.
  for (const { id, core } of bill.topology.slots) if (core && values[core.slot] !== undefined) values[id] = (bill.sizing.values[id]!.taken * values[core.slot]!) / bill.sizing.values[core.slot]!.taken;
  return { bill: changedBill(bill, values, parts), network };
}

/** A design that is off by shares judged at points: the compensator stays as it was placed. */
export function drawn(d: Design, tolerances: readonly Tolerance[], seed: number, index: number, points: readonly OperatingPoint[]): Draw {
  const off = offsOf(tolerances, seed, index, d.tolerances?.matched);
  return { ...judgedOff(d, tolerances, off, points), index, off };
}

/** A design that is off by shares, judged at points. */
export function judgedOff(d: Design, tolerances: readonly Tolerance[], off: readonly number[], points: readonly OperatingPoint[]): Omit<Draw, 'index' | 'off'> {
  const changed = offBy(d, tolerances, off);
  const out: Omit<Draw, 'index' | 'off'> = { room: {}, value: {}, holds: true };
  for (const at of points) {
    // Parts that are off are nearly as warm as those that are not.
    const from = warmthAt(d, at);
    const corner = judge(d, at, evaluate(d, at, { ...changed, ...(from ? { from } : {}) }));
    out.holds &&= corner.holds && corner.problem === undefined;
    if (corner.loop && !(corner.loop.phaseMargin >= (out.loop?.phaseMargin ?? Infinity))) out.loop = { crossover: corner.loop.crossover, phaseMargin: corner.loop.phaseMargin };
    for (const { id, room, value } of corner.requirements) if (!(room >= (out.room[id] ?? Infinity))) [out.room[id], out.value[id]] = [room, value];
  }
  return out;
}

/** The k-th draw as a design by itself: its values as they came, its compensator's corners as its parts make them. @returns it; what forbids it */
export function drawnDesign(d: Design, tolerances: readonly Tolerance[], off: readonly number[]): Result<Design> {
  const { bill, network } = offBy(d, tolerances, off);
  const changes: Record<string, unknown> = { name: `${d.name.slice(0, 70)}, drawn` };
  const put = (slot: string, key: string, factor: number): void => {
    const path = `parts.${slot}.${key}`;
    changes[path] = ((changes[path] as number | undefined) ?? (d.parts[slot] as unknown as Record<string, number>)[key]!) * factor;
  };
  if (d.tolerances?.aged) for (const { id } of bill.topology.slots) if (isWet(d.parts[id]!)) for (const [key, factor] of Object.entries(AGED)) put(id, key, factor);
  tolerances.forEach(({ slot, key }, k) => slot !== NETWORK && key !== 'inductance' && put(slot, key, 1 + off[k]!));
  // What is sized stands as it was drawn: as many capacitors, as much inductance.
  for (const { id, core } of bill.topology.slots) {
    const { taken, count } = bill.sizing.values[id] ?? {};
    const { kind } = d.parts[id]!;
    if (taken === undefined || core) continue;
    if (kind === 'capacitor') changes[`parts.${id}.count`] = count;
    else if (kind === 'inductor') changes[`parts.${id}.inductance`] = taken;
  }
  const compensators = compensatorsOf(d);
  if (compensators.ok) {
    const { network: built, built: corners } = compensators.value.at(-1)!;
    const amplifier = amplifierNamed(d.control.amplifier)!;
    const own = amplifier.cornersOf?.(Object.fromEntries(built.parts.map((p) => [p.id, p.value * (network[p.id] ?? 1)]))) ?? corners;
    const { upper } = built.divider;
    Object.assign(changes, { 'control.rounded': false, ...('inputResistor' in amplifier.settings ? { 'control.inputResistor': upper * (network.R1 ?? 1) } : {}) }, Object.fromEntries(amplifier.handles.map(({ key }) => [`control.${key}`, own[key]])));
  }
  return editDesign(d, changes);
}

/** The draw that has the least room anywhere; undefined where there is none. */
export const worstOf = (draws: readonly Draw[]): Draw | undefined => {
  const least = (r: Draw): number => Math.min(...Object.values(r.room));
  return draws.reduce<Draw | undefined>((a, b) => (a === undefined || least(b) < least(a) ? b : a), undefined);
};

/** So many of so many, with the interval that holds the truth 95 times of 100. Source: Wilson, "Probable inference, the law of succession, and statistical inference", J. Am. Stat. Assoc. 22 (1927). */
export function yieldOf(holding: number, of: number): { share: number; low: number; high: number } {
  const z = 1.959964;
  const p = of > 0 ? holding / of : 0;
  const n = Math.max(1, of);
  const middle = (p + z ** 2 / (2 * n)) / (1 + z ** 2 / n);
  const half = (z / (1 + z ** 2 / n)) * Math.sqrt((p * (1 - p)) / n + z ** 2 / (4 * n ** 2));
  return { share: p, low: Math.max(0, middle - half), high: Math.min(1, middle + half) };
}

export interface Spread {
  draws: number;
  holding: number;
  yield: ReturnType<typeof yieldOf>;
  /** Of each requirement that was given a figure, those that fail most first: figures that so many of the designs are at or better than, the worst first */
  requirements: { id: RequirementId; worst: number; low: number; median: number; high: number; failing: number }[];
  /** By how much of the spread of the tightest requirement each value is the reason: squares of rank correlations, the largest first */
  matters: { title: string; path: string; share: number }[];
  tightest?: RequirementId;
}

const at = (sorted: readonly number[], share: number): number => sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))]!;

/** Ranks from 0 to 1. */
function ranks(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const out = new Array<number>(values.length);
  order.forEach((i, k) => (out[i] = k / Math.max(1, values.length - 1)));
  return out;
}

/** What draws say together. */
export function spreadOf(tolerances: readonly Tolerance[], draws: readonly Draw[]): Spread {
  const holding = draws.filter((r) => r.holds).length;
  const ids = [...new Set(draws.flatMap((r) => Object.keys(r.value) as RequirementId[]))];
  const requirements = ids.flatMap((id) => {
    const better = requirementNamed(id).direction === 'at most' ? 1 : -1;
    const values = draws.flatMap((r) => (Number.isFinite(r.value[id]) ? [r.value[id]!] : [])).sort((a, b) => better * (b - a));
    if (values.length === 0) return [];
    return { id, worst: at(values, 0), low: at(values, 0.05), median: at(values, 0.5), high: at(values, 0.95), failing: draws.filter((r) => (r.room[id] ?? 1) < 0).length };
  });
  const tightest = ids.reduce<RequirementId | undefined>((a, b) => (a === undefined || median(draws, b) < median(draws, a) ? b : a), undefined);
  const room = tightest ? ranks(draws.map((r) => r.room[tightest] ?? 0)) : [];
  const correlation = (a: readonly number[], b: readonly number[]): number => {
    const [ma, mb] = [a, b].map((l) => l.reduce((s, v) => s + v, 0) / l.length) as [number, number];
    const [aa, bb, ab] = a.reduce(([x, y, z], v, k) => [x + (v - ma) ** 2, y + (b[k]! - mb) ** 2, z + (v - ma) * (b[k]! - mb)], [0, 0, 0]) as [number, number, number];
    return aa > 0 && bb > 0 ? ab / Math.sqrt(aa * bb) : 0;
  };
  const matters = tightest ? tolerances.map((t, k) => ({ title: t.title, path: t.path, share: correlation(ranks(draws.map((r) => r.off[k]!)), room) ** 2 })).sort((a, b) => b.share - a.share) : [];
  // Those that fail most often first, then those with least room.
  const order = (r: { id: RequirementId; failing: number }): number => r.failing - median(draws, r.id);
  return { draws: draws.length, holding, yield: yieldOf(holding, draws.length), requirements: requirements.sort((a, b) => order(b) - order(a)), matters, ...(tightest ? { tightest } : {}) };
}

const median = (draws: readonly Draw[], id: RequirementId): number => at(draws.map((r) => r.room[id] ?? 1).sort((a, b) => a - b), 0.5);
