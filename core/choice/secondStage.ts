import type { Branch } from '../branches/branch';
import { BRANCH_IDS } from '../branches/branch';
import type { Design } from '../design/schema';
import { editDesign } from '../design/edit';
import { evaluate } from '../evaluation/evaluate';
import { placementPoint } from '../evaluation/compensator';
import type { Part } from '../parts/schema';
import { ok, type Result } from '../problem';
import { hangBranch } from './hangBranch';

/** What stands behind an output and in its loop, so that it may cost that its margin: it is offered with what it costs. */
export type Behind = 'filter' | 'bead';

/** A way to hang one, and what it does at the middle of the line and full load. */
export interface StageWay {
  id: 'damped' | 'bare' | 'before' | 'behind';
  title: string;
  design: Design;
  /** °, dB, V peak to peak; margins NaN where its loop has no figures */
  phaseMargin: number;
  gainMargin: number;
  ripple: number;
  stable: boolean;
}

/** The design as it is, and the ways to hang it there. */
export interface StageOffer {
  now: Pick<StageWay, 'phaseMargin' | 'gainMargin' | 'ripple'>;
  ways: StageWay[];
}

type Way = { id: StageWay['id']; title: string; branch: Partial<Branch> };
const WAYS: Readonly<Record<Behind, readonly Way[]>> = {
  filter: [
    { id: 'damped', title: 'damped, fed back behind it', branch: { damped: 'parallel' } },
    { id: 'bare', title: 'not damped, fed back behind it', branch: {} },
    { id: 'before', title: 'damped, fed back before it', branch: { damped: 'parallel', feedback: 'before' } },
  ],
  bead: [
    { id: 'before', title: 'fed back before it', branch: { feedback: 'before' } },
    { id: 'behind', title: 'fed back behind it', branch: {} },
  ],
};

/**
 * What a second stage, or a bead, would cost and give, damped and not, fed back behind it and before: nothing is hung that has not said so.
 * @returns problems "branch" where none can be hung, and those of the design as it is
 */
export function secondStages(d: Design, shelf: readonly Part[], kind: Behind = 'filter'): Result<StageOffer> {
  const at = placementPoint(d);
  const now = evaluate(d, at);
  if (!now.ok) return now;
  const id = BRANCH_IDS.find((x) => !d.branches?.[x]);
  const ways: StageWay[] = [];
  for (const w of WAYS[kind]) {
    const hung = hangBranch(d, kind, shelf, w.branch.damped ? { damped: w.branch.damped } : {});
    if (!hung.ok) return hung;
    const made = w.branch.feedback ? editDesign(hung.value, { [`branches.${id}.feedback`]: w.branch.feedback }) : hung;
    if (!made.ok) continue;
    const found = evaluate(made.value, at);
    if (!found.ok) continue;
    const { loop, cycle } = found.value;
    ways.push({ id: w.id, title: w.title, design: made.value, phaseMargin: loop?.phaseMargin ?? NaN, gainMargin: loop?.gainMargin ?? NaN, ripple: cycle.outputRipple, stable: loop?.stable === true });
  }
  const { loop, cycle } = now.value;
  return ok({ now: { phaseMargin: loop?.phaseMargin ?? NaN, gainMargin: loop?.gainMargin ?? NaN, ripple: cycle.outputRipple }, ways });
}
