import { readdirSync, readFileSync } from 'node:fs';
import { buildMachine, type Machine, type Prepared } from '../core/circuit/machine';
import type { Circuit } from '../core/circuit/elements';
import { readCircuit } from '../core/interchange/circuitFile';
import { usualProbes } from '../core/interchange/probe';
import { decibels, degrees, type Complex } from '../core/linear/complex';
import { cycleIntegrals, integrals, meanProduct, measure, type CycleIntegrals } from '../core/orbit/measure';
import { distortion, harmonics } from '../core/orbit/spectrum';
import { march } from '../core/orbit/march';
import { roundingOf } from '../core/orbit/rounding';
import { settleCycle, type SettledCycle } from '../core/orbit/settle';
import { SmallSignal } from '../core/response/exact';
import { bareDemo } from './open';
import { evaluate } from '../core/evaluation';

const folder = 'demo/circuits/';
const open = (name: string): Circuit => {
  const read = readCircuit(readFileSync(folder + name, 'utf8'));
  if (!read.ok) throw new Error(`${read.problem.where}: ${read.problem.message}`);
  return read.value;
};
interface Example {
  m: Machine;
  cycle: SettledCycle;
  g: CycleIntegrals;
}
const solved = new Map<string, Example>();
/** An example solved and gauged, once for all tests: the mains one takes seconds. */
const example = (name: string): Example => {
  let found = solved.get(name);
  if (!found) {
    const { m, cycle } = solve(open(name));
    solved.set(name, (found = { m, cycle, g: cycleIntegrals(cycle) }));
  }
  return found;
};
const solve = (c: Circuit): { m: Machine; cycle: SettledCycle } => {
  const m = buildMachine(c);
  if (!m.ok) throw new Error(m.problem.message);
  const cycle = settleCycle(m.value);
  if (!cycle.ok) throw new Error(cycle.problem.message);
  return { m: m.value, cycle: cycle.value };
};

describe('every example circuit, settled', () => {
  test.each(readdirSync(folder))('%s: rounding leaves nothing open above 1e-8 of the largest of a kind', (name) => {
    const { cycle, g } = example(name);
    const within = roundingOf(cycle);
    const probes = usualProbes(open(name));
    const most = { V: 0, A: 0 };
    for (const p of probes) most[p.unit] = Math.max(most[p.unit], integrals(g, p.row).rms);
    expect(probes.filter((p) => within(p.row) > 1e-8 * most[p.unit]).map((p) => p.name)).toEqual([]);
  });
  test.each(readdirSync(folder))('%s: closes, keeps charge, flux and energy', (name) => {
    const circuit = open(name);
    const { cycle, g } = example(name);
    expect(cycle.closure).toBeLessThan(1e-7);
    let input = 0;
    let burnt = 0;
    for (const e of circuit.elements) {
      if (!('a' in e)) continue;
      const across = (p: { voltage(a: string, b?: string): Float64Array }): Float64Array => p.voltage(e.a, e.b);
      const through = (p: { current(id: string): Float64Array }): Float64Array => p.current(e.id);
      const [v, i] = [integrals(g, across), integrals(g, through)];
      const scale = v.rms + i.rms + 1e-6;
      if (e.kind === 'inductor') expect(Math.abs(v.mean)).toBeLessThan(1e-6 * scale);
      if (e.kind === 'capacitor') expect(Math.abs(i.mean)).toBeLessThan(1e-6 * scale);
      const power = meanProduct(g, across, through);
      if (['resistor', 'diode', 'switch', 'current-load', 'power-load', 'string-load'].includes(e.kind)) burnt += power;
      // Series resistance of a capacitor by its own current, so that this is no identity of Kirchhoff's laws.
      else if (e.kind === 'capacitor') burnt += i.rms ** 2 * e.esr;
      else if (e.kind !== 'inductor') input -= power;
    }
    expect(Math.abs(input - burnt)).toBeLessThan(1e-9 * Math.abs(input));
  });
});

