import { fail, ok, type Result } from '../problem';
import type { SwitchingEnergy } from './schema';

/** Energies of edges as they are pasted from a spreadsheet, or read from a CSV file. */

/** J of the units that a heading may name. */
const UNITS: Readonly<Record<string, number>> = { J: 1, mJ: 1e-3, µJ: 1e-6, μJ: 1e-6, uJ: 1e-6, nJ: 1e-9 };
export const ENERGY_UNITS = ['µJ', 'mJ', 'J'] as const;
const MOST = 2000;

/** Cells of a line: of tabs, semicolons, or blanks; of commas where there is nothing else between them. */
function cellsOf(line: string): string[] {
  for (const by of [/[;\t]/, /,?\s+/, /,/]) {
    const cells = line.split(by).map((c) => c.trim()).filter((c) => c !== '');
    if (cells.length >= 3) return cells;
  }
  return line.split(/[;,\s]+/).filter((c) => c !== '');
}

/** Rows of numbers, energies in J, with the line of each; `said` where a heading named a unit. */
function rowsOf(text: string, widths: readonly number[], what: string, unit: string): Result<{ rows: number[][]; lines: number[] }> {
  const [rows, lines]: [number[][], number[]] = [[], []];
  let factor = UNITS[unit]!;
  const all = text.split(/\r?\n/);
  if (all.length > MOST) return fail('size', 'table', `${all.length} lines are more than ${MOST}`, 'give a few rows a temperature: it is straight between them');
  for (const [i, raw] of all.entries()) {
    const line = raw.trim();
    if (line === '') continue;
    const numbers = cellsOf(line).map((c) => Number(c.replace(',', '.')));
    if (rows.length === 0 && numbers.every(Number.isNaN)) {
      // A heading: the unit of its energies, where it names one.
      const named = Object.keys(UNITS).filter((u) => new RegExp(`(^|[^A-Za-zµμ])${u}($|[^A-Za-z])`).test(line));
      if (named.length > 0) factor = UNITS[named.sort((a, b) => b.length - a.length)[0]!]!;
      continue;
    }
    if (!widths.includes(numbers.length) || numbers.some((v) => !Number.isFinite(v))) return fail('number', `line ${i + 1}`, `"${line.slice(0, 40)}" is not ${what}`, `give ${what}, as in ${widths.includes(4) ? '125 20 0.4 0.15' : '10 0.4 0.15'}`);
    if (rows.length > 0 && numbers.length !== rows[0]!.length) return fail('number', `line ${i + 1}`, `it has ${numbers.length} numbers, the rows before it ${rows[0]!.length}`, 'give all rows as many');
    rows.push([...numbers.slice(0, -2), ...numbers.slice(-2).map((v) => Number((v * factor).toPrecision(12)))]);
    lines.push(i + 1);
  }
  if (rows.length === 0) return fail('empty', 'table', 'there is no row in it', `give ${what} a line`);
  const negative = rows.findIndex((r) => r.slice(-3).some((v) => v < 0));
  if (negative >= 0) return fail('range', `line ${lines[negative]}`, 'it has a number below zero', 'energies, currents and resistances are above it');
  return ok({ rows, lines });
}

/** Rows sorted by their first columns; a problem where two are alike. */
function sorted(rows: number[][], lines: number[], keys: number): Result<number[][]> {
  const order = rows.map((row, i) => ({ row, line: lines[i]! })).sort((a, b) => {
    for (let k = 0; k < keys; k++) if (a.row[k] !== b.row[k]) return a.row[k]! - b.row[k]!;
    return 0;
  });
  const twice = order.findIndex(({ row }, i) => i > 0 && row.slice(0, keys).every((v, k) => v === order[i - 1]!.row[k]));
  return twice < 0 ? ok(order.map((o) => o.row)) : fail('twice', `line ${order[twice]!.line}`, 'what it is at stands in another row as well', 'keep one of them');
}

/**
 * Energies over the current: rows of A, on, off, or of °C, A, on, off. Any order of rows; a heading may name the unit of the energies.
 * @param unit of the energies where no heading names one
 * @returns the rows at the lowest temperature as `points`, the others as `warmPoints`; problems "number", "range", "twice", "empty", "size" with the line
 */
export function readEnergies(text: string, unit: string): Result<Pick<SwitchingEnergy, 'points' | 'warmPoints' | 'temperature'>> {
  const read = rowsOf(text, [3, 4], 'A, on, off (or °C, A, on, off)', unit);
  if (!read.ok) return read;
  const { rows, lines } = read.value;
  const wide = rows[0]!.length === 4;
  const order = sorted(rows, lines, wide ? 2 : 1);
  if (!order.ok) return order;
  const zero = order.value.find((r) => !(r.at(-3)! > 0));
  if (zero) return fail('range', 'table', 'a row is at no current at all', 'leave it out: without current an edge costs nothing by itself');
  if (!wide) return ok({ points: order.value as SwitchingEnergy['points'] });
  const [lowest] = order.value[0]!;
  const rest = order.value.filter((r) => r[0] !== lowest);
  return ok({ temperature: lowest!, points: order.value.filter((r) => r[0] === lowest).map((r) => r.slice(1)) as SwitchingEnergy['points'], ...(rest.length > 0 ? { warmPoints: rest as NonNullable<SwitchingEnergy['warmPoints']> } : {}) });
}

/** Energies over something else at one current, gate resistors or voltages: rows of it, on, off; as above. @returns two rows or more */
export function readOver(text: string, of: 'Ω' | 'V', unit: string): Result<[number, number, number][]> {
  const read = rowsOf(text, [3], `${of}, on, off`, unit);
  if (!read.ok) return read;
  const order = sorted(read.value.rows, read.value.lines, 1);
  if (!order.ok) return order;
  if (order.value.length < 2) return fail('size', 'table', 'one row tells nothing of what changes', `give rows at two ${of === 'Ω' ? 'gate resistors' : 'voltages'} or more`);
  if (order.value.some((r) => r.some((v) => !(v > 0)))) return fail('range', 'table', 'a number in it is not above zero', 'leave that row out');
  return ok(order.value as [number, number, number][]);
}
