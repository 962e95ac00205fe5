import { bareDemo, change, must } from '../../demo/open';
import { evaluate } from '../evaluation';
import { crestOf } from '../surroundings/mains';
import { buildMachine, restState } from '../circuit/machine';
import { readCircuit } from '../interchange/circuitFile';
import { march } from '../orbit/march';
import { beginRun, harmonicsAt, movesAt, pinnedAt, recordRun, usualSchedules, type Schedule } from '.';

/** The station charger on the mains, as one circuit: against the view of it angle by angle, in its balances, and with a controller that is too slow. */

/** With a current loop by itself: nothing fed forward, no notch, a sawtooth. */
const charger = change(bareDemo('station-charger'), { 'control.feedForward': null, 'control.notchQuality': null, 'control.outerPhaseMargin': 72, 'control.carrier': 'trailing', 'control.crossover': 4000, 'control.phaseMargin': 55 });
const point = { line: 230, load: 2, air: 25 };
const mains = charger.brief.line.mains!;
const still = (cycles: number, change: Partial<Schedule> = {}): Schedule => ({ name: 'still', begins: 'settled', lasts: cycles / mains, steps: [], ...change });

/** Rms of the first harmonic and of all that follow it, and the phase of the first. */
function drawn(d: typeof charger): { first: number; others: number; phase: number } {
  const list = must(harmonicsAt(d, point, 'line.current', 40));
  const rms = (h: { amplitude: number }): number => h.amplitude / Math.SQRT2;
  return { first: rms(list[1]!), others: Math.hypot(...list.slice(2).map(rms)), phase: list[1]!.phase };
}

test('settled it is what the slow view says: current drawn, output and its ripple at twice the mains', () => {
  const run = must(beginRun(charger, point, still(1)));
  const { record, end } = must(recordRun(run, still(1)));
  // One of the mains later it stands where it stood.
  expect(must(movesAt(run, still(1), end))).toMatchObject({ settled: true });
  const slow = must(evaluate(charger, point));
  const output = record.read(run.traces.findIndex((t) => t.id === 'output'))!;
  expect(Math.abs(output.mean / charger.brief.output.voltage - 1)).toBeLessThan(1e-3);
  // The slow view has C2 take all that beats; what the voltage loop makes of it is a third harmonic, of some percent.
  expect(Math.abs((output.most - output.least) / slow.cycle.outputRipple - 1)).toBeLessThan(0.1);
  expect(Math.abs(drawn(charger).first / slow.mains!.rms - 1)).toBeLessThan(0.02);
  const line = record.read(run.traces.findIndex((t) => t.id === 'line.voltage'))!;
  expect(line.rms).toBeCloseTo(230, 1);
  expect(line.most).toBeCloseTo(crestOf(230), 3);
});

test('power in is power out and what is lost in parts', () => {
  const schedule = still(1);
  const parts = ['D2', 'C1', 'L1', 'Q1', 'D1', 'C2'];
  const run = must(beginRun(charger, point, schedule, ['output', 'line.current', 'line.voltage', ...parts.map((p) => `${p}.energy`)]));
  const { record, end } = must(recordRun(run, schedule));
  const of = (id: string): number => run.traces.findIndex((t) => t.id === id);
  // Energies are those of one element: four diodes carry alike.
  const lost = (p: string): number => record.at(of(`${p}.energy`), end.t) * (p === 'D2' ? 4 : 1);
  let taken = 0;
  const n = 40_000;
  for (let k = 0; k < n; k++) taken += (record.at(of('line.current'), (k + 0.5) / n / mains) * record.at(of('line.voltage'), (k + 0.5) / n / mains)) / n / mains;
  const output = record.read(of('output'))!;
  const load = (point.load / charger.brief.output.voltage) * output.rms ** 2 / mains;
  const balance = taken - load - parts.reduce((sum, p) => sum + lost(p), 0);
  expect(Math.abs(balance / taken)).toBeLessThan(2e-3);
});

test('what is drawn follows the mains as well as the current loop makes it: at 1 kHz it does not, at 4 kHz it does', () => {
  const good = drawn(charger);
  const poor = drawn(change(charger, { 'control.crossover': 1000 }));
  // The voltage loop lets through ω_v / (4 ω_mains) = 5 % of third harmonic; the rest is where the current rests near the zero crossings, and its sample is not its mean.
  expect(good.others / good.first).toBeGreaterThan(0.04);
  expect(good.others / good.first).toBeLessThan(0.14);
  expect(poor.others / poor.first).toBeGreaterThan(3 * (good.others / good.first));
});

