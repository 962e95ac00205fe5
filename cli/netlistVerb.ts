import type { Command } from 'commander';
import { designNetlist } from '../core/interchange/designNetlist';
import { open, refuse, type Options } from './files';
import { pointOf } from './verbs';

function netlist(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const text = designNetlist(design.value, point.value);
  if (!text.ok) return refuse(file, text.problem, options);
  process.stdout.write(text.value);
  return 0;
}

/** reed netlist: the closed converter as circuit simulators read it. */
export function addNetlistVerb(program: Command, done: (code: number) => void): void {
  program
    .command('netlist')
    .summary('the closed converter as a netlist that circuit simulators read')
    .description('Print the converter with its loops closed at a point as a netlist (R, L, C, K, V, I, S, E, F, G, H, B, T), beginning on its settled cycle. What it has otherwise than the design stands in its first lines: gates that no carrier compares are driven at the moments of the settled cycle, controllers that sample are left out. "reed circuit FILE.cir" reads it back. Exit code 0, or 2 when there is none.')
    .argument('<design>', 'design file (JSON)')
    .option('--line <volts>', 'line voltage (default: middle of the range)')
    .option('--load <amps>', 'load current (default: full load)')
    .option('--air <celsius>', 'air temperature (default: hottest of the brief)')
    .exitOverride()
    .action((file: string, options: Options) => done(netlist(file, options)));
}
