import type { Command } from 'commander';
import { allFaults, beyondInWords, type FaultFound } from '../core/corners/faults';
import { printQuantity as print } from '../core/quantity';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';
import { pointOf } from './verbs';

const said = (f: FaultFound): string[] => {
  const [first] = f.beyond;
  const volts = `${print(f.output.least, 'V', 3)} to ${print(f.output.most, 'V', 3)}`;
  if (f.problem) return [f.title, 'not run', f.problem.message, '', ''];
  if (first) return [f.title, 'BEYOND', `${beyondInWords(first)}${f.beyond.length > 1 ? `, and ${f.beyond.length - 1} more` : ''}`, volts, print(f.lineCurrent, 'A', 3)];
  return [f.title, 'stands', f.nearest ? `nearest: ${f.nearest.of} ${f.nearest.what} at ${print(f.nearest.value / f.nearest.rating, '%', 3)} of its rating` : '', volts, print(f.lineCurrent, 'A', 3)];
};

function faults(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const found = allFaults(design.value, point.value);
  if (options.json) json({ point: point.value, faults: found.map((f) => (f.problem ? { id: f.id, title: f.title, problem: f.problem } : f)) });
  else say(table(['fault', '', 'what goes first', 'output', 'line current'], found.map(said)));
  return 0;
}

/** reed faults: each part failing, the feedback lost, the line dipping and surging. */
export function addFaultsVerb(program: Command, done: (code: number) => void): void {
  program
    .command('faults')
    .summary('each part failing in turn, and what goes first')
    .description('Run each fault from the settled cycle (every part open, shorted, leaking; the feedback lost; the line dipping and surging) and hold voltages and flux against ratings: the first thing that goes, and after how long. Currents are held against no rating: the most that is drawn from the line is told, a fuse goes by it. Inductors that open, and windings of transformers, are not run. Exit code 0; 2 when the file can not be used.\n\nJSON: point, faults[{id,title,part,beyond[{of,what,unit,value,rating,after (s)}],nearest,output{least,most} (V),lineCurrent (A) or problem}].')
    .argument('<design>', 'design file (JSON)')
    .option('--line <volts>', 'line voltage (default: middle of the range)')
    .option('--load <amps>', 'load current (default: full load)')
    .option('--air <celsius>', 'air temperature (default: hottest of the brief)')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(faults(file, options)));
}
