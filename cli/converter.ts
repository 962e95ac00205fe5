import { converterFigures, type Converter, type ConverterFigures } from '../core/converter/converter';
import { failsOf, outputNamed } from '../core/converter/verdict';
import { readConverter } from '../core/interchange/circuitFile';
import { describeProblem, fail, ok, type Result } from '../core/problem';
import { printQuantity as print } from '../core/quantity';
import { jsonText, say } from './circuit/say';
import { table } from './table';

/** What the verbs say of a circuit with roles: the same of any, whatever topology or control it has. */

const POINT = ['line', 'load', 'air', 'angle'];

/** A converter and its figures; it stands where its circuit has it, so an operating point is refused. */
export function figuresOf(text: string, options: Readonly<Record<string, unknown>>): Result<{ converter: Converter; figures: ConverterFigures }> {
  const given = POINT.find((key) => options[key] !== undefined);
  if (given !== undefined) return fail('option', `--${given}`, 'a circuit has its line and its loads in it', 'change their values in the file');
  const converter = readConverter(text);
  if (!converter.ok) return converter;
  const figures = converterFigures(converter.value);
  return figures.ok ? ok({ converter: converter.value, figures: figures.value }) : figures;
}

const json = (value: unknown): void => say(jsonText(value));
const finite = (v: number): number | null => (Number.isFinite(v) ? v : null);

/** By verb: prints, and gives the exit code. */
export const SAID: Record<string, (c: Converter, f: ConverterFigures, asJson: boolean) => number> = {
  settle(c, f, asJson) {
    const { period, closure, conduction, multiplier, leaves, outputs, stresses } = f;
    if (asJson) json({ period, closure, conduction, multiplier, leaves: leaves ?? null, outputs: outputs.map(({ voltage, power }) => ({ ...voltage, power })), stresses });
    else {
      say(`settled cycle of ${print(period, 's')}${conduction ? `, ${conduction} conduction` : ''}, closes to ${closure.toExponential(1)}; largest multiplier ${multiplier.toFixed(4)}${leaves ? `\n${describeProblem(leaves)}` : ''}\n`);
      say(table(['output', 'mean', 'peak to peak', 'power'], outputs.map((o, k) => [outputNamed(c, k), print(o.voltage.mean, 'V', 5), print(o.voltage.peakToPeak, 'V', 4), print(o.power, 'W', 4)])));
      if (Object.keys(stresses).length > 0) say(`\n${table(['part', 'rms', 'peak', 'voltage'], Object.entries(stresses).map(([id, s]) => [id, print(s.rms, 'A', 4), print(s.peak, 'A', 4), print(s.voltage, 'V', 4)]))}`);
    }
    return 0;
  },
  loop(_, f, asJson) {
    if (asJson) json({ stable: f.leaves === undefined, leaves: f.leaves ?? null, loops: f.loops.map(({ curve, gainMargin, ...l }) => ({ ...l, gainMargin: finite(gainMargin), response: curve.frequency.map((frequency, i) => ({ frequency, gain: curve.gain[i], phase: curve.phase[i] })) })) });
    else {
      say(f.leaves ? describeProblem(f.leaves) : `stable: largest multiplier ${f.multiplier.toFixed(4)}`);
      if (f.loops.length === 0) say('\nno loop is named: give roles.loops the sources of 0 V at which they can be broken');
      else say(`\n${table(['loop', 'crossover', 'phase margin', 'gain margin', 'wanted'], f.loops.map((l) => [l.title, l.beyond === undefined ? print(l.crossover, 'Hz') : `none: ${l.beyond} one`, l.beyond === undefined ? print(l.phaseMargin, '°') : '–', Number.isFinite(l.gainMargin) ? print(l.gainMargin, 'dB') : '–', l.wanted === undefined ? '' : l.wanted.holds ? 'holds' : 'FAILS']))}`);
    }
    return 0;
  },
  losses(_, { losses }, asJson) {
    if (asJson) json(losses);
    else {
      say(`efficiency ${print(losses.efficiency, '%', 4)}, ${print(losses.total, 'W')} lost; what the circuit itself burns: switching, core and gate losses are not in it\n`);
      say(table(['part', 'loss'], [...losses.parts.map((p) => [p.id, print(p.total, 'W')]), ['elsewhere', print(losses.elsewhere.total, 'W')]]));
    }
    return 0;
  },
  check(c, f, asJson) {
    const fails = failsOf(c, f);
    if (asJson) json({ holds: fails.length === 0, fails });
    else say(fails.length === 0 ? 'holds: stable, and all that its roles want is met' : `fails: ${fails.join('; ')}`);
    return fails.length === 0 ? 0 : 1;
  },
};
