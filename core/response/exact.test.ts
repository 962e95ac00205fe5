import { Circuit } from '../circuit/elements';
import { restState, type Prepared } from '../circuit/machine';
import { decibels, degrees, type Complex } from '../linear/complex';
import { march } from '../orbit/march';
import { integrals, cycleIntegrals } from '../orbit/measure';
import { averagedModel, intervalSlopes } from './averaged';
import { boost, buck, buckBoost, cycleOf, machineOf, peakBoost, type Converter } from '../testing/circuits';
import { SmallSignal } from './exact';
import { injectTone } from './inject';
import { frequencyResponse } from './system';

const output = (p: Prepared): Float64Array => p.voltage('out');
const apart = (a: Complex, b: Complex): { gain: number; phase: number } => ({
  gain: Math.abs(decibels(Math.hypot(a.re, a.im) / Math.hypot(b.re, b.im))),
  phase: Math.abs(degrees(Math.atan2(a.im * b.re - a.re * b.im, a.re * b.re + a.im * b.im))),
});

const BASE: Converter = { line: 24, L: 20e-6, C: 20e-6, R: 4, T: 5e-6, D: 0.4, r: 0.02, drop: 0.4 };

/** A closed voltage loop around a buck: error amplifier of one pole and one zero, trailing-edge modulator. */
function closedBuck(): Circuit {
  const open = buck({ ...BASE, r: 0.05 });
  return Circuit.parse({
    ...open,
    elements: [
      ...open.elements.filter((e) => e.id !== 'duty'),
      { kind: 'voltage-source', id: 'reference', a: 'ref', b: '0', value: 9.6 },
      { kind: 'voltage-source', id: 'inject', a: 'out', b: 'fb', value: 0 },
      { kind: 'resistor', id: 'Rfb', a: 'fb', b: '0', resistance: 1e5 },
      { kind: 'transfer', id: 'amplifier', a: 'vc', b: '0', plus: 'ref', minus: 'fb', numerator: [3e5, 3e5 / (2 * Math.PI * 4e3)], denominator: [0.01, 1, 1 / (2 * Math.PI * 60e3)] },
    ],
    modulators: [{ kind: 'pwm', id: 'M', gate: 'q', period: BASE.T, control: ['vc', '0'], high: 2000 }],
  });
}

describe('the exact response against the averaged model, below 0.02 of the switching frequency', () => {
  test.each([['buck', buck], ['boost', boost], ['inverting', buckBoost]] as const)('%s: control and line to output within 0.1 dB and 0.5°', (_, make) => {
    const m = machineOf(make(BASE));
    const cycle = cycleOf(m);
    const exact = new SmallSignal(m, cycle);
    const f = [20, 200, 1000, 4000];
    const { system, inputs } = averagedModel(cycleIntegrals(cycle), intervalSlopes(cycle.trace, m.layout.column.get('duty')!), output as never);
    for (const source of ['duty', 'line']) {
      const [found] = exact.respond(source, [output], f);
      const averaged = frequencyResponse(system, source === 'duty' ? 0 : inputs.sources[source]!, f);
      found!.forEach((v, i) => {
        const d = apart(v, averaged[i]!);
        expect(d.gain).toBeLessThan(0.1);
        expect(d.phase).toBeLessThan(0.5);
      });
    }
  });
});

describe('the exact response against injection in time, to 0.45 of the switching frequency (0.02 dB, 0.1°: what the injected amplitude leaves)', () => {
  const discontinuous: Converter = { ...BASE, R: 120, C: 1e-6 };
  const peak: Converter = { ...BASE, D: 0, R: 6 };
  const cases: [string, Circuit, string, number][] = [
    ['buck', buck(BASE), 'duty', 0.01],
    ['boost', boost(BASE), 'duty', 0.01],
    ['inverting', buckBoost(BASE), 'duty', 0.01],
    ['buck, discontinuous', buck(discontinuous), 'duty', 0.01],
    ['boost, discontinuous', boost(discontinuous), 'duty', 0.01],
    ['boost, peak current', peakBoost(peak, 9, 1.2e6), 'control', 0.05],
    ['buck, uniform sampling', { ...buck(BASE), modulators: [{ ...(buck(BASE).modulators[0] as object), sampling: 'uniform' }] } as Circuit, 'duty', 0.01],
    ['buck, double edge', { ...buck(BASE), modulators: [{ ...(buck(BASE).modulators[0] as object), carrier: 'double' }] } as Circuit, 'duty', 0.01],
  ];
  test.each(cases)('%s', (_, circuit, input, amplitude) => {
    const m = machineOf(circuit);
    const exact = new SmallSignal(m, cycleOf(m));
    for (const share of [0.07, 0.44]) {
      const injected = injectTone(circuit, input, [output, (p) => p.current('L')], share / BASE.T, { amplitude });
      if (!injected.ok) throw new Error(injected.problem.message);
      expect(injected.value.moved.gain).toBeLessThan(0.1);
      expect(injected.value.moved.phase).toBeLessThan(1);
      const found = exact.respond(input, [output, (p) => p.current('L')], [injected.value.frequency]);
      injected.value.outputs.forEach((v, k) => {
        const d = apart(found[k]![0]!, v);
        expect(d.gain).toBeLessThan(0.02);
        expect(d.phase).toBeLessThan(0.1);
      });
    }
  });
});

