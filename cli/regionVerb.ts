import type { Command } from 'commander';
import { cureOf, movesOf } from '../core/corners/moves';
import { requirementNamed } from '../core/corners/requirements';
import { worstInRegion } from '../core/corners/worst';
import { describeProblem } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import type { OperatingPoint } from '../core/topology';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';

const at = (p: OperatingPoint): string => `${print(p.line, 'V', 3)}, ${print(p.load, 'A', 3)}, ${print(p.air, '°C', 3)}`;

/** Moves that are printed */
const MOST = 10;

function region(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const found = worstInRegion(design.value);
  const [tightest] = found.worst;
  const moved = options.moves && tightest ? movesOf(design.value, tightest.id, tightest.at) : undefined;
  const cure = moved && cureOf(design.value, moved, tightest!.at);
  if (options.json) {
    json({ holds: found.holds, points: found.points, worst: found.worst.map(({ id, value, limit, holds, nowhere, at: p }) => ({ id, ...(Number.isFinite(value) ? { value, nowhere } : {}), limit, holds, ...p })), missing: found.missing, ...(moved ? { moves: moved.moves, cure: cure ?? null } : {}) });
    return found.holds ? 0 : 1;
  }
  say(`${design.value.name}: ${found.holds ? 'holds' : 'FAILS'} in the whole region, ${found.points} points judged\n`);
  say(
    table(
      ['requirement', 'limit', 'worst', 'nowhere worse than', '', 'at'],
      found.worst.map((w) => {
        const { title, unit, direction } = requirementNamed(w.id);
        return [title, `${direction} ${print(w.limit, unit)}`, print(w.value, unit, 4), print(w.nowhere, unit, 4), w.holds ? 'holds' : 'FAILS', at(w.at)];
      }),
    ),
  );
  for (const m of found.missing) say(`\nno figures at ${at(m.at)}: ${describeProblem(m.problem)}`);
  if (moved) {
    const { title, unit } = requirementNamed(tightest!.id);
    say(`\n1 % more moves the ${title} by\n`);
    say(table(['value', 'now', 'by', 'of its limit'], moved.moves.slice(0, MOST).map((m) => [m.title, print(m.value, m.unit, 3), `${m.by < 0 ? '−' : '+'}${print(Math.abs(m.by), unit, 2)}`, `${m.room < 0 ? '−' : '+'}${print(Math.abs(m.room), '%', 2)}`])));
    if (cure) say(`\n${cure.move.title} at ${print(cure.value, cure.move.unit, 3)}: ${print(cure.standing.value, unit)}, ${cure.standing.holds ? 'holds' : 'not enough'}`);
  }
  return found.holds ? 0 : 1;
}

/** reed region: the worst point of every requirement in the whole region, and what moves the tightest. */
export function addRegionVerb(program: Command, done: (code: number) => void): void {
  program
    .command('region')
    .summary('the worst point of every requirement in the whole region')
    .description('Judge a design on a grid of its region, where conduction changes its mode and in the coldest air, and close in on the worst point of every requirement. Exit code 0 when all hold there, 1 when one fails, 2 when the file can not be used.\n\nJSON: holds, points, worst[{id,value,nowhere,limit,holds,line,load,air}], missing[{at,problem}]; with --moves: moves[{path,title,value,by,room}] for one hundredth more of each value at the tightest point, cure{move,value,standing}.')
    .argument('<design>', 'design file (JSON)')
    .option('--moves', 'what moves the tightest requirement, and the least that makes it hold')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(region(file, options)));
}
