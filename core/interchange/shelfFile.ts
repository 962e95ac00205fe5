import { csvFormatRows, csvParseRows } from 'd3-dsv';
import { z } from 'zod';
import { Goods, GOODS_FIELDS } from '../parts/goods';
import { renamedPart } from '../parts/older';
import { Part } from '../parts/schema';
import { fail, ok, type Result } from '../problem';
import { parseJson } from '../quantity/json';
import { parseQuantity } from '../quantity';
import { fieldAt } from '../design/fields';
import { schemaProblem } from '../design/read';

/**
 * Shelves as files: JSON, a list of parts as they stand in a design and of sinks, wires and core materials, or CSV with a row each and a column a
 * field ("steinmetz.k" for what lies deeper). Quantities are numbers in SI units or text with a unit; an empty
 * cell is a field that the kind has not, or a value left open.
 */

/** What stands on a shelf: a part for a slot, or a sink, wire or core material. */
export type ShelfItem = Part | Goods;
const KINDS = [...Part.options, ...Goods.options];
type Kind = ShelfItem['kind'];

/** Most parts of one file */
const MOST = 5000;
const LONGEST = 5_000_000;

/** The fields of a field that has some of its own ("steinmetz.k"), as the schema has them; a table ("points") is a cell like "10:1e-4:5e-5; 20:2e-4:1e-4". */
function within(field: unknown): readonly string[] | undefined {
  const inner = field instanceof z.ZodOptional ? field.unwrap() : field;
  return inner instanceof z.ZodObject ? Object.keys(inner.shape) : undefined;
}

/** The fields of a kind, as columns. */
const columnsOf = (kind: Kind): Set<string> => COLUMNS_OF.get(kind)!;
const COLUMNS_OF = new Map(KINDS.map((o) => [o.shape.kind.value as Kind, new Set(Object.entries(o.shape).flatMap(([k, field]) => within(field)?.map((x) => `${k}.${x}`) ?? [k]))]));

/** Columns in the order of the schema, kind by kind, each once. */
const COLUMNS: readonly string[] = [...new Set([...COLUMNS_OF.values()].flatMap((c) => [...c]))];

/** Words that stand for a figure: a foil that is cut to the window */
const WORDS = new Set(['window']);

/** May the field be missing? An empty cell then leaves it out. */
function isOptional(kind: Kind, column: string): boolean {
  const shape = KINDS.find((o) => o.shape.kind.value === kind)!.shape as Record<string, { safeParse(v: unknown): { success: boolean } }>;
  return shape[column.split('.')[0]!]!.safeParse(undefined).success;
}

/** @returns the parts; problems name the row and the column or field */
export function readShelf(text: string, name: string): Result<ShelfItem[]> {
  if (text.length > LONGEST) return fail('size', name, 'the file is far larger than a shelf', 'split it');
  const read = /\.csv$/i.test(name) ? readCsv(text) : readJson(text);
  if (!read.ok) return read;
  if (read.value.length === 0) return fail('empty', name, 'there is no part in it', 'give a row for each part');
  const seen = new Set<string>();
  for (const [i, p] of read.value.entries()) {
    if (seen.has(p.part)) return fail('twice', `row ${i + 1}, part`, `"${p.part}" is there twice`, 'give each part a name of its own');
    seen.add(p.part);
  }
  return ok(read.value);
}

function readJson(text: string): Result<ShelfItem[]> {
  const parsed = parseJson(text, LONGEST, 'a shelf saved as JSON, or a file called .csv');
  if (!parsed.ok) return parsed;
  const raw = parsed.value;
  if (!Array.isArray(raw)) return fail('shape', '', 'a shelf is a list of parts', 'put the parts in brackets: [ … ]');
  if (raw.length > MOST) return fail('size', '', `${raw.length} parts are more than ${MOST}`, 'split the file');
  const parts: ShelfItem[] = [];
  for (const [i, value] of raw.entries()) {
    const part = readPart(value, i + 1);
    if (!part.ok) return part;
    parts.push(part.value);
  }
  return ok(parts);
}

