import type { Problem } from '../../problem';
import type { Brief } from '../brief';

/** What a load that is no resistance can not be, whichever it is: inductive, or behind a front end whose slow loop is placed on a resistance. */
export function onlyResistive({ line, loadInductance }: Brief): Problem | undefined {
  if (loadInductance !== undefined) return { code: 'impossible', where: 'brief.loadInductance', message: 'an inductance of the load goes with a resistance only', remedy: 'leave it out, or take a resistance as load' };
  if (line.mains !== undefined) return { code: 'impossible', where: 'brief.loadKind', message: 'on the mains the load is a resistance', remedy: 'take a resistance, or a dc line' };
  return undefined;
}
