import { create } from 'zustand';
import type { Design } from '../../core/design';
import { editDesign } from '../../core/design';
import type { Problem } from '../../core/problem';
import { readAxis, sweepProblem, type Axis, type Swept, type SweptWave } from '../../core/sweep';
import type { OperatingPoint } from '../../core/topology';
import { isAborted } from '../workers/jobs';
import { jobs } from '../workers/pool';
import { actions, useStore } from './store';

/** A sweep as it is asked for and as far as it has come. */
export interface Sweep {
  design: Design;
  point: OperatingPoint;
  axes: Axis[];
  runs: (Swept | undefined)[];
  wave?: SweptWave;
}

interface State {
  /** Quantities by path, with their values as they are typed */
  asked: readonly { path: string; values: string }[];
  /** The figure that is drawn, "wave" for a trace over a schedule, "loop" for the loop gain, "front" for the impedance of a line filter */
  shown: string;
  trace: string;
  schedule: string;
  sweep?: Sweep;
  /** Share that is made while it is under way */
  progress?: number;
  problem?: Problem;
  /** Number of the run that is picked */
  picked?: number;
  /** Values of each axis that are left out of the picture, by path */
  hidden: Readonly<Record<string, readonly number[]>>;
}

export const useSweep = create<State>(() => ({ asked: [{ path: 'parts.L1.inductance', values: '10u..47u/5' }], shown: 'ripple', trace: 'output', schedule: 'load step', hidden: {} }));
const { getState: get, setState: set } = useSweep;

/** ms between pictures of a sweep that is under way */
const REDRAWN = 80;

let under = new AbortController();

/** Is a sweep that stands one of what is asked for now? */
export const isNow = (s: Sweep | undefined, design: Design, point: OperatingPoint): boolean => s !== undefined && s.design === design && s.point === point;

export const sweepActions = {
  ask: (asked: State['asked']): void => set({ asked, problem: undefined }),
  show: (change: Partial<Pick<State, 'shown' | 'trace' | 'schedule'>>): void => set(change),
  pick: (picked: number | undefined): void => set({ picked }),
  hide(path: string, value: number): void {
    const own = get().hidden[path] ?? [];
    set({ hidden: { ...get().hidden, [path]: own.includes(value) ? own.filter((v) => v !== value) : [...own, value] } });
  },
  stop(): void {
    under.abort();
    set({ progress: undefined });
  },
  /** Make all the runs, on all workers; what is there is seen while they come. */
  async run(wave?: SweptWave): Promise<void> {
    const { design, point } = useStore.getState();
    const axes: Axis[] = [];
    for (const { path, values } of get().asked) {
      const axis = readAxis(`${path}=${values}`, design);
      if (!axis.ok) return set({ problem: axis.problem });
      axes.push(axis.value);
    }
    const count = sweepProblem(axes);
    if (!count.ok) return set({ problem: count.problem });
    under.abort();
    const own = (under = new AbortController());
    const sweep: Sweep = { design, point, axes, runs: Array.from({ length: count.value }, () => undefined), ...(wave ? { wave } : {}) };
    set({ sweep, progress: 0, problem: undefined, picked: undefined, hidden: {} });
    const engine = jobs().at('asked', own.signal);
    const loop = get().shown === 'loop' || get().shown === 'front';
    let there = 0;
    let told = 0;
    try {
      await Promise.all(sweep.runs.map(async (_, k) => {
        const run = await engine.sweepOne(design, point, axes, k, { ...(wave ? { wave } : {}), loop });
        if (own.signal.aborted) return;
        sweep.runs[k] = run;
        there++;
        // Of thousands of runs not every one is worth a picture.
        if (there < count.value && performance.now() - told < REDRAWN) return;
        told = performance.now();
        set({ sweep: { ...sweep, runs: [...sweep.runs] }, progress: there / count.value });
      }));
      if (!own.signal.aborted) set({ progress: undefined });
    } catch (error) {
      if (isAborted(error)) return;
      console.error(error);
      set({ progress: undefined, problem: { code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'change what is asked, or reload the page' } });
    }
  },
  /** Take the values of a run into the design, and the point where it was swept. */
  take(k: number): void {
    const { sweep } = get();
    const values = sweep?.runs[k]?.values;
    if (!sweep || !values) return;
    const changes: Record<string, unknown> = {};
    const at: Partial<OperatingPoint> = {};
    sweep.axes.forEach(({ path }, i) => {
      if (path === 'line' || path === 'load' || path === 'air') at[path] = values[i]!;
      else changes[path] = values[i]!;
    });
    if (Object.keys(changes).length > 0) {
      const edited = editDesign(useStore.getState().design, changes);
      if (!edited.ok) return actions.refuse(edited.problem);
      actions.edit(changes);
    }
    if (Object.keys(at).length > 0) actions.movePoint(at);
  },
};
