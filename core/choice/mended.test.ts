import { bareDemo, must } from '../../demo/open';
import { editDesign } from '../design';
import { ableFor, mended } from './mended';

/** What has to change with a change. */

const rail = bareDemo('cabin-lighting-rail');

test('a smaller full load takes the load step with it', () => {
  const found = mended(rail, { 'brief.load.max': 3 })!;
  expect(found.said).toEqual(['load step 4 A → 3 A']);
  expect(must(editDesign(rail, found.changes)).brief).toMatchObject({ load: { max: 3 }, loadStep: 3 });
});

test('and the smallest load, where that would be above it', () => {
  const found = mended(rail, { 'brief.load.max': 0.3 })!;
  expect(found.said).toEqual(expect.arrayContaining(['load step 4 A → 300 mA', 'smallest load 400 mA → 15 mA']));
  expect(editDesign(rail, found.changes).ok).toBe(true);
});

test('a lower frequency takes crossover and what is timed by it', () => {
  const found = mended(rail, { 'brief.frequency': 20e3 })!;
  expect(found.said).toEqual(['wanted crossover 20 kHz → 2 kHz']);
  expect(editDesign(rail, found.changes).ok).toBe(true);
});

test('a low output takes the reference', () => {
  const found = mended(rail, { 'brief.output.voltage': 1.2 })!;
  expect(found.said).toEqual([expect.stringMatching(/^reference .* → 600 mV$/)]);
  expect(editDesign(rail, found.changes).ok).toBe(true);
});

test('what stands by itself needs nothing; what no second change allows is left refused', () => {
  expect(mended(rail, { 'brief.load.max': 9 })).toBeUndefined();
  expect(mended(rail, { 'brief.output.voltage': -5 })).toBeUndefined();
  expect(mended(rail, { 'brief.output.voltage': 400 })).toBeUndefined();
});

test('who can serve what this topology can not', () => {
  const able = ableFor(rail, { 'brief.output.voltage': 90 }).map((t) => t.id);
  expect(able).toContain('boost-synchronous');
  expect(able).not.toContain('buck-synchronous');
});
