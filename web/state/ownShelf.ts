import type { Part } from '../../core/parts/schema';
import { SHELF } from '../../shelf';

/** Own parts first, then the bundled ones that none of them replaces. */
export const shelfWith = (own: readonly Part[]): readonly Part[] => (own.length === 0 ? SHELF : [...own, ...SHELF.filter((p) => !own.some((o) => o.part === p.part))]);
