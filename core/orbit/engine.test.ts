import fc from 'fast-check';
import { Circuit } from '../circuit/elements';
import { buildMachine, restState } from '../circuit/machine';
import { boost, buck, buckBoost, cycleOf, machineOf, peakBoost, type Converter } from '../testing/circuits';
import { emptyTrace, march } from './march';
import { cycleIntegrals, meanProduct, measure } from './measure';
import { settleCycle } from './settle';
import { multipliers } from './stability';
import type { Pattern } from '../circuit/pattern';

const current = (id: string) => (p: Pattern) => p.current(id);
const output = (p: Pattern) => p.voltage('out');
const BASE: Converter = { line: 24, L: 20e-6, C: 100e-6, R: 6, T: 5e-6, D: 0.4 };

describe('settled cycles with a diode against closed forms (Erickson, Maksimović, ch. 2 and 5)', () => {
  test('continuous conduction: M = D, 1/(1−D), −D/(1−D); ripple V D T / L', () => {
    for (const D of [0.25, 0.5, 0.7]) {
      const c = { ...BASE, D };
      const cases = [
        { circuit: buck(c), M: D, ripple: (24 * (1 - D) * D * 5e-6) / 20e-6 },
        { circuit: boost(c), M: 1 / (1 - D), ripple: (24 * D * 5e-6) / 20e-6 },
        { circuit: buckBoost(c), M: -D / (1 - D), ripple: (24 * D * 5e-6) / 20e-6 },
      ];
      for (const { circuit, M, ripple } of cases) {
        const g = cycleIntegrals(cycleOf(machineOf(circuit)));
        expect(measure(g, output).mean / (24 * M)).toBeCloseTo(1, 3);
        expect(measure(g, current('L')).peakToPeak / ripple).toBeCloseTo(1, 2);
      }
    }
  });

  test('discontinuous conduction: K = 2L/RT decides, and M follows its formula', () => {
    const R = 200;
    const K = (2 * 20e-6) / (R * 5e-6);
    const D = 0.4;
    const c = { ...BASE, R, D };
    const cases = [
      { circuit: buck(c), M: 2 / (1 + Math.sqrt(1 + (4 * K) / D ** 2)) },
      { circuit: boost(c), M: (1 + Math.sqrt(1 + (4 * D ** 2) / K)) / 2 },
      { circuit: buckBoost(c), M: -D / Math.sqrt(K) },
    ];
    for (const { circuit, M } of cases) {
      const cycle = cycleOf(machineOf(circuit));
      const g = cycleIntegrals(cycle);
      expect(measure(g, output).mean / (24 * M)).toBeCloseTo(1, 2);
      expect(cycle.intervals.some((s) => s.pattern.on.size === 0)).toBe(true);
      // No further back than the leakage of the two that block.
      expect(measure(g, current('L')).min).toBeGreaterThan(-1e-4);
    }
  });

  test('a chopper with R-L load: extremes of the current by the exponentials', () => {
    const [V, L, R, T, D] = [110, 10e-3, 4, 1e-3, 0.6];
    const circuit = Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: V },
        { kind: 'switch', id: 'Q', a: 'in', b: 'm', onResistance: 1e-5, gate: 'q' },
        { kind: 'diode', id: 'D', a: '0', b: 'm', onResistance: 1e-5 },
        { kind: 'inductor', id: 'L', a: 'm', b: 'n', inductance: L },
        { kind: 'resistor', id: 'R', a: 'n', b: '0', resistance: R },
      ],
      modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: T, on: 0, off: D }],
    });
    const m = measure(cycleIntegrals(cycleOf(machineOf(circuit))), current('L'));
    const a = (R * T) / L;
    // Mohan, Undeland, Robbins, ch. 7: I_max = V/R (1 − e^{−Da}) / (1 − e^{−a})
    const most = ((V / R) * (1 - Math.exp(-D * a))) / (1 - Math.exp(-a));
    expect(m.max / most).toBeCloseTo(1, 4);
    expect(m.min / (most * Math.exp(-(1 - D) * a))).toBeCloseTo(1, 4);
    expect(m.mean / ((V * D) / R)).toBeCloseTo(1, 4);
  });
});

