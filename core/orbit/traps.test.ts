import { Circuit } from '../circuit/elements';
import { buildMachine, restState } from '../circuit/machine';
import type { Pattern } from '../circuit/pattern';
import { SmallSignal } from '../response/exact';
import { injectionPointAt } from '../response/injectionPoint';
import { cycleOf, machineOf } from '../testing/circuits';
import { circuitTrap as trap } from '../testing/trap';
import { emptyTrace, march } from './march';
import { drawEnvelope } from './record';
import { cycleIntegrals, integrals, measure, range } from './measure';
import { roundingOf } from './rounding';
import { settleCycle } from './settle';
import { doubt, instability, multipliers } from './stability';

/** Circuits on which the engine was once silently wrong, slow or loud: each is one of a class. */

const changed = (c: Circuit, id: string, what: object): Circuit => Circuit.parse({ ...c, elements: c.elements.map((e) => (e.id === id ? { ...e, ...what } : e)), modulators: c.modulators.map((e) => (e.id === id ? { ...e, ...what } : e)) });
const v = (node: string) => (p: Pattern) => p.voltage(node);
const i = (id: string) => (p: Pattern) => p.current(id);
const mean = (c: Circuit, of: (p: Pattern) => Float64Array): number => integrals(cycleIntegrals(cycleOf(machineOf(c))), of).mean;
const problemOf = (c: Circuit): string[] => {
  const m = buildMachine(c);
  if (!m.ok) return [m.problem.code, m.problem.where];
  const settled = settleCycle(m.value);
  return settled.ok ? [] : [settled.problem.code, settled.problem.where];
};

describe('one period for all that repeats', () => {
  test('two clocks of 2 and 3 µs: the common 6 µs, the same as stated', () => {
    const cycle = cycleOf(machineOf(trap('two-pwm')));
    expect(cycle.period).toBeCloseTo(6e-6, 15);
    expect(mean(trap('two-pwm'), i('L1'))).toBeCloseTo(mean(trap('two-pwm-stated'), i('L1')), 9);
    expect(mean(trap('two-pwm'), i('L1'))).toBeCloseTo(2.388, 3);
  });
  test.each([
    ['a stated period of a third', { ...trap('two-pwm'), period: 2e-6 }, ['period', 'M2']],
    ['two clocks without a common multiple', changed(trap('two-pwm'), 'M2', { period: Math.PI * 1e-6 }), ['period', 'M, M2']],
    ['a tone beside another clock', changed(trap('step-late'), 'line', { value: { shape: 'sine', offset: 12, amplitude: 1, frequency: 12345.678 } }), ['period', 'M, line']],
  ])('refused by name: %s', (_, circuit, expected) => expect(problemOf(circuit as Circuit)).toEqual(expected));
  test('a tone that fits sets the period: 10 kHz beside 6 µs is 300 µs', () => {
    const c = changed(trap('step-late'), 'line', { value: { shape: 'sine', offset: 12, amplitude: 1, frequency: 1e4 } });
    expect(machineOf(c).period).toBeCloseTo(3e-4, 12);
  });
  test('a pulse that wraps round the period: its mean', () => {
    expect(mean(trap('pulse-wraps'), v('out'))).toBeCloseTo(1, 9);
    const later = changed(trap('pulse-wraps'), 'I', { value: { shape: 'pulse', low: 0, high: 2, delay: 27e-6, width: 4e-6, period: 1e-5 } });
    expect(mean(later, v('out'))).toBeCloseTo(0.8, 9);
  });
  test('a gate that goes off where the period ends settles', () => {
    // 12 V · 0.15 less what 10 mΩ takes of 1.782 A.
    expect(mean(trap('timed-off-at-1'), v('out'))).toBeCloseTo((12 * 0.15) / 1.01, 3);
  });
});

