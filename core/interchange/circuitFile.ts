import { Circuit, CIRCUIT_KIND } from '../circuit/elements';
import type { Converter } from '../converter/converter';
import { FileRoles } from '../converter/roles';
import { missingIn } from '../converter/sound';
import { fail, ok, type Result } from '../problem';
import { implausible, parseQuantity, printQuantity, quoted, UNITS, type UnitName } from '../quantity';
import { parseJson } from '../quantity/json';

/** What the numbers of a circuit measure, by field name: text with a unit may stand for any of them. */
const UNIT_OF: Record<string, UnitName> = {
  resistance: 'Ω', onResistance: 'Ω', esr: 'Ω', inductance: 'H', capacitance: 'F', drop: 'V', period: 's', deadTime: 's', delay: 's', blanking: 's', onTime: 's', minOff: 's',
  bandwidth: 'Hz', frequency: 'Hz', current: 'A', lowest: 'V', highest: 'V', threshold: 'V', power: 'W', low: 'V', high: 'V', hysteresis: 'V',
  voltage: 'V', crossover: 'Hz', phaseMargin: '°', at: 's', start: 's', duration: 's', width: 's', offConductance: 'S',
};

type CircuitFile = ReturnType<typeof CircuitFile.parse>;

const LONGEST = 20_000_000;
const MOST_ELEMENTS = 400;

/** Is the text that of a circuit file? What is no JSON is none. */
export function isCircuit(text: string): boolean {
  try {
    return (JSON.parse(text) as { kind?: unknown } | null)?.kind === CIRCUIT_KIND;
  } catch {
    return false;
  }
}

/** What a file may hold: a circuit, and what is what in it. */
export const CircuitFile = Circuit.extend({ roles: FileRoles.optional() });

/**
 * Read a circuit from the text of a file; see docs/circuit-file.md.
 * @returns the circuit, or the first problem: at which element's field, and what would be right
 */
export function readCircuit(text: string): Result<Circuit> {
  const read = readFile(text);
  if (!read.ok) return read;
  const { roles: _, ...circuit } = read.value;
  return ok(circuit);
}

/**
 * Read a circuit with roles as a converter.
 * @returns it; problem "missing" where there are no roles, "unknown" or "place" where they name what is not there
 */
export function readConverter(text: string): Result<Converter> {
  const read = readFile(text);
  if (!read.ok) return read;
  const { roles, ...circuit } = read.value;
  if (!roles) return fail('missing', 'roles', 'the circuit does not say what is what in it', 'give it roles: its line, its outputs and its loops; or run it with "reed circuit"');
  const problem = missingIn(circuit, roles);
  return problem ? { ok: false, problem } : ok({ circuit, roles });
}

function readFile(text: string): Result<CircuitFile> {
  const read = parseJson(text, LONGEST, 'a circuit file');
  if (!read.ok) return read;
  const raw = read.value;
  if (typeof raw !== 'object' || raw === null || (raw as { kind?: unknown }).kind !== CIRCUIT_KIND)
    return fail('kind', 'kind', 'the file is of another kind', `a circuit has "kind": "${CIRCUIT_KIND}"`);
  const { elements } = raw as { elements?: unknown };
  if (Array.isArray(elements) && elements.length > MOST_ELEMENTS)
    return fail('size', 'elements', `${elements.length} elements are more than can be solved exactly in good time`, `keep to ${MOST_ELEMENTS}: put the part that switches in a circuit of its own`);
  const numbers = quantities(raw, '');
  if (!numbers.ok) return numbers;
  const parsed = CircuitFile.safeParse(numbers.value);
  if (parsed.success) return ok(parsed.data);
  const issue = parsed.error.issues[0]!;
  return fail('value', named(raw, issue.path), issue.code === 'unrecognized_keys' ? `there is no field ${quoted(issue.keys.join(', '))}` : 'the value is not right', issue.code === 'unrecognized_keys' ? 'remove it, or check its spelling' : issue.message.replace(/^Invalid input: /, '').toLowerCase());
}

/** The path of a field with the element's own name in it: "L1.inductance". */
function named(raw: unknown, path: readonly PropertyKey[]): string {
  const [list, index, ...rest] = path;
  const items = (raw as Record<string, unknown>)[String(list)];
  const id = Array.isArray(items) ? (items[Number(index)] as { id?: unknown } | undefined)?.id : undefined;
  return quoted(typeof id === 'string' ? [id, ...rest].join('.') : path.join('.'));
}

/** The unit of a field of an element of some kind; none where it is no quantity. */
export function unitOf(key: string, kind: unknown, isShape: boolean): UnitName | undefined {
  if (key === 'value') return kind === 'current-source' ? 'A' : 'V';
  if (key === 'width' && kind === 'hysteretic') return 'V';
  if (key === 'slope' && kind === 'string-load') return 'Ω';
  // A pulse's levels are volts or amperes, as its source is.
  if (isShape && (key === 'low' || key === 'high')) return undefined;
  return Object.hasOwn(UNIT_OF, key) ? UNIT_OF[key] : undefined;
}

/** A value that can not be meant. */
function plausible(value: number, unit: UnitName, where: string): ReturnType<typeof fail> | undefined {
  const slip = implausible(value, unit);
  if (!slip) return undefined;
  return fail('range', quoted(where), `${printQuantity(value, unit)} is ${slip.message}`, `give ${slip.bound === UNITS[unit].highest ? 'at most' : 'at least'} ${printQuantity(slip.bound, unit)}`);
}

function quantities(value: unknown, where: string): Result<unknown> {
  if (Array.isArray(value)) {
    const out: unknown[] = [];
    for (const [i, item] of value.entries()) {
      const id = (item as { id?: unknown } | null)?.id;
      const read = quantities(item, typeof id === 'string' ? id : `${where}.${i}`);
      if (!read.ok) return read;
      out.push(read.value);
    }
    return ok(out);
  }
  if (typeof value !== 'object' || value === null) return ok(value);
  const kind = (value as { kind?: unknown }).kind;
  const out: [string, unknown][] = [];
  for (const [key, inner] of Object.entries(value)) {
    const unit = unitOf(key, kind, 'shape' in value);
    if (unit !== undefined && typeof inner === 'string') {
      const read = parseQuantity(inner, unit, `${where}.${key}`);
      if (!read.ok) return read;
      const slip = plausible(read.value, unit, `${where}.${key}`);
      if (slip) return slip;
      out.push([key, read.value]);
    } else if (unit !== undefined && typeof inner === 'number') {
      const slip = plausible(inner, unit, `${where}.${key}`);
      if (slip) return slip;
      out.push([key, inner]);
    } else {
      const read = quantities(inner, where === '' ? key : `${where}.${key}`);
      if (!read.ok) return read;
      out.push([key, read.value]);
    }
  }
  // As entries: a key "__proto__" is one of many.
  return ok(Object.fromEntries(out));
}

