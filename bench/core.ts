import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { cornerPoints, holdCorners, judge } from '../core/corners/corners';
import { editDesign, readDesign, type Design } from '../core/design';
import { evaluate } from '../core/evaluation';
import { COMMAND } from '../core/control/command';
import { billOf } from '../core/evaluation/bill';
import { regulated, settleStage } from '../core/evaluation/settleStage';
import { standAt } from '../core/evaluation/standing';
import { apply } from '../core/linear/dense';
import { exponentialStep } from '../core/linear/exponential';
import { settleCycle } from '../core/orbit/settle';
import { averagedModel } from '../core/response/averaged';
import { frequencyResponse, logSpaced } from '../core/response/system';
import { topologyNamed, type OperatingPoint } from '../core/topology';
import { error, median, per, print, rate, ratio, Rounds, time, type Line, type Timing } from './measure';

/** What is used of the general solver (package odex: Gragg, Bulirsch, Stoer extrapolation after Hairer, Wanner); its own types do not pass strict checks. */
interface GeneralSolver {
  absoluteTolerance: number;
  relativeTolerance: number;
  solve(rate: (t: number, y: number[]) => number[], from: number, y: number[], to: number): { y: number[] };
}
const { Solver } = createRequire(import.meta.url)('odex') as { Solver: new (n: number) => GeneralSolver };

/** The engine's figures and targets that this stage of the engine can be measured by, on the demo design. */

const read = readDesign(readFileSync('demo/cabin-lighting-rail.json', 'utf8'));
if (!read.ok) throw new Error(read.problem.message);
const design: Design = read.value;
const others = Object.fromEntries(['gate-supplies', 'brake-magnet', 'station-charger'].map((name) => {
  const found = readDesign(readFileSync(`demo/${name}.json`, 'utf8'));
  if (!found.ok) throw new Error(found.problem.message);
  return [name, found.value];
}));
/** Corner in the middle of both ranges. */
const middle = (d: Design) => cornerPoints(d)[4]!;
const bill = billOf(design);
const point = { line: 48, load: 8, air: 50 };
const must = <T>(r: { ok: true; value: T } | { ok: false; problem: { message: string } }): T => {
  if (!r.ok) throw new Error(r.problem.message);
  return r.value;
};

const standing = must(standAt(bill, point));
const cold = (): ReturnType<typeof settleStage> => settleStage(bill, standing.only!, () => 60);
const stage = must(cold());
const near = { state: stage.cycle.state, setting: stage.setting };

/** The cycle solved from rest in the patterns that the general solver is given too. */
function fromRest(): void {
  must(settleCycle(stage.machine, { regulate: { quantity: regulated(stage.roles), target: stage.assembled.target, source: COMMAND, ...stage.assembled.range() } }));
}

/** Worst relative difference of the states between the settled cycle and one reached by `periods` of marching. */
function marched(periods: number): number {
  const { intervals, states } = stage.cycle;
  let z: Float64Array = Float64Array.from(intervals[0]!.z0).fill(0, 0, states);
  const steps = intervals.map((s) => exponentialStep(s.pattern.F, s.duration, s.pattern.size).phi);
  for (let k = 0; k < periods; k++)
    for (const phi of steps) {
      const next = new Float64Array(z.length);
      apply(phi, z, next, z.length);
      z = next;
    }
  let worst = 0;
  for (let i = 0; i < states; i++) worst = Math.max(worst, Math.abs(z[i]! / intervals[0]!.z0[i]! - 1));
  return worst;
}

/** The same march with a general extrapolation solver (explicit, adaptive), restarted at each edge. */
function generalSolver(periods: number): void {
  const { intervals, states } = stage.cycle;
  let x = Array.from({ length: states }, () => 0);
  const sources = Array.from(intervals[0]!.z0.subarray(states));
  for (let k = 0; k < periods; k++)
    for (const s of intervals) {
      const { F, size } = s.pattern;
      const solver = new Solver(states);
      solver.absoluteTolerance = solver.relativeTolerance = 1e-9;
      const z = new Float64Array(size);
      const rate = new Float64Array(size);
      z.set(sources, states);
      x = solver.solve(
        (_: number, y: number[]) => {
          for (let i = 0; i < states; i++) z[i] = y[i]!;
          apply(F, z, rate, size);
          return Array.from(rate.subarray(0, states));
        },
        0, x, s.duration,
      ).y;
    }
}

