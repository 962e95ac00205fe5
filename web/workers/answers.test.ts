import demo from '../../demo/cabin-lighting-rail.json';
import { readDesignValue, type Design } from '../../core/design';
import { remembering, type AnswerStore, type StoredAnswer } from './answers';
import { nameOf, overWire, UNKNOWN } from './named';

const design = (change: Partial<Design> = {}): Design => {
  const read = readDesignValue({ ...demo, ...change });
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};

interface Asked {
  evaluate(d: Design, point: { line: number }): Promise<number>;
  other(d: Design): Promise<number>;
}
/** A service that counts what reaches it. */
function counted() {
  let count = 0;
  const engine: Asked = { evaluate: (_, p) => Promise.resolve(++count && p.line), other: () => Promise.resolve(++count) };
  return { service: { workers: 2, at: () => engine }, count: () => count };
}
function shelf(full = false) {
  const rows = new Map<string, StoredAnswer>();
  const store: AnswerStore = {
    keys: () => Promise.resolve([...rows.keys()]),
    get: (key) => Promise.resolve(rows.get(key)),
    put: (list) => (full ? Promise.reject(new Error('no room')) : Promise.resolve(list.forEach((a) => rows.set(a.key, a)))),
    drop: (keys) => Promise.resolve(keys.forEach((k) => rows.delete(k))),
  };
  return { store, rows };
}

describe('answers that are kept', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  test('what was asked before is answered without asking; another point, design or build is asked', async () => {
    const { service, count } = counted();
    const { store } = shelf();
    const at = remembering(service, store, 'one').at('view') as Asked;
    expect(await at.evaluate(design(), { line: 48 })).toBe(48);
    // Another object that says the same.
    expect(await at.evaluate(design(), { line: 48 })).toBe(48);
    expect(count()).toBe(1);
    await at.evaluate(design(), { line: 50 });
    await at.evaluate(design({ name: 'Other' }), { line: 48 });
    await (remembering(service, store, 'two').at('view') as Asked).evaluate(design(), { line: 48 });
    expect(count()).toBe(4);
  });

  test('they outlive a reload once there is rest, and those of an older build go', async () => {
    const { service, count } = counted();
    const { store, rows } = shelf();
    await (remembering(service, store, 'one').at('view') as Asked).evaluate(design(), { line: 48 });
    expect(rows.size).toBe(0);
    await jest.advanceTimersByTimeAsync(2000);
    expect(rows.size).toBe(1);
    await (remembering(service, store, 'one').at('view') as Asked).evaluate(design(), { line: 48 });
    expect(count()).toBe(1);
  });

  test('they are bounded: the ones not asked for longest go, and methods that are not kept are asked each time', async () => {
    const { service, count } = counted();
    const { store, rows } = shelf();
    const at = remembering(service, store, 'one').at('view') as Asked;
    for (let k = 0; k < 40; k++) await at.evaluate(design(), { line: 40 + k });
    await jest.advanceTimersByTimeAsync(2000);
    expect(rows.size).toBe(24);
    await at.evaluate(design(), { line: 79 });
    expect(count()).toBe(40);
    await at.evaluate(design(), { line: 40 });
    await at.other(design());
    await at.other(design());
    expect(count()).toBe(43);
  });

  test('a store without room, or one that never opens, changes nothing', async () => {
    const { service } = counted();
    const at = remembering(service, shelf(true).store, 'one').at('view') as Asked;
    expect(await at.evaluate(design(), { line: 48 })).toBe(48);
    await jest.advanceTimersByTimeAsync(2000);
    const shut: AnswerStore = { ...shelf().store, keys: () => new Promise(() => undefined) };
    const found = (remembering(service, shut, 'one').at('view') as Asked).evaluate(design(), { line: 48 });
    await jest.advanceTimersByTimeAsync(600);
    expect(await found).toBe(48);
  });
});

describe('a design over the wire', () => {
  test('is sent once and then named by its hash; one that the worker has forgotten is sent again', async () => {
    const sent: [string, boolean][] = [];
    let knows = new Set<string>();
    const engine = overWire({
      alive: () => Promise.resolve(),
      ask: (method, args) => Promise.resolve([method, args]),
      askOf(method, name, d) {
        sent.push([name, d !== undefined]);
        if (d) knows.add(name);
        return Promise.resolve(knows.has(name) ? method : UNKNOWN);
      },
    });
    const point = { line: 48, load: 4, air: 25 };
    const name = nameOf(design());
    expect(name).toMatch(/^[0-9a-f]{64}$/);
    expect(nameOf(design({ name: 'Other' }))).not.toBe(name);
    expect(await engine.evaluate(design(), point)).toBe('evaluate');
    expect(await engine.evaluate(design(), point)).toBe('evaluate');
    knows = new Set();
    expect(await engine.judge(design(), point)).toBe('judge');
    expect(sent).toEqual([[name, true], [name, false], [name, false], [name, true]]);
    expect(await engine.circuit('text')).toEqual(['circuit', ['text']]);
  });
});
