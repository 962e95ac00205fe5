import { printQuantity as print } from '../quantity';
import type { Block, Report } from './blocks';

/** Text as it stands in Markdown, in cells of tables too: nothing in it is taken for a mark of its own. */
const plain = (text: string): string => text.replace(/([\\`*_{}[\]<>#|~])/g, '\\$1').replace(/\r?\n/g, ' ');

function tableOf({ head, rows, numbers = [] }: Extract<Block, { kind: 'table' }>): string {
  const width = Math.max(head?.length ?? 0, ...rows.map((r) => r.cells.length));
  const line = (cells: readonly string[]): string => `| ${Array.from({ length: width }, (_, k) => plain(cells[k] ?? '')).join(' | ')} |`;
  return [line(head ?? []), `|${Array.from({ length: width }, (_, k) => (numbers.includes(k) ? '---:' : '---')).join('|')}|`, ...rows.map((r) => line(r.cells))].join('\n');
}

function blockOf(block: Block): string {
  switch (block.kind) {
    case 'text':
      return `${plain(block.text)}\n`;
    case 'table':
      return `${tableOf(block)}\n`;
    case 'workings':
      return block.list.map((w) => `- **${plain(w.title)}**: ${plain(print(w.value, w.unit, 4))}; \`${w.formula.replaceAll('`', "'")}\`; ${plain(w.source)}`).join('\n') + '\n';
    // Pictures have no place in it; what they show stands in tables.
    case 'plot':
    case 'bars':
    case 'drawing':
      return '';
  }
}

/** A report as Markdown with tables. */
export const reportMarkdown = (r: Report): string =>
  `${[`# ${plain(r.title)}`, `${plain(r.summary)}.`, `**${plain(r.verdict)}**`, ...r.sections.flatMap((s) => [`## ${plain(s.title)}`, ...s.blocks.map(blockOf).filter((b) => b !== '')]), r.about.map(([a, b]) => `${plain(a)}: \`${b}\``).join('  \n')].join('\n\n')}\n`;
