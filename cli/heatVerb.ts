import type { Command } from 'commander';
import type { Design } from '../core/design';
import { readProfile, underProfile } from '../core/evaluation/profile';
import { warmingOf } from '../core/evaluation/warming';
import type { OperatingPoint } from '../core/topology';
import { evaluate } from '../core/evaluation';
import { printDuration, printQuantity as print } from '../core/quantity';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, textOf, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

/** Temperatures under a load profile, and the cycles that they go through. */
function profiled(design: Design, point: OperatingPoint, profileFile: string, file: string, options: Options): number {
  const text = textOf(profileFile);
  if (!text.ok) return refuse(profileFile, text.problem, options);
  const profile = readProfile(text.value);
  if (!profile.ok) return refuse(profileFile, profile.problem, options);
  const found = underProfile(design, point, profile.value);
  if (!found.ok) return refuse(file, found.problem, options);
  const { nodes, time, temperatures, hottest, cycles } = found.value;
  if (options.csv) {
    say(csvLine(['time (s)', ...nodes.map((n) => `${n.title} (°C)`)]));
    time.forEach((t, k) => say(csvLine([t, ...temperatures.map((list) => list[k]!)])));
  } else if (options.json) json({ nodes: nodes.map((n, i) => ({ ...n, hottest: hottest[i], cycles: cycles[i] })), time: [...time], temperatures: temperatures.map((list) => [...list]) });
  else say(table(['node', 'at most', 'may be', 'after', 'cycles: K × how often'], nodes.map((n, i) => [n.title, print(hottest[i]!.temperature, '°C'), n.limit === undefined ? '' : print(n.limit, '°C'), printDuration(hottest[i]!.at), cycles[i]!.slice(0, 4).map((c) => `${c.to.toPrecision(2)} × ${Number(c.count.toPrecision(3))}`).join(', ')])));
  return 0;
}

function heat(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const figures = evaluate(design.value, point.value);
  if (!figures.ok) return refuse(file, figures.problem, options);
  if (typeof options.profile === 'string') return profiled(design.value, point.value, options.profile, file, options);
  const warming = warmingOf(design.value, point.value);
  if (!warming.ok) return refuse(file, warming.problem, options);
  const { nodes, time, temperatures, within } = warming.value;
  const { rungs, iterations } = figures.value.heat;
  if (options.csv) {
    say(csvLine(['time (s)', ...nodes.map((n) => `${n.title} (°C)`)]));
    time.forEach((t, k) => say(csvLine([t, ...temperatures.map((list) => list[k]!)])));
  } else if (options.json) json({ air: point.value.air, iterations, nodes: rungs.map((r, i) => ({ ...r, within: within[i] })), warmUp: { time, temperatures } });
  else
    say(table(['node', 'settles at', 'may be', 'heat', 'below it', 'within 1 K after'], rungs.map((r, i) => [r.title, `${print(r.temperature, '°C')}${r.hottest === undefined ? '' : `, the hottest ${print(r.hottest, '°C')}`}`, r.limit === undefined ? '' : print(r.limit, '°C'), print(r.heat, 'W'), print(r.resistance, 'K/W'), printDuration(within[i]!)])));
  return 0;
}

/** reed heat: temperatures where a design settles, and how it gets there. */
export function addHeatVerb(program: Command, done: (code: number) => void): void {
  program
    .command('heat')
    .summary('temperatures, and the warm-up to them')
    .description('Temperatures of a design where losses and resistances agree with them, and how it warms up from the air.\n\nJSON: air (°C), nodes[{id,title,temperature,heat (W),resistance (K/W),limit,hottest (°C of those in parallel, where they do not share alike),within (s)}], warmUp{time (s),temperatures[°C of each node]}. CSV: the warm-up, a line a moment.')
    .argument('<design>', 'design file (JSON)')
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--profile <file>', 'a load profile, CSV of s and A: temperatures under it, and the cycles that they go through')
    .option('--csv', 'the warm-up, or the course under a profile, a line a moment')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(heat(file, options)));
}
