import type { Command } from 'commander';
import { ACROSS, bestOf, byMechanism, CELLS, lossMapAxes, lossRow, MOST_CELLS, type Across, type LossCell } from '../core/corners/lossMap';
import { fail } from '../core/problem';
import { printQuantity as print, printTyped, quoted } from '../core/quantity';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

function map(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const across = (options.across ?? 'line') as Across;
  const cells = Number(options.cells ?? CELLS);
  const wrong = !(across in ACROSS)
    ? fail('value', '--across', `"${quoted(String(options.across))}" does not lie across`, `give one of ${Object.keys(ACROSS).join(', ')}`)
    : !(Number.isInteger(cells) && cells >= 2 && cells <= MOST_CELLS)
      ? fail('range', '--cells', `a map has 2 to ${MOST_CELLS} cells a side`, 'give a whole number of them')
      : undefined;
  if (wrong && !wrong.ok) return refuse(file, wrong.problem, options);
  const axes = lossMapAxes(design.value, across, cells);
  const { title, unit } = ACROSS[across];
  const rowOf = (load: number): LossCell[] => lossRow(design.value, across, load, axes.x, point.value);
  if (options.csv) {
    // Columns of all mechanisms that a first row has; a line as soon as its row is made.
    let ids: string[] | undefined;
    for (const load of axes.load)
      for (const cell of rowOf(load)) {
        const found = cell.figures && byMechanism(cell.figures);
        if (!ids) say(csvLine([`${title} (${unit})`, 'load (A)', 'efficiency', 'lost (W)', ...(ids = Object.keys(found ?? {})).map((id) => `${id} (W)`), 'problem']));
        say(csvLine([cell.x, load, cell.figures?.efficiency ?? '', cell.figures?.total ?? '', ...ids.map((id) => found?.[id] ?? ''), cell.problem?.message ?? '']));
      }
    return 0;
  }
  const rows = axes.load.map(rowOf);
  const best = bestOf(rows);
  if (options.json) json({ ...axes, rows, best });
  else {
    say(table([`load \\ ${title}`, ...axes.x.map((v) => printTyped(v, unit, 3))], rows.map((r, j) => [printTyped(axes.load[j]!, 'A', 3), ...r.map((c) => (c.figures ? print(c.figures.efficiency, '%', 3) : '–'))])));
    say(best ? `best ${print(best.figures!.efficiency, '%', 4)} at ${print(best.x, unit)}, ${print(best.load, 'A')}` : `no point has figures: ${rows[0]![0]!.problem!.message}`);
  }
  return 0;
}

/** reed map: efficiency and losses over two quantities. */
export function addMapVerb(program: Command, done: (code: number) => void): void {
  program
    .command('map')
    .summary('efficiency over line, output or frequency, and load')
    .description('Settle a design at every cell of a map, with its temperatures, and print its efficiency and losses.\n\nJSON: across, x[V or Hz], load[A], rows[[{x,load,figures{efficiency,output,total,parts},problem}]], best. CSV: a line a cell, W by mechanism.')
    .argument('<design>', 'design file (JSON)')
    .option('--across <what>', 'line, output or frequency (the same hardware set to other voltages, switched at others)', 'line')
    .option('--cells <count>', 'cells a side', String(CELLS))
    .option('--line <volts>', 'line where it does not lie across (default: middle of the range)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--csv', 'a line a cell')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(map(file, options)));
}
