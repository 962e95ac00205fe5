import { useEffect, useRef, useState } from 'react';
import type { Design } from '../../../core/design';
import type { Problem } from '../../../core/problem';
import { joined, schedulesOf, type Schedule, type Slice, type Trace } from '../../../core/schedule';
import type { OperatingPoint } from '../../../core/topology';
import { isAborted } from '../../workers/jobs';
import { jobs } from '../../workers/pool';

/** A run as far as it has come. */
export interface Run {
  design: Design;
  point: OperatingPoint;
  schedule: Schedule;
  traces: Trace[];
  period: number;
  slices: Slice[];
  seen: NonNullable<ReturnType<typeof joined>>;
  problem?: Problem;
}

/** Stretches that a run is made in, and bins of each: what is there is seen, and it can be stopped, after every one */
const [SLICES, BINS] = [12, 100];
/** ms of no change after which it is begun */
const REST = 250;

/** A design run through one of its schedules, begun anew whenever design, point or schedule change; `stop` leaves it as far as it is. */
export function useRun(design: Design, point: OperatingPoint, name: string): { run?: Run; problem?: Problem; progress?: number; stop: () => void } {
  const [run, setRun] = useState<Run>();
  const [problem, setProblem] = useState<Problem>();
  const [progress, setProgress] = useState<number>();
  const under = useRef<AbortController>(undefined);
  useEffect(() => {
    const own = (under.current = new AbortController());
    const timer = setTimeout(() => void through(own.signal), REST);
    async function through(signal: AbortSignal): Promise<void> {
      const schedule = schedulesOf(design, point).find((s) => s.name === name);
      if (!schedule) return;
      const slices: Slice[] = [];
      setProgress(0);
      try {
        for (let k = 1; k <= SLICES; k++) {
          const found = await jobs().at('asked', signal).runSlice(design, point, schedule, (schedule.lasts * k) / SLICES, BINS, slices.at(-1)?.end);
          if (signal.aborted) return;
          setProblem(found.ok ? undefined : found.problem);
          if (!found.ok) break;
          const { traces, period, ...slice } = found.value;
          slices.push(slice);
          setRun({ design, point, schedule, traces, period, slices: [...slices], seen: joined(slices)! });
          setProgress(k / SLICES);
        }
      } catch (error) {
        // Nobody waits for it any more.
        if (!isAborted(error)) setProblem({ code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'change what is asked, or reload the page' });
      }
      if (!signal.aborted) setProgress(undefined);
    }
    return () => {
      clearTimeout(timer);
      own.abort();
    };
  }, [design, point, name]);
  const stop = (): void => {
    under.current?.abort();
    setProgress(undefined);
  };
  return { ...(run ? { run } : {}), ...(problem ? { problem } : {}), ...(progress === undefined ? {} : { progress }), stop };
}

/** A kept state's run through the same schedule, seen as a whole. */
export interface KeptRun {
  traces: readonly Trace[];
  seen: NonNullable<ReturnType<typeof joined>>;
}

/** Bins of a kept state's run: it is drawn as an outline */
const OUTLINE = 400;

/** Kept states run through a schedule of the design in work, once that has been: by their ids. */
export function useKeptRuns(kept: readonly { id: string; design: Design; visible: boolean }[], run: Run | undefined): Record<string, KeptRun> {
  const [found, setFound] = useState<{ run: Run; runs: Record<string, KeptRun> }>();
  useEffect(() => {
    if (!run || run.seen.edges.at(-1)! < run.schedule.lasts * (1 - 1e-9)) return undefined;
    const own = new AbortController();
    const through = async (): Promise<void> => {
      const runs: Record<string, KeptRun> = {};
      for (const k of kept.filter((x) => x.visible)) {
        const one = await jobs().at('kept', own.signal).runSlice(k.design, run.point, run.schedule, run.schedule.lasts, OUTLINE);
        if (own.signal.aborted) return;
        // One that can not be run is not laid over.
        if (one.ok) runs[k.id] = { traces: one.value.traces, seen: one.value };
        setFound({ run, runs: { ...runs } });
      }
    };
    // Nobody waits for it any more, or its worker died twice: what stands is of before.
    through().catch(() => undefined);
    return () => own.abort();
  }, [kept, run]);
  return found && run && found.run.schedule.name === run.schedule.name ? found.runs : {};
}
