import { AMPLIFIERS, SETTINGS, STRUCTURES } from '../control';
import { schemaProblem } from '../design/read';
import { withValues } from '../design/edit';
import type { Trace } from '../measured/types';
import { fail, ok, type Problem, type Result } from '../problem';
import { printQuantity as print, quoted } from '../quantity';
import { parseJson } from '../quantity/json';
import { carriedTrace } from '../measured/response';
import { PLANT_KIND, PLANT_VERSION, PlantDocument } from './schema';

const LONGEST = 5_000_000;

/** What the schema can not say; undefined where it can be placed on. */
function unsound(p: PlantDocument): Problem | undefined {
  const wrong = p.measured.find((m) => m.of !== 'plant');
  if (wrong) return { code: 'value', where: 'measured', message: `${quoted(wrong.title)} is no plant but a ${wrong.of === 'loop' ? 'loop gain' : 'closed loop'}`, remedy: 'lay it over a design whose compensator is known, which gives the plant by division' };
  const titles = p.measured.map((m) => m.title);
  const twice = titles.find((t, k) => titles.indexOf(t) !== k);
  if (twice !== undefined) return { code: 'name', where: 'measured', message: `two measurements are called ${quoted(twice)}`, remedy: 'give each its own name' };
  if (p.control.crossover > p.frequency / 2) return { code: 'range', where: 'control.crossover', message: `${print(p.control.crossover, 'Hz')} lies above half the switching frequency`, remedy: `choose less than ${print(p.frequency / 2, 'Hz')}` };
  if (p.control.reference > p.output) return { code: 'range', where: 'control.reference', message: `the reference of ${print(p.control.reference, 'V')} is above the output`, remedy: `choose ${print(p.output, 'V')} or less` };
  return undefined;
}

function read(value: unknown): Result<PlantDocument> {
  const parsed = PlantDocument.safeParse(value);
  if (!parsed.success) return { ok: false, problem: schemaProblem(parsed.error.issues[0]!) };
  const problem = unsound(parsed.data);
  return problem ? { ok: false, problem } : ok(parsed.data);
}

/** Change a plant document at some paths. @returns it, or the problem that forbids the change */
export const editPlant = (p: PlantDocument, changes: Readonly<Record<string, unknown>>): Result<PlantDocument> => read(withValues(p, changes));

/** Read a plant document from the text of a file. */
export function readPlant(text: string): Result<PlantDocument> {
  const raw = parseJson(text, LONGEST, 'a plant saved by this program');
  if (!raw.ok) return raw;
  return isPlantValue(raw.value) ? read(raw.value) : fail('kind', 'kind', 'the file is of another kind', `a measured plant has "kind": "${PLANT_KIND}"`);
}

const isPlantValue = (x: unknown): boolean => (x as { kind?: unknown } | null)?.kind === PLANT_KIND;

/** Is the text that of a plant document? */
export function isPlant(text: string): boolean {
  try {
    return isPlantValue(JSON.parse(text));
  } catch {
    return false;
  }
}

/** Times the last frequency that was measured that the switching is taken at, and the share of it that the crossover begins at */
const [SWITCHES, CROSSES] = [2, 0.1];
const round = (v: number): number => Number(v.toPrecision(2));

/**
 * A document for traces that were measured: with what is usual for the rest. A crossover within what was measured, a switching
 * frequency of twice its end.
 */
export function plantOfTraces(name: string, traces: readonly Trace[]): Result<PlantDocument> {
  const measured = traces.map((t) => carriedTrace({ ...t, title: traces.length > 1 ? t.title : name }, 'plant'));
  const { frequency } = measured[0]!;
  const [low, high] = [frequency[0]!, frequency.at(-1)!];
  return read({
    kind: PLANT_KIND, version: PLANT_VERSION, name: name.slice(0, 80), measured, frequency: round(SWITCHES * high), output: 5,
    control: {
      ...Object.fromEntries(Object.entries(SETTINGS).map(([key, s]) => [key, typeof s.value === 'number' ? s.value : null])),
      method: STRUCTURES[0]!.id, amplifier: AMPLIFIERS[0]!.id, sampled: 'none', placedOn: '', crossover: Math.max(round(CROSSES * high), low), phaseMargin: 60, ramp: 1, delay: 0, reference: 2.5, rounded: true,
    },
  });
}