const converters = fc.record({
  line: fc.double({ min: 10, max: 400, noNaN: true }),
  L: fc.double({ min: 2e-6, max: 5e-4, noNaN: true }),
  C: fc.double({ min: 2e-6, max: 1e-3, noNaN: true }),
  R: fc.double({ min: 1, max: 1000, noNaN: true }),
  T: fc.double({ min: 1e-6, max: 5e-5, noNaN: true }),
  D: fc.double({ min: 0.1, max: 0.8, noNaN: true }),
  drop: fc.double({ min: 0, max: 1, noNaN: true }),
  r: fc.double({ min: 1e-3, max: 5e-2, noNaN: true }),
});
const kinds = fc.constantFrom(buck, boost, buckBoost);

describe('what must hold for any converter, whatever its mode', () => {
  test('it closes, charge and volt-seconds balance, and power in = out + burnt', () => {
    fc.assert(
      fc.property(kinds, converters, (make, c) => {
        const circuit = make(c);
        const cycle = cycleOf(machineOf(circuit));
        expect(cycle.closure).toBeLessThan(1e-7);
        const g = cycleIntegrals(cycle);
        const power = circuit.elements.map((e) => {
          if (!('a' in e) || e.kind === 'voltage-source' || e.kind === 'inductor') return 0;
          if (e.kind === 'capacitor') return measure(g, current(e.id)).rms ** 2 * e.esr;
          return meanProduct(g, (p) => p.voltage(e.a, e.b), current(e.id));
        });
        const input = -c.line * measure(g, current('line')).mean;
        const burnt = power.reduce((a, b) => a + b, 0);
        expect(Math.abs(input - burnt)).toBeLessThan(1e-6 * Math.abs(input) + 1e-9);
        const inductor = circuit.elements.find((e) => e.id === 'L')!;
        if (!('a' in inductor)) throw new Error();
        expect(Math.abs(measure(g, (p) => p.voltage(inductor.a, inductor.b)).mean)).toBeLessThan(1e-6 * c.line);
        expect(Math.abs(measure(g, current('C')).mean)).toBeLessThan(1e-6 * (c.line / c.R + 1e-3));
      }),
      { numRuns: 60 },
    );
  });

  test('all L, C and T scaled together: the same voltages and currents', () => {
    fc.assert(
      fc.property(kinds, converters, fc.double({ min: 0.1, max: 10, noNaN: true }), (make, c, k) => {
        const [a, b] = [c, { ...c, L: c.L * k, C: c.C * k, T: c.T * k }].map((x) => measure(cycleIntegrals(cycleOf(machineOf(make(x)))), output).mean);
        expect(Math.abs(b! / a! - 1)).toBeLessThan(1e-7);
      }),
      { numRuns: 25 },
    );
  });

  test('a run in two parts is the run in one, event for event', () => {
    const m = machineOf(boost({ ...BASE, R: 150 }));
    const whole = march(m, restState(m), 2e-4);
    const first = march(m, restState(m), 0.73e-4);
    if (!whole.ok || !first.ok) throw new Error();
    const second = march(m, first.value, 2e-4);
    if (!second.ok) throw new Error();
    for (let i = 0; i < m.layout.n; i++) expect(second.value.z[i]).toBeCloseTo(whole.value.z[i]!, 9);
    expect(second.value.segments).toEqual(whole.value.segments);
  });

  test('marching to rest ends on the settled cycle: all states to 1e-6', () => {
    for (const circuit of [buck({ ...BASE, r: 0.05 }), boost({ ...BASE, r: 0.05 }), buckBoost({ ...BASE, r: 0.05 }), boost({ ...BASE, R: 100, C: 5e-6, r: 0.05 })]) {
      const m = machineOf(circuit);
      const cycle = cycleOf(m);
      const run = march(m, restState(m), 4000 * m.period);
      if (!run.ok) throw new Error(run.problem.message);
      for (let i = 0; i < m.layout.n; i++) expect(Math.abs(run.value.z[i]! - cycle.state.z[i]!)).toBeLessThan(1e-6 * Math.max(1, Math.abs(cycle.state.z[i]!)));
    }
  });
});

