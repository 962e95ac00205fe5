import { writeFileSync } from 'node:fs';
import type { Command } from 'commander';
import { designAt, freedomsOffered, readFreedom, saidOf, standsAt, valueOf, type Freedom } from '../core/corners/freedoms';
import { REQUIREMENTS, requirementNamed } from '../core/corners/requirements';
import { search, type Aim, type SearchAsked, type SearchFound, type Tried } from '../core/corners/search';
import { searchTopologies } from '../core/corners/searchTopologies';
import { worstInRegion } from '../core/corners/worst';
import type { Design } from '../core/design';
import { describeProblem, fail, ok, type Problem, type Result } from '../core/problem';
import { parseQuantity, printQuantity as print } from '../core/quantity';
import { SHELF } from '../shelf';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';

/** Designs judged when nobody says */
const USUAL = 240;
const AIMS = ['loss', 'height', 'cost'];

/** What options ask for. */
function askedOf(d: Design, { free, aim, by, weights, seed, trials }: Record<string, unknown>): Result<SearchAsked> {
  const offered = freedomsOffered(d, SHELF);
  const freedoms: Freedom[] = [];
  for (const text of (free as string[] | undefined) ?? []) {
    const read = readFreedom(text, offered, parseQuantity);
    if (!read.ok) return read;
    freedoms.push(read.value);
  }
  const aims = (aim as string[] | undefined) ?? [];
  const unknown = aims.find((a) => !AIMS.includes(a) && !REQUIREMENTS.some((r) => r.id === a));
  if (unknown !== undefined) return fail('search', '--aim', `"${unknown}" is nothing to aim at`, `aim at ${[...AIMS, ...REQUIREMENTS.map((r) => r.id)].join(', ')}`);
  if (by !== undefined && !['front', 'order', 'weights'].includes(String(by))) return fail('search', '--by', `"${String(by)}" is no way to weigh aims`, 'give front, order or weights');
  const number = Number(seed ?? 1);
  if (!Number.isInteger(number)) return fail('range', '--seed', `${String(seed)} is no whole number`, 'give one');
  return ok({
    freedoms: free === undefined ? offered.filter((o) => o.usual).map((o) => o.freedom) : freedoms,
    aims: aims as Aim[],
    by: (by as SearchAsked['by'] | undefined) ?? (weights === undefined ? 'front' : 'weights'),
    ...(typeof weights === 'string' ? { weights: weights.split(',').map(Number) } : {}),
    seed: number,
    trials: Number(trials ?? USUAL),
  });
}

const valuesOf = (asked: SearchAsked, t: Tried): string[] => asked.freedoms.map((f, k) => saidOf(f, valueOf(f, t.shares[k]!)));

function said(d: Design, asked: SearchAsked, found: SearchFound): void {
  say(`${d.name}: ${found.holds ? (found.everywhere ? 'found one that holds in the whole region' : 'found one that holds where it was judged') : 'found none that holds'}, ${found.tried} judged, ${found.holding} of them hold\n`);
  const { best } = found;
  if (best) {
    say(table(['free', 'was', 'found'], asked.freedoms.map((f, k) => [f.path, f.kind === 'parts' ? d.parts[f.path.split('.')[1]!]!.part : saidOf(f, standsAt(d, f.path)!), valuesOf(asked, best)[k]!])));
    say('');
    say(table(['requirement', 'limit', 'worst', ''], (Object.keys(best.room) as (keyof typeof best.room)[]).map((id) => {
      const { title, unit, direction } = requirementNamed(id);
      return [title, `${direction} ${print(d.requirements[id].limit, unit)}`, print(best.value[id]!, unit, 4), best.room[id]! < 0 ? 'FAILS' : 'holds'];
    })));
  }
  if (best?.problem) say(`\nthe nearest of them has no figures: ${describeProblem(best.problem)}`);
  if (found.conflict && found.conflict.length > 0) {
    const named = found.conflict.map((id) => requirementNamed(id).title);
    say(named.length === 1 ? `\nnone of those judged holds the ${named[0]}: widen what is free` : `\nnone of those judged holds ${named.join(' and ')} together: one of them has to give way, or more has to be free`);
  }
  if (found.front.length > 1) {
    const heads = found.holds ? asked.aims.map(String) : found.conflict!.map((id) => requirementNamed(id).title);
    say('\nnone of these beats another\n');
    say(table([...asked.freedoms.map((f) => f.path), ...heads], found.front.map((t) => [...valuesOf(asked, t), ...(found.holds ? t.aims.map((v) => v.toPrecision(4)) : found.conflict!.map((id) => print(t.value[id]!, requirementNamed(id).unit, 4)))])));
  }
}

