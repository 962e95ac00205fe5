import { useMemo } from 'react';
import { readShelf } from '../../core/interchange/shelfFile';
import type { Part } from '../../core/parts/schema';
import { shelfWith } from './ownShelf';
import { storage } from './storage';
import { actions, useStore } from './store';

export function useShelf(): readonly Part[] {
  const own = useStore((s) => s.ownParts);
  return useMemo(() => shelfWith(own), [own]);
}

/** What the browser has kept of own parts. */
export async function loadOwn(): Promise<void> {
  actions.own(await storage().parts.toArray());
}

/** Put parts on the own shelf; those of the same name are replaced. */
export async function keepParts(parts: readonly Part[]): Promise<void> {
  await storage().parts.bulkPut([...parts]);
  await loadOwn();
}

export async function dropPart(name: string): Promise<void> {
  await storage().parts.delete(name);
  await loadOwn();
}

/** Read a shelf file; a bad one is refused with row and column, and nothing changes. */
export async function importShelf(file: File): Promise<void> {
  const read = readShelf(await file.text(), file.name);
  if (!read.ok) return actions.refuse({ ...read.problem, where: [file.name, read.problem.where].filter((x, i) => x && (i === 0 || x !== file.name)).join(', ') });
  await keepParts(read.value);
  actions.notify(`${read.value.length === 1 ? 'one part' : `${read.value.length} parts`} from ${file.name}`);
}
