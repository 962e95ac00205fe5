import { useEffect, useState } from 'react';
import type { Problem, Result } from '../../core/problem';
import { isAborted } from './jobs';
import { jobs } from './pool';

/** What a worker has answered last, and the question it was. */
export interface Asked<A, T> {
  args: Readonly<A>;
  value?: T;
  problem?: Problem;
}

/** The methods of the workers. */
export type Engine = ReturnType<ReturnType<typeof jobs>['at']>;

/**
 * Ask the workers whenever the question changes; the answer before stays until the next one is there, with the question that it is of.
 * @param ask from outside of the component, or held by it @param args of it, held by useMemo; undefined asks nothing
 */
export function useAsked<A extends unknown[], T>(ask: (engine: Engine, ...args: A) => Promise<Result<T>>, args: Readonly<A> | undefined): Asked<A, T> | undefined {
  const [found, setFound] = useState<Asked<A, T>>();
  useEffect(() => {
    if (!args) return;
    const left = new AbortController();
    ask(jobs().at('asked', left.signal), ...(args as A)).then(
      (r) => void (left.signal.aborted || setFound({ args, ...(r.ok ? { value: r.value } : { problem: r.problem }) })),
      (error) => void (isAborted(error) || console.error(error)),
    );
    return () => left.abort();
  }, [ask, args]);
  return found;
}
