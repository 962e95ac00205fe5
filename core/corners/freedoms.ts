import { editDesign, valueAt } from '../design/edit';
import { fieldAt } from '../design/fields';
import type { Design } from '../design/schema';
import { topologyOf } from '../design/topologyOf';
import { sizingInputOf } from '../design/sizingInput';
import { suggest } from '../choice/suggest';
import { sizeDesign } from '../evaluation/evaluate';
import { isEdited } from '../parts/edited';
import type { Part } from '../parts/schema';
import { fail, ok, type Problem, type Result } from '../problem';
import { preferredBetween, printTyped, SERIES, type SeriesName, type UnitName } from '../quantity';
import { turnable } from './moves';

/** What a search may change of a design: values within bounds, preferred numbers, counts, parts of the shelf. */

export type Freedom =
  /** Any value from one to another, in ratio */
  | { path: string; kind: 'continuous'; min: number; max: number }
  /** Preferred numbers (IEC 60063) of them */
  | { path: string; kind: 'preferred'; min: number; max: number; series: SeriesName }
  /** Whole numbers of them */
  | { path: string; kind: 'count'; min: number; max: number }
  /** Other parts in a slot ("parts.C2"), in the order of what they are worth there */
  | { path: string; kind: 'parts'; parts: readonly Part[] };

/** Freedoms at most, and values of one that are told apart */
const [MOST, MOST_VALUES] = [16, 4000];

/** Digits of a value that is free to move: no part and no setting is better known */
const DIGITS = 4;

/** The values that a freedom has, in order; undefined where any between its bounds is one. */
function valuesOf(f: Freedom): readonly (number | Part)[] | undefined {
  if (f.kind === 'parts') return f.parts;
  if (f.kind === 'count') return Array.from({ length: f.max - f.min + 1 }, (_, k) => f.min + k);
  return f.kind === 'preferred' ? preferredBetween(f.min, f.max, f.series) : undefined;
}

/**
 * The value that a share of a freedom stands for.
 * @param share from 0 to 1
 */
export function valueOf(f: Freedom, share: number): number | Part {
  const values = valuesOf(f);
  if (values) return values[Math.min(values.length - 1, Math.floor(share * values.length))]!;
  const { min, max } = f as { min: number; max: number };
  return Number((min * (max / min) ** share).toPrecision(DIGITS));
}

/** The share of a freedom that a design stands at: the middle of what stands for its value, or the nearest. */
export function shareOf(f: Freedom, d: Design): number {
  const values = valuesOf(f);
  if (f.kind === 'parts') {
    const here = (valueAt(d, f.path) as Part).part;
    return (Math.max(0, f.parts.findIndex((p) => p.part === here)) + 0.5) / f.parts.length;
  }
  const now = standsAt(d, f.path) ?? Math.sqrt(f.min * f.max);
  if (!values) return Math.min(1, Math.max(0, Math.log(now / f.min) / Math.log(f.max / f.min)));
  const away = (v: number | Part): number => Math.abs(Math.log((v as number) / now));
  return (values.reduce<number>((best, v, k) => (away(v) < away(values[best]!) ? k : best), 0) + 0.5) / values.length;
}

/** The value at a path as it stands, what is sized and left open included. */
export function standsAt(d: Design, path: string): number | undefined {
  const found = valueAt(d, path);
  if (typeof found === 'number') return found;
  const [room, slot, key] = path.split('.');
  if (room !== 'parts' || slot === undefined) return undefined;
  const sized = sizeDesign(d).values[slot];
  return key === 'count' ? sized?.count : key === 'inductance' || key === 'capacitance' ? sized?.taken : undefined;
}

/** The design with its freedoms at some shares. @returns it, or why it can not be */
export const designAt = (d: Design, freedoms: readonly Freedom[], shares: readonly number[]): Result<Design> => {
  const changes = Object.fromEntries(freedoms.map((f, k): [string, unknown] => {
    const value = valueOf(f, shares[k]!);
    // A part brings no count of its own: what stands there stays.
    if (f.kind !== 'parts') return [f.path, value];
    const { count } = valueAt(d, f.path) as { count?: unknown };
    return [f.path, { ...(value as Part), ...(count === undefined ? {} : { count }) }];
  }));
  // Whole parts first, then what is changed in them.
  const ordered = Object.fromEntries(Object.entries(changes).sort(([a], [b]) => a.split('.').length - b.split('.').length));
  return editDesign(d, { ...ordered, ...('brief.frequency' in changes && d.brief.frequencyRange ? { 'brief.frequencyRange': undefined } : {}) });
};

