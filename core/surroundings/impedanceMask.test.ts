import fc from 'fast-check';
import { must } from '../../demo/open';
import { printMask, readMask } from './impedanceMask';

test.each<[string, [number, number][]]>([
  ['100 Hz 20 mΩ, 10 kHz 20 mΩ, 100 kHz 150 mΩ', [[100, 0.02], [10e3, 0.02], [100e3, 0.15]]],
  ['100 20m; 10k 20m', [[100, 0.02], [10e3, 0.02]]],
  ['1kHz 1\n2kHz 2 Ω', [[1e3, 1], [2e3, 2]]],
  ['1 kHz at 10 mohm, 3 kHz at 0.1', [[1e3, 0.01], [3e3, 0.1]]],
])('%s', (text, mask) => {
  const found = must(readMask(text));
  found.forEach(([f, z], k) => [f / mask[k]![0], z / mask[k]![1]].forEach((x) => expect(x).toBeCloseTo(1, 12)));
  expect(found).toHaveLength(mask.length);
});

test.each([['', /two points/], ['100 Hz 20 mΩ', /two points/], ['100 Hz, 10 kHz', /point 1/], ['100 Hz 20 mV, 1k 1', /point 1/], ['1k 1, fast 2', /point 2/]])('“%s” is refused, by the point that is wrong', (text, said) => {
  const found = readMask(text);
  expect(found.ok ? '' : found.problem.message).toMatch(said);
  expect(found.ok ? '' : found.problem.remedy.length).toBeGreaterThan(4);
});

test('what is printed is read as it was', () => {
  const size = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true }).map((e) => 10 ** e);
  fc.assert(
    fc.property(fc.array(fc.tuple(size(0, 6), size(-4, 2)), { minLength: 2, maxLength: 8 }), (mask) => {
      const back = must(readMask(printMask(mask, 9)));
      back.forEach(([f, z], k) => [f / mask[k]![0], z / mask[k]![1]].forEach((x) => expect(x).toBeCloseTo(1, 7)));
    }),
  );
});