describe('sources that move once', () => {
  test('the settled cycle is of the time before, and a run begun with it meets the step', () => {
    const circuit = trap('step-late');
    const still = changed(circuit, 'step', { value: 0 });
    expect(mean(circuit, v('out'))).toBeCloseTo(mean(still, v('out')), 9);
    const m = machineOf(circuit);
    const { envelope, each } = drawEnvelope([v('out')], 0, 60e-6, 4);
    expect(march(m, cycleOf(m).state, 60e-6, { each }).ok).toBe(true);
    expect(envelope.least[0]![0]).toBeGreaterThan(4.7);
    expect(envelope.least[0]![1]).toBeLessThan(4.5);
  });
  test('flat to the step, then away from it', () => {
    const m = machineOf(trap('step-from-settled'));
    const { envelope, each } = drawEnvelope([v('out')], 0, 2e-4, 4);
    expect(march(m, cycleOf(m).state, 2e-4, { each }).ok).toBe(true);
    const [a, b, , d] = envelope.most[0]! as unknown as [number, number, number, number];
    expect(b / a).toBeCloseTo(1, 9);
    expect(d - a).toBeGreaterThan(1);
  });
  test('a source on its way is refused as a beginning', () => {
    const c = changed(trap('step-late'), 'step', { value: { shape: 'ramp', from: 0, to: 2, start: 0, duration: 1e-3 } });
    const m = machineOf(c);
    const run = march(m, restState(m), 5e-4);
    if (!run.ok) throw new Error(run.problem.message);
    const settled = settleCycle(m, { near: run.value });
    expect(settled.ok ? '' : [settled.problem.code, settled.problem.where]).toEqual(['moving', 'step']);
  });
});

describe('cycles that are there are found', () => {
  test('a sampled loop whose error is nothing but rounding, at any reference', () => {
    for (let k = 0; k < 40; k++) {
      const reference = 0.9 + 0.15 * k;
      const m = machineOf(changed(trap('sampled-leading-zeros'), 'setpoint', { value: reference }));
      const cycle = cycleOf(m);
      // The integrator brings the sampled output to the reference.
      const at = cycle.intervals[0]!;
      const out = v('fb')(at.pattern).reduce((sum, x, c) => sum + x * at.z0[c]!, 0);
      expect(Math.abs(out / reference - 1)).toBeLessThan(1e-8);
    }
  });
  test('a boost at 50 MHz whose output needs a hundred thousand periods', () => {
    const circuit = trap('boost-peak-current-no-cycle');
    const m = machineOf(circuit);
    const cycle = cycleOf(m);
    // All that the line gives goes into the load: 10 V times the mean current, and no loss to speak of.
    const g = cycleIntegrals(cycle);
    expect((integrals(g, v('out')).rms ** 2 / 10 / (10 * integrals(g, i('L1')).mean))).toBeCloseTo(1, 6);
    expect(instability(cycle)).toBeUndefined();
  });
  test('1 nH and 1 pF in a closed loop', () => {
    const c = trap('slow-parasitics');
    // The op-amp's gain of 1e5 leaves some ten microvolts.
    expect(mean(c, v('out'))).toBeCloseTo(5, 4);
  });
  test('an integrator that nothing holds is named', () => expect(problemOf(trap('pure-integrator'))).toEqual(['runs-on', 'Iint']));
  test('a converter that switches by itself is given up in bounded work, by its name', () => expect(problemOf(trap('hang-fast-events'))).toEqual(['work', 'H']));
});

describe('an event whose time is fixed moves with nothing', () => {
  const response = (c: Circuit): number => {
    const m = machineOf(c);
    const [z] = new SmallSignal(m, cycleOf(m)).respond('command', [v('out')], [1e3])[0]!;
    return Math.hypot(z!.re, z!.im);
  };
  test('on-time set by the blanking', () => expect(response(trap('blanking-response'))).toBe(0));
  test('full duty of a leading edge', () => expect(response(trap('leading-full-duty'))).toBe(0));
  test('a fixed duty is no subharmonic', () => {
    const cycle = cycleOf(machineOf(trap('blanking-false-subharmonic')));
    expect(instability(cycle)).toBeUndefined();
    expect(multipliers(cycle)[0]!.size).toBeLessThan(1);
  });
});

describe('digits where leakages alone hold a node', () => {
  const at = (leakage: number): { D3: number; balance: number } => {
    const base = trap('two-switch-leakage');
    const c = Circuit.parse({ ...base, elements: base.elements.map((e) => ('offConductance' in e ? { ...e, offConductance: leakage } : e)) });
    const g = cycleIntegrals(cycleOf(machineOf(c)));
    const of = (id: string): number => integrals(g, i(id)).mean;
    return { D3: of('D3'), balance: of('D3') / -of('Ls') - 1 };
  };
  test('rectifier and winding agree to 1e-9, and the figure no longer moves with the leakage, down to 1e-14 S', () => {
    const exact = at(1e-12).D3;
    for (const leakage of [1e-9, 1e-11, 1e-13, 1e-14]) {
      const { D3, balance } = at(leakage);
      expect(Math.abs(balance)).toBeLessThan(1e-9);
      // What leaks away is the voltage of 300 V times the leakage, for all four devices.
      expect(Math.abs(D3 / exact - 1)).toBeLessThan(1e-9 + 4 * 300 * leakage);
    }
  });
});