describe('modulators', () => {
  const rl = (modulator: object, extra: object[] = []): Circuit =>
    Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
        { kind: 'switch', id: 'Q', a: 'in', b: 'x', onResistance: 1e-3, gate: 'q' },
        { kind: 'resistor', id: 'R', a: 'x', b: '0', resistance: 10 },
        { kind: 'voltage-source', id: 'control', a: 'c', b: '0', value: 0.3 },
        ...extra,
      ],
      modulators: [{ id: 'M', gate: 'q', ...modulator }],
    });
  const edges = (circuit: Circuit, until: number): { t: number; on: boolean }[] => {
    const m = machineOf(circuit);
    const trace = emptyTrace();
    const run = march(m, restState(m), until, { trace });
    if (!run.ok) throw new Error(run.problem.message);
    return trace.all.filter((j) => j.before.on.has('Q') !== j.after.on.has('Q')).map((j) => ({ t: j.t, on: j.after.on.has('Q') }));
  };
  const times = (list: { t: number }[]): number[] => list.map((e) => Math.round(e.t * 1e12) / 1e6);

  test('trailing, leading and double edge put the pulse where they say (30 % of 10 µs)', () => {
    const pwm = { kind: 'pwm', period: 10e-6, control: ['c', '0'] };
    expect(times(edges(rl(pwm), 20e-6))).toEqual([0, 3, 10, 13]);
    expect(times(edges(rl({ ...pwm, carrier: 'leading' }), 20e-6))).toEqual([7, 10, 17]);
    expect(times(edges(rl({ ...pwm, carrier: 'double' }), 20e-6))).toEqual([0, 1.5, 8.5, 11.5, 18.5]);
    expect(times(edges(rl({ ...pwm, phase: 0.5 }), 20e-6))).toEqual([5, 8, 15, 18]);
    expect(times(edges(rl({ ...pwm, delay: 1e-6 }), 20e-6))).toEqual([1, 4, 11, 14]);
  });

  test('natural sampling meets the control where it is, uniform where it was at the clock', () => {
    const pwm = { kind: 'pwm', period: 10e-6, control: ['m', '0'] };
    const moving = [{ kind: 'voltage-source', id: 'moving', a: 'm', b: '0', value: { shape: 'ramp', from: 0.2, to: 0.7, start: 0, duration: 20e-6 } }];
    // carrier t/T = 0.2 + 0.5 t/2T  ⇒  t = 0.2667 T
    expect(edges(rl(pwm, moving), 10e-6)[1]!.t).toBeCloseTo((0.2 / 0.75) * 10e-6, 12);
    expect(edges(rl({ ...pwm, sampling: 'uniform' }, moving), 20e-6).map((e) => e.t)[1]).toBeCloseTo(2e-6, 12);
    expect(edges(rl({ ...pwm, sampling: 'uniform' }, moving), 20e-6).map((e) => e.t)[3]).toBeCloseTo(10e-6 + 4.5e-6, 12);
  });

  test('a control below the carrier gives no pulse, one above it no gap', () => {
    const at = (value: number) => edges({ ...rl({ kind: 'pwm', period: 1e-6, control: ['c', '0'] }), elements: rl({ kind: 'pwm', period: 1e-6, control: ['c', '0'] }).elements.map((e) => (e.id === 'control' ? { ...e, value } : e)) as Circuit['elements'] }, 5e-6);
    expect(at(-0.1)).toEqual([]);
    expect(at(1.2).map((e) => e.on)).toEqual([true]);
  });

  test('dead time: both off for so long at either change, never both on', () => {
    const circuit = Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
        { kind: 'switch', id: 'Q1', a: 'in', b: 'x', onResistance: 0.1, gate: 'high' },
        { kind: 'switch', id: 'Q2', a: 'x', b: '0', onResistance: 0.1, gate: 'low' },
        { kind: 'resistor', id: 'R', a: 'x', b: '0', resistance: 10 },
        { kind: 'voltage-source', id: 'control', a: 'c', b: '0', value: 0.5 },
      ],
      modulators: [{ kind: 'pwm', id: 'M', gate: 'high', complement: 'low', deadTime: 0.2e-6, period: 10e-6, control: ['c', '0'] }],
    });
    const m = machineOf(circuit);
    const trace = emptyTrace();
    expect(march(m, restState(m), 50e-6, { trace }).ok).toBe(true);
    const both = trace.intervals.filter((s) => s.pattern.on.size === 2);
    const none = trace.intervals.slice(1).filter((s) => s.pattern.on.size === 0);
    expect(both).toEqual([]);
    for (const s of none) expect(s.duration).toBeCloseTo(0.2e-6, 12);
  });

  test('hysteretic and constant on-time keep their bounds', () => {
    const coil = [{ kind: 'inductor', id: 'L', a: 'x', b: 'y', inductance: 1e-4 }, { kind: 'resistor', id: 'RL', a: 'y', b: '0', resistance: 1 }, { kind: 'diode', id: 'D', a: '0', b: 'x', onResistance: 1e-3 }];
    const m = machineOf(rl({ kind: 'hysteretic', sense: ['y', '0'], control: ['c', '0'], width: 0.1 }, coil));
    const warm = march(m, restState(m), 1e-4);
    if (!warm.ok) throw new Error(warm.problem.message);
    const trace = emptyTrace();
    march(m, warm.value, 3e-4, { trace });
    const levels = trace.all.filter((j) => j.before.on.has('Q') !== j.after.on.has('Q')).map((j) => j.z[m.layout.column.get('L')!]!);
    for (const level of levels) expect(Math.abs(Math.abs(level - 0.3) - 0.05)).toBeLessThan(1e-9);
    const cot = edges(rl({ kind: 'constant-on-time', onTime: 2e-6, minOff: 1e-6, sense: ['y', '0'], control: ['c', '0'] }, coil), 2e-4);
    for (let k = 0; k + 1 < cot.length; k += 2) expect(cot[k + 1]!.t - cot[k]!.t).toBeCloseTo(2e-6, 12);
  });
});

