import { wrap, type Remote } from 'comlink';
import type { Engine } from './engine.worker';

const start = (): Remote<Engine> => wrap<Engine>(new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' }));

/**
 * Two workers: `near` answers for the point in view and nothing else, so that it is never busy when
 * the dot moves; `far` does corners, the map and kept states.
 */
let engines: { near: Remote<Engine>; far: Remote<Engine> } | undefined;
export const pool = (): { near: Remote<Engine>; far: Remote<Engine> } => (engines ??= { near: start(), far: start() });

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