/** Rounds until the threads' code is compiled: it still gets faster up to some 250 corners each */
const WARM = 12;

/** 45 corners shared by two threads: when they have just started, and when they are warm. */
async function onTwoCores(): Promise<{ first: Timing; warm: Timing }> {
  const workers = [0, 1].map(() => new Worker(new URL('./corners.mjs', import.meta.url)));
  const round = async (into: Rounds): Promise<Rounds> => {
    const start = performance.now();
    await Promise.all(workers.map((w, part) => new Promise((done) => w.once('message', done).postMessage({ design, part, of: 2 }))));
    into.add(performance.now() - start);
    return into;
  };
  const first = (await round(new Rounds())).median;
  for (let k = 0; k < WARM; k++) await round(new Rounds());
  const times = new Rounds();
  for (let k = 0; k < 7; k++) await round(times);
  await Promise.all(workers.map((w) => w.terminate()));
  return { first, warm: times.median };
}

const accuracy = (): Line[] => {
  const balance = Math.max(...cornerPoints(design).map((p) => Math.abs(must(evaluate(design, p, { detail: true })).detail!.balance.residual)));
  return [error('settled cycle against 3000 periods of marching, all states', marched(3000), 1e-8), error('power balance, worst of the corners', balance, 1e-9)];
};

const speed = async (): Promise<Line[]> => {
  const { system } = averagedModel(stage.cycleIntegrals, stage.perDuty, (p) => p.voltage('out'));
  const grid = logSpaced(100, 220e3, 200);
  let L = 27e-6;
  // A point that nothing is remembered of, next to the one meant.
  let moved = 0;
  const elsewhere = (p: OperatingPoint): OperatingPoint => ({ ...p, load: p.load * (1 - 1e-6 * ++moved) });
  const next = (): number => (L = L > 40e-6 ? 20e-6 : L * 1.01);
  const fresh = median(cold);
  const solving = median(fromRest);
  const periods = 200;
  const step = per(median(() => marched(periods), 9), periods);
  const general = per(median(() => generalSolver(20), 5), 20);
  const region = await onTwoCores();
  return [
    time('settled cycle, 2 states, from a neighbour, circuit and patterns built afresh', median(() => settleStage(bill, standing.only!, () => 60, near)), 1.2),
    time('settled cycle, 2 states, from rest, circuit and patterns built afresh', fresh),
    time('averaged response at 200 frequencies', median(() => frequencyResponse(system, 0, grid)), 5),
    time('one full corner: cycle, loop, losses, heat (10 wanted, 15 at most)', median(() => judge(design, elsewhere(point))), 15),
    ...Object.entries(others).map(([name, d]) => time(`one full corner of the ${name.replace('-', ' ')}: ${topologyNamed(d.topology)!.mains ? 'on the mains, fast answer' : 'with leakage'}`, median(() => judge(d, elsewhere(middle(d))), 9), 40)),
    time('a change of a part: all figures at the point in view', median(() => evaluate(must(editDesign(design, { 'parts.L1.inductance': next() })), point, { detail: true })), 100),
    time('a change of a part: nine corners, one core', median(() => holdCorners(must(editDesign(design, { 'parts.L1.inductance': next() }))), 9), 500),
    time('45 corners on two cores', region.warm, 400),
    time('the first of them, while their code is being compiled', region.first),
    rate('transient by exact steps, 2 edges a period, periods', step, 80_000),
    rate('the same with a general explicit solver at 1e-9, periods', general),
    ratio('general solver over exact steps, transient', general.scaled / step.scaled, 100),
    ratio('general solver marched 3000 periods to rest over solving the cycle, patterns given to both', (general.scaled * 3000) / solving.scaled, 200),
    ratio('the same over all of it: circuit checked, patterns built, cycle measured', (general.scaled * 3000) / fresh.scaled),
  ];
};

print('Accuracy', accuracy());
print('Speed, medians', await speed());
