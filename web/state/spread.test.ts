import { openDemo } from '../../demo/open';
import { drawn, tolerancesOf } from '../../core/corners/spread';
import { pointsOf, worstInRegion } from '../../core/corners/worst';
import { between } from '../workers/here';
import { spreadActions, useSpread } from './spread';

/** Draws from the workers, as they come. */

const rail = openDemo('cabin-lighting-rail');
const verdict = worstInRegion(rail);
jest.mock('../workers/pool', () => jest.requireActual('../workers/here'));

beforeEach(() => {
  delete between.before;
});

test('a spread of a seed: all of them in order, the same as one after the other in the core', async () => {
  await spreadActions.draw(rail, verdict, 12, 4);
  const { draws, under, of, design } = useSpread.getState();
  expect([draws.length, under, of, design === rail]).toEqual([12, false, 12, true]);
  const tolerances = tolerancesOf(rail);
  expect(draws).toEqual(Array.from({ length: 12 }, (_, k) => drawn(rail, tolerances, 4, k, pointsOf(verdict.worst))));
});

test('stopped it says so and takes nothing more in; another one stops the first', async () => {
  const first = spreadActions.draw(rail, verdict, 10);
  spreadActions.stop();
  await first;
  expect([useSpread.getState().under, useSpread.getState().draws]).toEqual([false, []]);
  const other = spreadActions.draw(rail, verdict, 5);
  const last = spreadActions.draw(rail, verdict, 5, 9);
  await Promise.all([other, last]);
  expect([useSpread.getState().seed, useSpread.getState().draws.length]).toEqual([9, 5]);
});

test('what breaks is said, and what was there before it stays possible', async () => {
  between.before = () => {
    throw new Error('broken');
  };
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  await spreadActions.draw(rail, verdict, 5);
  expect(useSpread.getState()).toMatchObject({ under: false, failed: expect.stringContaining('stopped') as string });
  delete between.before;
  await spreadActions.draw(rail, verdict, 5);
  expect(useSpread.getState().failed).toBeUndefined();
  said.mockRestore();
});
