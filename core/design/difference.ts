import { printTyped } from '../quantity';
import { fieldAt } from './fields';
import type { Design } from './schema';

/** One thing that two designs say differently, in words. */
export interface Difference {
  path: string;
  title: string;
  /** What each says; "–" where one says nothing, "placed" or "as sized" where it leaves it to the product */
  values: string[];
}

/** What is laid over a design, and how its runs are looked at: none of it makes another design. */
const LAID_OVER = new Set(['measured', 'captures', 'lanes', 'looks']);

const told = new WeakMap<Design, string>();

/** A design as far as any of its figures depends on it, as text: schedules only where something is required of their runs, and nothing of how they are looked at. */
export function forFigures(d: Design): string {
  let text = told.get(d);
  if (text === undefined) told.set(d, (text = JSON.stringify({ ...d, schedules: d.pins ? d.schedules : undefined, lanes: undefined, looks: undefined, captures: undefined })));
  return text;
}

/** Have two designs the same figures? */
export const sameFigures = (a: Design, b: Design): boolean => a === b || forFigures(a) === forFigures(b);

/** Every value of a design by its path. */
function leaves(value: unknown, path = '', out = new Map<string, unknown>()): Map<string, unknown> {
  if (value !== null && typeof value === 'object') for (const [key, inner] of Object.entries(value)) leaves(inner, path === '' ? key : `${path}.${key}`, out);
  else out.set(path, value);
  return out;
}

const said = (path: string, value: unknown): string => {
  if (value === undefined) return '–';
  if (value === null) return path.startsWith('control.') ? 'placed' : 'as sized';
  const field = fieldAt(path);
  return typeof value === 'number' && field ? printTyped(value, field.unit, 4) : typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value);
};

/** "Q1 on-resistance at 25 °C", "load step", "Q1" of a part that is another one. */
function titleOf(path: string): string {
  const [room, slot, key] = path.split('.');
  const field = fieldAt(path)?.title;
  if (room === 'parts' && slot !== undefined) return key === 'part' ? slot : `${slot} ${field ?? key}`;
  return field ?? path.replaceAll('.', ' ');
}

/**
 * What several designs say differently, by path in the order of the first that says it. Of a part that is another one
 * only that is told, not each of its values; names, what is laid over a design, and where it came from, are no difference.
 */
export function differences(designs: readonly Design[]): Difference[] {
  const all = designs.map((d) => leaves(d));
  const paths = new Set(all.flatMap((l) => [...l.keys()]));
  const values = (path: string): unknown[] => all.map((l) => l.get(path));
  const differs = (path: string): boolean => new Set(values(path).map((v) => JSON.stringify(v) ?? '')).size > 1;
  const others = new Set([...paths].filter((p) => /^parts\.[^.]+\.part$/.test(p) && differs(p)).map((p) => p.split('.')[1]));
  return [...paths]
    .filter((path) => path !== 'name' && !LAID_OVER.has(path.split('.')[0]!) && differs(path))
    .filter((path) => {
      const [room, slot, key] = path.split('.');
      return room !== 'parts' || !others.has(slot) || key === 'part';
    })
    .map((path) => ({ path, title: titleOf(path), values: values(path).map((v) => said(path, v)) }));
}
