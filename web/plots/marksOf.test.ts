import { marksOf } from './marksOf';

/** What a plot marks of a loop. */

test('margin and crossover stand at one frequency, but where the gain comes back above one', () => {
  expect(marksOf({ crossover: 9e3, phaseMargin: 60 })).toEqual({ crossover: 9e3, phaseMargin: 60, marginAt: 9e3, label: '9.00 kHz · 60.0°' });
  const dip = { from: 510, to: 1e3, by: 0.7, at: 720, marginAt: 5.88e3 };
  expect(marksOf({ crossover: 512, phaseMargin: 60.9, dip })).toMatchObject({ marginAt: 5.88e3, label: '512 Hz · least 60.9°' });
});
test('a loop that does not cross has none', () => expect(marksOf({ crossover: NaN, phaseMargin: Infinity })).toBeUndefined());