test('a load step is made good by the voltage loop within some cycles; a dip of a whole cycle pulls the output down by what the load takes from C2', () => {
  const [, usual] = usualSchedules(charger, { ...point, load: 1 });
  const step = { ...usual!, lasts: 6 / mains, steps: usual!.steps.slice(0, 1) };
  const run = must(beginRun(charger, { ...point, load: 1 }, step));
  const { record } = must(recordRun(run, step));
  const output = run.traces.findIndex((t) => t.id === 'output');
  const low = record.read(output, step.steps[0]!.at, step.lasts)!;
  expect(low.least).toBeLessThan(charger.brief.output.voltage - 3);
  // It is on its way back.
  expect(record.read(output, step.lasts - 1 / mains, step.lasts)!.mean).toBeGreaterThan(low.least + 0.5 * (charger.brief.output.voltage - low.least));

  const dip = { ...usualSchedules(charger, point).find((s) => s.name === 'line dip')!, lasts: 3 / mains };
  const gone = must(beginRun(charger, point, dip));
  const seen = must(recordRun(gone, dip)).record;
  const at = dip.steps[0]!.at;
  const before = seen.read(output, at - 1 / mains, at)!.mean;
  const least = seen.read(output, at, at + 1 / mains)!.least;
  // Nothing is drawn, and C2 feeds the load: ΔV = I t / C, its resistive load a little less; the ripple takes some of either side.
  const C = gone.roles.parts.C2!.elements[0]!;
  const element = gone.phases[0]!.machine.circuit.elements.find((e) => e.id === C)! as { capacitance: number };
  const fall = point.load / mains / element.capacitance;
  expect(before - least).toBeGreaterThan(0.75 * fall);
  expect(before - least).toBeLessThan(1.25 * fall);
  expect(Math.abs(seen.read(gone.traces.findIndex((t) => t.id === 'line.current'), at + 2e-3, at + 18e-3)!.rms)).toBeLessThan(0.01);
});

test('the mains goes to another voltage at once; what takes time is refused', () => {
  expect(beginRun(charger, point, still(1, { steps: [{ at: 1e-3, what: 'line', to: 200, takes: 1e-3 }] }))).toMatchObject({ ok: false, problem: { where: 'steps.0', code: 'range' } });
});

test('a sine that goes to another amplitude keeps its phase: an RC behind it by hand', () => {
  const [R, C, f, at] = [100, 10e-6, 50, 13e-3];
  const w = 2 * Math.PI * f;
  const circuit = { kind: 'jump-reed circuit', version: 1, name: '', elements: [
    { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: { shape: 'sine', amplitude: 10, frequency: f, changes: [[at, 4]] } },
    { kind: 'resistor', id: 'R', a: 'in', b: 'out', resistance: R },
    { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: C },
  ], modulators: [] };
  const m = must(buildMachine(must(readCircuit(JSON.stringify(circuit)))));
  const t = 31e-3;
  const end = must(march(m, restState(m), t)).z[m.layout.column.get('C')!]!;
  // v' = (A sin wt − v)/RC: A/|1 + jwRC| sin(wt − atan wRC) and what dies away, from each beginning.
  const steady = (A: number, x: number): number => (A / Math.hypot(1, w * R * C)) * Math.sin(w * x - Math.atan(w * R * C));
  const then = steady(10, at) - steady(10, 0) * Math.exp(-at / (R * C));
  expect(end).toBeCloseTo(steady(4, t) + (then - steady(4, at)) * Math.exp(-(t - at) / (R * C)), 9);
  const back = { ...circuit, elements: circuit.elements.map((e) => (e.id === 'V' ? { ...e, value: { ...(e as { value: object }).value, changes: [[2, 4], [1, 5]] } } : e)) };
  expect(buildMachine(must(readCircuit(JSON.stringify(back))))).toMatchObject({ ok: false, problem: { where: 'V' } });
});

test('what is required of a run on the mains is judged as on a dc line', () => {
  const own = { ...usualSchedules(charger, point).find((s) => s.name === 'line dip')!, name: 'own 1', lasts: 3 / mains };
  const pins = [300, 380].map((low) => ({ schedule: 'own 1', trace: 'output', title: 'Output', unit: 'V' as const, low, from: 0 }));
  // The dip takes it below 380 V, and not below 300.
  expect(pinnedAt({ ...charger, pins, schedules: [own] }, point).map((p) => [p.problem, p.holds])).toEqual([[undefined, true], [undefined, false]]);
});
