import { isAborted, jobService, type Rank } from './jobs';
import type { Life } from './living';

interface Asked {
  work(name: string): Promise<string>;
}
const tick = (): Promise<void> => new Promise((done) => setTimeout(done, 0));

/** A service of workers that answer when they are told to. */
function slow(count: number) {
  const running: { worker: number; name: string; answer(): void }[] = [];
  let begun = 0;
  const service = jobService<Asked>((): Life<Asked> => {
    const worker = ++begun;
    return {
      died: new Promise(() => undefined),
      end: () => undefined,
      remote: { work: (name) => new Promise((done) => running.push({ worker, name, answer: () => done(`${name} done`) })) },
    };
  }, count, Infinity);
  const ask = (rank: Rank, name: string, signal?: AbortSignal): Promise<string> => service.at(rank, signal).work(name);
  /** Let the one that has run longest answer. */
  const answer = async (name = running[0]!.name): Promise<void> => {
    running.splice(running.findIndex((r) => r.name === name), 1)[0]!.answer();
    await tick();
  };
  return { service, ask, answer, names: () => running.map((r) => r.name), workers: () => new Set(running.map((r) => r.worker)).size, begun: () => begun };
}

test('the point in view is answered at once, however much waits', async () => {
  const s = slow(2);
  void s.ask('region', 'row 1');
  void s.ask('region', 'row 2');
  void s.ask('asked', 'list');
  void s.ask('view', 'point');
  await tick();
  expect(s.names()).toEqual(['row 1', 'point']);
});

test('of what waits the highest rank is taken first, of like ones the earliest', async () => {
  const s = slow(2);
  for (const [rank, name] of [['region', 'row 1'], ['region', 'row 2'], ['kept', 'kept'], ['corners', 'corner 1'], ['corners', 'corner 2'], ['asked', 'list']] as const) void s.ask(rank, name);
  await tick();
  const order: string[] = [];
  for (let k = 0; k < 6; k++) {
    order.push(...s.names());
    await s.answer();
  }
  expect(order).toEqual(['row 1', 'list', 'corner 1', 'corner 2', 'kept', 'row 2']);
});

test('as many at a time as there are workers, each with one question; none is begun before there is work for it', async () => {
  const s = slow(4);
  expect([s.service.workers, s.begun()]).toEqual([4, 0]);
  for (let k = 0; k < 5; k++) void s.ask('corners', `corner ${k}`);
  await tick();
  expect([s.names().length, s.workers()]).toEqual([3, 3]);
  await s.answer('corner 1');
  expect(s.names()).toEqual(['corner 0', 'corner 2', 'corner 3']);
  expect([s.workers(), s.begun()]).toEqual([3, 3]);
});

test('aborted, what waits is never begun, and who asked learns so at once', async () => {
  const s = slow(2);
  const stop = new AbortController();
  const [first, second] = [s.ask('region', 'row 1', stop.signal), s.ask('region', 'row 2', stop.signal)];
  const other = s.ask('region', 'other');
  await tick();
  stop.abort();
  const told = await Promise.allSettled([first, second]);
  expect(told.map((t) => t.status === 'rejected' && isAborted(t.reason))).toEqual([true, true]);
  // The one under way ends by itself; then comes what is still wanted.
  expect(s.names()).toEqual(['row 1']);
  await s.answer();
  expect(s.names()).toEqual(['other']);
  await s.answer();
  expect(await other).toBe('other done');
});

test('a question that fails leaves its worker to the next', async () => {
  let asked = 0;
  const service = jobService<Asked>(() => ({
    died: new Promise(() => undefined),
    end: () => undefined,
    remote: { work: (name) => (++asked === 1 ? Promise.reject(new Error('broken')) : Promise.resolve(name)) },
  }), 2, Infinity);
  await expect(service.at('kept').work('a')).rejects.toThrow('broken');
  expect(await service.at('kept').work('b')).toBe('b');
});
