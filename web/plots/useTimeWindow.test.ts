import fc from 'fast-check';
import { moved } from './useTimeWindow';

test('scaled about a time that time stays where it was, as far as the whole allows', () => {
  expect(moved([2, 4], 10, { about: 3, scale: 0.5 })).toEqual([2.5, 3.5]);
  expect(moved([0, 10], 10, { about: 7, scale: 2 })).toEqual([0, 10]);
  expect(moved([8, 10], 10, { by: 5 })).toEqual([8, 10]);
});
test('it never leaves the whole, and never is nothing', () => {
  const any = fc.double({ min: 0, max: 1, noNaN: true });
  fc.assert(
    fc.property(any, any, any, fc.double({ min: 1e-6, max: 100, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), (a, b, about, scale, by) => {
      fc.pre(Math.abs(a - b) > 1e-6);
      const [from, until] = moved([Math.min(a, b), Math.max(a, b)], 1, { about, scale, by });
      expect(from).toBeGreaterThanOrEqual(0);
      expect(until).toBeLessThanOrEqual(1 + 1e-12);
      expect(until).toBeGreaterThan(from);
    }),
  );
});
