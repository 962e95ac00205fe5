import { hashOf, isDesign, nameOf } from './named';
import type { JobService, Rank } from './jobs';

/** An answer as it is kept from one visit to the next. */
export interface StoredAnswer {
  key: string;
  method: string;
  at: number;
  value: unknown;
}

/** Where answers outlive a reload; whatever fails there is as if nothing were kept. */
export interface AnswerStore {
  keys(): Promise<string[]>;
  get(key: string): Promise<StoredAnswer | undefined>;
  put(answers: StoredAnswer[]): Promise<void>;
  drop(keys: string[]): Promise<void>;
}

/** How many answers of a method are kept: those of the designs looked at of late. Others are not kept. */
const MOST: Readonly<Record<string, number>> = { evaluate: 24, judge: 72, mapRow: 72, candidate: 84, frequency: 32, mainsStudy: 8, drawnFrom: 600, judgedFor: 600, faultAt: 90 };

/** Long work, in pieces: its answers are stored at least so often (ms), so that nothing of it is lost with the page */
const [LONG, OFTEN] = [new Set(['drawnFrom', 'judgedFor', 'faultAt']), 2000];

/** ms of rest after which new answers are stored: none of those that a drag passes */
const REST = 1500;

/** ms in which a store that works has opened */
const PATIENCE = 500;

/**
 * A job service that keeps what was answered, by what was asked: the design's hash, the method and all else it was given, and
 * the build of the core that answered. What is known is given at once; the rest is asked.
 */
export function remembering<E extends object>(service: JobService<E>, store: AnswerStore, build: string): JobService<E> {
  const known = new Map<string, { method: string; value: unknown }>();
  let stored: Promise<Set<string>> | undefined;
  // A store that does not open (blocked by another tab, switched off) is an empty one.
  const storedKeys = (): Promise<Set<string>> =>
    (stored ??= Promise.race([store.keys(), new Promise<string[]>((done) => setTimeout(() => done([]), PATIENCE))]).then((keys) => new Set(keys), () => new Set<string>()));
  let timer: ReturnType<typeof setTimeout> | undefined;
  let written = 0;

  function keep(key: string, method: string, value: unknown): void {
    known.delete(key);
    known.set(key, { method, value });
    const alike = [...known].filter(([, a]) => a.method === method);
    for (const [old] of alike.slice(0, -MOST[method]!)) known.delete(old);
    const due = LONG.has(method) && Date.now() - written > OFTEN;
    clearTimeout(timer);
    if (due) void write().catch(() => undefined);
    else timer = setTimeout(() => void write().catch(() => undefined), REST);
  }

  /** Store what is known and not stored, and drop what is stored and not known any more: of another build, or long ago. */
  async function write(): Promise<void> {
    written = Date.now();
    const there = await storedKeys();
    const fresh = [...known].filter(([key]) => !there.has(key));
    try {
      await store.put(fresh.map(([key, a]) => ({ key, ...a, at: Date.now() })));
    } catch {
      // No room: what was worked for goes first, answers can be had again.
      await store.drop([...there]);
      return there.clear();
    }
    for (const [key] of fresh) there.add(key);
    const old = [...there].filter((key) => !known.has(key));
    const most = Object.values(MOST).reduce((a, b) => a + b, 0);
    if (old.length > most) {
      const gone = old.slice(0, old.length - most);
      await store.drop(gone);
      for (const key of gone) there.delete(key);
    }
  }

  async function ask(engine: E, method: string, args: unknown[], signal?: AbortSignal): Promise<unknown> {
    const asked = (): Promise<unknown> => (engine as Record<string, (...a: unknown[]) => Promise<unknown>>)[method]!(...args);
    if (MOST[method] === undefined) return asked();
    const key = hashOf(JSON.stringify([build, method, ...args.map((a) => (isDesign(a) ? nameOf(a) : a))]));
    const before = known.get(key) ?? ((await storedKeys()).has(key) ? await store.get(key).catch(() => undefined) : undefined);
    signal?.throwIfAborted();
    const value = before ? before.value : await asked();
    keep(key, method, value);
    return value;
  }

  return {
    workers: service.workers,
    at(rank: Rank, signal?: AbortSignal) {
      const engine = service.at(rank, signal);
      return new Proxy({} as E, { get: (_, method) => (method === 'then' ? undefined : (...args: unknown[]) => ask(engine, String(method), args, signal)) });
    },
  };
}