test('conversion ratios of the examples by hand, diode drops counted: what is left are resistances of some hundredths', () => {
  const mean = (name: string, node: string): number => measure(example(name).g, (p) => p.voltage(node)).mean;
  const near = (found: number, wanted: number, share: number): void => {
    // Resistances only take, and only so much.
    expect(found / wanted).toBeLessThan(1.001);
    expect(found / wanted).toBeGreaterThan(1 - share);
  };
  near(mean('boost.json', 'out'), 24 / 0.55 - 0.6, 0.02);
  near(mean('cuk.json', 'out'), -(24 * (0.4 / 0.6) - 0.6), 0.02);
  near(mean('sepic.json', 'out'), 18 * (0.45 / 0.55) - 0.6, 0.02);
  // Coupling the inductors steers their ripple and leaves the mean where it is.
  expect(mean('sepic-coupled.json', 'out') / mean('sepic.json', 'out')).toBeCloseTo(1, 3);
  near(mean('forward-two-switch.json', 'out'), 110 * 0.6 * 0.42 - 0.6, 0.02);
  near(mean('buck-three-phase.json', 'out'), 12 * 0.12, 0.1);
});

test('three phases a third apart: the output ripples at three times the frequency, by less than one phase', () => {
  const { g } = example('buck-three-phase.json');
  const phases = ['L1', 'L2', 'L3'].map((id) => measure(g, (p) => p.current(id)));
  for (const p of phases) expect(p.mean).toBeCloseTo(phases[0]!.mean, 6);
  const sum = measure(g, (p) => p.current('L1').map((v, i) => v + p.current('L2')[i]! + p.current('L3')[i]!));
  expect(sum.peakToPeak).toBeLessThan(0.8 * phases[0]!.peakToPeak);
});

test('the lighting rail with its real network closed: its loop gain by series injection is the product’s', () => {
  const circuit = open('buck-closed-loop.json');
  const { m, cycle } = solve(circuit);
  const sides = [(p: Prepared) => p.voltage('out'), (p: Prepared) => p.voltage('fb')];
  const f = [500, 2000, 8000, 18_000];
  const [returned, sent] = new SmallSignal(m, cycle).respond('inject', sides, f);
  // The circuit stands on a stiff line.
  const design = evaluate(bareDemo('cabin-lighting-rail'), { line: 48, load: 8, air: 25 }, { detail: true });
  if (!design.ok) throw new Error(design.problem.message);
  const { loop } = design.value.detail!.bode!;
  f.forEach((hz, i) => {
    const [a, b] = [returned![i]!, sent![i]!];
    const d = b.re ** 2 + b.im ** 2;
    const ratio: Complex = { re: -(a.re * b.re + a.im * b.im) / d, im: -(a.im * b.re - a.re * b.im) / d };
    const at = loop!.frequency.findIndex((x) => x > hz);
    const share = Math.log(hz / loop.frequency[at - 1]!) / Math.log(loop.frequency[at]! / loop.frequency[at - 1]!);
    const expected = loop.gain[at - 1]! + share * (loop.gain[at]! - loop.gain[at - 1]!);
    // Real op-amp (10 MHz) and warm against fixed resistances: within 0.2 dB and 4°.
    expect(Math.abs(decibels(Math.hypot(ratio.re, ratio.im)) - expected)).toBeLessThan(0.2);
    const phase = loop.phase[at - 1]! + share * (loop.phase[at]! - loop.phase[at - 1]!);
    const turn = (degrees(Math.atan2(ratio.im, ratio.re)) - phase + 540) % 360 - 180;
    expect(Math.abs(turn)).toBeLessThan(4);
  });
});