describe('events', () => {
  test('a tone through a diode is followed, whatever else repeats', () => {
    const c = Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: { shape: 'sine', amplitude: 10, frequency: 1e6 } },
        { kind: 'diode', id: 'D', a: 'in', b: 'out', onResistance: 1e-6 },
        { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 1 },
        { kind: 'switch', id: 'Q', a: 'x', b: '0', onResistance: 1, gate: 'q' }, { kind: 'resistor', id: 'Rx', a: 'x', b: '0', resistance: 1 },
      ],
      modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 5e-6, on: 0, off: 0.5 }],
    });
    // Half waves of a sine: the mean is its crest over π.
    expect(mean(c, v('out'))).toBeCloseTo(10 / Math.PI, 4);
  });

  test('a short pulse of one comparison is not hidden by another that is high at the end', () => {
    // Two damped rings, fast and slow: A is above its level just once and briefly, B rises through its own later.
    const c = Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 1 },
        { kind: 'resistor', id: 'R1', a: 'in', b: 'a0', resistance: 20 }, { kind: 'inductor', id: 'L', a: 'a0', b: 'a', inductance: 1e-6 }, { kind: 'capacitor', id: 'C', a: 'a', b: '0', capacitance: 1e-9, esr: 1e-3 },
        { kind: 'resistor', id: 'R2', a: 'in', b: 'b', resistance: 1000 }, { kind: 'capacitor', id: 'C2', a: 'b', b: '0', capacitance: 1e-9, esr: 1e-3 },
        { kind: 'voltage-source', id: 'high', a: 'h', b: '0', value: 1.3 }, { kind: 'voltage-source', id: 'low', a: 'l', b: '0', value: 0.5 },
        { kind: 'comparator', id: 'A', a: 'ya', b: '0', plus: 'a', minus: 'h' }, { kind: 'comparator', id: 'B', a: 'yb', b: '0', plus: 'b', minus: 'l' },
        { kind: 'resistor', id: 'Ra', a: 'ya', b: '0', resistance: 1 }, { kind: 'resistor', id: 'Rb', a: 'yb', b: '0', resistance: 1 },
      ],
      period: 1e-4,
    });
    const m = machineOf(c);
    const trace = emptyTrace();
    expect(march(m, restState(m), 1e-6, { trace }).ok).toBe(true);
    const of = (id: string): number[] => trace.all.filter((j) => j.owner === id && j.cause >= 0).map((j) => j.t);
    expect(of('A')).toHaveLength(2);
    // ln 2 · RC
    expect(of('B')[0]! / (Math.LN2 * 1e-6)).toBeCloseTo(1, 3);
    expect(of('A')[0]).toBeLessThan(of('B')[0]!);
  });

  test('56 diodes side by side share the current of one source: names of states hold any number of them', () => {
    const diodes = Array.from({ length: 56 }, (_, k) => [{ kind: 'diode', id: `D${k}`, a: 'in', b: `n${k}`, drop: 0.5, onResistance: 0.01 }, { kind: 'resistor', id: `R${k}`, a: `n${k}`, b: '0', resistance: 1000 }]).flat();
    const c = Circuit.parse({ elements: [{ kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 }, ...diodes, { kind: 'switch', id: 'Q', a: 'n0', b: '0', onResistance: 1, gate: 'q' }], modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 1e-5, on: 0, off: 0.5 }] });
    const m = machineOf(c);
    const run = march(m, restState(m), 7e-6);
    if (!run.ok) throw new Error(run.problem.message);
    const p = m.prepare(run.value.segments);
    for (let k = 1; k < 56; k++) expect(v(`n${k}`)(p).reduce((sum, x, j) => sum + x * run.value.z[j]!, 0)).toBeCloseTo((9.5 * 1000) / 1000.01, 9);
  });

  test('what grows without bound is a problem, never a number that is none', () => {
    const m = machineOf(trap('overflow-run'));
    const run = march(m, restState(m), 1e-3);
    expect(run.ok ? '' : [run.problem.code, run.problem.where]).toEqual(['overflow', 'U1']);
  });
});

