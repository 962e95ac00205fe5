import { readFileSync } from 'node:fs';
import { evaluate } from '../../core/evaluation';
import { judge } from '../../core/corners/corners';
import { change, must, openDemo } from '../../demo/open';
import type { Design } from '../../core/design';
import { nameOf, overWire, UNKNOWN } from './named';
import type { Wire } from './engine.worker';

/** What stands behind the wire: the core's own functions, designs by name, a lock for as long as it lives. */

let mockWire: Wire;
jest.mock('comlink', () => ({ expose: (w: Wire) => (mockWire = w) }));
const locks: string[] = [];

beforeAll(async () => {
  Object.assign(globalThis, { self: { name: 'engine 1' } });
  Object.defineProperty(globalThis, 'navigator', { configurable: true, value: { locks: { request: (name: string, granted: () => Promise<never>) => (locks.push(name), granted()) } } });
  await import('./engine.worker');
});

const rail = openDemo('cabin-lighting-rail');
const point = { line: 48, load: 4, air: 25 };
/** Plain data, as it crosses to a page. */
const crossed = (x: unknown): unknown => JSON.parse(JSON.stringify(structuredClone(x)));

test('it is alive once it holds the lock of its name', async () => {
  await mockWire.alive();
  expect(locks).toEqual(['engine 1']);
});

test('what it answers is what the core answers, and crosses to the page', async () => {
  const engine = overWire(mockWire as never);
  const found = must(await engine.evaluate(rail, point));
  const own = must(evaluate(rail, point, { detail: true }));
  expect(crossed(found.losses)).toEqual(crossed(own.losses));
  expect(crossed(found.loop)).toEqual(crossed(own.loop));
  // With curves asked for extremes are bracketed on a finer grid: found to the same width, not in the same bits.
  const [judged, beside] = [(await engine.judge(rail, point)).requirements, judge(rail, point).requirements];
  expect(judged.map((r) => [r.id, r.limit, r.holds])).toEqual(beside.map((r) => [r.id, r.limit, r.holds]));
  judged.forEach((r, k) => expect(r.value / beside[k]!.value).toBeCloseTo(1, 9));
  const [row] = [await engine.mapRow(rail, 4, [40, 48], 25)];
  expect(row.map((c) => [c.line, c.load])).toEqual([[40, 4], [48, 4]]);
  expect(row[1]!.values.phaseMargin).toBeCloseTo(own.loop!.phaseMargin, 9);
});

test('a refusal crosses as one, with its field', async () => {
  const found = await overWire(mockWire as never).evaluate(rail, { line: 20, load: 4, air: 25 });
  expect(found.ok ? undefined : crossed(found.problem)).toMatchObject({ code: expect.any(String), remedy: expect.any(String) });
});

describe('designs by name', () => {
  const ask = (name: string, sent?: Design): unknown => mockWire.askOf('mapRow', name, sent, [4, [], 25]);
  test('one that was never sent is not known; sent once, its name is enough', () => {
    const d = change(rail, { name: 'Sent once' });
    expect(ask(nameOf(d))).toBe(UNKNOWN);
    expect(ask(nameOf(d), d)).toEqual([]);
    expect(ask(nameOf(d))).toEqual([]);
  });
  test('of more than sixty-four the one not asked for longest is forgotten', () => {
    const many = Array.from({ length: 65 }, (_, k) => change(rail, { name: `Copy ${k}` }));
    for (const d of many.slice(0, 64)) ask(nameOf(d), d);
    // Asked for again, the first is the newest.
    expect(ask(nameOf(many[0]!))).toEqual([]);
    ask(nameOf(many[64]!), many[64]);
    expect([0, 1, 2, 64].map((k) => ask(nameOf(many[k]!)) === UNKNOWN)).toEqual([false, true, false, false]);
  });
});

test('a circuit has the same figures whichever of its elements is looked at; one that is none is refused', async () => {
  const engine = overWire(mockWire as never);
  const text = readFileSync('demo/circuits/buck-closed-loop.json', 'utf8');
  const [one, other] = [must(await engine.circuit(text)), must(await engine.circuit(text, 'C2'))];
  expect(crossed(other.figures)).toEqual(crossed(one.figures));
  expect(other.looked.map((l) => l.id)).toContain('C2, voltage');
  const none = await engine.circuit('{"kind":"recipe"}');
  expect(none.ok ? '' : none.problem.code).toBe('kind');
});
