import fc from 'fast-check';
import { must } from '../../demo/open';
import { curveAt, readFrequencies } from './readAt';

test.each<[string, number[]]>([['1k, 10k', [1e3, 1e4]], ['2.5 kHz; 40', [2500, 40]], ['1M\n300 Hz', [1e6, 300]], ['', []], [' , ', []]])('%s', (text, list) => expect(must(readFrequencies(text))).toEqual(list));
test.each([['fast', /./], ['−1k', /above zero/], ['10 V', /./], [Array.from({ length: 41 }, () => '1k').join(), /more than are read/]])('“%s” is refused', (text, said) => {
  const found = readFrequencies(text);
  expect(found.ok ? '' : found.problem.message).toMatch(said);
});

test('at its points a curve is what it is, between them between them, outside nothing; its phase goes on over the turns', () => {
  const curve = { frequency: [10, 100, 1e3, 1e4], gain: [40, 20, 0, -40], phase: [-90, -120, -200, -400] };
  fc.assert(
    fc.property(fc.double({ min: 1, max: 4, noNaN: true }), (decade) => {
      const [v] = curveAt(curve, [10 ** decade]);
      const k = Math.min(2, Math.floor(decade - 1 + 1e-12));
      const share = decade - 1 - k;
      expect(v!.gain).toBeCloseTo(curve.gain[k]! + share * (curve.gain[k + 1]! - curve.gain[k]!), 6);
      expect(v!.phase).toBeCloseTo(curve.phase[k]! + share * (curve.phase[k + 1]! - curve.phase[k]!), 6);
    }),
  );
  expect(curveAt(curve, [1, 1e5])).toEqual([{ frequency: 1 }, { frequency: 1e5 }]);
});
