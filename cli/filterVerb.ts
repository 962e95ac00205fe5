import type { Command } from 'commander';
import { cornerPoints } from '../core/corners/corners';
import { meets } from '../core/corners/requirements';
import { evaluate } from '../core/evaluation';
import { filterAlone } from '../core/evaluation/filterAlone';
import { fail } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';
import { pointOf } from './verbs';

function filter(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const { limit, on } = design.value.requirements.filterMargin;
  if (options.csv) {
    const point = pointOf(design.value, options);
    if (!point.ok) return refuse(file, point.problem, options);
    const found = evaluate(design.value, point.value, { detail: true });
    if (!found.ok) return refuse(file, found.problem, options);
    const curves = found.value.detail!.bode?.front;
    if (!curves) return refuse(file, none, options);
    say(csvLine(['frequency (Hz)', 'filter (dB Ω)', 'filter (°)', 'converter (dB Ω)', 'converter (°)']));
    curves.filter.frequency.forEach((f, k) => say(csvLine([f, curves.filter.gain[k]!, curves.filter.phase[k]!, curves.converter.gain[k]!, curves.converter.phase[k]!])));
    return 0;
  }
  const corners = cornerPoints(design.value).map((point) => ({ point, found: evaluate(design.value, point) }));
  const read = corners.flatMap(({ point, found }) => (found.ok && found.value.loop?.front ? [{ point, stable: found.value.loop.stable, ...found.value.loop.front }] : []));
  if (read.length === 0) {
    const broken = corners.find((c) => !c.found.ok)?.found;
    return refuse(file, broken && !broken.ok ? broken.problem : none, options);
  }
  const holds = read.length === corners.length && read.every((r) => r.stable && !r.circles && (!on || meets('filterMargin', limit, r.margin)));
  const itself = filterAlone(design.value);
  const alone = itself.ok ? itself.value : undefined;
  if (options.json) json({ limit: on ? limit : null, holds, corners: read, alone: alone ? { attenuation: alone.attenuation, best: alone.best, overshoot: alone.step.overshoot, settles: Number.isFinite(alone.step.settles) ? alone.step.settles : null } : null });
  else {
    say(table(['line', 'load', 'converter above filter', 'at', 'filter', 'converter', '|1 + Zo/Zi|', ''], read.map((r) => [print(r.point.line, 'V'), print(r.point.load, 'A'), print(r.margin, 'dB', 3), print(r.at, 'Hz', 3), print(r.filter, 'Ω', 3), print(r.converter, 'Ω', 3), r.distance.toFixed(3), r.circles ? 'UNSTABLE together' : r.stable ? '' : 'its loop is not stable'])));
    if (alone) say(`\nby itself: takes ${print(alone.attenuation, 'dB', 3)} off at ${print(design.value.brief.frequency, 'Hz', 3)}, most at ${print(alone.best, 'Hz', 2)}; after a step the line goes ${print(alone.step.overshoot, '%', 2)} beyond and ${Number.isFinite(alone.step.settles) ? `is within 5 % at ${print(alone.step.settles, 's', 2)}` : 'still rings after eight periods'}`);
    say(`\n${holds ? 'holds' : 'FAILS'}${on ? `; wanted at least ${print(limit, 'dB', 3)}` : ''}`);
  }
  return holds ? 0 : 1;
}

const { problem: none } = fail('front', 'branches', 'nothing stands between the line and the converter: the line is stiff', 'hang a line filter, or give the line an impedance');

/** reed filter: the impedance of what stands before a converter against its own. */
export function addFilterVerb(program: Command, done: (code: number) => void): void {
  program
    .command('filter')
    .summary('the line filter’s impedance against that of the converter, at every corner')
    .description('Impedances on both sides of a converter’s input, exact on its settled cycle: how far they are apart where they are closest. Exit code 0 when they stay apart as far as is required and nothing rings, 1 when not, 2 when there is nothing to hold.\n\nJSON: limit (dB, null where none is asked), holds, corners[{point,stable,margin (dB),at (Hz),filter,converter (Ω),angle (degrees),distance (|1+Zo/Zi|),distanceAt,circles}], alone{attenuation (dB at the switching frequency),best (Hz),overshoot (of the step),settles (s, null where it rings on)} or null. CSV: both curves at one point.')
    .argument('<design>', 'design file (JSON)')
    .option('--line <volts>', 'with --csv: line (default: middle of the range)')
    .option('--load <amps>', 'with --csv: load (default: full load)')
    .option('--air <celsius>', 'with --csv: air temperature in °C')
    .option('--json', 'print JSON in SI units')
    .option('--csv', 'print both curves at a point')
    .exitOverride()
    .action((file: string, options: Options) => done(filter(file, options)));
}
