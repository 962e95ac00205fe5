import type { Command } from 'commander';
import { warmingOf } from '../core/evaluation/warming';
import { evaluate } from '../core/evaluation';
import { printDuration, printQuantity as print } from '../core/quantity';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

function heat(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const figures = evaluate(design.value, point.value);
  if (!figures.ok) return refuse(file, figures.problem, options);
  const warming = warmingOf(design.value, point.value);
  if (!warming.ok) return refuse(file, warming.problem, options);
  const { nodes, time, temperatures, within } = warming.value;
  const { rungs, iterations } = figures.value.heat;
  if (options.csv) {
    say(csvLine(['time (s)', ...nodes.map((n) => `${n.title} (°C)`)]));
    time.forEach((t, k) => say(csvLine([t, ...temperatures.map((list) => list[k]!)])));
  } else if (options.json) json({ air: point.value.air, iterations, nodes: rungs.map((r, i) => ({ ...r, within: within[i] })), warmUp: { time, temperatures } });
  else
    say(table(['node', 'settles at', 'may be', 'heat', 'below it', 'within 1 K after'], rungs.map((r, i) => [r.title, print(r.temperature, '°C'), r.limit === undefined ? '' : print(r.limit, '°C'), print(r.heat, 'W'), print(r.resistance, 'K/W'), printDuration(within[i]!)])));
  return 0;
}

/** reed heat: temperatures where a design settles, and how it gets there. */
export function addHeatVerb(program: Command, done: (code: number) => void): void {
  program
    .command('heat')
    .summary('temperatures, and the warm-up to them')
    .description('Temperatures of a design where losses and resistances agree with them, and how it warms up from the air.\n\nJSON: air (°C), nodes[{id,title,temperature,heat (W),resistance (K/W),limit,within (s)}], warmUp{time (s),temperatures[°C of each node]}. CSV: the warm-up, a line a moment.')
    .argument('<design>', 'design file (JSON)')
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--csv', 'the warm-up, a line a moment')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(heat(file, options)));
}
