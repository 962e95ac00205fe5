import type { Design } from '../design/schema';
import { closedDesign } from '../evaluation/closedDesign';
import { cycleIntegrals } from '../orbit/measure';
import { harmonics, type Harmonic } from '../orbit/spectrum';
import { fail, ok, type Result } from '../problem';
import type { OperatingPoint } from '../topology';
import { wholeMains } from './onMains';
import { tracesNamed, tracesOffered } from './traces';

/**
 * Harmonics of a trace over the settled cycle, which on the mains is one of the mains, exact: the mean first (order 0), then `count` of them.
 * @returns problems as of closing the design; "trace" where there is none of that id, or it is a product
 */
export function harmonicsAt(d: Design, point: OperatingPoint, trace: string, count: number): Result<Harmonic[]> {
  const found = closedDesign(d, point);
  if (!found.ok) return found;
  const { bill } = found.value;
  // On the mains the cycle is that of the mains.
  const mains = d.brief.line.mains === undefined ? undefined : wholeMains(d, point, found.value);
  const settled = mains ? mains.settled() : ok(found.value);
  if (!settled.ok) return settled;
  const { machine: { circuit }, cycle } = settled.value;
  const { roles } = mains ? mains.with(undefined) : found.value.stage;
  const named = tracesNamed([trace], tracesOffered(bill, roles, circuit), circuit);
  if (!named.ok) return named;
  const { watched } = named.value[0]!;
  return 'row' in watched ? ok(harmonics(cycleIntegrals(cycle), watched.row, count)) : fail('trace', trace, 'a power has no harmonics of its own here', 'look at its voltage or its current');
}
