import type { Command } from 'commander';
import { printQuantity as print, printTyped } from '../core/quantity';
import { readAxis, sweepOne, sweepProblem, sweptFigures, type Axis } from '../core/sweep';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

function sweep(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const axes: Axis[] = [];
  for (const text of options.over as unknown as string[]) {
    const axis = readAxis(text, design.value);
    if (!axis.ok) return refuse(file, axis.problem, options);
    axes.push(axis.value);
  }
  const runs = sweepProblem(axes);
  if (!runs.ok) return refuse(file, runs.problem, options);
  const figures = sweptFigures(design.value);
  const one = (k: number): ReturnType<typeof sweepOne> => sweepOne(design.value, point.value, axes, k, { corners: options.corners === true });
  if (options.csv) {
    // A line as soon as its run is made.
    say(csvLine([...axes.map((a) => `${a.title} (${a.unit})`), ...figures.map((f) => `${f.title} (${f.unit})`), 'holds', 'problem']));
    for (let k = 0; k < runs.value; k++) {
      const { values, figures: found, holds, problem } = one(k);
      say(csvLine([...values, ...figures.map((f) => found[f.id] ?? ''), holds ? 'yes' : 'no', problem?.message ?? '']));
    }
    return 0;
  }
  const all = Array.from({ length: runs.value }, (_, k) => one(k));
  if (options.json) json({ axes, figures, runs: all });
  else say(table([...axes.map((a) => a.title), ...figures.map((f) => f.title), ''], all.map((r) => [...r.values.map((v, i) => printTyped(v, axes[i]!.unit, 4)), ...figures.map((f) => (r.figures[f.id] === undefined ? '–' : print(r.figures[f.id]!, f.unit, 3))), r.problem ? r.problem.message : r.holds ? 'holds' : ''])));
  return 0;
}

/** reed sweep: a design over values of some of its quantities. */
export function addSweepVerb(program: Command, done: (code: number) => void): void {
  program
    .command('sweep')
    .summary('figures over values of up to three quantities')
    .description('Change up to three quantities of a design, in all combinations, and print the figures of every requirement for each: at a point, or at its worst corner.\n\nJSON: axes[{path,title,unit,values}], figures[{id,title,unit}], runs[{values,figures{id:value},holds,problem}].')
    .argument('<design>', 'design file (JSON)')
    .requiredOption('--over <quantity=values>', 'L1.inductance=10u..47u/5, brief.frequency=150k,220k, line=36..60/9, control.crossover=1k..100k/7 log; up to three times', (text: string, all: string[] = []) => [...all, text])
    .option('--corners', 'each requirement at its worst corner, not at the point')
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--csv', 'a line a run')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(sweep(file, options)));
}
