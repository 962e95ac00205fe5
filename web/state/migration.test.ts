import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { openDemo } from '../../demo/open';
import { restore } from './session';
import { storage } from './storage';
import { useStore } from './store';

/** A browser that was here with an earlier Jump Reed: what it stored then is there now. */

const rail = openDemo('cabin-lighting-rail');

beforeAll(async () => {
  Object.assign(globalThis, { BroadcastChannel: undefined });
  // The first store there was: whole states in the history, a design of that day without what came later.
  const { measured: _, ...older } = { ...rail, measured: undefined };
  const control = { ...rail.control } as Record<string, unknown>;
  for (const key of ['amplifier', 'sampled', 'placedOn']) delete control[key];
  const then = { ...older, control, name: 'Of long ago' };
  const first = new Dexie('jump-reed');
  first.version(1).stores({ designs: 'id, updated', settings: 'key' });
  await first.open();
  await first.table('designs').bulkPut([
    { id: 'old', name: 'Of long ago', updated: 5, design: then, kept: [], past: [{ design: { ...rail, name: 'Before' }, kept: [] }], future: [], point: { line: 40, load: 2, air: 30 } },
    { id: 'newer', name: 'Of a newer one', updated: 9, design: { ...rail, version: 99 }, kept: [], past: [], future: [], point: { line: 40, load: 2, air: 30 } },
  ]);
  await first.table('settings').put({ key: 'open', value: 'old' });
  first.close();
});

test('a store of the first version is opened, with its history; what came later is as it is when left out', async () => {
  await restore();
  const { id, design, past, point, unstored } = useStore.getState();
  expect([id, design.name, past.length, point.line, unstored]).toEqual(['old', 'Of long ago', 1, 40, undefined]);
  expect(design.control).toMatchObject({ amplifier: 'type-three', sampled: 'none', placedOn: '' });
  expect(past[0]!.design.name).toBe('Before');
  // Tables that it did not have are there and empty.
  expect(await Promise.all([storage().parts.count(), storage().goods.count(), storage().circuits.count(), storage().answers.count()])).toEqual([0, 0, 0, 0]);
});

test('a design of a newer version is set aside by that name when it is opened, whole, and the old one stays', async () => {
  await storage().settings.put({ key: 'open', value: 'newer' });
  useStore.setState({ ready: false });
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  await restore();
  const { id, aside } = useStore.getState();
  expect(id).toBe('old');
  expect(aside.map((r) => [r.id, r.name])).toEqual([['newer', 'Of a newer one']]);
  expect(aside[0]!.why).toMatch(/newer|version/);
  expect((JSON.parse(aside[0]!.text) as { design: { version: number } }).design.version).toBe(99);
});
