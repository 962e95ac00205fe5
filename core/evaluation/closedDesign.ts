import type { Design } from '../design/schema';
import { ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import type { Loops } from './assemble';
import { billOf, type Bill } from './bill';
import { clipped, closeStage, type ClosedStage } from './closed';
import { compensatorsOf, loopsAround, loopsAsked } from './compensator';
import { settleStage, type SettledStage } from './settleStage';
import { standAt } from './standing';

/** A design closed at a point, with what it was closed from. */
export interface ClosedDesign extends ClosedStage {
  bill: Bill;
  stage: SettledStage;
  loops: Loops;
}

/**
 * A design with its loops closed at a point, its parts as warm as the air; on the mains where the loop is placed for.
 * @returns problems as of settling, placing and closing it; "clips" where an amplifier can not put out what it has to
 */
export function closedDesign(d: Design, point: OperatingPoint): Result<ClosedDesign> {
  const bill = billOf(d);
  const standing = standAt(bill, point);
  if (!standing.ok) return standing;
  const { only, mains } = standing.value;
  const stage = settleStage(bill, only ?? mains!.at(mains!.seen, mains!.level()), () => point.air);
  if (!stage.ok) return stage;
  const compensators = compensatorsOf(d);
  if (!compensators.ok) return compensators;
  const loops = loopsAround(d, stage.value, loopsAsked(bill, stage.value.roles, d).map(({ sensed }, k) => ({ sensed, controller: compensators.value[k]!.controller })));
  const clips = clipped(stage.value, loops);
  if (clips) return { ok: false, problem: clips };
  // What is slower than the mains closes nothing within a switching period: there it is as with its loop open.
  const closed = bill.drive.held ? ok(stage.value) : closeStage(stage.value, loops);
  return closed.ok ? ok({ circuit: closed.value.circuit, machine: closed.value.machine, cycle: closed.value.cycle, bill, stage: stage.value, loops }) : closed;
}
