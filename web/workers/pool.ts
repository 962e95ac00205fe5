import { wrap, type Remote } from 'comlink';
import { storage } from '../state/storage';
import { remembering, type AnswerStore } from './answers';
import type { Wire } from './engine.worker';
import type { Engine } from './functions';
import { isAborted, jobService, type JobService } from './jobs';
import type { Life } from './living';
import { overWire } from './named';

/** An engine behind a worker of its own. */
function begin(): Life<Engine> {
  const name = `engine ${crypto.randomUUID()}`;
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module', name });
  const wire = wrap<Wire>(worker);
  return { remote: overWire(wire as unknown as Parameters<typeof overWire>[0]), end: () => worker.terminate(), died: ended(worker, wire, name) };
}

/** Settles when a worker is no more: it holds a lock of its name for as long as it lives. */
const ended = (worker: Worker, wire: Remote<Wire>, name: string): Promise<void> =>
  new Promise((gone) => {
    worker.addEventListener('error', () => gone());
    void wire.alive().then(() => navigator.locks?.request(name, () => gone()));
  });

const answers: AnswerStore = {
  keys: () => storage().answers.orderBy('at').primaryKeys(),
  get: (key) => storage().answers.get(key),
  put: (list) => storage().answers.bulkPut(list).then(() => undefined),
  drop: (keys) => storage().answers.bulkDelete(keys),
};

/** As many workers as there are cores less one for the page, two at least. */
const count = (): number => Math.max(2, (navigator.hardwareConcurrency || 2) - 1);

let service: JobService<Engine> | undefined;
/** Where questions to the core are asked; see jobs.ts. */
export const jobs = (): JobService<Engine> => (service ??= remembering(jobService(begin, count()), answers, process.env.BUILD ?? ''));

/**
 * Run only the newest of many requests: while one is under way, further ones replace each other.
 * `work` is told through `current()` whether a newer request has come since, and through its signal, so that what still
 * waits for a worker is dropped; `failed` hears of what was thrown, and later requests run all the same.
 */
export function newestOnly<T>(work: (request: T, current: () => boolean, signal: AbortSignal) => Promise<void>, failed: (error: unknown) => void): (request: T) => void {
  let waiting: { request: T } | undefined;
  let under: AbortController | undefined;
  const next = async (): Promise<void> => {
    if (under || !waiting) return;
    const { request } = waiting;
    waiting = undefined;
    under = new AbortController();
    try {
      await work(request, () => waiting === undefined, under.signal);
    } catch (error) {
      if (!isAborted(error)) failed(error);
    } finally {
      under = undefined;
      void next();
    }
  };
  return (request) => {
    waiting = { request };
    under?.abort();
    void next();
  };
}
