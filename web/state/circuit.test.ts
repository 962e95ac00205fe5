import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { fail, ok } from '../../core/problem';

/** A circuit with roles in the place of a design: opened, changed, undone, stored. */

const mockAnswers: ((value: unknown) => void)[] = [];
jest.mock('../workers/pool', () => {
  const { newestOnly } = jest.requireActual<typeof import('../workers/pool')>('../workers/pool');
  return { newestOnly, jobs: () => ({ workers: 2, at: () => ({ circuit: () => new Promise((done) => mockAnswers.push(done)) }) }) };
});

import { circuitActions, shippedCircuits, useCircuit } from './circuit';
import { storage } from './storage';
import { useStore } from './store';

const TEXT = readFileSync('demo/circuits/buck-closed-loop.json', 'utf8');
const now = () => useCircuit.getState();
const tick = (): Promise<void> => new Promise((done) => setTimeout(done, 0));
const inductance = (): number => {
  const e = now().open!.converter.circuit.elements.find((x) => x.id === 'L1')!;
  return e.kind === 'inductor' ? e.inductance : NaN;
};
/** Answer what was asked last. */
async function answer(value: unknown): Promise<void> {
  for (let k = 0; k < 50 && mockAnswers.length === 0; k++) await tick();
  mockAnswers.pop()!(value);
  await tick();
}

beforeEach(async () => {
  // Nothing of the test before is under way any more.
  for (let k = 0; k < 10; k++) {
    for (const done of mockAnswers.splice(0)) done(fail('no-cycle', '', 'none', 'other values'));
    await tick();
  }
  circuitActions.close();
  await storage().circuits.clear();
  useStore.setState({ refusal: undefined, unstored: undefined });
});

test('one that is sound is opened, stored under its name, and what it shows is asked for', async () => {
  const id = await circuitActions.add(TEXT, 'buck.json');
  expect(now().open).toMatchObject({ id, name: 'Synchronous buck, closed voltage loop', past: [], future: [] });
  expect((await storage().circuits.get(id!))!.text).toBe(TEXT);
  expect(now().fresh).toBe(false);
  await answer(ok({ view: 1 }));
  expect([now().view, now().fresh]).toEqual([{ view: 1 }, true]);
});

test('one that is none is refused with its file and place, and what was open stays', async () => {
  await circuitActions.add(TEXT);
  const before = now().open;
  expect(await circuitActions.add(TEXT.replace('"inductance": "27 µH"', '"inductance": "27 V"'), 'bad.json')).toBeUndefined();
  expect(useStore.getState().refusal?.where).toMatch(/^bad\.json, .*L1/);
  expect(now().open).toBe(before);
});

test('a value changed, undone and redone; a bad one leaves all as it was', async () => {
  await circuitActions.add(TEXT);
  expect(inductance()).toBeCloseTo(27e-6, 12);
  expect(circuitActions.edit('L1', 'inductance', '33 µH')).toBeUndefined();
  await tick();
  expect(inductance()).toBeCloseTo(33e-6, 12);
  expect(circuitActions.edit('L1', 'inductance', '33 V')?.code).toBe('dimension');
  expect(circuitActions.edit('L1', 'nothing', '33')?.code).toBe('unknown');
  expect(inductance()).toBeCloseTo(33e-6, 12);
  circuitActions.undo();
  await tick();
  expect(inductance()).toBeCloseTo(27e-6, 12);
  circuitActions.undo(); // nothing to undo: nothing happens
  circuitActions.redo();
  await tick();
  expect(inductance()).toBeCloseTo(33e-6, 12);
  // A new change forgets what was undone.
  circuitActions.undo();
  circuitActions.edit('L1', 'inductance', '47 µH');
  await tick();
  expect(now().open!.future).toEqual([]);
});

test('what no longer stands is not shown; a problem leaves the last view on screen, stale', async () => {
  await circuitActions.add(TEXT);
  await answer(ok({ view: 1 }));
  circuitActions.edit('L1', 'inductance', '33 µH');
  await tick();
  const late = mockAnswers.pop()!;
  circuitActions.edit('L1', 'inductance', '39 µH');
  late(ok({ view: 2 }));
  await tick();
  await tick();
  expect(now().view).toEqual({ view: 1 });
  await answer(fail('no-cycle', '', 'none', 'other values'));
  expect([now().view, now().problem?.code, now().fresh]).toEqual([{ view: 1 }, 'no-cycle', false]);
});

test('those that are shipped open by their place in the list; where nothing is stored that is said', async () => {
  expect(shippedCircuits()).toContain('Synchronous buck, closed voltage loop');
  const put = jest.spyOn(storage().circuits, 'put').mockRejectedValue(new Error('no room'));
  const warn = jest.spyOn(console, 'warn').mockImplementation(() => undefined);
  await circuitActions.addShipped(0);
  expect(now().open?.name).toBe('Synchronous buck, closed voltage loop');
  expect(useStore.getState().unstored).toBe('the browser refused it');
  put.mockRestore();
  warn.mockRestore();
});
