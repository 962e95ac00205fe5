import { create } from 'zustand';
import type { Draw, Tolerance } from '../../core/corners/spread';
import { pointsOf, type RegionVerdict } from '../../core/corners/worst';
import type { Design } from '../../core/design';
import { jobs } from '../workers/pool';
import { longWork } from './longWork';

/** Draws of a design as its parts come, as far as they have come. */

/** Draws of one question, and of a whole spread when nobody says */
const [BATCH, USUAL] = [5, 200];

interface State {
  design?: Design;
  draws: Draw[];
  /** What they were drawn within */
  tolerances: readonly Tolerance[];
  of: number;
  seed: number;
  under: boolean;
  failed?: string;
}

export const useSpread = create<State>(() => ({ draws: [], tolerances: [], of: USUAL, seed: 1, under: false }));
const { getState: get, setState: set } = useSpread;
const work = longWork(set);

export const spreadActions = {
  /** Draw a design so often, judged where its requirements are at their worst; draws are handed over as they come. */
  draw: (design: Design, verdict: RegionVerdict, of = USUAL, seed = get().seed): Promise<void> =>
    work.run(async (signal) => {
      const points = pointsOf(verdict.worst);
      set({ design, draws: [], of, seed, under: true, failed: undefined });
      const engine = jobs().at('asked', signal);
      const tolerances = await engine.tolerancesOf(design);
      if (signal.aborted || !tolerances.ok) return;
      set({ tolerances: tolerances.value });
      const all: Draw[] = [];
      await Promise.all(Array.from({ length: Math.ceil(of / BATCH) }, async (_, k) => {
        const some = await engine.drawnFrom(design, seed, k * BATCH, Math.min(BATCH, of - k * BATCH), points);
        if (signal.aborted) return;
        all.push(...some);
        set({ draws: all.toSorted((a, b) => a.index - b.index) });
      }));
    }),
  stop: work.stop,
};
