import path from 'node:path';
import type { Command } from 'commander';
import { placeForRegion, tightInWords } from '../core/corners/region';
import { editDesign } from '../core/design';
import { evaluate, fitPlant, injectedLoop, placementPoint, type InnerLoopFigures, type LoopFigures } from '../core/evaluation';
import { AMPLIFIERS, amplifierNamed } from '../core/control';
import { editPlant, isPlant, plantFigures, plantOfTraces, readPlant, type PlantDocument } from '../core/plant';
import { controllerSource } from '../core/interchange/cSource';
import { readMeasured } from '../core/measured/read';
import { carriedTrace } from '../core/measured/response';
import { fail, ok, type Result } from '../core/problem';
import { parseQuantity, printQuantity as print, quoted, type UnitName } from '../core/quantity';
import { logSpaced } from '../core/response/system';
import { json, open, refuse, say, textOf, type Options } from './files';
import { table } from './table';

/** A quantity of an option; what stands without it. */
const asked = (options: Options, key: string, unit: UnitName, without: number): Result<number> => (typeof options[key] === 'string' ? parseQuantity(options[key], unit, `--${key}`) : ok(without));

/** Frequencies of --at, or points from --from to --to. */
function frequenciesOf(options: Options, from: number, to: number): Result<number[]> {
  if (typeof options.at === 'string') {
    const list: number[] = [];
    for (const one of options.at.split(',')) {
      const f = parseQuantity(one, 'Hz', '--at');
      if (!f.ok) return f;
      list.push(f.value);
    }
    return ok(list);
  }
  const [low, high] = [asked(options, 'from', 'Hz', from), asked(options, 'to', 'Hz', to)];
  if (!low.ok) return low;
  if (!high.ok) return high;
  const points = typeof options.points === 'string' ? Number(options.points) : 12;
  return Number.isInteger(points) && points > 1 && points <= 1000 ? ok(logSpaced(low.value, high.value, points)) : fail('range', '--points', 'that is no number of points', 'give 2 to 1000');
}

function place(file: string, options: Options): number {
  if (typeof options.plant === 'string') return placeOnMeasured(options.plant, options);
  const text = textOf(file);
  if (text.ok && isPlant(text.value)) {
    const plant = readPlant(text.value);
    return plant.ok ? placePlant(file, plant.value, options) : refuse(file, plant.problem, options);
  }
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  let d = design.value;
  const crossover = asked(options, 'crossover', 'Hz', d.control.crossover);
  if (!crossover.ok) return refuse(file, crossover.problem, options);
  const margin = asked(options, 'margin', '°', d.control.phaseMargin);
  if (!margin.ok) return refuse(file, margin.problem, options);
  const edited = editDesign(d, { 'control.crossover': crossover.value, 'control.phaseMargin': margin.value, ...(typeof options.amplifier === 'string' ? { 'control.amplifier': options.amplifier } : {}) });
  if (!edited.ok) return refuse(file, edited.problem, options);
  d = edited.value;
  let limit: string | undefined;
  if (options.region) {
    const region = placeForRegion(d);
    if (!region.ok) return refuse(file, region.problem, options);
    const taken = editDesign(d, region.value.changes);
    if (!taken.ok) return refuse(file, taken.problem, options);
    d = taken.value;
    limit = `${region.value.holds ? 'holds at every corner' : 'no crossover holds'}${region.value.highest ? '; a fifth of the switching frequency, and no higher is looked at' : ''}${region.value.limit ? `; ${region.value.holds ? 'what limits it' : 'what fails'}: ${tightInWords(region.value.limit)}` : ''}`;
  }
  const found = evaluate(d, placementPoint(d), { detail: true });
  if (!found.ok) return refuse(file, found.problem, options);
  const { loop, problems } = found.value;
  if (!loop) return refuse(file, problems.loop!, options);
  if (options.design) {
    json(d);
    return 0;
  }
  const loops: (InnerLoopFigures | (LoopFigures & { title: string }))[] = [...(loop.inner ? [loop.inner] : []), { title: 'output', ...loop }];
  if (options.json) json({ limit, loops: loops.map((l) => ({ title: l.title, crossover: l.crossover, phaseMargin: l.phaseMargin, gainMargin: Number.isFinite(l.gainMargin) ? l.gainMargin : null, compensator: l.built, network: Object.fromEntries(l.network.parts.map((p) => [p.id, p.value])), sampled: l.sampled })) });
  else {
    say(table(['loop', 'crossover', 'phase margin', 'gain margin', 'corners'], loops.map((l) => [l.title, print(l.crossover, 'Hz'), print(l.phaseMargin, '°'), Number.isFinite(l.gainMargin) ? print(l.gainMargin, 'dB') : 'none', Object.entries(l.built).map(([key, f]) => `${key} ${print(f, 'Hz')}`).join(', ')])));
    if (limit) say(`\n${limit}`);
  }
  return 0;
}

