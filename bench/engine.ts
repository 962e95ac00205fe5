import { createRequire } from 'node:module';
import type { Circuit } from '../core/circuit/elements';
import { buildMachine, copyState, type Machine } from '../core/circuit/machine';
import { apply } from '../core/linear/dense';
import { emptyTrace, march, type Trace } from '../core/orbit/march';
import { settleCycle, type SettledCycle } from '../core/orbit/settle';
import { SmallSignal } from '../core/response/exact';
import { logSpaced } from '../core/response/system';
import { closed, T, timed } from './circuits';
import { median, print, type Line } from './measure';

/**
 * The engine on a buck of six states: input filter, snubber, two-stage output. Once with both switches
 * timed (four edges a period with the dead time), once with a diode and its loop closed.
 */
interface GeneralSolver {
  absoluteTolerance: number;
  relativeTolerance: number;
  solve(rate: (t: number, y: number[]) => number[], from: number, y: number[], to: number): { y: number[] };
}
const { Solver } = createRequire(import.meta.url)('odex') as { Solver: new (n: number) => GeneralSolver };

const machineOf = (c: Circuit): Machine => {
  const m = buildMachine(c);
  if (!m.ok) throw new Error(m.problem.message);
  return m.value;
};
const cycleOf = (m: Machine, near?: SettledCycle): SettledCycle => {
  const settled = settleCycle(m, near ? { near: near.state } : { warmUp: 200 });
  if (!settled.ok) throw new Error(settled.problem.message);
  return settled.value;
};

/** The same stretches by a general solver, told where the events are: µs a period. */
function generalSolver(m: Machine, cycle: SettledCycle, periods: number): number {
  const n = m.layout.n;
  const { size } = m.layout;
  let x = Array.from(cycle.state.z.subarray(0, n));
  const z = Float64Array.from(cycle.state.z);
  const rate = new Float64Array(size);
  const start = performance.now();
  for (let k = 0; k < periods; k++)
    for (const s of cycle.stretches) {
      const solver = new Solver(n);
      solver.absoluteTolerance = solver.relativeTolerance = 1e-8;
      x = solver.solve(
        (_, y) => {
          for (let i = 0; i < n; i++) z[i] = y[i]!;
          apply(s.pattern.F, z, rate, size);
          return Array.from(rate.subarray(0, n));
        },
        0, x, s.duration,
      ).y;
    }
  return ((performance.now() - start) / periods) * 1000;
}

function transient(m: Machine, cycle: SettledCycle): number {
  const periods = 500;
  return median(() => march(m, copyState(cycle.state), periods * T), 9) / periods;
}

const rate = (ms: number): string => `${Math.round(1000 / ms).toLocaleString('en')} periods/s`;
const ms = (v: number): string => `${v.toPrecision(3)} ms`;

function lines(title: string, circuit: Circuit, target: number, source: string): Line[] {
  const m = machineOf(circuit);
  const cycle = cycleOf(m);
  const trace: Trace = emptyTrace();
  march(m, cycle.state, T, { trace });
  const warm = median(() => cycleOf(m, cycle));
  const fresh = median(() => cycleOf(machineOf(circuit), cycle), 15);
  const response = median(() => new SmallSignal(m, cycle).respond(source, [(p) => p.voltage('out')], logSpaced(100, 1e5, 200)), 15);
  const step = transient(m, cycle);
  // The general solver is told the events of the settled period; diodes off make it stiff, so few periods suffice.
  const general = generalSolver(m, cycle, 2);
  const rest = 3000;
  return [
    { what: `${title}: ${m.layout.n} states, ${trace.all.length} events a period; settled cycle, warm`, found: ms(warm), target: '0.5 ms', met: warm <= 0.5 },
    { what: `${title}: settled cycle, circuit and patterns built afresh`, found: ms(fresh), target: '2 ms', met: fresh <= 2 },
    { what: `${title}: exact response at 200 frequencies`, found: ms(response), target: '10 ms', met: response <= 10 },
    { what: `${title}: transient`, found: rate(step), target: target.toLocaleString('en'), met: 1000 / step >= target },
    { what: `${title}: general explicit solver at 1e-8, transient slower by`, found: `${(general / 1000 / step).toFixed(0)} ×`, target: '20 ×', met: general / 1000 / step >= 20 },
    { what: `${title}: general solver marching ${rest} periods to rest, slower by`, found: `${((general * rest) / 1000 / fresh).toFixed(0)} ×`, target: '200 ×', met: (general * rest) / 1000 / fresh >= 200 },
  ];
}

print('Engine, medians on this machine', [...lines('timed', timed, 50_000, 'duty'), ...lines('diode, closed loop', closed, 20_000, 'reference')]);
