import { openDemo } from '../../../demo/open';
import { called, dropped, edgeMoved, heightsOf, isShown, joinedAbove, lanesOf, shifted, withLane, without } from './lanes';

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
test('let go over a lane: above, below or into it; onto itself, or into a full one, nothing happens', () => {
  expect(dropped(three, 'd', 0, 'above')).toEqual([['d'], ['a'], ['b', 'c']]);
  expect(dropped(three, 'a', 1, 'below')).toEqual([['b', 'c'], ['a'], ['d']]);
  expect(dropped(three, 'a', 1, 'into')).toEqual([['b', 'c', 'a'], ['d']]);
  expect(dropped(three, 'b', 1, 'below')).toEqual([['a'], ['c'], ['b'], ['d']]);
  expect(dropped(three, 'b', 1, 'into')).toEqual(three);
  expect(dropped(three, 'd', 2, 'above')).toEqual(three);
  expect(dropped(three, 'd', 7, 'above')).toEqual(three);
  const full = [['a'], ['b', 'c', 'd', 'e']];
  expect(dropped(full, 'a', 1, 'into')).toEqual(full);
});
test('heights share the room; an edge moved takes from the next, none gets too low to be read, and the others stay', () => {
  expect(heightsOf(three, undefined, 300)).toEqual([100, 100, 100]);
  const looks = edgeMoved(three, { c: { title: 'of it' } }, 300, 0, 40);
  expect(looks.c).toEqual({ title: 'of it', height: 0.6 });
  const after = heightsOf(three, looks, 300);
  [140, 60, 100].forEach((h, k) => expect(after[k]).toBeCloseTo(h, 6));
  // As far as it goes, and back again beyond what is there.
  expect(heightsOf(three, edgeMoved(three, looks, 300, 0, 500), 300)[1]).toBeCloseTo(34, 0);
  expect(heightsOf(three, edgeMoved(three, looks, 300, 1, -500), 300)[1]).toBeCloseTo(34, 0);
  // In a lane of several the highest that is asked for counts.
  expect(heightsOf([['a', 'b'], ['c']], { b: { height: 3 } }, 400)).toEqual([300, 100]);
});
test('called otherwise, and as usual again', () => {
  const looks = called({ a: { height: 2 } }, 'a', ' snubber ');
  expect(looks).toEqual({ a: { height: 2, title: 'snubber' } });
  expect(called(looks, 'a', '')).toEqual({ a: { height: 2 } });
  expect(called({ a: { title: 'x' } }, 'a', ' ')).toBeUndefined();
});