/** A compensator on a measured plant, without any power stage. */
function placeOnMeasured(file: string, options: Options): number {
  const text = textOf(file);
  if (!text.ok) return refuse(file, text.problem, options);
  const read = readMeasured(text.value);
  if (!read.ok) return refuse(file, read.problem, options);
  const document = plantOfTraces(path.basename(file).replace(/\.\w+$/, ''), read.value.traces);
  if (!document.ok) return refuse(file, document.problem, options);
  if (typeof options.crossover !== 'string') return refuse(file, { code: 'missing', where: '--crossover', message: 'a plant alone does not say where it is to cross', remedy: 'give one, like --crossover 5k' }, options);
  return placePlant(file, document.value, options, read.value.remarks);
}

/** A document of a measured plant, with what the options change of it. */
function placePlant(file: string, document: PlantDocument, options: Options, remarks: readonly string[] = []): number {
  const crossover = asked(options, 'crossover', 'Hz', document.control.crossover);
  if (!crossover.ok) return refuse(file, crossover.problem, options);
  const margin = asked(options, 'margin', '°', document.control.phaseMargin);
  if (!margin.ok) return refuse(file, margin.problem, options);
  if (typeof options.amplifier === 'string' && !amplifierNamed(options.amplifier)) return refuse(file, { code: 'unknown', where: '--amplifier', message: `"${quoted(options.amplifier)}" is not an amplifier here`, remedy: `choose ${AMPLIFIERS.map((a) => a.id).join(', ')}` }, options);
  const edited = editPlant(document, { frequency: Math.max(document.frequency, 2 * crossover.value), 'control.crossover': crossover.value, 'control.phaseMargin': margin.value, ...(options.exact ? { 'control.rounded': false } : {}), ...(typeof options.amplifier === 'string' ? { 'control.amplifier': options.amplifier } : {}) });
  if (!edited.ok) return refuse(file, edited.problem, options);
  const found = plantFigures(edited.value);
  if (!found.ok) return refuse(file, found.problem, options);
  const { loops, built, network } = found.value;
  const parts = network.parts.filter((p) => p.id !== 'lower');
  const margins = loops[0]!.margins;
  const gainMargin = (m: typeof margins): number | null => (Number.isFinite(m.gainMargin) ? m.gainMargin : null);
  if (options.design) json(edited.value);
  else if (options.json) json({ crossover: margins.crossover, phaseMargin: margins.phaseMargin, gainMargin: gainMargin(margins), dip: margins.dip, loops: loops.map((l) => ({ title: l.title, crossover: l.margins.crossover, phaseMargin: l.margins.phaseMargin, gainMargin: gainMargin(l.margins) })), compensator: built, network: Object.fromEntries(parts.map((p) => [p.id, p.value])), remarks });
  else {
    for (const remark of remarks) say(remark);
    say(table(['on', 'crossover', 'phase margin', 'gain margin'], loops.map(({ title, margins: m }) => [title, print(m.crossover, 'Hz'), print(m.phaseMargin, '°'), gainMargin(m) === null ? 'none' : print(m.gainMargin, 'dB')])));
    say(`\n${table(['figure', 'value'], [...Object.entries(built).map(([key, f]) => [key, print(f, 'Hz')]), ...parts.map((p) => [p.id, print(p.value, p.unit)])])}`);
  }
  return 0;
}

