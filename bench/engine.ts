import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Circuit } from '../core/circuit/elements';
import { buildMachine, copyState, restState, type Machine } from '../core/circuit/machine';
import { readCircuit } from '../core/interchange/circuitFile';
import { decibels, degrees, over, phase, size, type Complex } from '../core/linear/complex';
import { apply } from '../core/linear/dense';
import { scalesOf } from '../core/orbit/cycle';
import { emptyTrace, march, type Trace } from '../core/orbit/march';
import { cycleIntegrals, meanProduct, measure } from '../core/orbit/measure';
import { settleCycle, type SettledCycle } from '../core/orbit/settle';
import { multipliers } from '../core/orbit/stability';
import { averagedModel, intervalSlopes } from '../core/response/averaged';
import { SmallSignal } from '../core/response/exact';
import { injectTone } from '../core/response/inject';
import { frequencyResponse, logSpaced } from '../core/response/system';
import { boost, buck, buckBoost } from '../core/testing/circuits';
import { must, openDemo } from '../demo/open';
import { evaluate } from '../core/evaluation';
import { closedDesign } from '../core/evaluation/closedDesign';
import { forgetMains, wholeMains } from '../core/schedule/onMains';
import { closed, T, timed } from './circuits';
import { error, median, per, print, rate, ratio, Rounds, time, type Line, type Timing } from './measure';

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
  const settled = settleCycle(m, near ? { near: near.state } : {});
  if (!settled.ok) throw new Error(settled.problem.message);
  return settled.value;
};

