import demo from '../../demo/cabin-lighting-rail.json';
import { readDesignValue, type Design } from '../../core/design';
import { ok } from '../../core/problem';
import type { StoredDesign } from './storage';

/** What is asked of the workers as design and point change, and what is shown of their answers. */

interface Question {
  method: string;
  args: unknown[];
  answer(value: unknown): Promise<void>;
  fail(error: Error): Promise<void>;
}
const mockAsked: Question[] = [];
const tick = (): Promise<void> => new Promise((done) => setTimeout(done, 0));
jest.mock('../workers/pool', () => {
  const { newestOnly } = jest.requireActual<typeof import('../workers/pool')>('../workers/pool');
  const worker = new Proxy({}, {
    get: (_, method: string) => (...args: unknown[]) =>
      new Promise((resolve, reject) => mockAsked.push({ method, args, answer: (v) => (resolve(v), tick()), fail: (e) => (reject(e), tick()) })),
  });
  return { newestOnly, jobs: () => ({ workers: 2, at: () => worker }) };
});

import { askCandidates, askFrequencies, askOfBrief, chooseAnew, startLive, takeTopologyFor } from './live';
import { actions, useStore } from './store';

const design = (): Design => {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const stored = (): StoredDesign => ({ id: 'one', name: 'Rail', updated: 0, design: design(), kept: [], past: [], future: [], point: { line: 54, load: 6, air: 50 } });
const now = () => useStore.getState();
const next = (method: string): Question => {
  const k = mockAsked.findIndex((q) => q.method === method);
  if (k < 0) throw new Error(`nothing asked of ${method}: ${mockAsked.map((q) => q.method).join(', ')}`);
  return mockAsked.splice(k, 1)[0]!;
};
/** Until something is asked, which may want its moment. */
async function asked(method: string): Promise<void> {
  for (let k = 0; k < 4000 && !mockAsked.some((q) => q.method === method); k++) await new Promise((done) => setTimeout(done, 10));
}
/** Figures, told apart by a number. */
const figures = (mark: number) => ok({ mark });
const shown = (): unknown => (now().answers.figures as unknown as { mark: number } | undefined)?.mark;

let stop: () => void;
beforeEach(() => {
  mockAsked.length = 0;
  actions.load(stored());
  stop = startLive();
});
afterEach(() => stop());

test('what is only looked at otherwise is not asked for again, and undo of it neither', async () => {
  await next('evaluate').answer(figures(1));
  mockAsked.length = 0;
  actions.edit({ looks: { output: { title: 'Rail', height: 2 } }, lanes: [['output']] });
  await tick();
  expect([shown(), now().answers.fresh, mockAsked.filter((q) => q.method === 'evaluate').length]).toEqual([1, true, 0]);
  actions.undo();
  await tick();
  expect([now().answers.fresh, mockAsked.filter((q) => q.method === 'evaluate').length]).toEqual([true, 0]);
  // The same design opened anew is.
  actions.load(stored());
  await next('evaluate').answer(figures(2));
  expect([shown(), now().answers.fresh]).toEqual([2, true]);
});

describe('the point in view', () => {
  test('is asked for at once, and its figures are fresh', async () => {
    expect(now().answers.fresh).toBe(false);
    await next('evaluate').answer(figures(1));
    expect([shown(), now().answers.fresh]).toEqual([1, true]);
  });
  test('while the dot is dragged the newest answer there is is shown, as stale; the last one is fresh', async () => {
    actions.movePoint({ line: 50 });
    actions.movePoint({ line: 49 });
    await next('evaluate').answer(figures(1));
    expect([shown(), now().answers.fresh]).toEqual([1, false]);
    const last = next('evaluate');
    // Of the moves between only the newest was kept.
    expect((last.args[1] as { line: number }).line).toBe(49);
    await last.answer(figures(2));
    expect([shown(), now().answers.fresh]).toEqual([2, true]);
  });
  test('a point without figures leaves the last ones on screen, stale, with the reason', async () => {
    await next('evaluate').answer(figures(1));
    actions.movePoint({ line: 40 });
    await next('evaluate').answer({ ok: false, problem: { code: 'duty-limit', where: 'duty', message: 'no', remedy: 'other' } });
    expect([shown(), now().answers.fresh, now().answers.problem?.code]).toEqual([1, false, 'duty-limit']);
  });
  test('an answer for another design, or other parts, is not shown', async () => {
    const before = next('evaluate');
    actions.load({ ...stored(), id: 'two' });
    await before.answer(figures(1));
    expect(shown()).toBeUndefined();
  });
  test('what was thrown is said, and later questions are asked all the same', async () => {
    const error = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    await next('evaluate').fail(new Error('broken'));
    expect(now().refusal?.code).toBe('internal');
    error.mockRestore();
    actions.movePoint({ line: 50 });
    await next('evaluate').answer(figures(2));
    expect(shown()).toBe(2);
  });
});

describe('the region', () => {
  const corner = { point: { line: 54, load: 6, air: 50 }, requirements: [], stresses: [], efficiency: 0.9, holds: true };
  /** All corners that are asked for, answered. */
  async function cornersAnswered(): Promise<void> {
    for (const q of mockAsked.splice(0).filter((x) => x.method === 'judge')) await q.answer(corner);
    await tick();
  }
  test('each corner is a question of its own; those of a design that has changed meanwhile are not shown', async () => {
    expect(mockAsked.filter((q) => q.method === 'judge')).toHaveLength(9);
    const first = mockAsked.splice(0).filter((q) => q.method === 'judge');
    actions.edit({ 'brief.output.voltage': 20 });
    for (const q of first) await q.answer(corner);
    await new Promise((done) => setTimeout(done, 60));
    expect(now().answers.cornersFresh).toBe(false);
    await cornersAnswered();
    expect([now().answers.cornersFresh, now().answers.corners?.holding]).toEqual([true, 9]);
  });
  test('of a page that nobody sees no map is made, until it is seen again', async () => {
    const page = { hidden: true };
    Object.assign(globalThis, { document: page });
    try {
      await cornersAnswered();
      await new Promise((done) => setTimeout(done, 1000));
      expect(mockAsked.some((q) => q.method === 'mapRow')).toBe(false);
      page.hidden = false;
      await asked('mapRow');
      expect(mockAsked.filter((q) => q.method === 'mapRow')).toHaveLength(9);
    } finally {
      Object.assign(globalThis, { document: undefined });
    }
  });
  test('the map is one of before from the change on, and is begun when nothing has changed for a moment; its rows are there as they come', async () => {
    await cornersAnswered();
    expect(now().answers.mapProgress).toBe(0);
    expect(mockAsked.some((q) => q.method === 'mapRow')).toBe(false);
    await asked('mapRow');
    const rows = mockAsked.splice(0).filter((q) => q.method === 'mapRow');
    expect(rows).toHaveLength(9);
    // In whatever order they are answered, they stand in that of the loads.
    for (const [k, q] of rows.reverse().entries()) {
      await q.answer([{ load: q.args[1] }]);
      if (k < 8) expect([now().answers.mapRows?.length, now().answers.map]).toEqual([k + 1, undefined]);
    }
    await tick();
    const loads = now().answers.map!.rows.map((r) => r[0]!.load);
    expect(loads).toEqual([...loads].sort((a, b) => a - b));
    expect([now().answers.mapProgress, now().answers.mapRows]).toEqual([undefined, undefined]);
  });
  test('stopped, it stays as it is', async () => {
    await cornersAnswered();
    await asked('mapRow');
    const rows = mockAsked.splice(0).filter((q) => q.method === 'mapRow');
    actions.stopMap();
    for (const q of rows) await q.answer([]);
    await tick();
    expect([now().answers.map, now().answers.mapRows, now().answers.mapProgress]).toEqual([undefined, undefined, undefined]);
  });
});

describe('long lists', () => {
  test('the topologies come one by one, with how far it is; stopped, what there is stays', async () => {
    askCandidates(now().design);
    await next('candidate').answer({ id: 'a', title: 'A' });
    await next('candidate').answer({ id: 'b', title: 'B' });
    expect(now().answers.candidates?.map((c) => c.id)).toEqual(['a', 'b']);
    expect(now().answers.candidatesProgress).toBeGreaterThan(0);
    const running = next('candidate');
    actions.stopCandidates();
    await running.answer({ id: 'c', title: 'C' });
    expect([now().answers.candidates?.length, now().answers.candidatesProgress]).toEqual([2, undefined]);
  });
  test('frequencies, all of them: then it is of this design, and not asked for again until it has changed', async () => {
    askFrequencies(now().design);
    let told = 0;
    while (mockAsked.some((q) => q.method === 'frequency')) {
      const q = next('frequency');
      await q.answer({ frequency: 1e5 * (1 + Number(q.args[1])) });
      const { frequencies, frequenciesProgress } = now().answers;
      expect(frequencies).toHaveLength(++told);
      if (frequenciesProgress !== undefined) expect(frequenciesProgress).toBeLessThanOrEqual(1);
    }
    await tick();
    expect([now().answers.frequenciesOf, now().answers.frequenciesProgress]).toEqual([now().design, undefined]);
    askFrequencies(now().design);
    expect(mockAsked.some((q) => q.method === 'frequency')).toBe(false);
    actions.edit({ 'brief.loadStep': 2 });
    askFrequencies(now().design);
    expect(mockAsked.some((q) => q.method === 'frequency')).toBe(true);
  });
});

describe('kept states', () => {
  test('each is asked for at the point in view; one that has no figures there has none, the others theirs', async () => {
    await next('evaluate').answer(figures(1));
    actions.keep();
    const [one] = now().kept;
    actions.edit({ 'brief.loadStep': 2 });
    actions.keep();
    // The newest question of both.
    for (let round = 0; round < 6; round++)
      for (const q of mockAsked.splice(0).filter((x) => x.method === 'evaluate')) await q.answer((q.args[0] as Design).brief.loadStep === 2 ? figures(2) : { ok: false, problem: { code: 'duty-limit', where: 'duty', message: 'no', remedy: 'other' } });
    const found = now().answers.kept as Record<string, unknown>;
    expect(found[one!.id]).toBeUndefined();
    expect(found[now().kept[1]!.id]).toEqual({ mark: 2 });
  });
});

describe('what may want other parts', () => {
  test('a brief that stands by itself is taken at once', async () => {
    await askOfBrief({ loadStep: 2 });
    expect(now().design.brief.loadStep).toBe(2);
    expect(mockAsked.some((q) => q.method === 'changeBrief')).toBe(false);
  });
  test('one that this topology refuses takes another that serves, and says so; or says why none does', async () => {
    let done = askOfBrief({ output: { voltage: 90 } });
    expect(now().notice).toContain('Looking for a topology');
    await next('changeBrief').answer(ok({ design: { ...design(), name: 'By another' }, taken: 'Boost' }));
    await done;
    expect([now().design.name, now().notice]).toEqual(['By another', expect.stringContaining('Boost taken')]);
    done = askOfBrief({ output: { voltage: 90 } });
    await next('changeBrief').answer({ ok: false, problem: { code: 'range', where: 'brief.output.voltage', message: 'none does', remedy: 'ask for less' } });
    await done;
    expect(now().refusal?.message).toBe('none does');
    // Where something else was changed meanwhile, that stands.
    done = askOfBrief({ output: { voltage: 90 } });
    actions.edit({ name: 'Mine' });
    await next('changeBrief').answer(ok({ design: design(), taken: 'Boost' }));
    await done;
    expect(now().design.name).toBe('Mine');
  });
  test('what was thrown meanwhile is said as a fault of the program, and nothing is lost', async () => {
    const error = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const before = now().design;
    for (const [ask, method] of [[() => askOfBrief({ output: { voltage: 90 } }), 'changeBrief'], [() => chooseAnew('size', 'L1'), 'anew']] as const) {
      const done = ask();
      await next(method).fail(new Error('broken'));
      await done;
      expect([now().refusal?.code, now().design]).toEqual(['internal', before]);
      actions.dismiss();
    }
    error.mockRestore();
  });
  test.each([
    ['another topology for a brief', () => takeTopologyFor({ 'brief.output.voltage': 90 }, 'boost-synchronous'), 'takeFor'],
    ['parts chosen anew', () => chooseAnew('loss'), 'anew'],
  ])('%s: taken as one step of undo; dropped where something else was changed meanwhile', async (_, ask, method) => {
    const other = { ...design(), name: 'Chosen' };
    let done = ask();
    await next(method).answer(ok(other));
    await done;
    expect([now().design.name, now().past.length]).toEqual(['Chosen', 1]);
    actions.undo();
    done = ask();
    actions.edit({ name: 'Mine' });
    await next(method).answer(ok(other));
    await done;
    expect(now().design.name).toBe('Mine');
    done = ask();
    await next(method).answer({ ok: false, problem: { code: 'shelf', where: 'parts.Q1', message: 'none fits', remedy: 'add one' } });
    await done;
    expect(now().refusal?.code).toBe('shelf');
  });
});
