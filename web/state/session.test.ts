import 'fake-indexeddb/auto';
import demo from '../../demo/cabin-lighting-rail.json';
import { readDesignValue, type Design } from '../../core/design';
import { soundOf, restore, startSaving, listDesigns, openStored, addDesign, deleteOpen, openFile, demoDesign, forgetAside } from './session';
import { storage, type StoredDesign } from './storage';
import { actions, useStore } from './store';

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