test('extremes of what rings within a stretch: 20 MHz against its closed form', () => {
  // A series R-L-C met by a step: the first peak is V (1 + e^{−πζ/√(1−ζ²)}), the last turns are long gone.
  const [L, C, R] = [63.3e-9, 1e-9, 1];
  const w0 = 1 / Math.sqrt(L * C);
  const zeta = (R / 2) * Math.sqrt(C / L);
  const c = Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
      { kind: 'switch', id: 'Q1', a: 'in', b: 's', onResistance: 1e-6, gate: 'q' }, { kind: 'switch', id: 'Q2', a: 's', b: '0', onResistance: 1e-6, gate: 'qn' },
      { kind: 'resistor', id: 'R', a: 's', b: 'a', resistance: R }, { kind: 'inductor', id: 'L', a: 'a', b: 'out', inductance: L }, { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: C },
    ],
    modulators: [{ kind: 'pwm', id: 'M', gate: 'q', complement: 'qn', period: 1e-4, control: ['d', '0'] }],
  } as object);
  const timed = Circuit.parse({ ...c, elements: [...c.elements, { kind: 'voltage-source', id: 'd', a: 'd', b: '0', value: 0.5 }] });
  const found = range(cycleIntegrals(cycleOf(machineOf(timed))), v('out'));
  const over = Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta ** 2));
  expect(found.max / (10 * (1 + over))).toBeCloseTo(1, 6);
  expect(found.min / (-10 * over)).toBeCloseTo(1, 6);
  expect(found.maxAt / (Math.PI / (w0 * Math.sqrt(1 - zeta ** 2)))).toBeCloseTo(1, 3);
});

test('a loop is not opened at a source to ground', () => {
  const place = injectionPointAt(trap('step-late'), 'line');
  expect(place.ok ? '' : place.problem.code).toBe('place');
});

test('what a cycle took is counted, and a looser tolerance takes no more of it and is as good as asked', () => {
  const circuit = trap('boost-peak-current-no-cycle');
  const solve = (relative: number) => {
    const m = machineOf(circuit);
    const found = settleCycle(m, { tolerance: { relative, noise: 1e-13, time: 1e-9 } });
    if (!found.ok) throw new Error(found.problem.message);
    return found.value;
  };
  const exact = solve(1e-12);
  let iterations = exact.work.iterations;
  for (const relative of [1e-9, 1e-6, 1e-3]) {
    const found = solve(relative);
    const out = (c: typeof exact): number => measure(cycleIntegrals(c), v('out')).mean;
    expect(Math.abs(out(found) / out(exact) - 1)).toBeLessThan(relative);
    expect(found.work.iterations).toBeLessThanOrEqual(iterations);
    iterations = found.work.iterations;
  }
  expect(exact.work.periods).toBeGreaterThan(exact.iterations / 2);
});

test('what is held loosely says how well it is known: 10 mF on 10 MΩ at 100 kHz', () => {
  const c = Circuit.parse({
    elements: [
      { kind: 'current-source', id: 'I', a: '0', b: 'd', value: 43 },
      { kind: 'capacitor', id: 'C', a: 'd', b: '0', capacitance: 1e-2 },
      { kind: 'resistor', id: 'R', a: 'd', b: '0', resistance: 1e7 },
    ],
    modulators: [{ kind: 'timed', id: 'M', gate: 'g', period: 1e-5, on: 0, off: 0.5 }],
  });
  const cycle = cycleOf(machineOf(c));
  // A period brings it back by T/RC = 1e-10.
  expect(doubt(cycle) / (1e-15 / 1e-10)).toBeCloseTo(1, 3);
  expect(Math.abs(integrals(cycleIntegrals(cycle), v('d')).mean / 43e7 - 1)).toBeLessThan(doubt(cycle));
  const tight = cycleOf(machineOf(trap('two-pwm')));
  expect(doubt(tight)).toBeLessThan(1e-10);
});

test('a clock that comes after currents have begun to die anew is waited for: stretches fill the period', () => {
  const cycle = cycleOf(machineOf(trap('event-while-dying')));
  expect(cycle.intervals.reduce((sum, s) => sum + s.duration, 0) / cycle.period).toBeCloseTo(1, 12);
  // The inductor is slow against the gate: its own path carries what it keeps, and the means lie within the extremes.
  const g = cycleIntegrals(cycle);
  for (const node of ['a', 'b', 'c', 'd']) {
    const m = measure(g, v(node));
    // To rounding: what stands still has one value for all three.
    const rounding = 1e-14 * Math.max(Math.abs(m.min), Math.abs(m.max));
    expect(m.mean).toBeGreaterThanOrEqual(m.min - rounding);
    expect(m.mean).toBeLessThanOrEqual(m.max + rounding);
  }
});

