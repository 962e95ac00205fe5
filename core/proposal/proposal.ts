import { holdCorners } from '../corners/corners';
import { requirementNamed } from '../corners/requirements';
import type { Design } from '../design/schema';
import type { Part } from '../parts/schema';
import { ok, type Problem, type Result } from '../problem';
import type { UnitName } from '../quantity';
import { newDesign } from './newDesign';
import type { Asked } from './usual';

/** A design made for a brief, with how it stands: what is shown before it is taken. */
export interface Proposal {
  id: string;
  design: Design;
  holding: number;
  corners: number;
  /** The requirement with the least room, at its worst corner */
  tightest?: { title: string; value: number; limit: number; unit: UnitName; direction: 'at most' | 'at least'; holds: boolean };
  /** Of the loop: Hz at its lowest corner, least degrees */
  crossover?: number;
  phaseMargin?: number;
  /** Why a corner has no figures, where one has none */
  problem?: Problem;
}

/** Make the design of one topology in full and hold it at every corner. Problems as of `newDesign`. */
export function proposalOf(asked: Asked, id: string, shelf: readonly Part[], name?: string): Result<Proposal> {
  const made = newDesign(asked, id, shelf, name);
  if (!made.ok) return made;
  const { design } = made.value;
  const { corners, worst, holding, least } = holdCorners(design);
  const problem = corners.find((c) => c.problem)?.problem;
  const [first] = worst;
  const r = first && requirementNamed(first.id);
  return ok({
    id, design, holding, corners: corners.length,
    ...(first && r ? { tightest: { title: r.title, value: first.value, limit: first.limit, unit: r.unit, direction: r.direction, holds: first.holds } } : {}),
    ...(least ? { crossover: least.crossover, phaseMargin: least.phaseMargin } : {}),
    ...(problem ? { problem } : {}),
  });
}