/** What is wrong with what a search may change: nothing at all, bounds that are none, a path that is no value of the design. */
export function wrongFreedoms(d: Design, freedoms: readonly Freedom[]): Problem | undefined {
  const wrong = (where: string, message: string, remedy: string): Problem => ({ code: 'freedom', where, message, remedy });
  if (freedoms.length === 0) return wrong('', 'a search with nothing that it may change finds nothing', 'free a value: the crossover, an inductance, a number of capacitors');
  if (freedoms.length > MOST) return wrong('', `${freedoms.length} free values are more than a search gets through`, `free ${MOST} at most`);
  const seen = new Set<string>();
  for (const f of freedoms) {
    if (seen.has(f.path)) return wrong(f.path, 'it is free twice', 'free it once');
    seen.add(f.path);
    if (f.kind === 'parts') {
      const [room, slot, ...rest] = f.path.split('.');
      if (room !== 'parts' || rest.length > 0 || !topologyOf(d)!.slots.some((s) => s.id === slot && !s.core)) return wrong(f.path, 'no part stands there that could be another', 'give a slot, like parts.C2');
      if (f.parts.length === 0) return wrong(f.path, 'no part of the shelf serves there', 'leave it out');
      continue;
    }
    if (standsAt(d, f.path) === undefined || !fieldAt(f.path)) return wrong(f.path, 'the design has no such value', 'give the path of a number, like control.crossover');
    if (!(f.min > 0 && f.max > f.min && Number.isFinite(f.max))) return wrong(f.path, 'its bounds are none', 'give a smaller and a larger one, both above zero');
    if (f.kind === 'count' && !(Number.isInteger(f.min) && Number.isInteger(f.max) && f.max - f.min < MOST_VALUES)) return wrong(f.path, 'a count goes from a whole number to another', 'give whole numbers');
    if (f.kind === 'preferred' && (!(f.series in SERIES) || valuesOf(f)!.length === 0)) return wrong(f.path, `no number of ${f.series} lies between its bounds`, 'widen them, or take a finer series');
  }
  return undefined;
}

/** What a freedom is called, and what it goes over. */
export interface Offered {
  freedom: Freedom;
  title: string;
  unit: UnitName;
  /** Free unless told otherwise */
  usual: boolean;
}

/** Times a value either way that it is offered over */
const SPAN = 2.5;
/** Parts of the shelf that are offered for a slot */
const MOST_PARTS = 12;
/** What belongs to a part itself and is no choice without another part */
const OF_A_PART = /^parts\.[^.]+\.(?!inductance$|count$)/;
/** What a search is free to change where nobody says */
const USUAL = /^(control\.(crossover|phaseMargin)|parts\.[^.]+\.inductance|parts\.C2\.count|parts\.C2)$/;

/** Everything of a design that can be free, with bounds around where it stands. */
export function freedomsOffered(d: Design, shelf: readonly Part[]): Offered[] {
  const out: Offered[] = [];
  const put = (freedom: Freedom, title: string, unit: UnitName): void => void out.push({ freedom, title, unit, usual: USUAL.test(freedom.path) });
  for (const { path, title, value, unit } of turnable(d)) {
    if (OF_A_PART.test(path)) continue;
    const bounds = path === 'control.phaseMargin' ? { min: Math.max(30, value - 15), max: Math.min(80, value + 15) } : { min: Number((value / SPAN).toPrecision(2)), max: Number((value * SPAN).toPrecision(2)) };
    put(path.endsWith('.inductance') ? { path, kind: 'preferred', ...bounds, series: d.series ?? 'E12' } : { path, kind: 'continuous', ...bounds }, title, unit);
  }
  const topology = topologyOf(d)!;
  const input = sizingInputOf(d);
  const sizing = sizeDesign(d);
  for (const { id, core } of topology.slots) {
    if (core) continue;
    const part = d.parts[id]!;
    const now = 'count' in part ? standsAt(d, `parts.${id}.count`) : undefined;
    if (now !== undefined) put({ path: `parts.${id}.count`, kind: 'count', min: 1, max: Math.max(4, 2 * now) }, `${id}, so many`, '');
    // A part that was changed keeps its values: the one of its name on the shelf is another.
    const fit = suggest(topology, input, sizing, id, shelf).map((s) => s.part).filter((p) => p.part !== part.part || !isEdited(part, shelf)).slice(0, MOST_PARTS);
    const all = fit.some((p) => p.part === part.part) ? fit : [part, ...fit];
    if (all.length > 1) put({ path: `parts.${id}`, kind: 'parts', parts: all }, `${id}, another part`, '');
  }
  return out;
}

/** A value of a freedom in words. */
export const saidOf = (f: Freedom, value: number | Part): string => (typeof value === 'object' ? value.part : printTyped(value, fieldAt(f.path)?.unit ?? '', 4));

/** Read "control.crossover=10k..40k", "parts.C2.count=1..6", "parts.L1.inductance=10u..47u:E12" or "parts.C2" as a freedom. */
export function readFreedom(text: string, offered: readonly Offered[], quantity: (typed: string, unit: UnitName, where: string) => Result<number>): Result<Freedom> {
  const [, path, low, high, series] = /^([^=]+?)(?:=(.+?)\.\.(.+?)(?::(E\d+))?)?$/.exec(text.trim()) ?? [];
  const known = offered.find((o) => o.freedom.path === path);
  if (path === undefined || (!known && low === undefined)) return fail('freedom', text, 'no such value can be free', `free one of ${offered.map((o) => o.freedom.path).join(', ')}`);
  if (low === undefined || high === undefined) return ok(known!.freedom);
  const unit = fieldAt(path)?.unit;
  if (unit === undefined) return fail('freedom', path, 'the design has no such value', 'give the path of a number, like control.crossover');
  const [min, max] = [quantity(low, unit, path), quantity(high, unit, path)];
  if (!min.ok) return min;
  if (!max.ok) return max;
  const bounds = { path, min: min.value, max: max.value };
  if (series !== undefined) return series in SERIES ? ok({ ...bounds, kind: 'preferred', series: series as SeriesName }) : fail('freedom', path, `${series} is no series of preferred numbers`, `give one of ${Object.keys(SERIES).join(', ')}`);
  return ok(known?.freedom.kind === 'count' || known?.freedom.kind === 'preferred' ? { ...known.freedom, ...bounds } : { ...bounds, kind: 'continuous' });
}
