import { readFileSync } from 'node:fs';
import { editDesign, readDesign, withoutLineFilter, type Design } from '../core/design';
import type { Result } from '../core/problem';

/** For tests: the value of a result that has to be one. */
export function must<T>(r: Result<T>): T {
  if (!r.ok) throw new Error(`${r.problem.where}: ${r.problem.message}`);
  return r.value;
}

/** A demo design by the name of its file, as it is shipped. */
export const openDemo = (name: string): Design => must(readDesign(readFileSync(`demo/${name}.json`, 'utf8')));

/** The same with nothing before its line: what is held of a power stage or a loop by itself, on a stiff line. */
export const bareDemo = (name: string): Design => {
  const { filterMargin, ...requirements } = openDemo(name).requirements;
  return { ...withoutLineFilter(openDemo(name)), requirements: { ...requirements, filterMargin: { ...filterMargin, on: false } } };
};

/** A design with some paths changed, which has to be possible. */
export const change = (d: Design, changes: Readonly<Record<string, unknown>>): Design => must(editDesign(d, changes));
