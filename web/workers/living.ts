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
 * that has killed several, or that takes longer than the deadline, is given up.
 * @param deadline ms that one question may take
 */
export function living<T extends object>(begin: () => Life<T>, deadline = Infinity): T {
  let life = begun();
  function begun(): Life<T> {
    const next = begin();
    void next.died.then(() => replace(next));
    return next;
  }
  function replace(old: Life<T>): void {
    old.end();
    if (life === old) life = begun();
  }
  const [DIED, LATE] = [Symbol('died'), Symbol('late')];
  const ask = async (name: string, args: unknown[]): Promise<unknown> => {
    for (let deaths = 0; deaths < MOST_DEATHS; deaths++) {
      const asked = life;
      const method = (asked.remote as Record<string, (...a: unknown[]) => Promise<unknown>>)[name]!;
      let timer: ReturnType<typeof setTimeout> | undefined;
      const late = deadline < Infinity ? [new Promise((done) => (timer = setTimeout(() => done(LATE), deadline)))] : [];
      const found = await Promise.race([method(...args), asked.died.then(() => DIED), ...late]).finally(() => clearTimeout(timer));
      if (found === LATE) {
        replace(asked);
        throw new Error(`no answer within ${deadline / 1000} s: it was given up`);
      }
      if (found !== DIED) return found;
      // The next life has begun by the time this one is known to have ended.
      await Promise.resolve();
    }
    throw new Error(`the worker died ${MOST_DEATHS} times while it computed this`);
  };
  return new Proxy({} as T, { get: (_, name) => (name === 'then' ? undefined : (...args: unknown[]) => ask(String(name), args)) });
}
