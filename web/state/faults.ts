import { create } from 'zustand';
import { faultsOf, inOrder, type FaultFound } from '../../core/corners/faults';
import type { Design } from '../../core/design';
import type { OperatingPoint } from '../../core/topology';
import { isAborted } from '../workers/jobs';
import { jobs } from '../workers/pool';

/** The faults of a design at a point, as far as they have been run. */
interface State {
  design?: Design;
  point?: OperatingPoint;
  found: FaultFound[];
  of: number;
  under: boolean;
  failed?: string;
}

export const useFaults = create<State>(() => ({ found: [], of: 0, under: false }));
const { setState: set } = useFaults;
let under = new AbortController();

export const faultActions = {
  async run(design: Design, point: OperatingPoint): Promise<void> {
    under.abort();
    const own = (under = new AbortController());
    const all = faultsOf(design, point);
    set({ design, point, found: [], of: all.length, under: true, failed: undefined });
    const engine = jobs().at('asked', own.signal);
    const found: FaultFound[] = [];
    try {
      await Promise.all(all.map(async (fault) => {
        const one = await engine.faultAt(design, point, fault);
        if (own.signal.aborted) return;
        found.push(one);
        set({ found: inOrder(found) });
      }));
      if (!own.signal.aborted) set({ under: false });
    } catch (error) {
      if (isAborted(error)) return;
      console.error(error);
      set({ under: false, failed: 'it stopped for a reason of its own: change what is asked, or reload the page' });
    }
  },
  /** What was run stays. */
  stop(): void {
    under.abort();
    set({ under: false });
  },
};
