/** Columns of plain text, two spaces between them; the first line is the heading. */
export function table(heading: readonly string[], rows: readonly (readonly string[])[]): string {
  const all = [heading, ...rows];
  const widths = heading.map((_, i) => Math.max(...all.map((row) => [...(row[i] ?? '')].length)));
  return all.map((row) => row.map((cell, i) => cell + ' '.repeat(widths[i]! - [...cell].length)).join('  ').trimEnd()).join('\n');
}