function find(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const asked = askedOf(design.value, options);
  if (!asked.ok) return refuse(file, asked.problem, options);
  if (typeof options.topologies === 'string') return among(design.value, file, asked.value, options);
  const found = search(design.value, asked.value, worstInRegion);
  if (!found.ok) return refuse(file, found.problem, options);
  const { best, front, ...rest } = found.value;
  const made = best && designAt(design.value, asked.value.freedoms, best.shares);
  if (typeof options.write === 'string' && made?.ok) {
    const problem = written(options.write, made.value);
    if (problem) return refuse(options.write, problem, options);
  }
  const plain = (t: Tried): object => ({ values: Object.fromEntries(asked.value.freedoms.map((f, k) => { const v = valueOf(f, t.shares[k]!); return [f.path, typeof v === 'object' ? v.part : v]; })), aims: t.aims, room: t.room, value: t.value });
  if (options.json) json({ ...rest, seed: asked.value.seed, ...(best ? { best: plain(best) } : {}), front: front.map(plain), ...(made?.ok ? { design: made.value } : {}) });
  else said(design.value, asked.value, found.value);
  return found.value.everywhere ? 0 : 1;
}

/** Several topologies, each searched by what is usual. */
function among(d: Design, file: string, asked: SearchAsked, options: Options): number {
  const ids = options.topologies === 'all' ? undefined : String(options.topologies).split(',').map((x) => x.trim());
  const found = searchTopologies(d, ids, asked, SHELF, worstInRegion);
  if (!found.ok) return refuse(file, found.problem, options);
  const [first] = found.value;
  const best = first && !('problem' in first) && first.found.best ? designAt(first.begin, first.asked.freedoms, first.found.best.shares) : undefined;
  if (typeof options.write === 'string' && best?.ok) {
    const problem = written(options.write, best.value);
    if (problem) return refuse(options.write, problem, options);
  }
  if (options.json) json({ topologies: found.value.map((s) => ('problem' in s ? { id: s.id, problem: s.problem } : { id: s.id, holds: s.found.holds, everywhere: s.found.everywhere, tried: s.found.tried, aims: s.found.best?.aims ?? [], conflict: s.found.conflict ?? [] })), ...(best?.ok ? { design: best.value } : {}) });
  else
    say(table(['topology', '', 'judged', ...asked.aims.map(String)], found.value.map((s) => ('problem' in s ? [s.id, s.problem.message, '', ...asked.aims.map(() => '')] : [s.id, s.found.everywhere ? 'holds in the whole region' : s.found.holds ? 'holds where it was judged' : `none holds${s.found.conflict ? `: ${s.found.conflict.map((id) => requirementNamed(id).title).join(' and ')}` : ''}`, String(s.found.tried), ...asked.aims.map((_, k) => s.found.best?.aims[k]?.toPrecision(4) ?? '')]))));
  return first && !('problem' in first) && first.found.everywhere ? 0 : 1;
}

function written(file: string, d: Design): Problem | undefined {
  try {
    writeFileSync(file, `${JSON.stringify(d, null, 2)}\n`);
    return undefined;
  } catch (error) {
    return { code: 'file', where: '', message: `it can not be written (${(error as NodeJS.ErrnoException).code})`, remedy: 'check the path, and that there is room' };
  }
}

const collect = (value: string, before: string[] | undefined): string[] => [...(before ?? []), value];

/** reed search: values within bounds so that a design holds. */
export function addSearchVerb(program: Command, done: (code: number) => void): void {
  program
    .command('search')
    .summary('values within bounds so that it holds, and what is aimed at is least')
    .description('Search values of a design within bounds: first until every requirement holds in the whole region, then for the least of what is aimed at. Where requirements exclude each other it says which, and shows what trades. The same seed finds the same. Exit code 0 when one was found that holds in the whole region, 1 when not, 2 when it can not be begun.\n\nJSON: tried, holding, holds, everywhere, seed, points[], conflict[] (requirements that exclude each other), best{values{path:value},aims[],room{},value{}}, front[], design.')
    .argument('<design>', 'design file (JSON)')
    .option('--free <value>', 'may change: control.crossover=10k..40k, parts.L1.inductance=10u..47u:E12, parts.C2.count=1..6, or parts.C2 for another part of the shelf; repeat it (default: crossover, margin, inductances, output capacitors)', collect)
    .option('--topologies <list>', 'search in several topologies by what is usual, like buck-synchronous,buck-diode, or all')
    .option('--aim <what>', 'make it least: loss, height, cost, or a requirement; repeat it', collect)
    .option('--by <way>', 'of several aims: front (what trades), order, weights')
    .option('--weights <list>', 'one for each aim, like 2,1')
    .option('--seed <number>', 'what it is drawn from (default: 1)')
    .option('--trials <count>', `designs judged at most (default: ${USUAL})`)
    .option('--write <file>', 'save the design that was found')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(find(file, options)));
}
