import { create } from 'zustand';
import type { Design } from '../../core/design';
import type { Problem } from '../../core/problem';
import { recording, type Named, type Recording } from '../../core/recording';
import { stretchEnds, type Ending, type Moves, type Schedule, type Trace } from '../../core/schedule';
import type { OperatingPoint } from '../../core/topology';
import { isAborted } from '../workers/jobs';
import { jobs } from '../workers/pool';
import type { Kept } from './storage';

/** A run as far as it has come. */
export interface Run {
  design: Design;
  point: OperatingPoint;
  schedule: Schedule;
  traces: Trace[];
  offered: Trace[];
  nodes: string[];
  devices: Named[];
  /** s of its switching */
  period: number;
  record: Recording;
  end: Ending;
  /** How far a state still moves in a period at the end, where that has been asked for */
  moves?: Moves;
  /** ms that it took */
  ms: number;
}

/** A kept state's run, as it is laid over. */
export interface KeptRun {
  id: string;
  traces: readonly Trace[];
  record: Recording;
}

/** What is asked to be run. */
export interface Asked {
  design: Design;
  point: OperatingPoint;
  schedule: Schedule;
  /** Ids of traces; those of the topology where left out */
  wanted: readonly string[] | undefined;
}

interface State {
  /** Is the converter seen in its settled cycle, over a cycle of the mains, in time, or over values of something? */
  mode: 'cycle' | 'mains' | 'time' | 'sweep' | 'noise';
  /** The schedule that is looked at, by its name; how often another was chosen, which is then looked at whole */
  name: string;
  chosen: number;
  /** The trace whose figures are read */
  trace?: string;
  run?: Run;
  problem?: Problem;
  /** Share of the run that is made while it is under way */
  progress?: number;
  kept: readonly KeptRun[];
  /** Is the averaged run laid over the switched one? */
  averaged: boolean;
  /** It, of which run, and ms that it took; or why there is none */
  mean?: { run: Run } & ({ traces: readonly Trace[]; record: Recording; ran: number; periods: number; ms: number } | { problem: Problem });
  /** s, the window that is looked at */
  view?: readonly [number, number];
}

export const useInTime = create<State>(() => ({ mode: 'cycle', name: 'load step', chosen: 0, kept: [], averaged: false }));
const { getState: get, setState: set } = useInTime;

let under = new AbortController();
let underKept = new AbortController();

/** A fault of the program itself, in words; nothing where nobody waits any more. */
function failed(error: unknown): void {
  if (isAborted(error)) return;
  console.error(error);
  set({ progress: undefined, problem: { code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'change what is asked, or reload the page' } });
}

/** Run on through some ends of stretches. */
async function through(asked: Asked, ends: readonly number[], signal: AbortSignal, begun?: Run): Promise<void> {
  let run = begun;
  for (const [k, until] of ends.entries()) {
    const start = performance.now();
    const found = await jobs().at('asked', signal).runStretch(asked.design, asked.point, asked.schedule, asked.wanted, until, run?.end);
    if (signal.aborted) return;
    if (!found.ok) return set({ problem: found.problem, progress: undefined });
    const { traces, offered, nodes, devices, period, end, ...points } = found.value;
    const record = run?.record ?? recording(traces.length);
    record.add(points);
    run = { design: asked.design, point: asked.point, schedule: asked.schedule, traces, offered, nodes, devices, period, record, end, ms: (run?.ms ?? 0) + performance.now() - start };
    set({ run, problem: undefined, progress: (k + 1) / ends.length });
  }
  set({ progress: undefined });
}

export const inTimeActions = {
  look: (mode: State['mode']): void => set({ mode }),
  show: (name: string): void => set({ name }),
  choose: (name: string): void => set({ name, chosen: get().chosen + 1 }),
  read: (trace: string | undefined): void => set({ trace }),
  see: (view: readonly [number, number]): void => set({ view }),
  /** Run a schedule from its beginning; what stands is shown until the first stretch is there. */
  ask(asked: Asked): void {
    under.abort();
    under = new AbortController();
    set({ progress: 0 });
    void through(asked, stretchEnds(asked.schedule, asked.design.brief.frequency), under.signal).catch(failed);
  },
  /** Leave the run as far as it is. */
  stop(): void {
    under.abort();
    set({ progress: undefined });
  },
  /** Go on from where the run has ended, for as long as its schedule lasts. */
  goOn(): void {
    const { run } = get();
    if (!run) return;
    under.abort();
    under = new AbortController();
    const ends = stretchEnds(run.schedule, run.design.brief.frequency).map((t) => run.end.t + t);
    set({ progress: 0 });
    void through({ ...run, wanted: run.traces.map((t) => t.id) }, ends, under.signal, run).catch(failed);
  },
  /** Go on until no state moves any more. */
  untilSettled(): void {
    const { run } = get();
    if (!run) return;
    under.abort();
    const own = (under = new AbortController());
    set({ progress: 0 });
    const on = async (): Promise<void> => {
      for (let k = 0; k < MOST_ON; k++) {
        const now = get().run!;
        const wanted = now.traces.map((t) => t.id);
        const moves = await jobs().at('asked', own.signal).movesAt(now.design, now.point, now.schedule, wanted, now.end);
        if (own.signal.aborted) return;
        if (!moves.ok) return set({ problem: moves.problem, progress: undefined });
        set({ run: { ...now, moves: moves.value } });
        if (moves.value.settled) break;
        await through({ ...now, wanted }, [now.end.t + now.schedule.lasts / 4], own.signal, get().run);
        if (own.signal.aborted) return;
        set({ progress: (k + 1) / MOST_ON });
      }
      set({ progress: undefined });
    };
    void on().catch(failed);
  },
  /** Lay the averaged run over the switched one, or take it away. */
  average: (averaged: boolean): void => set({ averaged }),
  /** Make the averaged run of a switched one. */
  async meanOf(run: Run): Promise<void> {
    if (get().mean?.run === run) return;
    try {
      const start = performance.now();
      const found = await jobs().at('kept').averagedRun(run.design, run.point, run.schedule, run.traces.map((t) => t.id));
      if (!found.ok) return set({ mean: { run, problem: found.problem } });
      const record = recording(found.value.traces.length);
      record.add(found.value.points);
      set({ mean: { run, traces: found.value.traces, record, ran: found.value.run, periods: found.value.periods, ms: performance.now() - start } });
    } catch (error) {
      failed(error);
    }
  },
  /** Run kept states through the schedule of a run, to be laid over it. */
  layOver(kept: readonly Kept[], run: Run): void {
    underKept.abort();
    const own = (underKept = new AbortController());
    const all = async (): Promise<void> => {
      const found: KeptRun[] = [];
      for (const k of kept.filter((x) => x.visible)) {
        const wanted = k.design.topology === run.design.topology ? run.traces.map((t) => t.id) : undefined;
        const one = await jobs().at('kept', own.signal).wholeRun(k.design, run.point, run.schedule, wanted);
        if (own.signal.aborted) return;
        // One that can not be run is not laid over.
        if (!one.ok) continue;
        const record = recording(one.value.traces.length);
        for (const points of one.value.stretches) record.add(points);
        found.push({ id: k.id, traces: one.value.traces, record });
      }
      set({ kept: found });
    };
    // Nobody waits for it any more, or its worker died twice: what stands is of before.
    void all().catch(() => undefined);
  },
};

/** Stretches that are run on at most until it is settled */
const MOST_ON = 400;
