import { randomNormal } from 'd3-random';
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { mersenne } from 'pure-rand/generator/mersenne';
import type { Design, RequirementId } from '../design/schema';
import { billOf, changedBill } from '../evaluation/bill';
import { evaluate } from '../evaluation/evaluate';
import type { Part } from '../parts/schema';
import type { OperatingPoint } from '../topology';
import { fieldAt } from '../design/fields';
import { topologyOf } from '../design/topologyOf';
import { judge } from './corners';
import { requirementNamed } from './requirements';

/** Parts as they come: every value of a design drawn within its tolerance, again and again, and how many of those designs hold. */

/** What a value may be off by. */
export interface Tolerance {
  path: string;
  slot: string;
  key: string;
  title: string;
  /** Share either way: of a uniform spread its ends, of a normal one three standard deviations, beyond which it is drawn again */
  share: number;
  shape: 'uniform' | 'normal';
}

/** What is usual for a field of a part, where nobody states it. */
function usual(part: Part, key: string): Pick<Tolerance, 'share' | 'shape'> | undefined {
  const of = (share: number, shape: Tolerance['shape'] = 'normal'): Pick<Tolerance, 'share' | 'shape'> => ({ share, shape });
  switch (part.kind) {
    case 'inductor':
      return { inductance: of(0.2, 'uniform'), resistance: of(0.1) }[key];
    case 'transformer':
      return { inductance: of(0.2, 'uniform'), leakagePermeance: of(0.3) }[key];
    case 'capacitor':
      // What grows in the cold is wet, and spreads more.
      return { capacitance: of(part.coldFactor === undefined ? 0.1 : 0.2, 'uniform'), esr: of(0.3) }[key];
    case 'switch':
      return { onResistance: of(0.2), gateCharge: of(0.2), switchingCharge: of(0.25), outputCapacitance: of(0.2), recoveryCharge: of(0.3) }[key];
    case 'diode':
      return { drop: of(0.1), slopeResistance: of(0.2), recoveryCharge: of(0.3) }[key];
  }
}

/** Every value of a design that spreads, with what it may be off by. */
export function tolerancesOf(d: Design): Tolerance[] {
  return topologyOf(d)!.slots.filter((p) => !p.core).flatMap(({ id }) => {
    const part = d.parts[id]!;
    return Object.keys(part).flatMap((key): Tolerance[] => {
      const found = usual(part, key);
      return found ? [{ path: `parts.${id}.${key}`, slot: id, key, title: `${id} ${fieldAt(`parts.${id}.${key}`)?.title ?? key}`, ...found }] : [];
    });
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
}

/** Shares by which the k-th design is off: of its number and the seed alone, whoever draws it. */
export function offsOf(tolerances: readonly Tolerance[], seed: number, index: number): number[] {
  // Each design has a generator of its own, begun by its number and the seed.
  const generator = mersenne(Math.imul(seed, 0x9e3779b1) ^ Math.imul(index + 1, 0x85ebca6b));
  const source = (): number => uniformFloat64(generator);
  const normal = randomNormal.source(source)(0, 1 / 3);
  return tolerances.map(({ share, shape }) => {
    if (shape === 'uniform') return share * (2 * source() - 1);
    let v = normal();
    while (Math.abs(v) > 1) v = normal();
    return share * v;
  });
}

/** The k-th design judged at points: nothing is sized again, the compensator stays as it was placed. */
export function drawn(d: Design, tolerances: readonly Tolerance[], seed: number, index: number, points: readonly OperatingPoint[]): Draw {
  const off = offsOf(tolerances, seed, index);
  const bill = billOf(d);
  const values: Record<string, number> = {};
  const parts: Record<string, Record<string, number>> = {};
  tolerances.forEach(({ slot, key }, k) => {
    const factor = 1 + off[k]!;
    // What is sized is drawn around what was taken; the fields of a part around what stands in it.
    if (key === 'inductance' || key === 'capacitance') values[slot] = bill.sizing.values[slot]!.taken * factor;
    else parts[slot] = { ...parts[slot], [key]: (bill.input.parts[slot] as unknown as Record<string, number>)[key]! * factor };
  });
  // Windings on the core of another are off as it is.
  for (const { id, core } of bill.topology.slots) if (core && values[core.slot] !== undefined) values[id] = (bill.sizing.values[id]!.taken * values[core.slot]!) / bill.sizing.values[core.slot]!.taken;
  const changed = changedBill(bill, values, parts as Record<string, Partial<Part>>);
  const out: Draw = { index, off, room: {}, value: {}, holds: true };
  for (const at of points) {
    const corner = judge(d, at, evaluate(d, at, { bill: changed }));
    out.holds &&= corner.holds && corner.problem === undefined;
    for (const { id, room, value } of corner.requirements) if (!(room >= (out.room[id] ?? Infinity))) [out.room[id], out.value[id]] = [room, value];
  }
  return out;
}

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