function readCsv(text: string): Result<ShelfItem[]> {
  const plain = text.replace(/^\uFEFF/, '');
  // A spreadsheet that writes decimals with a comma parts its cells by semicolons.
  const first = plain.slice(0, plain.search(/[\r\n]|$/));
  if (first.includes(';') && !first.includes(',')) return fail('column', 'row 1', 'its cells are parted by semicolons', 'save it with commas between the cells, and points in decimals');
  const [head, ...rows] = csvParseRows(plain);
  const columns = (head ?? []).map((c) => c.trim());
  const unknown = columns.find((c) => !COLUMNS.includes(c));
  if (unknown !== undefined) return fail('column', `row 1, ${unknown || 'an empty column'}`, 'there is no such column', `columns are ${COLUMNS.slice(0, 6).join(', ')} …: save a shelf as CSV to see them all`);
  for (const wanted of ['kind', 'part']) if (!columns.includes(wanted)) return fail('column', `row 1, ${wanted}`, 'this column is missing', 'add it');
  if (rows.length > MOST) return fail('size', '', `${rows.length} parts are more than ${MOST}`, 'split the file');
  const parts: ShelfItem[] = [];
  for (const [i, cells] of rows.entries()) {
    // Rows of a spreadsheet: the head is the first.
    const row = i + 2;
    if (cells.every((c) => c.trim() === '')) continue;
    if (cells.length > columns.length) return fail('column', `row ${row}`, `it has ${cells.length} cells, the first row ${columns.length}`, 'look for a comma within a number: decimals take a point');
    const kind = cells[columns.indexOf('kind')]!.trim();
    const known = KINDS.some((o) => o.shape.kind.value === kind);
    if (!known) return fail('kind', `row ${row}, kind`, `"${kind}" is no kind of part`, `choose ${KINDS.map((o) => o.shape.kind.value).join(', ')}`);
    const own = columnsOf(kind as Kind);
    const value: Record<string, unknown> = {};
    for (const [c, column] of columns.entries()) {
      const cell = (cells[c] ?? '').trim();
      if (!own.has(column)) {
        if (cell !== '') return fail('column', `row ${row}, ${column}`, `a ${kind} has no such field`, 'leave the cell empty');
        continue;
      }
      if (cell === '' && isOptional(kind as Kind, column)) continue;
      const [outer, inner] = column.split('.') as [string, string?];
      if (inner !== undefined) value[outer] = { ...(value[outer] as object), [inner]: cell === '' ? null : /points$/i.test(inner) ? cell.split(';').map((row) => row.split(':').map(Number)) : WORDS.has(cell) ? cell : Number(cell) };
      else value[column] = cell === '' ? null : cell;
    }
    const part = readPart(value, row);
    if (!part.ok) return part;
    parts.push(part.value);
  }
  return ok(parts);
}

/** One part, with quantities as text read; problems name the row. */
function readPart(raw: unknown, row: number): Result<ShelfItem> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) return fail('shape', `row ${row}`, 'this is no part', 'give an object with "kind" and "part"');
  const value: Record<string, unknown> = {};
  for (const [key, cell] of Object.entries(raw)) {
    const field = fieldAt(`parts.any.${key}`) ?? (Object.hasOwn(GOODS_FIELDS, key) ? GOODS_FIELDS[key] : undefined);
    if (typeof cell !== 'string' || !field || WORDS.has(cell)) value[key] = cell;
    // A bare number is in SI units, also where a field on screen takes percent.
    else if (cell.trim() !== '' && Number.isFinite(Number(cell))) value[key] = Number(cell);
    else {
      const read = parseQuantity(cell, field.unit, `row ${row}, ${key}`);
      if (!read.ok) return read;
      value[key] = read.value;
    }
  }
  const parsed = (Goods.options.some((o) => o.shape.kind.value === value.kind) ? Goods : Part).safeParse(renamedPart(value));
  if (parsed.success) return ok(parsed.data as ShelfItem);
  const problem = schemaProblem(parsed.error.issues[0]!);
  return { ok: false, problem: { ...problem, where: `row ${row}, ${problem.where || 'kind'}` } };
}

/** A shelf as the text of a JSON file, a part a line. */
export const shelfJson = (parts: readonly ShelfItem[]): string => `[\n${parts.map((p) => JSON.stringify(p)).join(',\n')}\n]\n`;

/** A shelf as CSV, with the columns that its parts use. */
export function shelfCsv(parts: readonly ShelfItem[]): string {
  const used = COLUMNS.filter((c) => parts.some((p) => columnsOf(p.kind).has(c)));
  const cell = (p: ShelfItem, column: string): string => {
    const value = column.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], p);
    if (Array.isArray(value)) return value.map((row) => (row as number[]).join(':')).join('; ');
    return value === undefined || value === null ? '' : String(value);
  };
  return csvFormatRows([used, ...parts.map((p) => used.map((c) => cell(p, c)))]) + '\n';
}
