import type { Command } from 'commander';
import { fail } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import { closedDesign } from '../core/evaluation/closedDesign';
import { inrushRun } from '../core/schedule/inrushRun';
import { mainsQuality, type MainsQuality } from '../core/schedule/mainsQuality';
import { CLASSES, type EquipmentClass } from '../core/surroundings/drawnCurrent';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';
import { pointOf } from './verbs';

function said(q: MainsQuality, of: EquipmentClass): void {
  say(`${print(q.power, 'W', 4)} from ${print(q.voltage, 'V', 4)}, ${print(q.frequency, 'Hz', 4)}: ${print(q.current, 'A', 4)} rms, crest ${print(q.crest, 'A', 4)}`);
  say(`power factor ${q.powerFactor.toFixed(4)}, displacement ${q.displacement.toFixed(4)}, distortion ${print(q.distortion, '%', 3)}; output ${print(q.output.mean, 'V', 4)}, swinging by ${print(q.output.peakToPeak, 'V', 3)}\n`);
  const failing = q.harmonics.filter((h) => !h.holds);
  say(`class ${of} of IEC 61000-3-2:2018: ${failing.length === 0 ? 'holds' : `FAILS at ${failing.map((h) => h.order).join(', ')}`}\n`);
  const shown = q.harmonics.filter((h) => Number.isFinite(h.limit) && (h.order % 2 === 1 || h.value > 0.1 * h.limit));
  say(table(['harmonic', 'current', 'limit', 'of it', ''], shown.map((h) => [String(h.order), print(h.value, 'A', 3), print(h.limit, 'A', 3), print(h.value / h.limit, '%', 3), h.holds ? '' : 'FAILS'])));
}

function mains(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const of = (options.class ?? 'A') as EquipmentClass;
  if (!CLASSES.includes(of)) return refuse(file, fail('unknown', '--class', `"${String(options.class)}" is no class of IEC 61000-3-2`, `give ${CLASSES.join(', ')}`).problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const found = mainsQuality(design.value, point.value, of);
  const closed = closedDesign(design.value, point.value);
  const inrush = closed.ok && found.ok ? inrushRun(design.value, point.value, closed.value) : undefined;
  if (!found.ok) return refuse(file, found.problem, options);
  const holds = found.value.harmonics.every((h) => h.holds);
  if (options.json) {
    const { harmonics, ...rest } = found.value;
    json({ point: point.value, class: of, holds, ...rest, ...(inrush?.ok ? { inrush: inrush.value } : {}), harmonics });
  } else {
    said(found.value, of);
    if (inrush?.ok) say(`inrush ${print(inrush.value.peak, 'A', 3)}, plugged in at the crest behind the reference impedance of the mains${inrush.value.bare === undefined ? '' : `; ${print(inrush.value.bare, 'A', 3)} without its resistor`}\n`);
  }
  return holds ? 0 : 1;
}

/** reed mains: what is drawn from the mains, and its harmonics against the limits. */
export function addMainsVerb(program: Command, done: (code: number) => void): void {
  program
    .command('mains')
    .summary('what is drawn from the mains: power factor, distortion, harmonics against limits')
    .description('Settle the whole circuit over a cycle of the mains (rectifier, filter, current and voltage loop) and read its line: power factor, displacement, distortion, harmonics to the 40th against IEC 61000-3-2:2018. Exit code 0 when every harmonic holds, 1 when one fails, 2 when it can not be settled.\n\nJSON: point, class, holds, power (W), voltage, current, crest, powerFactor, displacement, distortion, fundamental (A rms), tightest, frequency, output{mean,peakToPeak}, closure, ripple (A rms of the switching), inrush{peak,bare} (A), harmonics[{order,value,limit (A rms),holds}].')
    .argument('<design>', 'design file (JSON)')
    .option('--class <letter>', 'A, B, C or D (default: A)')
    .option('--line <volts>', 'line voltage, rms (default: middle of the range)')
    .option('--load <amps>', 'load current (default: full load)')
    .option('--air <celsius>', 'air temperature (default: hottest of the brief)')
    .option('--json', 'print JSON in SI units')
    .exitOverride()
    .action((file: string, options: Options) => done(mains(file, options)));
}
