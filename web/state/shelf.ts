import { useMemo } from 'react';
import { readShelf, type ShelfItem } from '../../core/interchange/shelfFile';
import { isGoods, type Goods } from '../../core/parts/goods';
import type { Part } from '../../core/parts/schema';
import { GOODS } from '../../shelf';
import { shelfWith } from './ownShelf';
import { storage } from './storage';
import { actions, useStore } from './store';

export function useShelf(): readonly Part[] {
  const own = useStore((s) => s.ownParts);
  return useMemo(() => shelfWith(own), [own]);
}

/** Sinks, wires and core materials: the own ones first, then the bundled ones that none of them replaces. */
export function useGoods(): readonly Goods[] {
  const own = useStore((s) => s.ownGoods);
  return useMemo(() => [...own, ...GOODS.filter((g) => !own.some((o) => o.part === g.part))], [own]);
}

/** What the browser has kept of own parts, sinks, wires and materials. */
export async function loadOwn(): Promise<void> {
  actions.own(await storage().parts.toArray(), await storage().goods.toArray());
}

/** Put parts, sinks, wires and materials on the own shelf; those of the same name are replaced. */
export async function keepParts(items: readonly ShelfItem[]): Promise<void> {
  await storage().parts.bulkPut(items.filter((i): i is Part => !isGoods(i)));
  await storage().goods.bulkPut(items.filter(isGoods));
  await loadOwn();
}

export async function dropPart(name: string): Promise<void> {
  await storage().parts.delete(name);
  await storage().goods.delete(name);
  await loadOwn();
}

/** Read a shelf file; a bad one is refused with row and column, and nothing changes. */
export async function importShelf(file: File): Promise<void> {
  const read = readShelf(await file.text(), file.name);
  if (!read.ok) return actions.refuse({ ...read.problem, where: [file.name, read.problem.where].filter((x, i) => x && (i === 0 || x !== file.name)).join(', ') });
  await keepParts(read.value);
  actions.notify(`${read.value.length === 1 ? 'one part' : `${read.value.length} parts`} from ${file.name}`);
}
