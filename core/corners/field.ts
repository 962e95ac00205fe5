import { evaluate } from '../evaluation/evaluate';
import type { Figures } from '../evaluation/figures';
import type { Design } from '../design/schema';
import { hottestOf } from '../thermal/network';
import { topologyOf } from '../design/topologyOf';
import type { UnitName } from '../quantity';
import type { OperatingPoint } from '../topology';
import { REQUIREMENTS } from './requirements';

/**
 * Measures over two of the ranges of a brief, on cells that are halved where a measure meets its limit or bends: fine where it matters, coarse
 * where nothing happens.
 *
 * Source: quadtree refinement as in any text on adaptive meshes; what a cell hides is told by its middle against the mean of its corners.
 */

/** What can be looked at over a region. */
export interface Measure {
  id: string;
  title: string;
  unit: UnitName;
  /** Where it is required of the design */
  limit?: number;
  value(f: Figures): number;
}

/** The measures of a design: what is required, then what every stage shows. */
export function measuresOf(d: Design): Measure[] {
  const required = REQUIREMENTS.map((r): Measure => {
    const { limit, on } = d.requirements[r.id];
    return { id: r.id, title: r.title, unit: r.unit, ...(on ? { limit } : {}), value: (f) => r.value(f, d) };
  });
  const { slots } = topologyOf(d)!;
  return [
    ...required,
    { id: 'loss', title: 'loss', unit: 'W', value: (f) => f.losses.total },
    { id: 'duty', title: 'duty', unit: '%', value: (f) => f.cycle.duty },
    { id: 'rippleShare', title: 'inductor ripple share', unit: '%', value: (f) => f.cycle.rippleShare },
    { id: 'crossover', title: 'crossover', unit: 'Hz', value: (f) => f.loop?.crossover ?? NaN },
    { id: 'recovery', title: 'time after a load step', unit: 's', value: (f) => f.loop?.recovery ?? NaN },
    ...slots.flatMap(({ id }): Measure[] => [
      { id: `${id} loss`, title: `${id} loss`, unit: 'W', value: (f) => f.losses.parts.find((p) => p.id === id)?.total ?? NaN },
      { id: `${id} rms`, title: `${id} current, rms`, unit: 'A', value: (f) => f.duties[id]?.rms ?? NaN },
    ]),
    ...slots.flatMap(({ id, kind }): Measure[] => (kind === 'capacitor' ? [] : [{ id: `${id} temperature`, title: `${id} temperature`, unit: '°C', value: (f) => (f.problems.heat ? NaN : Math.max(...f.heat.rungs.filter((r) => r.id.startsWith(`${id} `)).map(hottestOf), -Infinity)) }])),
  ];
}

/** Ranges that can be looked over, two at a time. */
export const OVER = ['line', 'load', 'air'] as const;
export type Over = (typeof OVER)[number];

/** A place of the field: shares of both ranges, and what every measure is there. */
export interface Spot {
  u: number;
  v: number;
  values: number[];
}

/** A cell: its lower left corner and its size, as shares. */
export interface Cell {
  u: number;
  v: number;
  size: number;
}

export const spotKey = (u: number, v: number): string => `${u.toFixed(6)} ${v.toFixed(6)}`;

/** Every measure at some places. */
export function spotsAt(d: Design, axes: readonly [Over, Over], at: OperatingPoint, places: readonly (readonly [number, number])[]): Spot[] {
  const all = measuresOf(d);
  const along = (over: Over, share: number): number => d.brief[over].min + share * (d.brief[over].max - d.brief[over].min);
  return places.map(([u, v]) => {
    const found = evaluate(d, { line: at.line, load: at.load, air: at.air, [axes[0]]: along(axes[0], u), [axes[1]]: along(axes[1], v) });
    return { u, v, values: all.map((m) => (found.ok ? m.value(found.value) : NaN)) };
  });
}

/** Cells to begin with along each range; times they are halved; the share of all that a cell may hide by */
const [FIRST, DEEPEST, BEND] = [4, 3, 0.02];

