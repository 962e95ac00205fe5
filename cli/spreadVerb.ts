import type { Command } from 'commander';
import { requirementNamed } from '../core/corners/requirements';
import { drawn, spreadOf, tolerancesOf, type Draw, type Tolerance } from '../core/corners/spread';
import { pointsOf, worstInRegion, type WorstIn } from '../core/corners/worst';
import { worstCase, type WorstCase } from '../core/corners/worstCase';
import type { Design, RequirementId } from '../core/design';
import { fail } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import type { OperatingPoint } from '../core/topology';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';

/** Draws when nobody says, and at most */
const [USUAL, MOST] = [200, 100_000];
/** Values that matter, printed */
const SHOWN = 8;

function spread(file: string, options: Options): number | Promise<number> {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const [draws, seed] = [Number(options.draws ?? USUAL), Number(options.seed ?? 1)];
  const wrong = !(Number.isInteger(draws) && draws >= 2 && draws <= MOST) ? fail('range', '--draws', `${String(options.draws)} is no number of draws`, `give 2 to ${MOST.toLocaleString('en')}`) : !Number.isInteger(seed) ? fail('range', '--seed', `${String(options.seed)} is no whole number`, 'give one') : undefined;
  if (wrong && !wrong.ok) return refuse(file, wrong.problem, options);
  const tolerances = tolerancesOf(design.value);
  const { worst } = worstInRegion(design.value);
  const points = pointsOf(worst);
  const cases = options.worstCase ? worstCases(design.value, tolerances, worst) : undefined;
  if (typeof options.queue !== 'string') return told(design.value, seed, points, tolerances, Array.from({ length: draws }, (_, k) => drawn(design.value, tolerances, seed, k, points)), options, cases);
  const { queue } = options;
  return import('./queue').then(async ({ drawnByQueue }) => {
    const all = await drawnByQueue(queue, design.value, seed, draws, points, (done) => process.stderr.write(`${done} of ${draws} drawn\n`));
    return all.ok ? told(design.value, seed, points, tolerances, all.value, options, cases) : refuse(file, all.problem, options);
  });
}

/** Every requirement with all values at their worst, at the point where it is tightest. */
const worstCases = (design: Design, tolerances: readonly Tolerance[], worst: readonly WorstIn[]): { id: RequirementId; found: WorstCase }[] => worst.flatMap(({ id, at }) => {
  const found = worstCase(design, tolerances, id, at);
  return found ? [{ id, found }] : [];
});

function told(design: Design, seed: number, points: OperatingPoint[], tolerances: Tolerance[], all: Draw[], options: Options, cases?: ReturnType<typeof worstCases>): number {
  const found = spreadOf(tolerances, all);
  if (options.json) json({ seed, points, tolerances: tolerances.map(({ path, share, shape }) => ({ path, share, shape })), ...found, ...(cases ? { worstCases: cases.map(({ id, found: w }) => ({ id, ...w })) } : {}) });
  else {
    const { share, low, high } = found.yield;
    say(`${design.name}: ${found.holding} of ${found.draws} drawn hold, ${print(share, '%', 3)} (${print(low, '%', 3)} to ${print(high, '%', 3)}), judged at ${points.length} worst points\n`);
    say(
      table(
        ['requirement', 'limit', 'worst', '5 % beyond', 'median', '5 % within', 'failing'],
        found.requirements.map((r) => {
          const { title, unit, direction } = requirementNamed(r.id);
          return [title, `${direction} ${print(design.requirements[r.id].limit, unit)}`, ...[r.worst, r.low, r.median, r.high].map((v) => print(v, unit, 3)), String(r.failing)];
        }),
      ),
    );
    if (found.tightest) {
      say(`\nwhat the ${requirementNamed(found.tightest).title} spreads by\n`);
      say(table(['value', 'spread', 'share of it'], found.matters.slice(0, SHOWN).map((m) => {
        const t = tolerances.find((x) => x.path === m.path)!;
        return [m.title, `±${print(t.share, '%', 2)}${t.shape === 'uniform' ? '' : `, ${t.shape}`}`, print(m.share, '%', 2)];
      })));
    }
  }
  if (cases && !options.json) {
    say('\nall values at their worst, at the worst point of each\n');
    say(table(['requirement', 'limit', 'as designed', 'root of squares', 'sum of slopes', 'vertex', '', 'most by'], cases.map(({ id, found: w }) => {
      const { title, unit, direction } = requirementNamed(id);
      return [title, `${direction} ${print(design.requirements[id].limit, unit)}`, ...[w.nominal, w.rootSquare, w.extreme, w.vertex].map((v) => print(v, unit, 3)), w.holds ? 'holds' : 'FAILS', w.by[0] ? `${w.by[0].title}, ${print(w.by[0].by, unit, 2)}` : ''];
    })));
  }
  return found.yield.share === 1 ? 0 : 1;
}

/** reed spread: parts as they come. */
export function addSpreadVerb(program: Command, done: (code: number | Promise<number>) => void): void {
  program
    .command('spread')
    .summary('parts as they come: how many of so many hold')
    .description('Draw every value of a design within its tolerance, again and again, and judge each at the worst points of the region: the yield with its interval, what each requirement comes to, and which values matter. Nothing is sized or placed again. The same seed draws the same. Exit code 0 when all drawn hold, 1 when one does not, 2 when the file can not be used.\n\nJSON: seed, points, tolerances[{path,share,shape}], draws, holding, yield{share,low,high}, requirements[{id,worst,low,median,high,failing}], tightest, matters[{path,title,share}]; with --worst-case: worstCases[{id,nominal,extreme,rootSquare,vertex,holds,by[{path,title,by}]}].')
    .argument('<design>', 'design file (JSON)')
    .option('--draws <count>', `how many (default: ${USUAL})`)
    .option('--seed <number>', 'what they are drawn from (default: 1)')
    .option('--worst-case', 'also every requirement with all values at their worst, by slopes and by vertices')
    .option('--queue <address>', 'leave the draws to workers at a queue (redis://host:6379); "reed worker" is one')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(spread(file, options)));
}

async function worker(options: Options): Promise<number> {
  const { workAt } = await import('./queue');
  const done = await workAt(String(options.queue), options.once === true, (line) => process.stderr.write(`${line}\n`));
  return done.ok ? 0 : refuse(String(options.queue), done.problem);
}

/** reed worker: works off what waits at a queue. */
export function addWorkerVerb(program: Command, done: (code: Promise<number>) => void): void {
  program
    .command('worker')
    .summary('work off draws that wait at a queue')
    .description('Work off the draws of "reed spread --queue" until it is stopped. Any number of workers on any number of machines may run; a job whose worker dies is taken by another. Exit code 0 when stopped, 2 when no queue answers.')
    .requiredOption('--queue <address>', 'redis://host:6379')
    .option('--once', 'stop when nothing waits')
    .exitOverride()
    .action((options: Options) => done(worker(options)));
}
