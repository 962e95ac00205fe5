import fc from 'fast-check';
import { must } from '../../demo/open';
import { recording } from '../recording';
import { bestShift, captureReader, carried, deviationOf, readCapture } from '.';

const rows = (n: number): [number, number, number][] => Array.from({ length: n }, (_, k) => [k * 1e-6, 24 + Math.sin(k / 7), 6 + Math.cos(k / 5)]);

describe('a capture is read in whatever manner it is written', () => {
  const manner = fc.record({ separator: fc.constantFrom(',', ';', '\t', ' '), comma: fc.boolean(), head: fc.constantFrom(0, 3, 60), units: fc.boolean(), milli: fc.boolean() }).map((m) => ({ ...m, comma: m.comma && m.separator !== ',' }));
  test('header lines, a row of units, commas in numbers, milliseconds and millivolts', () => {
    fc.assert(
      fc.property(manner, (m) => {
        const number = (v: number): string => (m.comma ? v.toPrecision(9).replace('.', ',') : v.toPrecision(9));
        const k = m.milli && (m.units || m.separator !== ' ') ? 1e3 : 1;
        const unit = (u: string): string => (k === 1e3 ? `m${u}` : u);
        const titles = m.units ? ['time', 'channel 1', 'channel 2'] : [`time (${unit('s')})`, `channel 1 (${unit('V')})`, `channel 2 (${unit('A')})`];
        const text = [
          ...Array.from({ length: m.head }, (_, i) => `setting ${i} of the instrument`),
          ...(m.separator === ' ' && !m.units ? [] : [titles.map((t) => (m.separator === ' ' ? t.replace(/ /g, '_') : t)).join(m.separator)]),
          ...(m.units ? [['s', 'V', 'A'].map(unit).join(m.separator)] : []),
          ...rows(300).map((r) => r.map((v) => number(v * k)).join(m.separator)),
        ].join('\r\n');
        const found = must(readCapture(text));
        expect(found.time).toHaveLength(300);
        expect(found.columns.map((c) => c.role)).toEqual(['time', 'value', 'value']);
        expect(found.time[250]!).toBeCloseTo(250e-6, 9);
        expect(found.values[1]![250]!).toBeCloseTo(24 + Math.sin(250 / 7), 6);
        expect(found.values[2]![299]!).toBeCloseTo(6 + Math.cos(299 / 5), 6);
      }),
    );
  });
  test('in pieces of any length it is the same as in one', () => {
    const text = ['t,v', ...rows(500).map((r) => r.slice(0, 2).join(','))].join('\n');
    const whole = must(readCapture(text));
    for (const size of [1, 7, 1000]) {
      const reader = captureReader();
      for (let k = 0; k < text.length; k += size) expect(reader.push(text.slice(k, k + size))).toBeUndefined();
      expect(must(reader.end()).values[1]).toEqual(whole.values[1]);
    }
  });
  test('a million rows, streamed', () => {
    const reader = captureReader();
    reader.push('time (s),out (V)\n');
    for (let k = 0; k < 1000; k++) expect(reader.push(Array.from({ length: 1000 }, (_, i) => `${(k * 1000 + i) * 1e-8},${(k % 50) / 10}\n`).join(''))).toBeUndefined();
    const found = must(reader.end());
    expect(found.time).toHaveLength(1_000_000);
    expect(carried(found.time, found.values[1]!).time.length).toBeLessThanOrEqual(2000);
  });
});

test.each([
  ['nothing', '', /no row of numbers/],
  ['words only', 'a,b\nc,d', /no row of numbers/],
  ['one row', 't,v\n1,2', /single row/],
  ['no number in a row', 't,v\n1,2\n2,NaN\n3,4', /line 3/],
  ['unequal rows', 't,v\n1,2\n2,3,4\n3,4', /line 3.*3 numbers where.*2/],
  ['time that runs backwards', 'time,v\n1,2\n3,4\n2,5', /row 3.*goes back/],
  ['nothing that rises', 'a,b\n1,2\n0,1\n5,0', /none of its columns is a time/],
  ['far too many columns', Array.from({ length: 3 }, (_, k) => new Array(40).fill(k).join(',')).join('\n'), /40 columns/],
])('%s: told, and what would do', (_, text, said) => {
  const found = readCapture(text);
  expect(found.ok).toBe(false);
  if (found.ok) return;
  expect(`${found.problem.where} ${found.problem.message}`).toMatch(said);
  expect(found.problem.remedy.length).toBeGreaterThan(8);
});
test('which column is the time can be corrected', () => {
  const text = 'a,b\n1,5\n0,6\n5,7';
  expect(must(readCapture(text, 1)).columns.map((c) => c.role)).toEqual(['value', 'time']);
  expect(readCapture(text, 0)).toMatchObject({ ok: false });
});

describe('laid over a run', () => {
  const record = recording(1);
  const wave = (t: number): number => 24 - (t > 1e-3 ? Math.exp(-(t - 1e-3) / 2e-4) : 0) + 0.02 * Math.sin(2e5 * t);
  const time = Float64Array.from({ length: 20_001 }, (_, k) => k * 1e-7);
  record.add({ time, values: [time.map(wave)], events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } });
  const captured = (shift: number): { time: number[]; value: number[]; scale: number; offset: number } => ({ time: Array.from({ length: 900 }, (_, k) => 5e-4 + k * 1e-6 - shift), value: Array.from({ length: 900 }, (_, k) => wave(5e-4 + k * 1e-6)), scale: 1, offset: 0 });
  test('the deviation is what was added', () => {
    expect(deviationOf(record, 0, { ...captured(0), shift: 0 })!.rms).toBeLessThan(1e-5);
    const off = deviationOf(record, 0, { ...captured(0), shift: 0, offset: 0.05 })!;
    expect(off.rms).toBeCloseTo(0.05, 4);
    expect(off.largest).toBeCloseTo(0.05, 3);
    expect(deviationOf(record, 0, { ...captured(0), shift: 5 })).toBeUndefined();
  });
  test('the best shift brings it back, to within a point', () => {
    fc.assert(fc.property(fc.double({ min: -0.8, max: 0.8, noNaN: true }), (shift) => expect(Math.abs(bestShift(record, 0, captured(shift * 1e-3))! - shift * 1e-3)).toBeLessThan(1e-6)), { numRuns: 12 });
    expect(bestShift(record, 0, { time: [0, 1], value: [0, 0], scale: 1, offset: 0 })).toBeUndefined();
  });
  test('a spike of a long capture is carried', () => {
    const long = Float64Array.from({ length: 1e5 }, (_, k) => (k === 54_321 ? 9 : 0));
    const kept = carried(long.map((_, k) => k), long);
    expect(kept.time.length).toBeLessThanOrEqual(2000);
    expect(kept.value).toContain(9);
    expect(kept.time.every((t, k) => k === 0 || t >= kept.time[k - 1]!)).toBe(true);
  });
});
