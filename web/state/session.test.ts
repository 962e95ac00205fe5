import 'fake-indexeddb/auto';
import demo from '../../demo/cabin-lighting-rail.json';
import { readDesignValue, type Design } from '../../core/design';
import { readFileSync } from 'node:fs';
import { soundOf, restore, startSaving, listDesigns, openStored, addDesign, addDemo, demoNames, deleteOpen, openFile, demoDesign, forgetAside, saveAside, saveFile, saveController, openStoredCircuit, listCircuits, addShippedCircuit, deleteCircuit } from './session';
import { circuitActions, useCircuit } from './circuit';
import { storage, type StoredDesign } from './storage';
import { actions, useStore } from './store';

// What a circuit shows is asked of workers, of which there are none here: it is never answered.
jest.mock('../workers/pool', () => ({ newestOnly: () => () => undefined, jobs: () => ({}) }));

/** What is stored, opened, set aside and deleted, against a real store of the browser's kind. */

const design = (): Design => {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const record = (more: Partial<StoredDesign> = {}): StoredDesign => ({ id: 'one', name: 'Rail', updated: 1, design: design(), kept: [], past: [], future: [], point: { line: 54, load: 6, air: 50 }, ...more });
const now = () => useStore.getState();
const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 30));

let stop: () => void = () => undefined;
beforeAll(() => {
  // One that is open would keep the test alive.
  Object.assign(globalThis, { BroadcastChannel: undefined });
  const target = new EventTarget();
  Object.assign(globalThis, { window: Object.assign(globalThis, { addEventListener: target.addEventListener.bind(target), removeEventListener: target.removeEventListener.bind(target) }) });
  // Warnings of what is provoked here are not of interest.
  jest.spyOn(console, 'warn').mockImplementation(() => undefined);
});
beforeEach(async () => {
  const db = storage();
  await Promise.all([db.designs.clear(), db.settings.clear(), db.aside.clear(), db.circuits.clear(), db.parts.clear()]);
  useStore.setState({ id: '', ready: false, following: false, unstored: undefined, aside: [], refusal: undefined, notice: undefined });
});
afterEach(() => stop());

async function begin(): Promise<void> {
  await restore();
  stop = startSaving();
}

describe('what is sound', () => {
  test('a record that is whole comes back as it is', () => {
    const found = soundOf(record());
    expect(found.ok && found.value).toEqual(record());
  });
  test('damaged states of its history and kept ones are left out, the rest stands', () => {
    const found = soundOf(record({ past: [{ design: design(), kept: [] }, { design: { ...design(), parts: 3 } as never, kept: [] }, null as never], kept: [{ id: 'A', label: 'A', design: {} as never, visible: true }], future: 'none' as never }));
    expect(found.ok && [found.value.past.length, found.value.kept.length, found.value.future.length]).toEqual([1, 0, 0]);
  });
  test('a point that is gone is put where a new one stands', () => {
    const found = soundOf(record({ point: undefined as never }));
    expect(found.ok && found.value.point.line).toBeGreaterThan(36);
  });
  test.each([['no design', {}], ['another version', { ...design(), version: 99 }], ['a part that is none', { ...design(), parts: { ...design().parts, L1: { kind: 'spoon' } } }]])('%s is refused with its reason', (_, broken) => {
    const found = soundOf(record({ design: broken as never }));
    expect(found.ok ? '' : found.problem.message.length).toBeGreaterThan(5);
  });
});

describe('opening', () => {
  test('the first visit has the demo, and it is stored', async () => {
    await begin();
    expect(now().design.name).toBe(demoDesign().name);
    expect(await storage().designs.count()).toBe(1);
    expect(now().unstored).toBeUndefined();
  });
  test('what was open last is open again, with its point and history', async () => {
    await storage().designs.put(record({ past: [{ design: design(), kept: [] }] }));
    await storage().settings.put({ key: 'open', value: 'one' });
    await begin();
    expect([now().id, now().point.line, now().past.length]).toEqual(['one', 54, 1]);
  });
  test('a damaged one is set aside and another opened; it can be forgotten', async () => {
    await storage().designs.bulkPut([record({ id: 'bad', name: 'Half a rail', updated: 9, design: { kind: 'jump-reed design' } as never }), record({ id: 'good' })]);
    await storage().settings.put({ key: 'open', value: 'bad' });
    await begin();
    expect(now().id).toBe('good');
    expect(now().aside.map((r) => r.name)).toEqual(['Half a rail']);
    expect(JSON.parse(now().aside[0]!.text)).toMatchObject({ id: 'bad' });
    expect(await storage().designs.get('bad')).toBeUndefined();
    await forgetAside('bad');
    expect([now().aside, await storage().aside.count()]).toEqual([[], 0]);
  });
  test('where the store does not open the demo is there, and it is said that nothing is stored', async () => {
    const open = jest.spyOn(storage(), 'open').mockImplementation(() => Promise.reject(Object.assign(new Error('denied'), { name: 'SecurityError' })) as never);
    await restore();
    expect(now().ready).toBe(true);
    expect(now().unstored).toContain('keeps nothing here');
    open.mockRestore();
  });
});