test('where a flux is the only state, what is left of it as a diode opens is held against the drop: no chatter', () => {
  const m = machineOf(trap('flux-at-rest'));
  const cycle = cycleOf(m);
  // Its comparator makes five turns of 2 µs in the period; from each the inductor comes to rest.
  const run = march(m, cycle.state, cycle.state.t + 20 * cycle.period);
  expect(run.ok && Array.from(run.value.z.subarray(0, 1))).toEqual([expect.closeTo(cycle.state.z[0]!, 12)]);
  expect(range(cycleIntegrals(cycle), v('b')).min).toBeCloseTo(-17.454991971 + 0.438418144, 3);
});

test('a modulator that compares two voltages which are both nothing: refused, rounding would decide', () => {
  expect(problemOf(trap('compares-nothing'))).toEqual(['edge', 'M']);
  // What has a hysteresis stays on its side of it.
  const { id, gate, sense, control } = trap('compares-nothing').modulators[0] as Extract<Circuit['modulators'][number], { kind: 'constant-on-time' }>;
  const held: Circuit = { ...trap('compares-nothing'), modulators: [{ kind: 'hysteretic', id, gate, sense, control, width: 1, deadTime: 0 }, trap('compares-nothing').modulators[1]!] };
  expect(problemOf(held)).toEqual([]);
});

test('a current that two nearly equal voltages leave beside an amplifier’s gain: how little is known of it is said', () => {
  const cycle = cycleOf(machineOf(trap('beside-gain')));
  const within = roundingOf(cycle);
  // The mean of a capacitor's current is nothing; what is found of it lies within what is said.
  expect(Math.abs(integrals(cycleIntegrals(cycle), i('E2')).mean)).toBeLessThan(10 * within(i('E2')));
  expect(within(i('E2'))).toBeGreaterThan(1e-7);
  expect(within(v('a'))).toBeLessThan(1e-8);
});

test.each([
  ['pulses of no width beside clocks', 'race-of-clocks', 0],
  ['edges that fall due with the end of the period, and a state that moves within femtoseconds', 'edge-at-the-end', 2],
])('%s: rounding does not decide, and the cycle stays', (_, name, state) => {
  const m = machineOf(trap(name));
  const cycle = cycleOf(m);
  const run = march(m, cycle.state, cycle.state.t + 20 * cycle.period);
  expect(run.ok && run.value.z[state]! / cycle.state.z[state]!).toBeCloseTo(1, 9);
});

test('a constant-power load swept through its tangents within femtoseconds is no chatter, however long the run', () => {
  const m = machineOf(trap('swept-tangents'));
  const cycle = cycleOf(m);
  const run = march(m, cycle.state, cycle.state.t + 20 * cycle.period, { events: 50_000 });
  expect(run.ok && run.value.z[1]! / cycle.state.z[1]!).toBeCloseTo(1, 7);
});

test('gates of one command change together after its delay: a sensed current does not see both switches closed', () => {
  // A peak-current buck whose low side goes off as the high side goes on, 100 ns after the clock.
  const c = Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'in', a: 'in', b: '0', value: 24 },
      { kind: 'switch', id: 'Q1', a: 'in', b: 'sw', onResistance: 0.01, offConductance: 1e-8, gate: 'high' },
      { kind: 'switch', id: 'Q2', a: 'sw', b: '0', onResistance: 0.01, offConductance: 1e-8, gate: 'low' },
      { kind: 'inductor', id: 'L', a: 'sw', b: 'out', inductance: 1e-5 },
      { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 1e-4, esr: 1e-3 },
      { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 2 },
      { kind: 'current-sense', id: 'sense', a: 'peak', b: '0', of: 'Q1', gain: 1 },
      { kind: 'voltage-source', id: 'command', a: 'command', b: '0', value: 4 },
    ],
    modulators: [{ kind: 'current-mode', id: 'M', gate: 'high', complement: 'low', period: 5e-6, sense: ['peak', '0'], control: ['command', '0'], slope: 2e5, maxDuty: 0.9, delay: 1e-7 }],
  });
  const peak = range(cycleIntegrals(cycleOf(machineOf(c))), i('L')).max;
  // The command less the ramp at the end of the pulse, and what the current still rises by within the delay.
  expect(peak).toBeGreaterThan(3.5);
  expect(peak).toBeLessThan(4.2);
});
