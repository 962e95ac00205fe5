import { parseQuantity, printTyped } from '../../core/quantity';

/** Tables of a frequency and a number as they are typed: "100 kHz, 46", a row each. */
export type Table = readonly (readonly [number, number])[];

export const tableText = (table: Table): string => table.filter(([, v]) => Number.isFinite(v)).map(([f, v]) => `${printTyped(f, 'Hz')}, ${v}`).join('\n');

/** The rows of a typed table, or what is wrong with the first that can not be read. */
export function readTable(typed: string): { table: [number, number][] } | { wrong: string } {
  const rows = typed.split('\n').map((r) => r.trim()).filter((r) => r !== '');
  const table: [number, number][] = [];
  for (const [k, row] of rows.entries()) {
    const [f, value, more] = row.split(/[,;]/).map((s) => s.trim());
    const hertz = parseQuantity(f ?? '', 'Hz', 'frequency');
    if (!hertz.ok || value === undefined || value === '' || more !== undefined || !Number.isFinite(Number(value))) return { wrong: `row ${k + 1} is no frequency and number: write "100 kHz, 46"` };
    table.push([hertz.value, Number(value)]);
  }
  return rows.length === 0 ? { wrong: 'it wants a row at least' } : { table };
}