/** Corners and middle of a cell. */
export const cornersOf = ({ u, v, size }: Cell): [number, number][] => [[u, v], [u + size, v], [u, v + size], [u + size, v + size]];
const middleOf = ({ u, v, size }: Cell): [number, number] => [u + size / 2, v + size / 2];

/** The cells that a field begins with. */
export const firstCells = (): Cell[] => Array.from({ length: FIRST * FIRST }, (_, k) => ({ u: (k % FIRST) / FIRST, v: Math.floor(k / FIRST) / FIRST, size: 1 / FIRST }));

/** The places that some cells want to know. */
export const wantedBy = (cells: readonly Cell[], known: ReadonlyMap<string, Spot>): [number, number][] =>
  [...new Map(cells.flatMap((c) => [...cornersOf(c), middleOf(c)]).map(([u, v]) => [spotKey(u, v), [u, v] as [number, number]])).entries()].flatMap(([key, place]) => (known.has(key) ? [] : [place]));

/**
 * Halve the cells in which a measure meets its limit, bends, or ends.
 * @param measure its number among the values @param limit where it has one
 * @returns the cells, those that were halved as four
 */
export function refine(cells: readonly Cell[], known: ReadonlyMap<string, Spot>, measure: number, limit: number | undefined): Cell[] {
  const value = ([u, v]: readonly [number, number]): number => known.get(spotKey(u, v))?.values[measure] ?? NaN;
  const all = [...known.values()].map((s) => s.values[measure]!).filter(Number.isFinite);
  const span = Math.max(...all) - Math.min(...all);
  return cells.flatMap((c): Cell[] => {
    if (c.size <= 1 / (FIRST * 2 ** DEEPEST) + 1e-9) return [c];
    const corners = cornersOf(c).map(value);
    const middle = value(middleOf(c));
    const some = [...corners, middle];
    const finite = some.filter(Number.isFinite).length;
    const ends = finite > 0 && finite < some.length;
    const meets = limit !== undefined && some.some((x) => x > limit) && some.some((x) => x <= limit);
    const bends = Math.abs(middle - corners.reduce((a, b) => a + b, 0) / 4) > BEND * span;
    if (!ends && !meets && !bends) return [c];
    const half = c.size / 2;
    return [[0, 0], [half, 0], [0, half], [half, half]].map(([du, dv]) => ({ u: c.u + du!, v: c.v + dv!, size: half }));
  });
}

/** Straight pieces along which a measure is at a level, within one cell: by its corners and its middle, triangle by triangle. */
export function edgesIn(c: Cell, known: ReadonlyMap<string, Spot>, measure: number, level: number): [number, number, number, number][] {
  const value = ([u, v]: readonly [number, number]): number => known.get(spotKey(u, v))?.values[measure] ?? NaN;
  const [a, b, d, e] = cornersOf(c);
  const m = middleOf(c);
  const out: [number, number, number, number][] = [];
  for (const triangle of [[a, b, m], [b, e, m], [e, d, m], [d, a, m]] as [number, number][][]) {
    const crossings: [number, number][] = [];
    for (let k = 0; k < 3; k++) {
      const [p, q] = [triangle[k]!, triangle[(k + 1) % 3]!];
      const [x, y] = [value(p) - level, value(q) - level];
      if (!Number.isFinite(x + y) || x > 0 === y > 0) continue;
      const t = x / (x - y);
      crossings.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
    }
    if (crossings.length === 2) out.push([...crossings[0]!, ...crossings[1]!]);
  }
  return out;
}

/** A whole field, worked out here: for one measure, refined until nothing is left to halve. */
export function fieldOf(d: Design, axes: readonly [Over, Over], at: OperatingPoint, id: string): { cells: Cell[]; known: Map<string, Spot>; measure: number } {
  const all = measuresOf(d);
  const measure = all.findIndex((m) => m.id === id);
  const known = new Map<string, Spot>();
  let cells = firstCells();
  for (;;) {
    for (const s of spotsAt(d, axes, at, wantedBy(cells, known))) known.set(spotKey(s.u, s.v), s);
    const next = refine(cells, known, measure, all[measure]!.limit);
    if (next.length === cells.length) return { cells, known, measure };
    cells = next;
  }
}
