import type { z } from 'zod';
import { fail, ok, type Problem, type Result } from '../problem';
import { article, implausible, parseQuantity, printQuantity, quoted, UNITS } from '../quantity';
import { parseJson } from '../quantity/json';
import { renamedPart } from '../parts/older';
import { checkDesign } from './check';
import { fieldAt } from './fields';
import { Design, KIND, VERSION } from './schema';

/** Largest file that is looked at, in characters. A design is about 4000. */
const LONGEST = 2_000_000;

/**
 * Read a design from the text of a file. Quantities may be numbers in SI units or text with a unit
 * ("22 µH", "4u7").
 * @returns the design, or the first problem: what is wrong at which field, and what would be right
 */
export function readDesign(text: string): Result<Design> {
  const raw = parseJson(text, LONGEST, 'a design file saved by this program');
  return raw.ok ? readDesignValue(raw.value) : raw;
}

/** The same from parsed JSON. */
export function readDesignValue(raw: unknown): Result<Design> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw) || (raw as { kind?: unknown }).kind !== KIND)
    return fail('kind', 'kind', 'the file is of another kind', `a design has "kind": "${KIND}"`);
  const { version } = raw as { version?: unknown };
  if (version !== VERSION) {
    const newer = typeof version === 'number' && version > VERSION;
    return fail('version', 'version', `version ${quoted(String(JSON.stringify(version)))} is not known here`, newer ? 'open it with a newer Jump Reed' : `write "version": ${VERSION}`);
  }
  const numbers = readQuantities(renamed(raw), '');
  if (!numbers.ok) return numbers;
  const parsed = Design.safeParse(numbers.value);
  if (!parsed.success) return { ok: false, problem: schemaProblem(parsed.error.issues[0]!) };
  const [first] = checkDesign(parsed.data);
  return first ? { ok: false, problem: first } : ok(parsed.data);
}

/** What older files call otherwise: until amplifiers were chosen by themselves, one of them was a method of its own. */
function renamed(older: object): object {
  const { control, parts } = older as { control?: { method?: unknown }; parts?: unknown };
  const raw = typeof parts === 'object' && parts !== null ? { ...older, parts: Object.fromEntries(Object.entries(parts).map(([slot, part]) => [slot, renamedPart(part)])) } : older;
  return control?.method === 'voltage-transconductance' ? { ...raw, control: { ...control, method: 'voltage', amplifier: 'transconductance' } } : raw;
}

/** Replace text by numbers wherever a field measures something. */
function readQuantities(value: unknown, path: string): Result<unknown> {
  if (typeof value === 'string') {
    const field = fieldAt(path);
    if (!field) return ok(value);
    const read = parseQuantity(value, field.unit, path);
    return read.ok ? readQuantities(read.value, path) : read;
  }
  if (typeof value === 'number') {
    const field = fieldAt(path);
    const slip = field && implausible(value, field.unit);
    return slip ? fail('range', path, `${field.title} of ${printQuantity(value, field.unit)} is ${slip.message}`, `give ${slip.bound === UNITS[field.unit].highest ? 'at most' : 'at least'} ${printQuantity(slip.bound, field.unit)}`) : ok(value);
  }
  if (typeof value !== 'object' || value === null) return ok(value);
  if (Array.isArray(value)) return ok(value);
  const out: Record<string, unknown> = {};
  for (const [key, inner] of Object.entries(value)) {
    const read = readQuantities(inner, path === '' ? key : `${path}.${key}`);
    if (!read.ok) return read;
    out[key] = read.value;
  }
  return ok(out);
}

/** One Zod issue as a problem in plain words. */
export function schemaProblem(issue: z.core.$ZodIssue): Problem {
  const where = issue.path.join('.');
  const field = fieldAt(where);
  const measures = field ? UNITS[field.unit].measures : '';
  const what = !field ? 'this field' : field.title.includes(measures) ? field.title : `${field.title}, ${article(measures)},`;
  const bound = (value: number | bigint): string => (field ? printQuantity(Number(value), field.unit) : String(value));
  switch (issue.code) {
    case 'unrecognized_keys':
      return {
        code: 'unknown-field',
        where: quoted([...issue.path, issue.keys[0]!].join('.')),
        message: 'there is no such field',
        remedy: 'remove it, or check its spelling',
      };
    case 'too_small':
      return {
        code: 'range',
        where,
        message: `${what} is too small`,
        remedy: issue.inclusive === false ? `give a value above ${bound(issue.minimum)}` : `give ${bound(issue.minimum)} or more`,
      };
    case 'too_big':
      return { code: 'range', where, message: `${what} is too large`, remedy: `give ${bound(issue.maximum)} or less` };
    case 'invalid_type':
      return {
        code: 'type',
        where,
        message: issue.input === undefined && !/received (?!undefined)/.test(issue.message) ? `${what} is missing` : `${what} is of the wrong type`,
        remedy: `give ${issue.expected === 'number' || issue.expected === 'int' ? 'a number' : `a ${issue.expected}`}`,
      };
    default:
      return { code: 'value', where, message: `${what} is not right`, remedy: issue.message.replace(/^Invalid input: /, '').toLowerCase() };
  }
}