/** The same intervals by a general solver, told where the events are: one period of it. */
function generalSolver(m: Machine, cycle: SettledCycle, periods: number): Timing {
  const n = m.layout.n;
  const { size } = m.layout;
  let x = Array.from(cycle.state.z.subarray(0, n));
  const z = Float64Array.from(cycle.state.z);
  const rate = new Float64Array(size);
  const times = new Rounds();
  const start = performance.now();
  for (let k = 0; k < periods; k++)
    for (const s of cycle.intervals) {
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
  times.add((performance.now() - start) / periods);
  return times.median;
}

function transient(m: Machine, cycle: SettledCycle): Timing {
  const periods = 500;
  return per(median(() => march(m, copyState(cycle.state), periods * T), 9), periods);
}

function lines(title: string, circuit: Circuit, targets: { warm: number; fresh: number; transient: number }, source: string): Line[] {
  const m = machineOf(circuit);
  const cycle = cycleOf(m);
  const trace: Trace = emptyTrace();
  march(m, cycle.state, T, { trace });
  // Warm: each time to a cycle that is not the one just solved, between two settings 4 % apart.
  const [here, there] = [0.98, 1.02].map((factor) => {
    const near = { ...cycle, state: copyState(cycle.state) };
    near.state.z[m.layout.column.get(source)!]! *= factor;
    return near;
  }) as [SettledCycle, SettledCycle];
  let turn = 0;
  const warm = median(() => cycleOf(m, turn++ % 2 ? here : there));
  const fresh = median(() => cycleOf(machineOf(structuredClone(circuit)), cycle), 15);
  const response = median(() => new SmallSignal(m, cycle).respond(source, [(p) => p.voltage('out')], logSpaced(100, 1e5, 200)), 15);
  const step = transient(m, cycle);
  // The general solver is told the events of the settled period; diodes off make it stiff, so few periods suffice.
  const general = generalSolver(m, cycle, 2);
  const rest = 3000;
  return [
    time(`${title}: ${m.layout.n} states, ${trace.all.length} events a period; settled cycle, warm`, warm, targets.warm),
    time(`${title}: settled cycle, circuit and patterns built afresh`, fresh, targets.fresh),
    time(`${title}: exact response at 200 frequencies`, response, 5),
    rate(`${title}: transient, periods`, step, targets.transient),
    ratio(`${title}: general explicit solver at 1e-8, transient slower by`, general.scaled / step.scaled, 100),
    ratio(`${title}: general solver marching ${rest} periods to rest, slower by`, (general.scaled * rest) / fresh.scaled, 200),
  ];
}

const opened = (name: string): Circuit => {
  const read = readCircuit(readFileSync(`demo/circuits/${name}.json`, 'utf8'));
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};

/** The examples' settled cycles against 20,000 periods of marching from rest, and responses against injection and averaging. */
function accuracy(): Line[] {
  let apart = 0;
  let power = 0;
  const names = readdirSync('demo/circuits').map((f) => f.replace('.json', '')).filter((n) => n !== 'mains-boost');
  for (const name of names) {
    const circuit = opened(name);
    const m = machineOf(circuit);
    const cycle = cycleOf(m);
    power = Math.max(power, imbalance(circuit, cycle));
    if ((multipliers(cycle)[0]?.size ?? 0) > 0.9988) continue;
    const run = march(m, restState(m), 20_000 * m.period);
    if (!run.ok) throw new Error(run.problem.message);
    const scale = scalesOf(m.layout, cycle.intervals, Array.from({ length: m.layout.n }, (_, i) => i));
    for (let i = 0; i < m.layout.n; i++) apart = Math.max(apart, Math.abs(run.value.z[i]! - cycle.state.z[i]!) / scale[i]!);
  }
  const [gain, phase] = againstInjection();
  const [averagedGain, averagedPhase] = againstAverage();
  return [
    error(`settled cycles of ${names.length} examples against 20,000 periods of marching, all states`, apart, 1e-8),
    error('power balance of the same', power, 1e-9),
    { what: 'exact response against injection in time, to 0.44 fsw', found: `${gain.toFixed(4)} dB, ${phase.toFixed(3)}°`, target: '0.1 dB, 1°', met: gain <= 0.1 && phase <= 1 },
    { what: 'exact response against the averaged model, below 0.02 fsw', found: `${averagedGain.toFixed(4)} dB, ${averagedPhase.toFixed(3)}°`, target: '0.1 dB, 0.5°', met: averagedGain <= 0.1 && averagedPhase <= 0.5 },
  ];
}

/** Power in less power burnt, as a share of the power in. */
function imbalance(circuit: Circuit, cycle: SettledCycle): number {
  const g = cycleIntegrals(cycle);
  let [input, sum] = [0, 0];
  for (const e of circuit.elements) {
    if (!('a' in e) || e.kind === 'inductor') continue;
    const p = e.kind === 'capacitor' ? measure(g, (x) => x.current(e.id)).rms ** 2 * e.esr : meanProduct(g, (x) => x.voltage(e.a, e.b), (x) => x.current(e.id));
    sum += p;
    if (p < 0) input -= p;
  }
  return Math.abs(sum) / input;
}

const between = (a: Complex, b: Complex): [number, number] => {
  const q = over(a, b);
  return [Math.abs(decibels(size(q))), Math.abs(degrees(phase(q)))];
};

function againstInjection(): [number, number] {
  let worst: [number, number] = [0, 0];
  for (const [circuit, input] of [[opened('buck-closed-loop'), 'inject'], [opened('boost-peak-current'), 'control'], [opened('boost'), 'duty'], [opened('buck-diode'), 'duty']] as const) {
    const m = machineOf(circuit);
    const exact = new SmallSignal(m, cycleOf(m));
    for (const share of [0.03, 0.2, 0.44]) {
      const found = injectTone(circuit, input, [(p) => p.voltage('out')], share / m.period, { amplitude: 0.01 });
      if (!found.ok) throw new Error(found.problem.message);
      const d = between(exact.respond(input, [(p) => p.voltage('out')], [found.value.frequency])[0]![0]!, found.value.outputs[0]!);
      worst = [Math.max(worst[0], d[0]), Math.max(worst[1], d[1])];
    }
  }
  return worst;
}

function againstAverage(): [number, number] {
  let worst: [number, number] = [0, 0];
  const c = { line: 24, L: 20e-6, C: 20e-6, R: 4, T: 5e-6, D: 0.4, r: 0.02, drop: 0.4 };
  for (const make of [buck, boost, buckBoost]) {
    const m = machineOf(make(c));
    const cycle = cycleOf(m);
    const f = [20, 200, 1000, 4000];
    const { system } = averagedModel(cycleIntegrals(cycle), intervalSlopes(cycle.trace, m.layout.column.get('duty')!), (p) => p.voltage('out'));
    const averaged = frequencyResponse(system, 0, f);
    new SmallSignal(m, cycle).respond('duty', [(p) => p.voltage('out')], f)[0]!.forEach((v, i) => {
      const d = between(v, averaged[i]!);
      worst = [Math.max(worst[0], d[0]), Math.max(worst[1], d[1])];
    });
  }
  return worst;
}

/** The mains rectifier with boost at 65 kHz, closed loop with sampled control. */
function mains(): Line[] {
  const m = machineOf(opened('mains-boost'));
  const run = median(() => march(m, restState(m), 10 * m.period), 3, 1);
  const settle = median(() => cycleOf(m), 3, 1);
  const cycle = cycleOf(m);
  const beside = { ...cycle, state: copyState(cycle.state) };
  beside.state.z[m.layout.column.get('C2')!]! *= 1.01;
  const near = median(() => cycleOf(m, beside), 3, 1);
  return [
    time('ten 50 Hz cycles, 13,000 periods, from rest', run, 1200),
    time('its settled mains cycle, solved from rest', settle, 2200),
    time('the same from a neighbour', near, 800),
  ];
}

/** The station charger as shipped, filter and sampled cascade: the whole of it over a cycle of the mains; and the fast answer, a corner by its angles. */
function charger(): Line[] {
  const d = openDemo('station-charger');
  const point = (line: number): { line: number; load: number; air: number } => ({ line, load: d.brief.load.max, air: d.brief.air.max });
  let line = 200;
  const settled = (): void => {
    line += 1.5;
    must(wholeMains(d, point(line), must(closedDesign(d, point(line)))).settled());
  };
  const cold = median(() => {
    forgetMains();
    settled();
  }, 3, 1);
  const near = median(settled, 7, 1);
  const corner = median(() => {
    line += 1.5;
    must(evaluate(d, point(184 + (line % 80))));
  }, 45, 90);
  return [
    time('settled mains cycle of the station charger with filter and cascade, from rest', cold, 2500),
    time('the same from a neighbour', near, 800),
    time('its fast answer, a corner by its angles', corner, 40),
  ];
}

console.log('\nThe general solver is the only one for differential equations in the registry that is kept up; it is explicit. There is no implicit one.');
print('Engine, accuracy', accuracy());
print('Mains rectifier with boost, 65 kHz, sampled control', mains());
print('Station charger on the mains, 70 kHz', charger());
print('Engine, medians', [...lines('timed', timed, { warm: 0.2, fresh: 1.2, transient: 80_000 }, 'duty'), ...lines('diode, closed loop', closed, { warm: 0.5, fresh: 2.5, transient: 40_000 }, 'reference')]);
