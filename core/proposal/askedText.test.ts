import fc from 'fast-check';
import { printTyped } from '../quantity';
import { readAsked, type AskedText } from './askedText';

/** What an engineer types of a brief, and what is read into it. */

const text = (more: Partial<AskedText> = {}): AskedText => ({ line: '12 V', output: '5 V', load: '0–3 A', ...more });
const asked = (more: Partial<AskedText> = {}) => {
  const read = readAsked(text(more));
  if (!read.asked) throw new Error(JSON.stringify(read.problems));
  return { ...read.asked, said: read.taken.map((t) => t.path) };
};

test.each<[string, { min: number; max: number; mains?: number }]>([
  ['12', { min: 10.8, max: 13.2 }],
  ['12 V', { min: 10.8, max: 13.2 }],
  ['12 V fixed', { min: 12, max: 12 }],
  ['fixed 12V', { min: 12, max: 12 }],
  ['10–14 V', { min: 10, max: 14 }],
  ['10..14', { min: 10, max: 14 }],
  ['10 to 14 V dc', { min: 10, max: 14 }],
  ['12 V ± 10 %', { min: 10.8, max: 13.2 }],
  ['12 V +/- 5 %', { min: 11.4, max: 12.6 }],
  ['230 V ac', { min: 207, max: 253, mains: 50 }],
  ['230 V 60 Hz', { min: 207, max: 253, mains: 60 }],
  ['230 V, 50 Hz', { min: 207, max: 253, mains: 50 }],
  ['85–264 V rms at 60 Hz', { min: 85, max: 264, mains: 60 }],
  ['mains 85–264 V', { min: 85, max: 264, mains: 50 }],
  ['0.36 kV to 400 V', { min: 360, max: 400 }],
])('a line: %s', (line, found) => {
  const read = asked({ line }).line;
  expect(read.min).toBeCloseTo(found.min, 6);
  expect(read.max).toBeCloseTo(found.max, 6);
  expect(read.mains).toBe(found.mains);
});

test('what is read into a line is said, and nothing where all is said', () => {
  expect(asked({ line: '12 V', load: '1–3 A' }).said).toEqual(['brief.line']);
  expect(asked({ line: '12 V fixed', load: '1–3 A' }).said).toEqual([]);
  expect(asked({ line: '85–264 V ac', load: '1–3 A' }).said).toEqual(['brief.line.mains']);
  expect(asked({ line: '230 V ac', load: '3 A' }).said).toEqual(['brief.line', 'brief.line.mains', 'brief.load.min']);
});

test('a load of one value is from nothing; two are as they stand', () => {
  expect(asked({ load: '3 A' }).load).toEqual({ min: 0, max: 3 });
  expect(asked({ load: '300 mA – 3 A' }).load).toEqual({ min: 0.3, max: 3 });
});

test('a second output, with its least load or a tenth of it', () => {
  expect(asked({ second: '12 V at 0.5 A' }).further).toEqual([{ voltage: 12, load: { min: 0.05, max: 0.5 } }]);
  expect(asked({ second: '12 V @ 0.1–0.5 A' }).further).toEqual([{ voltage: 12, load: { min: 0.1, max: 0.5 } }]);
  expect(asked({ second: '12 V / 500mA' }).further).toEqual([{ voltage: 12, load: { min: 0.05, max: 0.5 } }]);
  expect(asked({ second: '  ' }).further).toBeUndefined();
});

test('air of one value is from ten below it or from freezing', () => {
  expect(asked({ air: '50 °C' }).air).toEqual({ min: 0, max: 50 });
  expect(asked({ air: '−20 to 50 °C' }).air).toEqual({ min: -20, max: 50 });
  expect(asked({ air: '-10' }).air).toEqual({ min: -20, max: -10 });
});

