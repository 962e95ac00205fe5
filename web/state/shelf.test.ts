import 'fake-indexeddb/auto';
import { shelfCsv, shelfJson } from '../../core/interchange/shelfFile';
import { GOODS, SHELF } from '../../shelf';
import { shelfWith } from './ownShelf';
import { dropPart, importShelf, keepParts, loadOwn } from './shelf';
import { storage } from './storage';
import { useStore } from './store';

/** One's own parts, sinks, wires and materials, against a real store of the browser's kind. */

const now = () => useStore.getState();
const q = SHELF.find((p) => p.kind === 'switch')!;
const wire = GOODS.find((g) => g.kind === 'wire')!;
const own = { ...q, part: 'Own 80' } as typeof q;
const ownWire = { ...wire, part: 'Own strand' } as typeof wire;
const file = (text: string, name: string): File => ({ name, text: () => Promise.resolve(text) }) as unknown as File;

beforeEach(async () => {
  await Promise.all([storage().parts.clear(), storage().goods.clear()]);
  await loadOwn();
  useStore.setState({ refusal: undefined, notice: undefined });
});

test('parts go with the parts, and what is none with its kind; both are there again when they are read', async () => {
  await keepParts([own, ownWire]);
  expect([now().ownParts, now().ownGoods]).toEqual([[own], [ownWire]]);
  useStore.setState({ ownParts: [], ownGoods: [] });
  await loadOwn();
  expect([now().ownParts, now().ownGoods]).toEqual([[own], [ownWire]]);
});

test('one of the same name takes the place of the one before; dropped it is gone', async () => {
  await keepParts([own]);
  const better = { ...own, blockingVoltage: 90 } as typeof own;
  await keepParts([better]);
  expect(now().ownParts).toEqual([better]);
  await dropPart(own.part);
  expect(now().ownParts).toEqual([]);
});

test('own parts stand before those of the shelf, and in place of one of their name', () => {
  const replaced = { ...q, blockingVoltage: 99 } as typeof q;
  const all = shelfWith([own, replaced]);
  expect(all.slice(0, 2)).toEqual([own, replaced]);
  expect(all.filter((p) => p.part === q.part)).toEqual([replaced]);
  expect(all).toHaveLength(SHELF.length + 1);
  expect(shelfWith([])).toBe(SHELF);
});

test.each([
  ['JSON', shelfJson([own, ownWire]), 'mine.json'],
  ['CSV', shelfCsv([own, ownWire]), 'mine.csv'],
])('a file is read as %s, and said', async (_, text, name) => {
  await importShelf(file(text, name));
  expect([now().ownParts.map((p) => p.part), now().ownGoods.map((g) => g.part)]).toEqual([['Own 80'], ['Own strand']]);
  expect(now().notice).toBe(`2 parts from ${name}`);
});

test('a bad file is refused with its place, and nothing changes', async () => {
  await keepParts([own]);
  await importShelf(file(shelfCsv([{ ...own, part: 'Other' } as typeof own]).replace(String(own.kind === 'switch' && own.onResistance), '5 mH'), 'bad.csv'));
  expect(now().refusal?.where).toBe('bad.csv, row 2, onResistance');
  expect(now().ownParts).toEqual([own]);
});

test('lists that were made with another shelf are made anew', async () => {
  useStore.setState((s) => ({ answers: { ...s.answers, candidatesOf: {} as never, frequenciesOf: {} as never } }));
  await keepParts([own]);
  expect([now().answers.candidatesOf, now().answers.frequenciesOf]).toEqual([undefined, undefined]);
});
