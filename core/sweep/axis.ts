import { fieldAt, topologyOf, type Design } from '../design';
import { fail, ok, type Result } from '../problem';
import { parseQuantity, printTyped, quoted, type UnitName } from '../quantity';

/** A quantity that is swept: a field of the design, or line, load or air of the point. */
export interface Axis {
  /** Path of a field, "parts.L1.inductance", or "line", "load", "air" */
  path: string;
  title: string;
  unit: UnitName;
  values: number[];
}

/** What of a point can be swept */
const POINT: Readonly<Record<string, { unit: UnitName; title: string }>> = { line: { unit: 'V', title: 'line' }, load: { unit: 'A', title: 'load' }, air: { unit: '°C', title: 'air' } };

/** Values of one quantity at most, quantities at once, and runs of a sweep */
export const [MOST_VALUES, MOST_AXES, MOST_RUNS] = [200, 3, 10_000];

/** What is called by a part of this design stands below "parts". */
const pathOf = (name: string, d: Design): string => (topologyOf(d)?.slots.some((s) => name.startsWith(`${s.id}.`)) ? `parts.${name}` : name);

/** A field's title with what it is of: "L1 inductance", "own 1: moment of the step 2". */
function titled(path: string, title: string, d: Design): string {
  const [of, k, , step] = path.split('.');
  if (of === 'parts') return `${k!} ${title}`;
  return of === 'schedules' ? `${d.schedules![Number(k)]!.name}: ${title}${step === undefined ? '' : ` ${Number(step) + 1}`}` : title;
}

/** All that can be swept of a design, by path. */
export function sweepable(d: Design): { path: string; title: string; unit: UnitName }[] {
  const paths: { path: string; title: string; unit: UnitName }[] = Object.entries(POINT).map(([path, p]) => ({ path, ...p }));
  const visit = (at: unknown, path: string): void => {
    const field = fieldAt(path);
    if (field && (typeof at === 'number' || at === null)) paths.push({ path, title: titled(path, field.title, d), unit: field.unit });
    else if (at !== null && typeof at === 'object') for (const [key, value] of Object.entries(at)) visit(value, path === '' ? key : `${path}.${key}`);
  };
  for (const key of ['brief', 'control', 'parts', 'branches', 'drive', 'schedules'] as const) visit(d[key], key);
  return paths;
}

/**
 * Values as they are typed: "150k, 220k" as a list, "10u..47u/5" as five of even distance, "1k..100k/7 log" of even ratio.
 * @returns them; problems "number", "unit" as of a quantity, "range", "size"
 */
export function readValues(text: string, unit: UnitName, where: string): Result<number[]> {
  const range = /^(.+?)\.\.(.+?)\/\s*(\d+)\s*(log)?$/.exec(text.trim());
  if (!range) {
    if (/\.\./.test(text)) return fail('range', where, `"${quoted(text)}" is no range`, 'say how many values, as in 10u..47u/5');
    const values: number[] = [];
    for (const part of text.split(',')) {
      const read = parseQuantity(part, unit, where);
      if (!read.ok) return read;
      values.push(read.value);
    }
    return within([...new Set(values)], where);
  }
  const [, a, b, n, log] = range;
  const count = Number(n);
  const [from, to] = [parseQuantity(a!, unit, where), parseQuantity(b!, unit, where)];
  if (!from.ok) return from;
  if (!to.ok) return to;
  if (count < 2) return fail('range', where, `${count} values make no range`, 'give two or more');
  if (count > MOST_VALUES) return within(new Array<number>(count).fill(0), where);
  if (log && !(from.value > 0 && to.value > 0)) return fail('range', where, 'a range of even ratio goes from above zero to above zero', 'leave "log" out');
  return ok(Array.from({ length: count }, (_, k) => Number((log ? from.value * (to.value / from.value) ** (k / (count - 1)) : from.value + ((to.value - from.value) * k) / (count - 1)).toPrecision(12))));
}

const within = (values: number[], where: string): Result<number[]> =>
  values.length > MOST_VALUES ? fail('size', where, `${values.length} values are more than ${MOST_VALUES}`, `give ${MOST_VALUES} at most`) : ok(values);

/** An axis as it is typed: "L1.inductance=10u..47u/5", "brief.frequency=150k,220k", "line=36..60/9". */
export function readAxis(text: string, d: Design): Result<Axis> {
  const [name = '', values] = text.split(/=(.*)/s);
  const path = pathOf(name.trim(), d);
  const found = POINT[path] ?? sweepable(d).find((s) => s.path === path);
  if (!found) return fail('unknown', quoted(name), 'there is no quantity of that name in this design', `give one like ${sweepable(d).slice(0, 3).concat(sweepable(d).filter((s) => /inductance|crossover/.test(s.path)).slice(0, 2)).map((s) => s.path).join(', ')}`);
  if (values === undefined || values.trim() === '') return fail('empty', path, 'no values are given', `write ${path}=a,b,c or ${path}=a..b/5`);
  const read = readValues(values, found.unit, path);
  return read.ok ? ok({ path, title: found.title, unit: found.unit, values: read.value }) : read;
}

/** Is a sweep one that can be made? Problem "size" where it is far too many runs, or "range" where one quantity is there twice. */
export function sweepProblem(axes: readonly Axis[]): Result<number> {
  const runs = axes.reduce((n, a) => n * a.values.length, 1);
  const twice = axes.find((a, k) => axes.findIndex((b) => b.path === a.path) !== k);
  if (axes.length === 0 || axes.length > MOST_AXES) return fail('size', 'sweep', `a sweep goes over 1 to ${MOST_AXES} quantities, not ${axes.length}`, 'choose them');
  if (twice) return fail('range', twice.path, 'it is swept twice', 'take one away');
  return runs > MOST_RUNS ? fail('size', 'sweep', `that makes ${runs.toLocaleString('en')} runs`, `${MOST_RUNS.toLocaleString('en')} at most: give fewer values, or two quantities of them`) : ok(runs);
}

/** Values of the k-th run, in the order of the axes: the last one changes fastest. */
export function valuesOf(axes: readonly Axis[], k: number): number[] {
  const values: number[] = [];
  let left = k;
  for (const axis of [...axes].reverse()) {
    values.unshift(axis.values[left % axis.values.length]!);
    left = Math.floor(left / axis.values.length);
  }
  return values;
}

/** A value as a curve's label says it. */
export const inWords = ({ title, unit }: Pick<Axis, 'title' | 'unit'>, value: number): string => `${title} ${printTyped(value, unit, 3)}`;