describe('peak-current boost and its subharmonic', () => {
  const c: Converter = { line: 24, L: 20e-6, C: 1e-3, R: 10, T: 5e-6, D: 0, r: 1e-3 };

  test('the ramp at which a multiplier passes −1 is that of the sampled-data condition', () => {
    // With the output held, the current alone gives λ = −(m2 − mc)/(m1 + mc) (Erickson, Maksimović, ch. 12).
    const fastest = (slope: number): { lambda: number; ideal: number } => {
      const D = 0.65;
      const m1 = c.line / c.L;
      const near = 0.5 * (c.line / (1 - D) / c.R / (1 - D)); // begin around half of the final current
      let control = near + m1 * D * c.T + slope * D * c.T;
      // Find the control that gives D: a few secant steps on the settled duty.
      let cycle;
      for (let k = 0; k < 30; k++) {
        const m = machineOf(peakBoost(c, control, slope));
        const settled = settleCycle(m, { warmUp: 400 });
        if (!settled.ok) throw new Error(settled.problem.message);
        cycle = settled.value;
        const found = cycle.intervals.filter((s) => s.pattern.on.has('Q')).reduce((sum, s) => sum + s.duration, 0) / c.T;
        if (Math.abs(found - D) < 1e-4) break;
        control *= 1 + 1.2 * (D - found);
      }
      const out = measure(cycleIntegrals(cycle!), (p) => p.voltage('out')).mean;
      const m2 = (out - c.line) / c.L;
      const lambda = multipliers(cycle!).reduce((a, x) => (x.re < a ? x.re : a), 1);
      return { lambda, ideal: -(m2 - slope) / (m1 + slope) };
    };
    const slopes = [0.6, 0.8, 1.0].map((k) => (k * c.line) / c.L);
    for (const slope of slopes) {
      const { lambda, ideal } = fastest(slope);
      expect(Math.abs(lambda - ideal)).toBeLessThan(0.01);
    }
  });

  test('one percent more ramp than that condition wants is stable, one percent less is not', () => {
    // A stiff output (10 mF) and next to no resistance: what the condition assumes.
    const stiff = { ...c, C: 1e-2, R: 5, r: 1e-4 };
    const D = 0.65;
    const [m1, m2] = [c.line / c.L, ((c.line * D) / (1 - D)) / c.L];
    const critical = (m2 - m1) / 2;
    const smallest = (slope: number): number => {
      // Peak of the inductor current at that duty, with the ramp's height at the peak on top.
      const mean = c.line / (1 - D) ** 2 / stiff.R;
      let control = mean + (m1 * D * c.T) / 2 + slope * D * c.T;
      let lambda = NaN;
      for (let k = 0; k < 40; k++) {
        const m = machineOf(peakBoost(stiff, control, slope));
        const near = restState(m);
        near.z[m.layout.column.get('L')!] = mean - (m1 * D * c.T) / 2;
        near.z[m.layout.column.get('C')!] = c.line / (1 - D);
        const cycle = cycleOf(m, { near });
        lambda = Math.min(...multipliers(cycle).map((x) => x.re));
        const duty = cycle.intervals.filter((s) => s.pattern.on.has('Q')).reduce((sum, s) => sum + s.duration, 0) / c.T;
        if (Math.abs(duty - D) < 1e-5) break;
        control *= 1 + 0.8 * (D - duty);
      }
      return lambda;
    };
    expect(smallest(1.01 * critical)).toBeGreaterThan(-1);
    expect(smallest(0.99 * critical)).toBeLessThan(-1);
  });

  test('beyond it the cycle of one period is still there, alternates, and is left by what is marched from beside it', () => {
    const m = machineOf(peakBoost({ ...c, C: 1e-4 }, 18, 0));
    const cycle = cycleOf(m, { warmUp: 50 });
    const worst = multipliers(cycle)[0]!;
    expect(worst.re).toBeLessThan(-1);
    const near = { ...cycle.state, z: cycle.state.z.slice() };
    const L = m.layout.column.get('L')!;
    near.z[L]! += 1e-6;
    const away = (periods: number): number => {
      const run = march(m, near, near.t + periods * m.period);
      if (!run.ok) throw new Error(run.problem.message);
      return run.value.z[L]! - cycle.state.z[L]!;
    };
    // Each period turns it over and makes it larger by the multiplier.
    expect(away(4) / away(3) / worst.re).toBeCloseTo(1, 2);
  });
});

