import { remembered } from '../design/remembered';
import type { Design } from '../design/schema';
import type { OperatingPoint } from '../topology';
import { warmedAt } from './evaluate';

const known = remembered<Map<string, ((slot: string) => number) | undefined>, []>(() => new Map());

/**
 * How warm the parts of a design are at a point (°C by slot), for a design that differs little from it to begin from; undefined where it
 * has no lasting temperatures. Of the design and the point alone, whoever has asked before.
 */
export function warmthAt(d: Design, point: OperatingPoint): ((slot: string) => number) | undefined {
  const [of, key] = [known(d), JSON.stringify(point)];
  if (!of.has(key)) {
    const found = warmedAt(d, point);
    of.set(key, found.ok && !found.value.runaway ? found.value.warm.stage.temperature : undefined);
  }
  return of.get(key);
}