test('closed loop: the loop gain by series injection, exact against in time', () => {
  const circuit = closedBuck();
  const m = machineOf(circuit);
  const cycle = cycleOf(m, { warmUp: 600 });
  const sides = [(p: Prepared) => p.voltage('out'), (p: Prepared) => p.voltage('fb')];
  const exact = new SmallSignal(m, cycle);
  for (const f of [9e3, 40e3]) {
    const injected = injectTone(circuit, 'inject', sides, f, { amplitude: 0.02 });
    if (!injected.ok) throw new Error(injected.problem.message);
    const [back, sent] = exact.respond('inject', sides, [injected.value.frequency]).map((r) => r[0]!);
    const ratio = (a: Complex, b: Complex): Complex => {
      const d = b.re ** 2 + b.im ** 2;
      return { re: -(a.re * b.re + a.im * b.im) / d, im: -(a.im * b.re - a.re * b.im) / d };
    };
    const [measured, computed] = [ratio(injected.value.outputs[0]!, injected.value.outputs[1]!), ratio(back!, sent!)];
    const d = apart(computed, measured);
    expect(d.gain).toBeLessThan(0.02);
    expect(d.phase).toBeLessThan(0.1);
  }
});

/** The same loop with a sampled controller: two poles, two zeros, computed for 0.3 of a period. */
function sampledBuck(): Circuit {
  const open = buck({ ...BASE, r: 0.05 });
  return Circuit.parse({
    ...open,
    elements: [
      ...open.elements.filter((e) => e.id !== 'duty'),
      { kind: 'voltage-source', id: 'reference', a: 'ref', b: '0', value: 9.6 },
      { kind: 'voltage-source', id: 'inject', a: 'out', b: 'fb', value: 0 },
      { kind: 'resistor', id: 'Rfb', a: 'fb', b: '0', resistance: 1e5 },
      { kind: 'sampled', id: 'controller', a: 'vc', b: '0', plus: 'ref', minus: 'fb', numerator: [0.0025, -0.00175], denominator: [1, -1.3, 0.3], period: BASE.T, phase: 0.6, delay: 0.3 * BASE.T },
    ],
    modulators: [{ kind: 'pwm', id: 'M', gate: 'q', period: BASE.T, control: ['vc', '0'] }],
  });
}

test('sampled control: the output is held where the integrator wants it, and the loop gain is that in time', () => {
  const circuit = sampledBuck();
  const m = machineOf(circuit);
  const cycle = cycleOf(m, { warmUp: 400 });
  expect(cycle.closure).toBeLessThan(1e-8);
  // An integrator leaves no error at the sampling instant.
  const sampled = cycle.trace.all.find((j) => j.resets.length > 2)!;
  const fb = (sampled.before as Prepared).voltage('fb');
  expect(fb.reduce((sum, v, i) => sum + v * sampled.z[i]!, 0)).toBeCloseTo(9.6, 7);
  const sides = [(p: Prepared) => p.voltage('out'), (p: Prepared) => p.voltage('fb')];
  const exact = new SmallSignal(m, cycle);
  for (const f of [4e3, 30e3]) {
    const injected = injectTone(circuit, 'inject', sides, f, { amplitude: 0.02 });
    if (!injected.ok) throw new Error(injected.problem.message);
    const found = exact.respond('inject', sides, [injected.value.frequency]);
    injected.value.outputs.forEach((v, k) => {
      const d = apart(found[k]![0]!, v);
      expect(d.gain).toBeLessThan(0.02);
      expect(d.phase).toBeLessThan(0.1);
    });
  }
});

