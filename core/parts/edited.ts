import type { Part } from './schema';

/** Values that a design gives to a part: how many, wound how. They are not the part's own. */
const GIVEN = new Set(['part', 'count', 'series', 'inductance', 'primaryTurns', 'secondaryTurns', 'thirdTurns']);

/** Does a part differ in its own values from the one on the shelf that it is called after, in what both say? One that is not there is nobody's copy. */
export function isEdited(part: Part, shelf: readonly Part[]): boolean {
  const there = shelf.find((p) => p.part === part.part && p.kind === part.kind) as Record<string, unknown> | undefined;
  return there !== undefined && Object.entries(part).some(([key, value]) => !GIVEN.has(key) && there[key] !== undefined && JSON.stringify(there[key]) !== JSON.stringify(value));
}

/** What a part is called where others read it: one that was changed says so. */
export const calledPart = (part: Part, shelf: readonly Part[]): string => (isEdited(part, shelf) ? `${part.part}, edited` : part.part);
