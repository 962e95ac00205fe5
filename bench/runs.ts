import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { averagedRun } from '../core/averaged';
import { editDesign, readDesign, type Design } from '../core/design';
import { march } from '../core/orbit/march';
import { recording, type Points } from '../core/recording';
import { beginRun, recordRun, usualSchedules } from '../core/schedule';
import { readAxis } from '../core/sweep';
import { byTurns, median, memory, per, print, rate, ratio, time, type Line } from './measure';

/** Runs in time and sweeps, on the demo design. */

const must = <T>(r: { ok: true; value: T } | { ok: false; problem: { message: string } }): T => {
  if (!r.ok) throw new Error(r.problem.message);
  return r.value;
};
const design: Design = must(readDesign(readFileSync('demo/cabin-lighting-rail.json', 'utf8')));
const point = { line: 48, load: 6, air: 50 };

/** Switching periods a second, of a run that is recorded and of one that is not. */
async function recorded(): Promise<Line[]> {
  const periods = 1000;
  const schedule = { ...usualSchedules(design, point)[1]!, lasts: periods / design.brief.frequency };
  const run = must(beginRun(design, point, schedule));
  const { first, second, share } = await byTurns(() => must(march(run.phases[0]!.machine, run.begin.state, run.begin.state.t + schedule.lasts)), () => must(recordRun(run, schedule)), 41, 10);
  const [plain, whole] = [per(first, periods), per(second, periods)];
  return [rate('a run in time, periods', plain), rate('the same recorded, four traces, periods', whole), ratio('recorded over unrecorded', share, 0.6)];
}

/** The load step of the gate supplies, where much ends by itself in a period: switched, and averaged over it. */
async function averaged(): Promise<Line[]> {
  const d = must(readDesign(readFileSync('demo/gate-supplies.json', 'utf8')));
  const at = { line: 48, load: 0.375, air: 25 };
  const schedule = usualSchedules(d, at)[1]!;
  const { first, second, share } = await byTurns(() => must(averagedRun(d, at, schedule)), () => must(recordRun(must(beginRun(d, at, schedule)), schedule)), 9, 3);
  const { run, periods } = must(averagedRun(d, at, schedule));
  return [time(`gate supplies, a load step averaged: ${run} of ${periods} periods run`, first), time('the same switched', second), ratio('switched over averaged', 1 / share)];
}

/** From a changed part to all of the start that it makes. */
function freshStart(): Line[] {
  let L = 27e-6;
  return [
    time('a change of a part: the start-up run anew, its loop placed again', median(() => {
      L = L > 40e-6 ? 20e-6 : L * 1.01;
      const d = must(editDesign(design, { 'parts.L1.inductance': L }));
      const schedule = usualSchedules(d, point)[0]!;
      return must(recordRun(must(beginRun(d, point, schedule)), schedule));
    }, 9, 2), 300),
  ];
}

/** What a recording of 10⁸ points holds, four traces a point. */
function long(): Line[] {
  const [points, chunk] = [1e8, 20_000];
  const record = recording(4);
  const before = process.memoryUsage().rss;
  const start = performance.now();
  const values = [0, 1, 2, 3].map((q) => Float64Array.from({ length: chunk }, (_, i) => Math.sin(1e-2 * i + q)));
  for (let k = 0; k < points / chunk; k++) {
    const time = Float64Array.from({ length: chunk }, (_, i) => (k * chunk + i) * 1e-7);
    const part: Points = { time, values: values.map((v) => v.slice()), events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } };
    record.add(part);
  }
  const seconds = (performance.now() - start) / 1e3;
  const drawn = median(() => [0, 1, 2, 3].map((q) => record.columns(q, 2, 8, 1000)), 9, 2);
  const { bytes } = record.size();
  return [
    memory(`a recording of 10⁸ points (${seconds.toFixed(0)} s to build), four traces: what it holds`, bytes),
    memory('the same: what the process has grown by', process.memoryUsage().rss - before),
    time('drawing most of it: least and most of 1000 columns, four traces', drawn, 16),
  ];
}

/** 27 runs of a nested sweep on two threads, asked one by one as the application does; and each given its share at once. */
async function swept(): Promise<Line[]> {
  const axes = ['L1.inductance=15u,27u,47u', 'brief.frequency=150k,220k,300k', 'C2.count=4,5,6'].map((text) => must(readAxis(text, design)));
  const workers = [0, 1].map(() => new Worker(new URL('./sweep.mjs', import.meta.url)));
  let moved = 0;
  const ask = (w: Worker, at: typeof point, ks: number[]): Promise<unknown> => new Promise((done) => w.once('message', done).postMessage({ design, point: at, axes, ks }));
  // Points of which nothing is remembered.
  const elsewhere = (): typeof point => ({ ...point, load: point.load * (1 - 1e-6 * ++moved) });
  const oneByOne = async (): Promise<void> => {
    const at = elsewhere();
    let next = 0;
    await Promise.all(workers.map(async (w) => {
      while (next < 27) await ask(w, at, [next++]);
    }));
  };
  const shares = async (): Promise<void> => {
    const at = elsewhere();
    await Promise.all(workers.map((w, part) => ask(w, at, Array.from({ length: 27 }, (_, k) => k).filter((k) => k % 2 === part))));
  };
  const { first: ideal, second: asked, share } = await byTurns(shares, oneByOne);
  await Promise.all(workers.map((w) => w.terminate()));
  return [time('27 runs of a nested sweep on two threads', asked), time('the same, each thread given its share at once', ideal), ratio('the second over the first', share, 1 / 1.3)];
}

print('Runs in time', [...(await recorded()), ...(await averaged()), ...freshStart(), ...(await swept()), ...long()]);
