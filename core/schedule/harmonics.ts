import type { Design } from '../design/schema';
import { closedDesign } from '../evaluation/closedDesign';
import { cycleIntegrals, harmonics, type Harmonic } from '../orbit/measure';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { tracesNamed, tracesOffered } from './traces';

/**
 * Harmonics of a trace over the settled cycle, exact: the mean first (order 0), then `count` of them.
 * @returns problems as of closing the design; "trace" where there is none of that id, or it is a product
 */
export function harmonicsAt(d: Design, point: OperatingPoint, trace: string, count: number): Result<Harmonic[]> {
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const { bill, stage: { roles }, circuit, cycle } = found.value;
  const named = tracesNamed([trace], tracesOffered(bill, roles, circuit), circuit);
  if (!named.ok) return named;
  const { watched } = named.value[0]!;
  return 'row' in watched ? ok(harmonics(cycleIntegrals(cycle), watched.row, count)) : fail('trace', trace, 'a power has no harmonics of its own here', 'look at its voltage or its current');
}
