import { newestOnly } from './pool';

const fail = (error: unknown): void => {
  throw error;
};
const tick = (): Promise<void> => new Promise((done) => setTimeout(done, 0));

test('while one request is under way, only the newest of the others is kept', async () => {
  const begun: number[] = [];
  const gates: (() => void)[] = [];
  const ask = newestOnly<number>(async (n) => {
    begun.push(n);
    await new Promise<void>((open) => gates.push(open));
  }, fail);
  ask(1);
  ask(2);
  ask(3);
  ask(4);
  expect(begun).toEqual([1]);
  gates.shift()!();
  await tick();
  expect(begun).toEqual([1, 4]);
  gates.shift()!();
  await tick();
  ask(5);
  await tick();
  expect(begun).toEqual([1, 4, 5]);
});

test('the work is told when a newer request has come', async () => {
  const seen: boolean[] = [];
  let open: () => void = () => undefined;
  const ask = newestOnly<number>(async (_, current) => {
    await new Promise<void>((done) => (open = done));
    seen.push(current());
  }, fail);
  ask(1);
  ask(2);
  open();
  await tick();
  open();
  await tick();
  expect(seen).toEqual([false, true]);
});

test('a request that fails does not stop the ones after it', async () => {
  const done: number[] = [];
  const errors: string[] = [];
  const ask = newestOnly<number>(async (n) => {
    if (n === 1) throw new Error('lost');
    done.push(n);
  }, (error) => errors.push((error as Error).message));
  ask(1);
  await tick();
  ask(2);
  await tick();
  expect(done).toEqual([2]);
  expect(errors).toEqual(['lost']);
});

test('the one under way is told by its signal when a newer one comes, and nothing is said of that', async () => {
  const told: unknown[] = [];
  const done: number[] = [];
  const ask = newestOnly<number>(async (n, _, newer) => {
    await new Promise((go, stop) => (n === 2 ? go(undefined) : newer.addEventListener('abort', () => stop(newer.reason))));
    done.push(n);
  }, (error) => told.push(error));
  ask(1);
  ask(2);
  await tick();
  await tick();
  expect([done, told]).toEqual([[2], []]);
});
