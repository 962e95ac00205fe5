import { recent } from '../recent';
import type { Design } from './schema';

/** Designs of which something is kept: those that are looked at in turn, kept states and candidates among them */
const MOST = 32;

/** What a design says, written out once for each object that says it */
const texts = new WeakMap<Design, string>();
function textOf(d: Design): string {
  let text = texts.get(d);
  if (text === undefined) texts.set(d, (text = JSON.stringify(d)));
  return text;
}

/**
 * What is worked out of a design once and asked for again and again (its sizing input, its sizes, its compensator), found by
 * what the design says and not by which object says it: one that crosses to a worker with every point that is asked
 * for, or is read from a file again, is the same design. The text itself is the key: some kilobytes, and no two designs
 * share one. The design that was not asked for longest is forgotten first.
 *
 * @param work has to depend on the design alone; `given` is what its caller has at hand of it already
 */
export function remembered<T extends object, Given extends unknown[]>(work: (d: Design, ...given: Given) => T): (d: Design, ...given: Given) => T {
  const find = recent<string, T>(MOST);
  return (d, ...given) => find(textOf(d), () => work(d, ...given));
}
