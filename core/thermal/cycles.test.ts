import fc from 'fast-check';
import { byRange, rainflow } from './cycles';

test('the example of the standard', () => {
  // ASTM E1049, figure 6: −2 1 −3 5 −1 3 −4 4 −2.
  const found = rainflow([-2, 1, -3, 5, -1, 3, -4, 4, -2]);
  const of = (range: number): number => found.filter((c) => c.range === range).reduce((sum, c) => sum + c.count, 0);
  expect([3, 4, 6, 8, 9].map(of)).toEqual([0.5, 1.5, 0.5, 1, 0.5]);
  expect(found.reduce((sum, c) => sum + c.count, 0)).toBe(4);
});

test('points between turning points change nothing, and the largest range is that of the whole', () => {
  fc.assert(fc.property(fc.array(fc.integer({ min: -50, max: 150 }), { minLength: 2, maxLength: 40 }), (list) => {
    const between = list.flatMap((v, k) => (k === 0 ? [v] : [(v + list[k - 1]!) / 2, v]));
    expect(rainflow(between)).toEqual(rainflow(list));
    const span = Math.max(...list) - Math.min(...list);
    expect(Math.max(0, ...rainflow(list).map((c) => c.range))).toBe(span);
  }));
});

test('a course that comes back so many times counts so often', () => {
  const many = Array.from({ length: 200 }, (_, k) => (k % 2 === 0 ? 40 : 70));
  const [bin] = byRange(rainflow(many));
  expect(bin!.count).toBeCloseTo(99.5, 6);
  expect(byRange(rainflow([40, 40.3, 40]))).toEqual([]);
});
