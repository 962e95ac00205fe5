import { create } from 'zustand';
import { faultsOf, inOrder, type FaultFound } from '../../core/corners/faults';
import type { Design } from '../../core/design';
import type { OperatingPoint } from '../../core/topology';
import { jobs } from '../workers/pool';
import { longWork } from './longWork';

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
const work = longWork(set);

export const faultActions = {
  run: (design: Design, point: OperatingPoint): Promise<void> =>
    work.run(async (signal) => {
      const all = faultsOf(design, point);
      set({ design, point, found: [], of: all.length, under: true, failed: undefined });
      const engine = jobs().at('asked', signal);
      const found: FaultFound[] = [];
      await Promise.all(all.map(async (fault) => {
        const one = await engine.faultAt(design, point, fault);
        if (signal.aborted) return;
        found.push(one);
        set({ found: inOrder(found) });
      }));
    }),
  stop: work.stop,
};