describe('the mains rectifier with boost', () => {
  const { m, cycle, g } = example('mains-boost.json');

  test('its mains cycle is solved, thousands of stretches long, and marching on from it stays there', () => {
    expect(cycle.intervals.length).toBeGreaterThan(5000);
    expect(cycle.period).toBe(0.02);
    const run = march(m, cycle.state, 2 * cycle.period);
    if (!run.ok) throw new Error(run.problem.message);
    m.layout.states.forEach((_, i) => expect(Math.abs(run.value.z[i]! - cycle.state.z[i]!)).toBeLessThan(1e-6 * Math.max(1, Math.abs(cycle.state.z[i]!))));
  });

  test('the output is held, the mains current is nearly a sine in phase with its voltage', () => {
    expect(integrals(g, (p) => p.voltage('out')).mean).toBeCloseTo(390, 0);
    const list = harmonics(g, (p) => p.current('mains').map((v) => -v), 40);
    // The 100 Hz ripple of the output comes back through the voltage loop's proportional part: P/(2ω C V) · kp
    // on a conductance of P/Vrms², half of it as third harmonic.
    const ripple = (integrals(g, (p) => p.voltage('out')).mean ** 2 / 200 / (2 * 2 * Math.PI * 50 * 470e-6 * 390)) * 1.7e-4;
    const third = (0.5 * ripple) / (760.5 / 230 ** 2);
    expect(Math.abs(list[3]!.amplitude / list[1]!.amplitude / third - 1)).toBeLessThan(0.25);
    expect(distortion(list)).toBeLessThan(2 * third);
    // The source is a sine: −90° against the cosine. The filter's capacitor leads by a little.
    expect(Math.abs((list[1]!.phase * 180) / Math.PI + 90)).toBeLessThan(6);
    const input = -meanProduct(g, (p) => p.voltage('l', 'n'), (p) => p.current('mains'));
    expect((list[1]!.amplitude * 325.27) / 2 / input).toBeCloseTo(1, 2);
  });
});

describe('bridges', () => {
  test('half bridge: output = D · line · turns ratio, less the drops and the duty the leakage takes', () => {
    const { g } = example('half-bridge.json');
    const out = measure(g, (p) => p.voltage('out')).mean;
    const ideal = 2 * 0.3 * 190 * (6 / 24);
    expect(out).toBeLessThan(ideal);
    expect(out).toBeGreaterThan(0.93 * ideal);
    // Both switches share the current, and the transformer carries no direct current.
    expect(measure(g, (p) => p.current('Q1')).mean).toBeCloseTo(measure(g, (p) => p.current('Q2')).mean, 6);
    expect(Math.abs(measure(g, (p) => p.current('Lm')).mean)).toBeLessThan(1e-6);
  });

  test('full bridge: the output follows the phase shift, and the leading leg turns on at zero voltage', () => {
    const circuit = open('full-bridge-phase-shift.json');
    const at = (shift: number): number => measure(cycleIntegrals(solve({ ...circuit, elements: circuit.elements.map((e) => (e.id === 'shift' ? { ...e, value: shift } : e)) as Circuit['elements'] }).cycle), (p) => p.voltage('out')).mean;
    const slope = (at(0.7) - at(0.5)) / 0.2;
    // V·n per unit of duty, less what the commutation of the leakage takes in proportion to the current
    expect(slope).toBeGreaterThan(0.75 * 390 * (4 / 18));
    expect(slope).toBeLessThan(390 * (4 / 18));
    const { cycle } = solve(circuit);
    const on = cycle.trace.all.find((j) => !j.before.on.has('Q3') && j.after.on.has('Q3'))!;
    const across = on.before.voltage('in', 'b').reduce((sum, v, i) => sum + v * on.z[i]!, 0);
    expect(Math.abs(across)).toBeLessThan(3);
  });
});

describe('circuit files that can not be used', () => {
  const text = readFileSync(`${folder}boost.json`, 'utf8');
  test.each([
    ['not JSON', 'boost', 'json', ''],
    ['another kind', '{"kind":"jump-reed design"}', 'kind', 'kind'],
    ['a negative inductance', text.replace('"33 µH"', '-1'), 'range', 'L1.inductance'],
    ['an inductance in volts', text.replace('"33 µH"', '"33 V"'), 'dimension', 'L1.inductance'],
    ['an unknown field', text.replace('"id": "L1"', '"id": "L1", "colour": 1'), 'value', 'L1'],
    ['a hundred thousand elements', JSON.stringify({ kind: 'jump-reed circuit', elements: Array.from({ length: 100_000 }, (_, i) => ({ kind: 'resistor', id: `R${i}`, a: 'a', b: '0', resistance: 1 })) }), 'size', 'elements'],
  ])('%s', (_, content, code, where) => {
    const read = readCircuit(content);
    expect(read.ok ? undefined : [read.problem.code, read.problem.where]).toEqual([code, where]);
  });
});
