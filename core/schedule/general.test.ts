import { createRequire } from 'node:module';
import { openDemo, must } from '../../demo/open';
import { dot } from '../linear/dense';
import { emptyTrace, march } from '../orbit/march';
import type { Pattern } from '../circuit/pattern';
import { among, patience, runs } from '../testing/thorough';
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

/** Along one interval; what does not move is left out of the solver's state. */
function along({ F, size }: Pattern, z: Float64Array, duration: number): Float64Array {
  const moving = Array.from({ length: size }, (_, i) => i).filter((i) => F.subarray(i * size, (i + 1) * size).some((v) => v !== 0));
  const solver = new Solver(moving.length);
  [solver.absoluteTolerance, solver.relativeTolerance] = [1e-11, 1e-11];
  // A coil behind open switches follows them in picoseconds: an explicit solver goes through all of those.
  solver.maxSteps = 1_000_000;
  const now = z.slice();
  const { y, outcome } = solver.solve((_, own) => {
    moving.forEach((i, k) => (now[i] = own[k]!));
    return moving.map((i) => dot(F.subarray(i * size, (i + 1) * size), now, size));
  }, 0, moving.map((i) => z[i]!), duration);
  expect(outcome).toBe(0);
  moving.forEach((i, k) => (now[i] = y[k]!));
  return now;
}

/** Periods that are compared */
const PERIODS = runs(8, 40);

describe.each(among(['cabin-lighting-rail', 'door-motor', 'radio'], ['sensor-supply', 'gate-supplies', 'brake-magnet']))('%s', (name) => {
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
    const largest = new Float64Array(z.length);
    trace.intervals.forEach((s, k) => {
      for (const e of trace.events[k] ?? []) {
        const before = z;
        z = z.slice();
        for (const r of e.resets) z[r.column] = r.row ? dot(r.row, before, before.length) : e.zAfter[r.column]!;
      }
      z.forEach((v, i) => (largest[i] = Math.max(largest[i]!, Math.abs(v))));
      z = along(s.pattern, z, s.duration);
    });
    const kinds = new Map<string, number>();
    z.forEach((_v, i) => kinds.set(machine.layout.kind[i]!, Math.max(kinds.get(machine.layout.kind[i]!) ?? 0, largest[i]!)));
    z.forEach((v, i) => i < machine.layout.n && expect(Math.abs(v - end.z[i]!)).toBeLessThan(1e-6 * Math.max(kinds.get(machine.layout.kind[i]!)!, 1e-12)));
    expect(trace.intervals.length).toBeGreaterThan(PERIODS);
  }, patience(20_000, 900_000));
});
