import type { Command } from 'commander';
import { editDesign } from '../core/design';
import { conductedNoise } from '../core/evaluation/noise';
import { STANDARDS } from '../core/noise/receiver';
import { fail } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import { csvLine } from './circuit/say';
import { json, open, refuse, say, type Options } from './files';
import { table } from './table';
import { pointOf } from './verbs';

function noise(file: string, options: Options): number {
  const opened = open(file);
  if (!opened.ok) return refuse(file, opened.problem, options);
  const { standard } = options;
  if (typeof standard === 'string' && !STANDARDS.some((s) => s.id === standard)) return refuse(file, fail('unknown', '--standard', `"${standard}" is no standard here`, `give ${STANDARDS.map((s) => s.id).join(', ')}`).problem, options);
  const design = typeof standard === 'string' ? editDesign(opened.value, { 'noise.standard': standard }) : opened;
  if (!design.ok) return refuse(file, design.problem, options);
  const point = pointOf(design.value, options);
  if (!point.ok) return refuse(file, point.problem, options);
  const found = conductedNoise(design.value, point.value);
  if (!found.ok) return refuse(file, found.problem, options);
  const study = found.value;
  const { quasiPeak, average } = study.nearest;
  const holds = Math.min(quasiPeak?.room ?? Infinity, average?.room ?? Infinity) >= 0;
  if (options.json) json({ point: point.value, holds, ...study });
  else if (options.csv) {
    say(csvLine(['frequency (Hz)', 'peak (dBµV)', 'average (dBµV)', 'between lines (dBµV)', 'to earth (dBµV)']));
    for (const r of study.readings) say(csvLine([r.frequency, r.peak, r.average, r.between, r.earth]));
  } else {
    const row = (detector: string, n: typeof quasiPeak): string[][] => (n ? [[detector, print(n.frequency, 'Hz', 4), `${n.level.toFixed(1)} dBµV`, `${n.limit.toFixed(1)} dBµV`, print(n.room, 'dB', 3), n.room < 0 ? 'FAILS' : '']] : []);
    say(`${study.standard}: ${holds ? 'holds' : 'FAILS'}\n`);
    say(table(['detector', 'nearest at', 'reads', 'may', 'room', ''], [...row('quasi-peak, as peak', quasiPeak), ...row('average', average)]));
    if (study.leakage !== undefined) say(`\ncurrent to earth ${print(study.leakage, 'A', 3)}`);
    if (study.discharge) say(`${print(study.discharge.capacitance, 'F', 3)} between the lines want ${print(study.discharge.resistance, 'Ω', 3)} to be empty in time, which burn ${print(study.discharge.watts, 'W', 2)}`);
    say(`\nleaves out: ${study.leavesOut}`);
  }
  return holds ? 0 : 1;
}

/** reed noise: conducted noise against limits. */
export function addNoiseVerb(program: Command, done: (code: number) => void): void {
  program
    .command('noise')
    .summary('conducted noise as a receiver would read it, against the limits of a standard')
    .description('Conducted noise from 150 kHz to 30 MHz on the line impedance network of CISPR 16: between the lines by the exact spectrum of the current drawn, to earth by that of the switch node through a stated capacitance. Exit code 0 when both detectors stay below their limits, 1 when not, 2 when it can not be settled.\n\nJSON: point, holds, standard, quasiPeak and average (limits: Hz, dBµV), readings[{frequency,peak,average,between,earth (dBµV)}], nearest{quasiPeak,average}{frequency,level,limit,room (dB)}, strays, leakage (A), discharge{capacitance,resistance,watts}, leavesOut. CSV: readings.')
    .argument('<design>', 'design file (JSON)')
    .option('--standard <id>', `${STANDARDS.map((s) => s.id).join(', ')} (default: that of the design)`)
    .option('--line <volts>', 'line (default: middle of the range)')
    .option('--load <amps>', 'load (default: full load)')
    .option('--air <celsius>', 'air temperature in °C')
    .option('--json', 'print JSON in SI units')
    .option('--csv', 'print the readings')
    .exitOverride()
    .action((file: string, options: Options) => done(noise(file, options)));
}
