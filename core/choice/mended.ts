import { editDesign, valueAt } from '../design/edit';
import { fieldAt } from '../design/fields';
import type { Design } from '../design/schema';
import { printTyped } from '../quantity';
import { refusal, TOPOLOGIES } from '../topology';

/** A change with what has to change with it. */
export interface Mended {
  changes: Record<string, unknown>;
  /** "load step 4 A → 3 A" */
  said: string[];
}

const two = (v: number): number => Number(v.toPrecision(2));

/** What would end a contradiction at a field, from the design as it would be: another value of that field. */
const ENDS: Record<string, (d: Design, before: Design) => number> = {
  'brief.loadStep': ({ brief }) => brief.load.max,
  'brief.lineStep': ({ brief }) => brief.line.max - brief.line.min,
  'brief.load.min': ({ brief }, before) => two((before.brief.load.min / before.brief.load.max) * brief.load.max),
  'control.crossover': ({ brief }) => two(brief.frequency / 10),
  'control.delay': ({ brief }) => two(0.1 / brief.frequency),
  'control.reference': ({ brief }) => two(brief.output.voltage / 2),
  'drive.deadTime': ({ brief }) => two(0.02 / brief.frequency),
};

/**
 * A change that contradicts other fields, with those changed too: nothing is refused that two changes together allow.
 * @returns undefined where it stands by itself, or where nothing that is known would let it
 */
export function mended(design: Design, changes: Readonly<Record<string, unknown>>): Mended | undefined {
  const all: Record<string, unknown> = { ...changes };
  for (let round = 0; round <= Object.keys(ENDS).length; round++) {
    const edited = editDesign(design, all);
    if (edited.ok) {
      const more = Object.keys(all).filter((path) => !(path in changes));
      return more.length === 0 ? undefined : { changes: all, said: more.map((path) => said(path, valueAt(design, path) as number, all[path] as number)) };
    }
    // The field that contradicts, which is not always the one that is named: the one just typed may be.
    const { where } = edited.problem;
    const path = where in changes ? Object.keys(ENDS).find((p) => !(p in all) && helps(design, all, p)) : where;
    if (path === undefined || path in all || !(path in ENDS)) return undefined;
    all[path] = ENDS[path]!(asIf(design, all), design);
  }
  return undefined;
}

/** The design with values at paths, unchecked. */
const asIf = (design: Design, changes: Readonly<Record<string, unknown>>): Design => {
  const copy = structuredClone(design);
  for (const [path, value] of Object.entries(changes)) {
    const keys = path.split('.');
    const last = keys.pop()!;
    const at = keys.reduce<Record<string, unknown>>((o, k) => (o[k] ??= {}) as Record<string, unknown>, copy as unknown as Record<string, unknown>);
    at[last] = value;
  }
  return copy;
};

/** Does another value of a field end the contradiction, or move it elsewhere? */
function helps(design: Design, all: Readonly<Record<string, unknown>>, path: string): boolean {
  const before = editDesign(design, all);
  const after = editDesign(design, { ...all, [path]: ENDS[path]!(asIf(design, all), design) });
  return after.ok || (!before.ok && after.problem.where !== before.problem.where);
}

function said(path: string, from: number, to: number): string {
  const { title, unit } = fieldAt(path)!;
  return `${title} ${printTyped(from, unit, 3)} → ${printTyped(to, unit, 3)}`;
}

/** The topologies that can serve a brief as it would be, by id and title. */
export const ableFor = (design: Design, changes: Readonly<Record<string, unknown>>): { id: string; title: string }[] => {
  const { brief } = asIf(design, changes);
  return TOPOLOGIES.filter((t) => refusal(t, brief) === undefined).map(({ id, title }) => ({ id, title }));
};

/** The design with the brief as it would be, whatever its topology makes of it: to choose another for. */
export const askedAs = asIf;
