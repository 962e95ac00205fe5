import { ofDesign, others } from './functions';
import type { Rank } from './jobs';

/** For tests: the functions a worker has, answered in this thread one after the other, as a job service is asked. */

type Any = Record<string, (...args: unknown[]) => unknown>;

/** What may come between a question and its answer: a fault of the program, or a moment to look. */
export interface Between {
  /** Called before each answer with what is asked */
  before?: (method: string, args: readonly unknown[]) => void | Promise<void>;
}

/** Of the tests of one file; each empties it before it begins. */
export const between: Between = {};

function ask(method: string, args: unknown[], signal?: AbortSignal): Promise<unknown> {
  const found = last.then(async () => {
    signal?.throwIfAborted();
    await between.before?.(method, args);
    signal?.throwIfAborted();
    return ((ofDesign as Any)[method] ?? (others as Any)[method])!(...args);
  });
  last = found.catch(() => undefined);
  return found;
}
let last: Promise<unknown> = Promise.resolve();

const service = {
  workers: 2,
  at: (_: Rank, signal?: AbortSignal): unknown => new Proxy({}, { get: (_target, method) => (method === 'then' ? undefined : (...args: unknown[]) => ask(String(method), args, signal)) }),
};
/** In place of the pool's: jest.mock('../workers/pool', () => jest.requireActual('../workers/here')). */
export const jobs = (): typeof service => service;
