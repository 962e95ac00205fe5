import { isAborted } from '../workers/jobs';

/** What a store says of long work. */
export interface Long {
  under: boolean;
  failed?: string;
}

/** Long work that is begun anew, stopped, and may fail: one at a time, what is begun ends what was under way. */
export function longWork(set: (state: Long) => void): { run(work: (signal: AbortSignal) => Promise<void>): Promise<void>; stop(): void } {
  let under = new AbortController();
  return {
    async run(work) {
      under.abort();
      const own = (under = new AbortController());
      try {
        await work(own.signal);
        if (!own.signal.aborted) set({ under: false });
      } catch (error) {
        if (isAborted(error)) return;
        console.error(error);
        set({ under: false, failed: 'it stopped for a reason of its own: change what is asked, or reload the page' });
      }
    },
    /** What is there stays. */
    stop() {
      under.abort();
      set({ under: false });
    },
  };
}