describe('keeping', () => {
  test('every change is stored as it is made, with what undo goes back to', async () => {
    await begin();
    actions.edit({ 'brief.output.voltage': 20 });
    await settled();
    const stored = (await storage().designs.get(now().id))!;
    expect([stored.design.brief.output.voltage, stored.past.length]).toEqual([20, 1]);
  });
  test('what the store refuses is said; and no more, once it takes again', async () => {
    await begin();
    const put = jest.spyOn(storage().designs, 'put').mockImplementation(() => Promise.reject(Object.assign(new Error('full'), { name: 'QuotaExceededError' })) as never);
    actions.edit({ 'brief.output.voltage': 20 });
    await settled();
    expect(now().unstored).toContain('no room left');
    put.mockRestore();
    actions.edit({ 'brief.output.voltage': 21 });
    await settled();
    expect(now().unstored).toBeUndefined();
    expect((await storage().designs.get(now().id))!.design.brief.output.voltage).toBe(21);
  });
  test('what is only followed is not written, and not changed', async () => {
    await begin();
    actions.mayChange(false);
    expect(actions.edit({ 'brief.output.voltage': 20 })?.code).toBe('elsewhere');
    actions.keep();
    actions.undo();
    await settled();
    expect([now().design.brief.output.voltage, now().kept.length]).toEqual([24, 0]);
    expect((await storage().designs.get(now().id))!.design.brief.output.voltage).toBe(24);
    // What the other tab stores is followed.
    actions.follow(record({ design: { ...design(), name: 'Changed there' } }));
    expect(now().design.name).toBe('Changed there');
  });
});

describe('several designs', () => {
  test('a new one is stored and opened, the one before is found again as it was left', async () => {
    await begin();
    const first = now().id;
    actions.edit({ 'brief.output.voltage': 20 });
    await addDesign({ ...design(), name: 'Another' });
    expect(now().design.name).toBe('Another');
    expect((await listDesigns()).map((d) => d.name).sort()).toEqual(['Another', 'Cabin lighting rail']);
    await openStored(first);
    expect([now().id, now().design.brief.output.voltage]).toEqual([first, 20]);
  });
  test('deleted, the next opens and it does not come back; the last leaves a demo', async () => {
    await begin();
    const first = now().id;
    await addDesign({ ...design(), name: 'Another' });
    await deleteOpen();
    expect(now().id).toBe(first);
    await deleteOpen();
    expect(now().design.name).toBe(demoDesign().name);
    expect(now().id).not.toBe(first);
    actions.edit({ 'brief.output.voltage': 20 });
    await settled();
    expect((await storage().designs.toArray()).map((d) => d.id)).toEqual([now().id]);
  });
  test('one that another tab holds is not deleted here', async () => {
    await begin();
    actions.mayChange(false);
    await deleteOpen();
    expect(now().refusal?.code).toBe('elsewhere');
    expect(await storage().designs.count()).toBe(1);
  });
});

describe('files', () => {
  const file = (text: string, name = 'a.json'): File => Object.assign(new Blob([text]), { name, lastModified: 0 }) as unknown as File;
  test('a design is opened beside the others', async () => {
    await begin();
    await openFile(file(JSON.stringify({ ...design(), name: 'From a file' })));
    expect(now().design.name).toBe('From a file');
    expect(await storage().designs.count()).toBe(2);
  });
  test.each([['no JSON', 'hello', 'not JSON'], ['another kind of file', '{"kind":"recipe"}', 'another kind'], ['one nested without end', '['.repeat(20_000), '']])('%s is refused with its reason, and nothing changes', async (_, text, said) => {
    await begin();
    await openFile(file(text, 'odd.json'));
    expect(now().refusal?.where).toContain('odd.json');
    expect(now().refusal?.message).toContain(said);
    expect(await storage().designs.count()).toBe(1);
  });
  test('a huge one is not even read', async () => {
    await begin();
    const huge = { size: 50e6, name: 'huge.json', text: () => Promise.reject(new Error('was read')) } as unknown as File;
    await openFile(huge);
    expect(now().refusal?.message).toContain('50 MB');
  });
});

