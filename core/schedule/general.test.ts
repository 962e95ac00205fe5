import { createRequire } from 'node:module';
import { openDemo, must } from '../../demo/open';
import { dot } from '../linear/dense';
import { emptyTrace, march } from '../orbit/march';
import type { Pattern } from '../circuit/pattern';
import { solveStiff } from '../testing/stiff';
import { patience, runs } from '../testing/thorough';
import { beginRun, usualSchedules, type Schedule } from '.';

/**
 * Starts and steps of the demo designs, their loops closed, given to a general adaptive solver: it carries a state of its own from
 * event to event, takes what events reset from that, and its guards have to be nothing where the engine says that they fire.
 */
interface GeneralSolver {
  absoluteTolerance: number;
  relativeTolerance: number;
  maxSteps: number;
  solve(rate: (t: number, y: number[]) => number[], from: number, y: number[], to: number): { y: number[]; outcome: number };
}
const { Solver } = createRequire(__filename)('odex') as { Solver: new (n: number) => GeneralSolver };

type Along = (of: Pattern, z: Float64Array, duration: number, scale: Float64Array) => Float64Array;

/** Along one interval; what does not move is left out of the solver's state. */
const along: Along = ({ F, size }, z, duration) => {
  const moving = Array.from({ length: size }, (_, i) => i).filter((i) => F.subarray(i * size, (i + 1) * size).some((v) => v !== 0));
  const solver = new Solver(moving.length);
  [solver.absoluteTolerance, solver.relativeTolerance] = [1e-11, 1e-11];
  solver.maxSteps = 1_000_000;
  const now = z.slice();
  const { y, outcome } = solver.solve((_, own) => {
    moving.forEach((i, k) => (now[i] = own[k]!));
    return moving.map((i) => dot(F.subarray(i * size, (i + 1) * size), now, size));
  }, 0, moving.map((i) => z[i]!), duration);
  expect(outcome).toBe(0);
  moving.forEach((i, k) => (now[i] = y[k]!));
  return now;
};

/** The same where a coil behind open switches follows them in picoseconds, which an explicit solver goes through one by one. */
const alongStiff: Along = ({ F, size }, z, duration, scale) => solveStiff(F.slice(0, size * size), z, duration, scale, 1e-11).y;

/** Periods that are compared */
const PERIODS = runs(8, 40);

describe.each([
  ['cabin-lighting-rail', along], ['door-motor', along], ['radio', along],
  ['sensor-supply', alongStiff], ['gate-supplies', alongStiff], ['brake-magnet', alongStiff], ['station-charger', alongStiff],
] as const)('%s', (name, solved) => {
  const d = openDemo(name);
  const point = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max / 2, air: 25 };
  const T = 1 / d.brief.frequency;
  const early = (s: Schedule): Schedule => ({ ...s, lasts: PERIODS * T, steps: s.steps.slice(0, 1).map((x) => ({ ...x, at: 1.3 * T, takes: 0 })) });
  test.each(usualSchedules(d, point).map((s) => [s.name, early(s)] as const))('%s: a millionth of a general solver’s', (_, schedule) => {
    const run = must(beginRun(d, point, schedule));
    const { machine } = run.phases[0]!;
    const trace = emptyTrace();
    const end = must(march(machine, run.begin.state, run.begin.state.t + schedule.lasts, { trace }));
    // What is to happen at the very beginning has happened in it.
    let z: Float64Array = trace.intervals[0]!.z0.slice();
    // The largest of its kind: currents beside currents, voltages beside voltages.
    const kinds = new Map<string, number>();
    for (const { z0 } of trace.intervals) z0.forEach((v, i) => kinds.set(machine.layout.kind[i]!, Math.max(kinds.get(machine.layout.kind[i]!) ?? 1e-12, Math.abs(v))));
    const scale = z.map((_, i) => kinds.get(machine.layout.kind[i]!)!);
    trace.intervals.forEach((s, k) => {
      for (const e of trace.events[k] ?? []) {
        const before = z;
        z = z.slice();
        for (const r of e.resets) z[r.column] = r.row ? dot(r.row, before, before.length) : e.zAfter[r.column]!;
      }
      z = solved(s.pattern, z, s.duration, scale);
    });
    z.forEach((v, i) => i < machine.layout.n && expect(Math.abs(v - end.z[i]!)).toBeLessThan(1e-6 * scale[i]!));
    expect(trace.intervals.length).toBeGreaterThan(PERIODS);
  }, patience(300_000, 900_000));
});
