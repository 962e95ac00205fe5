import { openDemo } from '../../../demo/open';
import { isShown, joinedAbove, lanesOf, shifted, withLane, without } from './lanes';

const three = [['a'], ['b', 'c'], ['d']];
test('where a design says nothing its topology’s signals stand one a lane', () => {
  const rail = openDemo('cabin-lighting-rail');
  expect(lanesOf(rail).every((l) => l.length === 1)).toBe(true);
  expect(isShown(rail, 'output')).toBe(true);
  expect(lanesOf({ ...rail, lanes: three })).toBe(three);
});
test('added below, taken away with its lane', () => {
  expect(withLane(three, 'e')).toEqual([['a'], ['b', 'c'], ['d'], ['e']]);
  expect(withLane(three, 'a')).toEqual([['b', 'c'], ['d'], ['a']]);
  expect(without(three, 'd')).toEqual([['a'], ['b', 'c']]);
  expect(without(three, 'b')).toEqual([['a'], ['c'], ['d']]);
});
test('moved by a lane, out of one that it shares, and no further than the ends', () => {
  expect(shifted(three, 'd', -1)).toEqual([['a'], ['d'], ['b', 'c']]);
  expect(shifted(three, 'a', 1)).toEqual([['b', 'c'], ['a'], ['d']]);
  expect(shifted(three, 'a', -1)).toEqual([['a'], ['b', 'c'], ['d']]);
  expect(shifted(three, 'c', 1)).toEqual([['a'], ['b'], ['c'], ['d']]);
  expect(shifted(three, 'c', -1)).toEqual([['a'], ['c'], ['b'], ['d']]);
});
test('laid into the lane above', () => {
  expect(joinedAbove(three, 'd')).toEqual([['a'], ['b', 'c', 'd']]);
  expect(joinedAbove(three, 'b')).toEqual([['a', 'b'], ['c'], ['d']]);
  expect(joinedAbove(three, 'a')).toEqual(three);
});
