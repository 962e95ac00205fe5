import { openTabs, type Told } from './tabs';
import type { PackedDesign } from './history';

/** Locks as a browser has them, for the tabs of one test: one holds, others wait in turn, one may steal. */
function fakeLocks(): LockManager {
  const held = new Map<string, { reject: (e: Error) => void }>();
  const queues = new Map<string, (() => void)[]>();
  const next = (name: string): void => {
    if (!held.has(name)) queues.get(name)?.shift()?.();
  };
  const request = (name: string, options: LockOptions, work: () => Promise<void>): Promise<void> =>
    new Promise((resolve, reject) => {
      const take = (): void => {
        const own = { reject };
        held.set(name, own);
        void work().then(() => {
          if (held.get(name) !== own) return;
          held.delete(name);
          resolve();
          next(name);
        });
      };
      if (options.steal) {
        const before = held.get(name);
        take();
        before?.reject(new Error('AbortError'));
      } else {
        const queue = queues.get(name) ?? [];
        queues.set(name, queue);
        queue.push(take);
        options.signal?.addEventListener('abort', () => {
          queues.set(name, queue.filter((q) => q !== take));
          reject(new Error('AbortError'));
        });
        next(name);
      }
    });
  return { request, query: () => Promise.resolve({ held: [...held.keys()].map((name) => ({ name })), pending: [] }) } as unknown as LockManager;
}

const settle = (): Promise<void> => new Promise((done) => setTimeout(done, 20));

beforeEach(() => Object.defineProperty(globalThis, 'navigator', { value: { locks: fakeLocks() }, configurable: true }));

/** A tab that notes what it is told. */
function tab(): { tabs: ReturnType<typeof openTabs>; mine: [string, boolean][]; told: Told[] } {
  const mine: [string, boolean][] = [];
  const told: Told[] = [];
  return { tabs: openTabs({ changed: (id, own) => void mine.push([id, own]), told: (t) => void told.push(t) }), mine, told };
}

test('the first tab has a design, the second follows it, and has it when the first goes', async () => {
  const [one, two] = [tab(), tab()];
  one.tabs.hold('a');
  await settle();
  two.tabs.hold('a');
  await settle();
  expect([one.mine, two.mine]).toEqual([[['a', true]], [['a', false]]]);
  one.tabs.close();
  await settle();
  expect(two.mine.at(-1)).toEqual(['a', true]);
  two.tabs.close();
});

test('taken over, the first follows; and gets it back when the second leaves for another design', async () => {
  const [one, two] = [tab(), tab()];
  one.tabs.hold('a');
  await settle();
  two.tabs.hold('a');
  await settle();
  two.tabs.takeOver();
  await settle();
  expect([one.mine.at(-1), two.mine.at(-1)]).toEqual([['a', false], ['a', true]]);
  two.tabs.hold('b');
  await settle();
  expect([one.mine.at(-1), two.mine.at(-1)]).toEqual([['a', true], ['b', true]]);
  for (const t of [one, two]) t.tabs.close();
});

test('two designs do not mind one another', async () => {
  const [one, two] = [tab(), tab()];
  one.tabs.hold('a');
  two.tabs.hold('b');
  await settle();
  expect([one.mine, two.mine]).toEqual([[['a', true]], [['b', true]]]);
  for (const t of [one, two]) t.tabs.close();
});

test('what one stores the others are told', async () => {
  const [one, two] = [tab(), tab()];
  const stored = { id: 'a', name: 'Rail' } as PackedDesign;
  one.tabs.tell({ id: 'a', stored });
  await settle();
  expect(two.told).toEqual([{ id: 'a', stored }]);
  expect(one.told).toEqual([]);
  for (const t of [one, two]) t.tabs.close();
});

test('where a browser has no locks every tab may change what it has', () => {
  Object.defineProperty(globalThis, 'navigator', { value: {}, configurable: true });
  const one = tab();
  one.tabs.hold('a');
  expect(one.mine).toEqual([['a', true]]);
  one.tabs.close();
});
