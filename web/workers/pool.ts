import { wrap, type Remote } from 'comlink';
import type { Engine } from './engine.worker';
import { living } from './living';

const start = (name: string): Worker => new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name });

/** An engine behind a worker that is replaced when it dies; what it was asked is asked of the next. */
const engine = (): Remote<Engine> =>
  living<Remote<Engine>>(() => {
    const name = `engine ${crypto.randomUUID()}`;
    const worker = start(name);
    const remote = wrap<Engine>(worker);
    return { remote, end: () => worker.terminate(), died: ended(worker, remote, name) };
  });

/** Settles when a worker is no more: it holds a lock of its name for as long as it lives. */
const ended = (worker: Worker, remote: Remote<Engine>, name: string): Promise<void> =>
  new Promise((gone) => {
    worker.addEventListener('error', () => gone());
    void remote.alive().then(() => navigator.locks?.request(name, () => gone()));
  });

/**
 * Two workers: `near` answers for the point in view and nothing else, so that it is never busy when
 * the dot moves; `far` does corners, the map and kept states.
 */
let engines: { near: Remote<Engine>; far: Remote<Engine> } | undefined;
export const pool = (): { near: Remote<Engine>; far: Remote<Engine> } => (engines ??= { near: engine(), far: engine() });

/**
 * Run only the newest of many requests: while one is under way, further ones replace each other.
 * `work` is told through `current()` whether a newer request has come since; `failed` hears of what was thrown,
 * and later requests run all the same.
 */
export function newestOnly<T>(work: (request: T, current: () => boolean) => Promise<void>, failed: (error: unknown) => void): (request: T) => void {
  let waiting: { request: T } | undefined;
  let busy = false;
  const next = async (): Promise<void> => {
    if (busy || !waiting) return;
    const { request } = waiting;
    waiting = undefined;
    busy = true;
    try {
      await work(request, () => waiting === undefined);
    } catch (error) {
      failed(error);
    } finally {
      busy = false;
      void next();
    }
  };
  return (request) => {
    waiting = { request };
    void next();
  };
}
