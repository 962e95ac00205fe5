import { ok, type Result } from '../problem';
import { checkDesign } from './check';
import { schemaProblem } from './read';
import { Design } from './schema';

type Tree = { [key: string]: Tree | unknown };

/** The value at a dotted path, or undefined. */
export const valueAt = (design: object, path: string): unknown =>
  path.split('.').reduce<unknown>((at, key) => (at as Tree | undefined)?.[key], design);

/** A copy of a document with some paths changed; everything else is shared. Not checked. */
export function withValues(design: object, changes: Readonly<Record<string, unknown>>): unknown {
  const set = (at: Tree, keys: string[], value: unknown): Tree => {
    const [key, ...rest] = keys as [string, ...string[]];
    if (Array.isArray(at)) return at.map((x, k) => (String(k) === key ? (rest.length === 0 ? value : set(x as Tree, rest, value)) : (x as unknown))) as unknown as Tree;
    return { ...at, [key]: rest.length === 0 ? value : set((at[key] ?? {}) as Tree, rest, value) };
  };
  return Object.entries(changes).reduce<Tree>((at, [path, value]) => set(at, path.split('.'), value), design as unknown as Tree);
}

/**
 * Change a design at some paths ({"brief.line.max": 72, "parts.L1.inductance": null}).
 * @returns the changed design, or the problem that forbids it (then nothing changes)
 */
export function editDesign(design: Design, changes: Readonly<Record<string, unknown>>): Result<Design> {
  const parsed = Design.safeParse(withValues(design, changes));
  if (!parsed.success) return { ok: false, problem: schemaProblem(parsed.error.issues[0]!) };
  const problems = checkDesign(parsed.data);
  const [first] = problems;
  if (!first) return ok(parsed.data);
  // Name the field that was edited when one of the contradictions lies there.
  return { ok: false, problem: problems.find((p) => p.where in changes) ?? first };
}
