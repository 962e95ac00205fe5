import { create } from 'zustand';
import { sameFigures, type Design } from '../../core/design';
import type { Tuning } from '../../core/evaluation/tuneMains';
import type { Problem } from '../../core/problem';
import type { InrushRun } from '../../core/schedule/inrushRun';
import type { MainsCourse, MainsQuality } from '../../core/schedule/mainsQuality';
import type { OperatingPoint } from '../../core/topology';
import { jobs } from '../workers/pool';
import { longWork } from './longWork';
import type { Kept } from './storage';
import { actions } from './store';

/** A settled cycle of the mains, and what it is of. */
export interface Study {
  design: Design;
  quality: MainsQuality;
  course: MainsCourse;
  inrush?: InrushRun;
  /** ms that it took */
  ms: number;
}

interface State {
  point?: OperatingPoint;
  now?: Study;
  /** Of kept states, by id */
  kept: Readonly<Record<string, Study>>;
  problem?: Problem;
  under: boolean;
  failed?: string;
  /** What the last tuning did, and of which design it made what */
  tuned?: { design: Design; tuning: Tuning };
  tuning: boolean;
  untuned?: Problem;
}

export const useMains = create<State>(() => ({ kept: {}, under: false, tuning: false }));
const { getState: get, setState: set } = useMains;
const work = longWork(set);
const tuningWork = longWork(({ under, failed }) => set({ tuning: under, failed }));

const samePoint = (a: OperatingPoint | undefined, b: OperatingPoint): boolean => a !== undefined && a.line === b.line && a.load === b.load && a.air === b.air;

export const mainsActions = {
  /** Settle the mains of a design and of the kept states that are shown; what is known of the same is not asked again. */
  ask: (design: Design, point: OperatingPoint, kept: readonly Kept[]): Promise<void> =>
    work.run(async (signal) => {
      const before = get();
      const fresh = samePoint(before.point, point);
      const known = fresh ? before.kept : {};
      const wanted = kept.filter((k) => k.visible && k.design.brief.line.mains !== undefined);
      set({ point, under: true, failed: undefined, problem: undefined, kept: known });
      const engine = jobs().at('asked', signal);
      const settle = async (d: Design, take: (s: Study) => void, tell: (p: Problem) => void): Promise<void> => {
        const start = performance.now();
        const found = await engine.mainsStudy(d, point);
        if (signal.aborted) return;
        if (found.ok) take({ design: d, ...found.value, ms: performance.now() - start });
        else tell(found.problem);
      };
      await Promise.all([
        fresh && before.now && sameFigures(before.now.design, design) ? undefined : settle(design, (now) => set({ now, problem: undefined }), (problem) => set({ problem })),
        ...wanted.filter((k) => !known[k.id]).map((k) => settle(k.design, (s) => set({ kept: { ...get().kept, [k.id]: s } }), () => undefined)),
      ]);
    }),
  stop: work.stop,
  /** Tune the cascade: the state before is kept, the changes are one step of undo. */
  tune: (design: Design, point: OperatingPoint): Promise<void> =>
    tuningWork.run(async (signal) => {
      set({ tuning: true, untuned: undefined, failed: undefined });
      const found = await jobs().at('asked', signal).tuneMains(design, point);
      if (signal.aborted) return;
      if (!found.ok) return set({ untuned: found.problem });
      actions.keep();
      const refused = actions.edit(found.value.changes);
      if (refused) return set({ untuned: refused });
      set({ tuned: { design, tuning: found.value } });
    }),
  stopTuning: tuningWork.stop,
};