describe('bad circuits in bounded time', () => {
  const problem = (elements: object[], modulators: object[] = []): { code: string; where: string } => {
    const built = buildMachine(Circuit.parse({ elements, modulators }));
    if (built.ok) throw new Error('it was taken');
    return built.problem;
  };
  const V = { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 };
  test.each([
    ['floating node', [V, { kind: 'resistor', id: 'R', a: 'p', b: 'q', resistance: 1 }], 'floating', 'p'],
    ['source loop', [V, { kind: 'capacitor', id: 'C', a: 'in', b: '0', capacitance: 1e-6 }], 'source-loop', 'C'],
    ['coupling with too much energy', [V, ...['A', 'B', 'C'].map((id) => ({ kind: 'inductor', id, a: 'in', b: '0', inductance: 1e-6 })), { kind: 'coupling', id: 'K1', inductors: ['A', 'B'], k: 0.95 }, { kind: 'coupling', id: 'K2', inductors: ['B', 'C'], k: 0.95 }, { kind: 'coupling', id: 'K3', inductors: ['A', 'C'], k: -0.95 }], 'coupling', 'C'],
    ['gate with no driver', [V, { kind: 'switch', id: 'Q', a: 'in', b: '0', onResistance: 1, gate: 'nobody' }], 'gate', 'Q'],
    ['name twice', [V, V], 'name', 'V'],
    ['both ends on one node', [V, { kind: 'resistor', id: 'R', a: 'in', b: 'in', resistance: 1 }], 'short', 'R'],
  ])('%s', (_, elements, code, where) => expect(problem(elements)).toMatchObject({ code, where }));

  test('a comparator that chases itself is called chatter, by its name', () => {
    // Turning the switch on takes the sensed voltage away at once.
    const circuit = Circuit.parse({
      elements: [
        V,
        { kind: 'resistor', id: 'R', a: 'in', b: 'x', resistance: 100 },
        { kind: 'switch', id: 'Q', a: 'x', b: '0', onResistance: 1, gate: 'q' },
        { kind: 'voltage-source', id: 'control', a: 'c', b: '0', value: -5 },
        { kind: 'controlled-voltage', id: 'E', a: 'e', b: '0', plus: '0', minus: 'x', gain: 1 },
      ],
      modulators: [{ kind: 'hysteretic', id: 'H', gate: 'q', sense: ['e', '0'], control: ['c', '0'], width: 1e-3 }],
    });
    const m = machineOf(circuit);
    const run = march(m, restState(m), 1e-3);
    expect(run.ok ? '' : [run.problem.code, run.problem.where]).toEqual(['chatter', 'H']);
  });

  test('random networks: a run or a problem with a remedy, never what is not a number', () => {
    const node = fc.constantFrom('0', 'a', 'b', 'c');
    const element = fc.oneof(
      fc.record({ kind: fc.constant('resistor'), a: node, b: node, resistance: fc.double({ min: 1e-3, max: 1e6, noNaN: true }) }),
      fc.record({ kind: fc.constant('inductor'), a: node, b: node, inductance: fc.double({ min: 1e-8, max: 1, noNaN: true }) }),
      fc.record({ kind: fc.constant('capacitor'), a: node, b: node, capacitance: fc.double({ min: 1e-11, max: 1e-2, noNaN: true }), esr: fc.double({ min: 0, max: 1, noNaN: true }) }),
      fc.record({ kind: fc.constant('diode'), a: node, b: node, drop: fc.double({ min: 0, max: 1, noNaN: true }), onResistance: fc.double({ min: 1e-3, max: 1, noNaN: true }) }),
      fc.record({ kind: fc.constant('switch'), a: node, b: node, onResistance: fc.double({ min: 1e-3, max: 1, noNaN: true }), gate: fc.constant('q') }),
      fc.record({ kind: fc.constant('voltage-source'), a: node, b: node, value: fc.double({ min: -400, max: 400, noNaN: true }) }),
      fc.record({ kind: fc.constant('current-source'), a: node, b: node, value: fc.double({ min: -20, max: 20, noNaN: true }) }),
      fc.record({ kind: fc.constant('current-load'), a: node, b: node, current: fc.double({ min: 0.01, max: 20, noNaN: true }), lowest: fc.double({ min: 0.1, max: 20, noNaN: true }) }),
      fc.record({ kind: fc.constant('power-load'), a: node, b: node, power: fc.double({ min: 0.01, max: 500, noNaN: true }), lowest: fc.double({ min: 0.1, max: 20, noNaN: true }) }),
      fc.record({ kind: fc.constant('string-load'), a: node, b: node, threshold: fc.double({ min: 0, max: 50, noNaN: true }), slope: fc.double({ min: 1e-3, max: 10, noNaN: true }) }),
      fc.record({ kind: fc.constant('inductor'), a: node, b: node, inductance: fc.double({ min: 1e-6, max: 1, noNaN: true }), saturation: fc.constant([{ current: 1, inductance: 1e-7 }]) }),
      fc.record({ kind: fc.constant('comparator'), a: node, b: node, plus: node, minus: node, low: fc.constant(0), high: fc.double({ min: 1, max: 20, noNaN: true }), hysteresis: fc.double({ min: 0, max: 1, noNaN: true }), delay: fc.constantFrom(0, 1e-6) }),
      fc.record({ kind: fc.constant('sampled-control'), inputs: fc.record({ x: fc.tuple(node, node) }), memory: fc.constant({ m: 0 }), steps: fc.constantFrom(['m = clamp(m + x, -10, 10)', 'y = m'], ['y = x / m'], ['y = x * x']), outputs: fc.record({ y: fc.record({ a: node, b: node }) }), period: fc.constant(2e-5) }),
    );
    let ran = 0;
    fc.assert(
      fc.property(fc.array(element, { minLength: 2, maxLength: 9 }), (list) => {
        const circuit = Circuit.parse({
          // Nothing floats, so that most of them are circuits.
          elements: [...list.filter((e) => !('a' in e) || e.a !== e.b).map((e, i) => ({ ...e, id: `E${i}` })), ...['a', 'b', 'c'].map((at) => ({ kind: 'resistor', id: `R${at}`, a: at, b: '0', resistance: 1e4 }))],
          modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 1e-5, on: 0, off: 0.4 }],
        });
        const built = buildMachine(circuit);
        if (!built.ok) return expect(built.problem.remedy).not.toBe('');
        const run = march(built.value, restState(built.value), 1e-4, { events: 5000 });
        if (!run.ok) return expect(run.problem.remedy).not.toBe('');
        ran++;
        expect(run.value.z.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 600 },
    );
    expect(ran).toBeGreaterThan(200);
  });
});