test('the rest is as it is typed, or left to what is usual', () => {
  const { said: _, ...all } = asked({ isolated: true, ripple: '50 mV', loadStep: '1.5', deviation: '0.2 V', frequency: '400k', efficiency: '92 %', phaseMargin: '50°', loadInductance: '10 mH' });
  expect(all).toMatchObject({ isolated: true, ripple: 0.05, loadStep: 1.5, deviation: 0.2, frequency: 400e3, efficiency: 0.92, phaseMargin: 50, loadInductance: 0.01 });
  for (const key of ['ripple', 'loadStep', 'frequency', 'isolated', 'air', 'efficiency']) expect(asked()).not.toHaveProperty(key);
});

test.each<[keyof AskedText, string, RegExp]>([
  ['line', '', /wanted here/], ['line', 'plenty', /./], ['line', '−12 V', /nothing or less/], ['line', '0 V', /nothing or less/], ['line', '12 A', /./], ['line', '10–14–18 V', /./],
  ['output', '', /wanted here/], ['output', '0', /nothing or less/], ['output', '5 F', /./],
  ['load', ' ', /wanted here/], ['load', '−3 A', /less than nothing/], ['load', '0 A', /less than nothing/], ['load', '3 V', /./],
  ['second', '12 V', /voltage and its load/], ['second', '12 V at 1 A at 2 A', /voltage and its load/], ['second', '0 V at 1 A', /nothing or less/], ['second', '12 V at none', /./],
  ['ripple', '−1 mV', /nothing or less/], ['ripple', 'little', /./], ['loadStep', '4 A', /more than full load/], ['air', 'warm', /./], ['frequency', '0', /nothing or less/],
  ['efficiency', '140 %', /out of what can be computed with/], ['frequency', '1 mHz', /./],
])('%s “%s” is refused by its field, and the others are read all the same', (key, typed, said) => {
  const { asked: none, problems } = readAsked(text({ [key]: typed }));
  expect(none).toBeUndefined();
  expect(Object.keys(problems)).toEqual([key]);
  expect(problems[key]!.where).toBe(key);
  expect(problems[key]!.message).toMatch(said);
  expect(problems[key]!.remedy.length).toBeGreaterThan(8);
});

test('several wrong fields are all told at once', () => {
  expect(Object.keys(readAsked({ line: 'a', output: 'b', load: 'c', air: 'd', second: 'e' }).problems).sort()).toEqual(['air', 'line', 'load', 'output', 'second']);
});

test('what the product prints of a quantity is read as it was, within its digits', () => {
  const size = fc.double({ min: -3, max: 3, noNaN: true }).map((e) => 10 ** e);
  fc.assert(
    fc.property(size, size, (volts, amps) => {
      const { line, load } = asked({ line: `${printTyped(volts, 'V', 6)} fixed`, load: printTyped(amps, 'A', 6) });
      expect(line.min / volts).toBeCloseTo(1, 4);
      expect(load.max / amps).toBeCloseTo(1, 4);
    }),
  );
});

test('whatever is typed is read or refused by name; nothing that is no number comes of it', () => {
  const pieces = fc.constantFrom('12', '−3', '1e3', '0', 'V', 'kV', 'A', 'mA', ' ', '–', '..', 'to', '±', '%', 'ac', 'Hz', '50', 'at', ',', '.', 'fixed', 'µ', '∞', 'NaN', '()');
  const typed = fc.array(pieces, { maxLength: 6 }).map((p) => p.join(''));
  fc.assert(
    fc.property(typed, typed, typed, typed, (line, output, load, second) => {
      const { asked: found, problems } = readAsked({ line, output, load, second });
      if (!found) {
        expect(Object.keys(problems).length).toBeGreaterThan(0);
        return;
      }
      const numbers = [found.line.min, found.line.max, found.output, found.load.min, found.load.max, ...(found.further ?? []).flatMap((f) => [f.voltage, f.load.min, f.load.max])];
      expect(numbers.every((v) => Number.isFinite(v) && v >= 0)).toBe(true);
      expect(found.line.max).toBeGreaterThanOrEqual(found.line.min);
    }),
    { numRuns: 500 },
  );
});
