import type { Design } from '../design/schema';
import { add, over, times, type Complex } from '../linear/complex';
import { measuredAt, misfit, plantBy, type Misfit } from '../measured/response';
import type { Measured } from '../measured/types';
import { bode, margins, type BodeCurve, type Margins } from '../response/margins';
import { modulatorAt } from './compensator';
import type { Detail } from './figures';

/** A measured response beside what is computed: the loop that it makes, and how far apart they are. */
export interface Compared {
  title: string;
  of: Measured['of'];
  /** V and A that it was measured at, where that is known */
  at?: Measured['at'];
  /** As it was measured, in the unit of the plot that it belongs to, and the loop gain it makes with this compensator */
  plant: BodeCurve;
  loop: BodeCurve;
  /** Read of that loop */
  margins: Margins;
  /** Between what was measured and the same computed, as rms */
  misfit?: Misfit;
}

const one: Complex = { re: 1, im: 0 };

/**
 * Lay a measured response over the curves of a point.
 * @param curves of the figures at that point
 */
export function compareMeasured({ control }: Design, curves: NonNullable<Detail['bode']>, m: Measured): Compared {
  const compensator = (f: number): Complex => measuredAt(curves.compensator, f);
  const plant = plantBy(m.of, m, compensator);
  const loop = (f: number): Complex => times(plant(f), compensator(f));
  // What is drawn as plant has neither modulator nor delay in it.
  const drawn = (f: number): Complex => over(plant(f), modulatorAt(control, f));
  const inside = m.frequency.filter((f) => f >= curves.compensator.frequency[0]! && f <= curves.compensator.frequency.at(-1)!);
  const own = inside.length > 1 ? inside : m.frequency;
  const loopCurve = bode(own, own.map(loop));
  const computed = (f: number): Complex => {
    const L = measuredAt(curves.loop, f);
    return m.of === 'loop' ? L : m.of === 'closed' ? over(L, add(one, L)) : times(measuredAt(curves.plant, f), modulatorAt(control, f));
  };
  const found = misfit(m, computed);
  return { title: m.title, of: m.of, ...(m.at ? { at: m.at } : {}), plant: bode(own, own.map(drawn)), loop: loopCurve, margins: margins(loop, loopCurve, own.map(loop)), ...(found ? { misfit: found } : {}) };
}

/** A loop on a measured plant alone, with a compensator that was placed on it. */
export function loopOnMeasured(m: Pick<Measured, 'frequency' | 'gain' | 'phase'>, compensator: (f: number) => Complex): { curve: BodeCurve; margins: Margins } {
  const loop = (f: number): Complex => times(measuredAt(m, f), compensator(f));
  const samples = m.frequency.map(loop);
  const curve = bode(m.frequency, samples);
  return { curve, margins: margins(loop, curve, samples) };
}
