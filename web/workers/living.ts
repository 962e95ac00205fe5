/** Something remote, and when it is no more. */
export interface Life<T> {
  remote: T;
  /** Settles when it has died */
  died: Promise<void>;
  /** Ends it for good */
  end(): void;
}

/** Deaths under one question after which it is the question that kills. */
const MOST_DEATHS = 2;

/**
 * A remote that outlives its lives: where one dies, the next begins and is asked what was left unanswered. A question
 * that has killed several is given up.
 */
export function living<T extends object>(begin: () => Life<T>): T {
  let life = begun();
  function begun(): Life<T> {
    const next = begin();
    void next.died.then(() => {
      next.end();
      if (life === next) life = begun();
    });
    return next;
  }
  const DIED = Symbol('died');
  const ask = async (name: string, args: unknown[]): Promise<unknown> => {
    for (let deaths = 0; deaths < MOST_DEATHS; deaths++) {
      const { remote, died } = life;
      const method = (remote as Record<string, (...a: unknown[]) => Promise<unknown>>)[name]!;
      const found = await Promise.race([method(...args), died.then(() => DIED)]);
      if (found !== DIED) return found;
      // The next life has begun by the time this one is known to have ended.
      await Promise.resolve();
    }
    throw new Error(`the worker died ${MOST_DEATHS} times while it computed this`);
  };
  return new Proxy({} as T, { get: (_, name) => (name === 'then' ? undefined : (...args: unknown[]) => ask(String(name), args)) });
}