function inject(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const d = design.value;
  const f = frequenciesOf(options, d.control.crossover / 10, Math.min(5 * d.control.crossover, 0.4 * d.brief.frequency));
  if (!f.ok) return refuse(file, f.problem, options);
  const point = placementPoint(d);
  const terminal = process.stderr.isTTY;
  const found = injectedLoop(d, point, f.value, (done, of) => void (terminal && process.stderr.write(`\r${Math.round((100 * done) / of)} % `)));
  if (terminal) process.stderr.write('\r');
  if (!found.ok) return refuse(file, found.problem, options);
  const row = (x: (typeof found.value)[number]) => ({ frequency: x.frequency, gain: x.gain, phase: x.phase, exactGain: x.exact.gain, exactPhase: x.exact.phase, amplitude: x.amplitude, distortion: x.distortion, moved: x.moved, good: x.good });
  const rows = found.value.map(row).sort((a, b) => a.frequency - b.frequency);
  if (options.json) json({ at: point, points: rows });
  else say(table(['frequency', 'gain', 'phase', 'exact', '', 'amplitude', 'quality'], rows.map((r) => [print(r.frequency, 'Hz', 4), `${r.gain.toFixed(2)} dB`, `${r.phase.toFixed(1)}°`, `${r.exactGain.toFixed(2)} dB`, `${r.exactPhase.toFixed(1)}°`, print(r.amplitude, 'V'), r.good ? 'good' : `distorts ${print(r.distortion, '%')}`])));
  return 0;
}

function fit(file: string, measured: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  const text = textOf(measured);
  if (!text.ok) return refuse(measured, text.problem, options);
  const read = readMeasured(text.value);
  if (!read.ok) return refuse(measured, read.problem, options);
  const d = design.value;
  const point = placementPoint(d);
  for (const [key, unit] of [['line', 'V'], ['load', 'A']] as const) {
    const given = asked(options, key, unit, point[key]);
    if (!given.ok) return refuse(measured, given.problem, options);
    point[key] = given.value;
  }
  const found = fitPlant(d, carriedTrace(read.value.traces[0]!, 'plant'), point);
  if (!found.ok) return refuse(measured, found.problem, options);
  const { values, before, after, changes } = found.value;
  if (options.json) json({ at: point, values, before, after, changes, remarks: read.value.remarks });
  else {
    for (const remark of read.value.remarks) say(remark);
    say(table(['value', 'was', 'is', 'within'], values.map((v) => [v.title, print(v.was, v.unit), print(v.is, v.unit), `± ${print(v.within, v.unit, 2)}`])));
    say(`\noff by ${after.gain.toFixed(2)} dB and ${after.phase.toFixed(1)}° rms, before ${before.gain.toFixed(2)} dB and ${before.phase.toFixed(1)}°`);
  }
  return 0;
}

function exported(file: string, options: Options): number {
  const design = open(file);
  if (!design.ok) return refuse(file, design.problem, options);
  if (!options.c) return refuse(file, { code: 'missing', where: '--c', message: 'nothing is asked for', remedy: 'give --c for the C source of a controller that samples' }, options);
  const found = evaluate(design.value, placementPoint(design.value));
  if (!found.ok) return refuse(file, found.problem, options);
  const { loop, problems } = found.value;
  if (!loop) return refuse(file, problems.loop!, options);
  if (options.loop === 'inner' && !loop.inner) return refuse(file, { code: 'unknown', where: '--loop', message: 'there is no loop inside', remedy: 'leave it out' }, options);
  const one = options.loop === 'inner' ? { title: loop.inner!.title, sampled: loop.inner!.sampled } : { title: loop.inner ? 'output voltage' : 'controller', sampled: loop.sampled };
  const text = controllerSource(design.value, one.title, one.sampled);
  if (!text.ok) return refuse(file, text.problem, options);
  process.stdout.write(text.value);
  return 0;
}