describe('circuits', () => {
  const text = readFileSync('demo/circuits/buck-closed-loop.json', 'utf8');
  const file = (name = 'own.json'): File => Object.assign(new Blob([text]), { name, lastModified: 0 }) as unknown as File;
  beforeEach(() => circuitActions.close());
  test('one from a file stands in front of the design, and is there again at the next visit', async () => {
    await begin();
    const behind = now().id;
    await openFile(file());
    expect(useCircuit.getState().open?.text).toBe(text);
    expect(now().notice).toContain('own.json');
    circuitActions.close();
    useStore.setState({ ready: false });
    await restore();
    expect([useCircuit.getState().open?.text, now().id]).toEqual([text, behind]);
  });
  test('opened by its place in the list or from what is stored; deleted, the design behind it is there again', async () => {
    await begin();
    const behind = now().id;
    await addShippedCircuit(0);
    const [stored] = await listCircuits();
    expect(stored!.name).toBe(useCircuit.getState().open!.name);
    await openStored(behind);
    expect(useCircuit.getState().open).toBeUndefined();
    await openStoredCircuit(stored!.id);
    expect(useCircuit.getState().open?.id).toBe(stored!.id);
    await deleteCircuit();
    expect([useCircuit.getState().open, (await listCircuits()).length, now().id]).toEqual([undefined, 0, behind]);
    // One that is gone is not opened, and nothing else is closed for it.
    await openStoredCircuit(stored!.id);
    expect([useCircuit.getState().open, now().id]).toEqual([undefined, behind]);
  });
});

describe('what leaves as a file', () => {
  const saved: { name: string; text: Promise<string> }[] = [];
  beforeAll(() => {
    let last: Blob | undefined;
    jest.spyOn(URL, 'createObjectURL').mockImplementation((b) => ((last = b as Blob), 'blob:here'));
    jest.spyOn(URL, 'revokeObjectURL').mockImplementation(() => undefined);
    Object.assign(globalThis, { document: { createElement: () => ({ download: '', href: '', click(this: { download: string }) { saved.push({ name: this.download, text: last!.text() }); } }) } });
  });
  beforeEach(() => {
    circuitActions.close();
    saved.length = 0;
  });
  test('the design under its name, and read back it is the same', async () => {
    await begin();
    actions.edit({ name: 'Rail, of 2 × 12 V!' });
    saveFile();
    expect(saved[0]!.name).toBe('rail-of-2-12-v.json');
    const back = readDesignValue(JSON.parse(await saved[0]!.text) as unknown);
    expect(back.ok && back.value).toEqual(now().design);
  });
  test('a damaged record as it is', async () => {
    await storage().designs.bulkPut([record({ id: 'bad', name: 'Half a rail', updated: 9, design: { kind: 'jump-reed design' } as never }), record({ id: 'good' })]);
    await storage().settings.put({ key: 'open', value: 'bad' });
    await begin();
    saveAside('bad');
    expect(saved[0]!.name).toBe('half-a-rail-damaged.json');
    expect(JSON.parse(await saved[0]!.text)).toMatchObject({ id: 'bad', design: { kind: 'jump-reed design' } });
    saveAside('nobody');
    expect(saved).toHaveLength(1);
  });
  test('a controller that does not sample has no program, and that is said', async () => {
    await begin();
    saveController('output voltage', undefined);
    expect(saved).toEqual([]);
    expect(now().refusal?.remedy.length).toBeGreaterThan(8);
  });
});

test('every demo that is shipped can be opened by its place, under the name that the list says', async () => {
  await begin();
  for (const [k, name] of demoNames().entries()) {
    await addDemo(k);
    expect(now().design.name).toBe(name);
    expect(now().point.load).toBeGreaterThan(0);
  }
  expect(new Set(demoNames()).size).toBe(demoNames().length);
  expect(await storage().designs.count()).toBe(1 + demoNames().length);
});
