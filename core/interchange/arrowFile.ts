import { tableFromArrays, tableFromIPC, tableToIPC } from 'apache-arrow';

/** Columns of numbers as a file of the Apache Arrow columnar format (version 1.5, IPC file format): 64-bit floating point, names with their units. */
export function arrowFile(columns: Readonly<Record<string, Float64Array>>): Uint8Array {
  return tableToIPC(tableFromArrays(columns), 'file');
}

/** The columns of such a file, for tests and for whoever reads one back. */
export function arrowColumns(file: Uint8Array): Record<string, Float64Array> {
  const table = tableFromIPC(file);
  return Object.fromEntries(table.schema.fields.map((f) => [f.name, Float64Array.from(table.getChild(f.name)!.toArray() as Float64Array)]));
}