/** reed place, inject, fit and export: the loop of a design, and of a plant measured on the bench. */
export function addLoopVerbs(program: Command, done: (code: number) => void): void {
  const verb = (name: string, summary: string, description: string): Command => program.command(name).summary(summary).description(description).exitOverride();
  verb('place', 'place the loop of a design, or one on a measured plant', 'Place the compensator, at the middle of the line and full load; with --region as high as its requirements allow at every end of line and load. With --plant on a measured response alone, without a power stage.\n\nJSON: loops[{title,crossover (Hz),phaseMargin (°),gainMargin (dB),compensator{corner: Hz},network,sampled}], limit.')
    .argument('[design]', 'design file (JSON)')
    .option('--crossover <frequency>', 'wanted crossover')
    .option('--margin <degrees>', 'wanted phase margin')
    .option('--amplifier <id>', AMPLIFIERS.map((a) => a.id).join(', '))
    .option('--region', 'the highest crossover that holds at every corner')
    .option('--plant <file>', 'a measured plant (frequency, gain and phase) instead of a design')
    .option('--exact', 'with --plant: a network of exact values')
    .option('--design', 'print the design as placed')
    .option('--json', 'print JSON in SI units')
    .action((file: string | undefined, options: Options) => done(file === undefined && options.plant === undefined ? refuse('reed place', { code: 'missing', where: 'design', message: 'there is nothing to place', remedy: 'give a design file, or --plant with a measured one' }, options) : place(file ?? '', options)));
  verb('inject', 'the loop of a design by injection in time', 'Inject small tones into the running converter, its loop closed, and read the loop gain at each, with its quality and what the exact response says there.\n\nJSON: points[{frequency (Hz),gain (dB),phase (°),exactGain,exactPhase,amplitude (V),distortion,moved{gain,phase},good}].')
    .argument('<design>', 'design file (JSON)')
    .option('--at <frequencies>', 'these frequencies, like 1k,2k,5k')
    .option('--from <frequency>', 'lowest frequency (default: a tenth of the crossover)')
    .option('--to <frequency>', 'highest frequency (default: five times the crossover)')
    .option('--points <count>', 'how many (12)')
    .option('--json', 'print JSON in SI units')
    .action((file: string, options: Options) => done(inject(file, options)));
  verb('fit', 'fit a design to a measured plant', 'Fit inductance, capacitance, their resistances, gain and delay to a measured plant (frequency, gain and phase in whatever order, unit and manner of writing).\n\nJSON: values[{id,title,unit,was,is,within}], before and after{gain (dB rms),phase (° rms)}, changes{path: value}.')
    .argument('<design>', 'design file (JSON)')
    .argument('<measured>', 'file of the measured plant')
    .option('--line <volts>', 'line that it was measured at (default: middle of the range)')
    .option('--load <amps>', 'load that it was measured at (default: full load)')
    .option('--json', 'print JSON in SI units')
    .action((file: string, measured: string, options: Options) => done(fit(file, measured, options)));
  verb('export', 'the C source of a controller that samples', 'Print one C99 file of the controller: fixed and floating point, saturating, with a self-test as its main (define SELF_TEST).')
    .argument('<design>', 'design file (JSON)')
    .option('--c', 'C source')
    .option('--loop <which>', 'of a cascade: inner or outer')
    .option('--json', 'problems as JSON')
    .action((file: string, options: Options) => done(exported(file, options)));
}
