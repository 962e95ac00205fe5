import type { Command } from 'commander';
import { fail, ok, type Result } from '../core/problem';
import { printQuantity as print, quoted } from '../core/quantity';
import { parseJson } from '../core/quantity/json';
import { told } from '../core/recording';
import { arrowFile } from '../core/interchange/arrowFile';
import { beginRun, calledIn, readSchedule, recordRun, schedulesOf, type Schedule } from '../core/schedule';
import type { Design } from '../core/design';
import type { OperatingPoint } from '../core/topology';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, textOf, writeBytes, type Options } from './files';
import { pointOf } from './verbs';
import { table } from './table';

/** Bins that a run is told in, unless it is said otherwise, and at most */
const [BINS, MOST] = [1000, 100_000];
const LONGEST = 200_000;

/** One of the schedules that every design has, or one of a file. */
function scheduleOf(d: Design, point: OperatingPoint, asked: string): Result<Schedule> {
  const all = schedulesOf(d, point);
  const named = all.find((s) => s.name === asked || s.name.replace(/ /g, '-') === asked);
  if (named) return ok(named);
  if (!/\.json$/i.test(asked)) return fail('unknown', '--schedule', `there is no schedule "${quoted(asked)}"`, `choose ${all.map((s) => s.name.replace(/ /g, '-')).join(', ')}, or a file of one (.json)`);
  const text = textOf(asked);
  if (!text.ok) return text;
  const raw = parseJson(text.value, LONGEST, 'a schedule');
  return raw.ok ? readSchedule(raw.value, d) : raw;
}

function run(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const bins = typeof options.bins === 'string' ? Number(options.bins) : BINS;
  if (!(Number.isInteger(bins) && bins >= 1 && bins <= MOST)) return refuse(file, { code: 'range', where: '--bins', message: 'that is no number of bins', remedy: `give 1 to ${MOST}` }, options);
  const schedule = scheduleOf(design.value, point.value, String(options.schedule));
  if (!schedule.ok) return refuse(file, schedule.problem, options);
  const wanted = typeof options.traces === 'string' ? options.traces.split(/;\s*/).filter(Boolean) : undefined;
  const ready = beginRun(design.value, point.value, schedule.value, wanted);
  if (!ready.ok) return refuse(file, ready.problem, options);
  const found = recordRun(ready.value, schedule.value);
  if (!found.ok) return refuse(file, found.problem, options);
  const { record } = found.value;
  const traces = calledIn(design.value, ready.value.traces);
  const { lasts } = schedule.value;
  if (typeof options.arrow === 'string') {
    const all = record.pointsIn(0, lasts, Infinity);
    if (!all) return refuse(file, { code: 'size', where: '--arrow', message: 'so long a run is not kept point by point', remedy: 'let it last less, or take --csv with --bins' }, options);
    const written = writeBytes(options.arrow, arrowFile({ 'time (s)': all.time, ...Object.fromEntries(traces.map((t, i) => [`${t.title} (${t.unit})`, all.values[i]!])) }));
    if (!written.ok) return refuse(options.arrow, written.problem, options);
    say(`${all.time.length.toLocaleString('en')} points of ${traces.length} traces in ${options.arrow}`);
    return 0;
  }
  if (options.csv && options.points) {
    const all = record.pointsIn(0, lasts, Infinity)!;
    say(csvLine(['time (s)', ...traces.map((t) => `${t.title} (${t.unit})`)]));
    all.time.forEach((t, k) => say(csvLine([t, ...all.values.map((v) => v[k]!)])));
    return 0;
  }
  const edges = Array.from({ length: bins + 1 }, (_, k) => (lasts * k) / bins);
  const seen = traces.map((_, i) => record.columns(i, 0, lasts, bins));
  if (options.csv) {
    say(csvLine(['from (s)', 'to (s)', ...traces.flatMap((t) => [`${t.title}, least (${t.unit})`, `${t.title}, most (${t.unit})`])]));
    for (let k = 0; k < bins; k++) say(csvLine([edges[k]!, edges[k + 1]!, ...seen.flatMap(({ least, most }) => [least[k]!, most[k]!])]));
    return 0;
  }
  const read = traces.map((_, i) => told(record.read(i)!));
  if (options.json) {
    json({ schedule: schedule.value, edges, traces: traces.map((t, i) => ({ ...t, ...read[i]!, leastIn: [...seen[i]!.least], mostIn: [...seen[i]!.most] })) });
    return 0;
  }
  say(`${design.value.name}, ${schedule.value.name}: ${print(schedule.value.lasts, 's')} from ${schedule.value.begins === 'rest' ? 'rest' : 'the settled cycle'}\n`);
  say(table(['trace', 'mean', 'rms', 'least', 'at', 'most', 'at', 'at the end'], traces.map((t, i) => [t.title, print(read[i]!.mean, t.unit, 4), print(read[i]!.rms, t.unit, 4), print(read[i]!.least, t.unit, 4), print(read[i]!.leastAt, 's'), print(read[i]!.most, t.unit, 4), print(read[i]!.mostAt, 's'), print(read[i]!.last, t.unit, 4)])));
  return 0;
}

/** reed run: a design through a schedule. */
export function addRunVerb(program: Command, done: (code: number) => void): void {
  program
    .command('run')
    .summary('run a design through a schedule')
    .description('Run the closed converter in time, exactly from event to event: a start, the load step of the brief, a line step, or what a file says ({"name","begins":"rest" or "settled","lasts" (s),"steps":[{"at" (s),"what":"load", "line", "reference" or "enable","to","takes" (s)}],"fails":[{"at" (s),"part","how":"open", "short" or "leaky","resistance"}]}).\n\nJSON: schedule, edges (s), traces[{id,title,unit,mean,rms,least,leastAt,most,mostAt,first,last,leastIn,mostIn}] by bins.')
    .argument('<design>', 'design file (JSON)')
    .requiredOption('--schedule <name or file>', 'start-up, load-step, line-step, on the mains line-dip, or a file of one')
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--bins <count>', `bins of time that it is told in (${BINS})`)
    .option('--traces <ids>', 'what is looked at, with semicolons: output;L1.current;Q1.power;voltage:a,b (those of the topology when left out)')
    .option('--points', 'with --csv: every point, both sides of every event')
    .option('--arrow <file>', 'every point as columns in a file of the Apache Arrow format')
    .option('--csv', 'least and most of every bin as CSV')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(run(file, options)));
}
