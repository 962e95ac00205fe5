import PQueue from 'p-queue';
import { living, type Life } from './living';

/** Which of the questions that wait is asked first: the highest; of like ones the earliest. */
export const RANK = { view: 4, asked: 3, corners: 2, kept: 1, region: 0 } as const;
export type Rank = keyof typeof RANK;

/** ms after which a question is given up and its worker replaced: the core bounds its work far below that. */
export const DEADLINE = 120_000;

type Methods = Record<string, (...args: unknown[]) => Promise<unknown>>;

export interface JobService<E> {
  /**
   * The methods of the engine, asked at a rank. What still waits when `signal` is aborted is never begun, and who asked
   * learns so at once; one evaluation that is under way ends by itself, and nobody hears of it.
   */
  at(rank: Rank, signal?: AbortSignal): E;
  /** So many are asked at a time */
  workers: number;
}

/**
 * Questions to several workers. One answers for the point in view and nothing else, so that it is never busy with long work
 * when the dot moves; the others take what waits, by rank. Workers are begun when there is work for them; one that dies
 * or takes too long is replaced (see `living`).
 * @param count workers in all, two at least
 * @param deadline ms that one question may take
 */
export function jobService<E extends object>(begin: () => Life<E>, count: number, deadline = DEADLINE): JobService<E> {
  const lazily = (): (() => E) => {
    let found: E | undefined;
    return () => (found ??= living(begin, deadline));
  };
  const view = lazily();
  const idle = Array.from({ length: Math.max(1, count - 1) }, lazily);
  const near = new PQueue({ concurrency: 1 });
  const others = new PQueue({ concurrency: idle.length });

  async function ask(rank: Rank, method: string, args: unknown[], signal?: AbortSignal): Promise<unknown> {
    const queue = rank === 'view' ? near : others;
    const found = queue.add(
      async () => {
        signal?.throwIfAborted();
        // As many run as there are workers: one of them is idle.
        const worker = rank === 'view' ? view : idle.pop()!;
        try {
          return await (worker() as Methods)[method]!(...args);
        } finally {
          if (worker !== view) idle.push(worker);
        }
      },
      { priority: RANK[rank] },
    );
    return signal ? Promise.race([found, aborted(signal)]) : found;
  }

  return {
    workers: idle.length + 1,
    at: (rank, signal) => new Proxy({} as E, { get: (_, method) => (method === 'then' ? undefined : (...args: unknown[]) => ask(rank, String(method), args, signal)) }),
  };
}

const aborted = (signal: AbortSignal): Promise<never> =>
  new Promise((_, reject) => {
    const tell = (): void => reject(signal.reason as Error);
    if (signal.aborted) tell();
    else signal.addEventListener('abort', tell, { once: true });
  });

/** Was this thrown because nobody wants the answer any more? */
export const isAborted = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError';
