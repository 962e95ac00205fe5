import { bareDemo, change } from '../../demo/open';
import { recent } from '../recent';
import { sizingInputOf } from '.';
import { sizeDesign } from '../evaluation';

test('a design is found again by what it says, whoever says it; one that says something else is another', () => {
  const design = bareDemo('cabin-lighting-rail');
  const sized = sizeDesign(design);
  expect(sizeDesign(structuredClone(design))).toBe(sized);
  expect(sizingInputOf(bareDemo('cabin-lighting-rail'))).toBe(sizingInputOf(design));
  const other = change(design, { 'parts.L1.inductance': 33e-6 });
  expect(sizeDesign(other).values.L1!.taken).toBe(33e-6);
  expect(sizeDesign(design)).toBe(sized);
});

test('what was not asked for longest is forgotten first, and no more is kept than that', () => {
  const find = recent<number, { of: number }>(3);
  const made: number[] = [];
  const ask = (k: number): void => expect(find(k, () => (made.push(k), { of: k })).of).toBe(k);
  [1, 2, 3, 1, 4, 1, 3, 2].forEach(ask);
  // 4 pushes out 2, since 1 was asked for again; and 2 then 4.
  expect(made).toEqual([1, 2, 3, 4, 2]);
  ask(4);
  expect(made.at(-1)).toBe(4);
});