test('a difference equation by hand: the first samples of a step', () => {
  const circuit = Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 2 },
      { kind: 'resistor', id: 'R', a: 'in', b: '0', resistance: 1 },
      { kind: 'sampled', id: 'U', a: 'y', b: '0', plus: 'in', minus: '0', numerator: [1, 0.5], denominator: [2, -1], period: 1e-3, delay: 2e-4 },
      { kind: 'resistor', id: 'Ry', a: 'y', b: '0', resistance: 1 },
    ],
  });
  const m = machineOf(circuit);
  // y = 0.5 e + 0.25 e₁ + 0.5 y₁ with e = 2 from the first sample on
  const expected = [1, 2, 2.5, 2.75];
  expected.forEach((y, k) => {
    for (const [share, value] of [[0.1, k === 0 ? 0 : expected[k - 1]!], [0.3, y]] as const) {
      const run = march(m, restState(m), (k + share) * 1e-3);
      if (!run.ok) throw new Error(run.problem.message);
      const row = m.prepare(run.value.segments).voltage('y');
      expect(row.reduce((sum, v, i) => sum + v * run.value.z[i]!, 0)).toBeCloseTo(value, 12);
    }
  });
});

test('the response at dc is the slope between two settled cycles', () => {
  const at = (D: number): number => {
    const m = machineOf(boost({ ...BASE, D }));
    const cycle = cycleOf(m);
    return integrals(cycleIntegrals(cycle), (p) => p.voltage('out')).mean;
  };
  const slope = (at(0.4001) - at(0.3999)) / 2e-4;
  const m = machineOf(boost(BASE));
  const [found] = new SmallSignal(m, cycleOf(m)).respond('duty', [output], [0.5]);
  expect(Math.hypot(found![0]!.re, found![0]!.im) / slope).toBeCloseTo(1, 4);
});

test('an edge that a delay carries over the start of the period is followed: multipliers and response stay exact', () => {
  // 40 % duty and a delay of 0.7 periods: every turn-off falls into the next period.
  const base = closedBuck();
  const circuit = Circuit.parse({ ...base, modulators: [{ ...(base.modulators[0] as object), delay: 0.7 * BASE.T, high: 4000 }] });
  const m = machineOf(circuit);
  const cycle = cycleOf(m, { warmUp: 600 });
  // Only the turn-on, which follows the clock, is under way where the period begins.
  expect(cycle.state.pending.map((p) => 'on' in p && p.on)).toEqual([true]);
  const T = cycle.period;
  // The derivative of the period map by differences, against the one carried through the edges.
  const run = (z: Float64Array): Float64Array => {
    const end = march(m, { ...cycle.state, z }, cycle.state.t + T);
    if (!end.ok) throw new Error(end.problem.message);
    return end.value.z;
  };
  for (let j = 0; j < m.layout.n; j++) {
    const h = 1e-6 * Math.max(1e-3, Math.abs(cycle.state.z[j]!));
    const [up, down] = [1, -1].map((sign) => {
      const z = cycle.state.z.slice();
      z[j]! += sign * h;
      return run(z);
    });
    const size = Math.max(...Array.from({ length: m.layout.n }, (_, i) => Math.abs(cycle.X[i * m.layout.size + j]!)));
    for (let i = 0; i < m.layout.n; i++) expect(Math.abs((up![i]! - down![i]!) / (2 * h) - cycle.X[i * m.layout.size + j]!)).toBeLessThan(1e-5 * size);
  }
  const sides = [(p: Prepared) => p.voltage('out'), (p: Prepared) => p.voltage('fb')];
  const injected = injectTone(circuit, 'inject', sides, 9e3, { amplitude: 0.02 });
  if (!injected.ok) throw new Error(injected.problem.message);
  const found = new SmallSignal(m, cycle).respond('inject', sides, [injected.value.frequency]);
  injected.value.outputs.forEach((v, k) => {
    const d = apart(found[k]![0]!, v);
    expect(d.gain).toBeLessThan(0.05);
    expect(d.phase).toBeLessThan(0.5);
  });
});

test('a cycle that does not stay is not injected into: its multiplier is named', () => {
  const circuit = sampledBuck();
  const hot = Circuit.parse({ ...circuit, elements: circuit.elements.map((e) => (e.kind === 'sampled' ? { ...e, numerator: [0.02, -0.014] } : e)) });
  const injected = injectTone(hot, 'inject', [output], 9e3, { amplitude: 0.01 });
  expect(injected.ok ? '' : ['unstable', 'no-cycle', 'subharmonic'].includes(injected.problem.code)).toBe(true);
});
