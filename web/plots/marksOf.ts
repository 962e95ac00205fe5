import type { Margins } from '../../core/response/margins';
import { printQuantity as print } from '../../core/quantity';

/** Where a loop crosses and what is left there, as a plot marks it: at Hz, degrees at the Hz where they are least, and in words. */
export interface Marks {
  crossover: number;
  phaseMargin: number;
  marginAt: number;
  label: string;
}

/** The marks of a loop; nothing where it does not cross. Where its gain comes back above one, what is left is told of where that is least. */
export function marksOf({ crossover, phaseMargin, dip }: Pick<Margins, 'crossover' | 'phaseMargin' | 'dip'>): Marks | undefined {
  if (!Number.isFinite(crossover)) return undefined;
  const marginAt = dip?.marginAt ?? crossover;
  return { crossover, phaseMargin, marginAt, label: `${print(crossover, 'Hz')} · ${marginAt === crossover ? '' : 'least '}${print(phaseMargin, '°')}` };
}
