import type { Command } from 'commander';
import { holdCorners, type CornerReport } from '../core/corners/corners';
import { requirementNamed } from '../core/corners/requirements';
import type { RequirementId } from '../core/design';
import { differences } from '../core/design/difference';
import { printQuantity as print } from '../core/quantity';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';

/** How each requirement stands in two designs, at the worst corner of either. */
function standings(a: CornerReport, b: CornerReport): { id: RequirementId; values: (number | undefined)[]; holds: (boolean | undefined)[] }[] {
  const ids = [...new Set([...a.worst, ...b.worst].map((w) => w.id))];
  return ids.map((id) => {
    const of = [a, b].map((r) => r.worst.find((w) => w.id === id));
    return { id, values: of.map((w) => w?.value), holds: of.map((w) => w?.holds) };
  });
}

function diff(first: string, second: string, options: Options): number {
  const designs = [];
  for (const file of [first, second]) {
    const design = open(file);
    if (!design.ok) return refuse(file, design.problem, options);
    designs.push(design.value);
  }
  const set = differences(designs);
  const [a, b] = designs.map((d) => holdCorners(d)) as [CornerReport, CornerReport];
  const stand = standings(a, b);
  // Worse is what held and holds no more; a corner that lost its figures is one of those.
  const worse = stand.filter((s) => s.holds[0] === true && s.holds[1] === false).map((s) => s.id);
  const code = worse.length > 0 || b.holding < a.holding ? 1 : 0;
  if (options.json) {
    json({ set: set.map(({ path, title, values }) => ({ path, title, values })), requirements: stand.map((s) => ({ id: s.id, values: s.values.map((v) => (Number.isFinite(v) ? v : null)), holds: s.holds.map((h) => h ?? null) })), holding: [a.holding, b.holding], worse });
    return code;
  }
  say(`${designs[0]!.name}: ${a.holding} of ${a.corners.length} corners meet the brief; ${designs[1]!.name}: ${b.holding} of ${b.corners.length}\n`);
  say(set.length === 0 ? 'nothing is set differently' : table(['set differently', first, second], set.map((d) => [d.title, ...d.values])));
  say('');
  const shown = (v: number | undefined, holds: boolean | undefined, id: RequirementId): string => (v === undefined ? '–' : `${print(v, requirementNamed(id).unit, 4)}${holds ? '' : ' FAILS'}`);
  say(table(['at its worst corner', first, second], stand.map((s) => [requirementNamed(s.id).title, shown(s.values[0], s.holds[0], s.id), shown(s.values[1], s.holds[1], s.id)])));
  return code;
}

/** reed diff: what two designs say differently, and what that does to the verdict. */
export function addDiffVerb(program: Command, done: (code: number) => void): void {
  program
    .command('diff')
    .summary('two designs: what is set differently, and what it does')
    .description('Compare two designs: every value that they say differently, and each requirement at its worst corner in both. Exit code 0 when the second holds all that the first held, 1 when it does not, 2 when a file can not be used.\n\nJSON: set[{path,title,values[2]}], requirements[{id,values[2],holds[2]}], holding[2], worse[id].')
    .argument('<before>', 'design file (JSON)')
    .argument('<after>', 'design file (JSON)')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((before: string, after: string, options: Options) => done(diff(before, after, options)));
}
