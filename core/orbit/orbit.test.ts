import fc from 'fast-check';
import { Circuit } from '../circuit/elements';
import { buildMachine } from '../circuit/machine';
import type { Pattern } from '../circuit/pattern';
import { apply } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import { advance, buildStepTable } from '../linear/stepTable';
import { ends, cycleIntegrals, meanProduct, measure, type CycleIntegrals } from './measure';
import { sample } from './sample';
import { settleCycle, type SettledCycle } from './settle';

/** A nearly ideal synchronous buck: small resistances, so that closed forms hold to a known accuracy. */
interface Buck {
  line: number;
  out: number;
  load: number;
  L: number;
  C: number;
  f: number;
  r: number;
}
const NOMINAL: Buck = { line: 48, out: 24, load: 8, L: 27e-6, C: 70e-6, f: 220e3, r: 1e-6 };

function circuitOf(b: Buck): Circuit {
  return Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'line', a: 'line', b: '0', value: b.line },
      { kind: 'switch', id: 'Q1', a: 'line', b: 'sw', onResistance: b.r, offConductance: 1e-9, gate: 'high' },
      { kind: 'switch', id: 'Q2', a: 'sw', b: '0', onResistance: b.r, offConductance: 1e-9, gate: 'low' },
      { kind: 'inductor', id: 'L', a: 'sw', b: 'out', inductance: b.L },
      { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: b.C, esr: b.r },
      { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: b.out / b.load },
      { kind: 'voltage-source', id: 'duty', a: 'duty', b: '0', value: 0.5 },
    ],
    modulators: [{ kind: 'pwm', id: 'M', gate: 'high', complement: 'low', period: 1 / b.f, control: ['duty', '0'] }],
  });
}

function trySolve(b: Buck, target = b.out) {
  const machine = buildMachine(circuitOf(b));
  if (!machine.ok) throw new Error(machine.problem.message);
  return settleCycle(machine.value, { regulate: { quantity: (p) => p.voltage('out'), target, source: 'duty', min: 0.01, max: 0.95, guess: 0.5 } });
}

function solve(b: Buck): { cycle: SettledCycle; duty: number; g: CycleIntegrals } {
  const settled = trySolve(b);
  if (!settled.ok) throw new Error(settled.problem.message);
  return { cycle: settled.value, duty: settled.value.setting!, g: cycleIntegrals(settled.value) };
}

const current = (id: string) => (p: Pattern) => p.current(id);
const output = (p: Pattern) => p.voltage('out');

describe('settled cycle of a buck against closed forms (Erickson, Maksimović, ch. 2)', () => {
  const { duty, g } = solve(NOMINAL);
  const D = NOMINAL.out / NOMINAL.line;
  const ripple = (NOMINAL.out * (1 - D)) / (NOMINAL.f * NOMINAL.L);

  test('duty is Vout / Vline', () => expect(duty / D).toBeCloseTo(1, 5));

  test('inductor ripple, mean and rms', () => {
    const m = measure(g, current('L'));
    expect(m.mean).toBeCloseTo(NOMINAL.load, 6);
    // The closed form takes the output as constant; its ripple bends the current by about 1e-4 here.
    expect(m.peakToPeak / ripple).toBeCloseTo(1, 3);
    expect(m.rms / Math.sqrt(NOMINAL.load ** 2 + ripple ** 2 / 12)).toBeCloseTo(1, 5);
  });

  test('output ripple is ΔI / 8 f C', () => expect(measure(g, output).peakToPeak / (ripple / (8 * NOMINAL.f * NOMINAL.C))).toBeCloseTo(1, 2));

  test('switch currents: rms √D and √(1−D) of the trapezoid', () => {
    const trapezoid = Math.sqrt(NOMINAL.load ** 2 + ripple ** 2 / 12);
    expect(measure(g, current('Q1')).rms / (trapezoid * Math.sqrt(D))).toBeCloseTo(1, 4);
    expect(measure(g, current('Q2')).rms / (trapezoid * Math.sqrt(1 - D))).toBeCloseTo(1, 4);
  });

  test('the capacitor carries a triangle: rms ΔI / √12, and no mean', () => {
    const m = measure(g, current('C'));
    expect(m.rms / (ripple / Math.sqrt(12))).toBeCloseTo(1, 3);
    expect(Math.abs(m.mean)).toBeLessThan(1e-9);
  });

  test('edges: current through a switch just before and after', () => {
    const i = measure(g, current('L'));
    expect(ends(g, 0, current('Q1')).end).toBeCloseTo(i.max, 5);
    expect(ends(g, 1, current('Q2')).end).toBeCloseTo(-i.min, 5);
  });
});

describe('what must hold on any settled cycle', () => {
  const bucks = fc.record({
    line: fc.double({ min: 20, max: 80, noNaN: true }),
    share: fc.double({ min: 0.1, max: 0.85, noNaN: true }),
    load: fc.double({ min: 0.1, max: 20, noNaN: true }),
    L: fc.double({ min: 2e-6, max: 2e-4, noNaN: true }),
    C: fc.double({ min: 5e-6, max: 1e-3, noNaN: true }),
    f: fc.double({ min: 5e4, max: 1e6, noNaN: true }),
    r: fc.double({ min: 1e-4, max: 2e-2, noNaN: true }),
  });
  const from = ({ line, share, ...rest }: { line: number; share: number; load: number; L: number; C: number; f: number; r: number }): Buck => ({ line, out: line * share, ...rest });

  test('it closes, its output is regulated, and power in = power out + i²R, each by its own integral', () => {
    fc.assert(
      fc.property(bucks, (raw) => {
        const b = from(raw);
        const { cycle, g } = solve(b);
        expect(cycle.closure).toBeLessThan(1e-9);
        expect(Math.abs(measure(g, output).mean / b.out - 1)).toBeLessThan(1e-9);
        const input = b.line * -measure(g, current('line')).mean;
        const load = measure(g, output).rms ** 2 / (b.out / b.load);
        const burnt = ['Q1', 'Q2'].reduce((sum, q) => {
          const scaled = (p: Pattern): Float64Array => p.current(q).map((v) => v * Math.sqrt(p.on.has(q) ? b.r : 1e9));
          return sum + measure(g, scaled).rms ** 2;
        }, measure(g, current('C')).rms ** 2 * b.r);
        expect(Math.abs(input - load - burnt) / input).toBeLessThan(1e-6);
      }),
      { numRuns: 60 },
    );
  });

  test('no inductor keeps a mean voltage, no capacitor a mean current', () => {
    fc.assert(
      fc.property(bucks, (raw) => {
        const b = from(raw);
        const { g } = solve(b);
        expect(Math.abs(measure(g, (p) => p.voltage('sw', 'out')).mean)).toBeLessThan(1e-8 * b.line);
        expect(Math.abs(measure(g, current('C')).mean)).toBeLessThan(1e-8 * (b.load + 1));
      }),
      { numRuns: 40 },
    );
  });

  test('all L, C and the period scaled together: the same cycle', () => {
    fc.assert(
      fc.property(bucks, fc.double({ min: 0.05, max: 20, noNaN: true }), (raw, k) => {
        const b = from(raw);
        const one = solve(b);
        const other = solve({ ...b, L: b.L * k, C: b.C * k, f: b.f / k });
        expect(Math.abs(other.duty / one.duty - 1)).toBeLessThan(1e-9);
        const [p, q] = [one, other].map(({ g }) => measure(g, current('L')));
        for (const key of ['mean', 'rms', 'max', 'peakToPeak'] as const) expect(Math.abs(q![key] - p![key])).toBeLessThan(1e-7 * p!.max);
      }),
      { numRuns: 40 },
    );
  });

  test('marching from rest ends on it (2000 periods, all states to 1e-6)', () => {
    const b = { ...NOMINAL, r: 0.02 };
    const { cycle } = solve(b);
    let z: Float64Array = new Float64Array(cycle.intervals[0]!.z0.length);
    z.set(cycle.intervals[0]!.z0.subarray(cycle.states), cycle.states);
    const steps = cycle.intervals.map((s) => exponentialStep(s.pattern.F, s.duration, s.pattern.size).phi);
    for (let k = 0; k < 2000; k++)
      for (const phi of steps) {
        const next = new Float64Array(z.length);
        apply(phi, z, next, z.length);
        z = next;
      }
    for (let i = 0; i < cycle.states; i++) expect(Math.abs(z[i]! / cycle.intervals[0]!.z0[i]! - 1)).toBeLessThan(1e-6);
  });
});

describe('tools of the orbit', () => {
  test('the step table goes to any time like one exponential', () => {
    const { cycle } = solve(NOMINAL);
    const { F, size } = cycle.intervals[0]!.pattern;
    const stepTable = buildStepTable(F, 1e-6, size);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 2e-6, noNaN: true }), (t) => {
        const z = advance(stepTable, cycle.intervals[0]!.z0, t);
        const direct = new Float64Array(size);
        apply(exponentialStep(F, t, size).phi, cycle.intervals[0]!.z0, direct, size);
        for (let i = 0; i < size; i++) expect(Math.abs(z[i]! - direct[i]!)).toBeLessThan(1e-11 * (1 + Math.abs(direct[i]!)));
      }),
    );
  });

  test('the mean of a product is the power', () => {
    const { g } = solve({ ...NOMINAL, r: 0.01 });
    const power = meanProduct(g, output, current('load'));
    expect(power / (measure(g, output).rms ** 2 / 3)).toBeCloseTo(1, 9);
  });

  test('drawing points lie on the cycle whatever their number', () => {
    const { cycle, g } = solve(NOMINAL);
    const m = measure(g, current('L'));
    for (const points of [20, 500]) {
      const { time, values } = sample(cycle, [current('L')], points);
      expect(time.at(-1)).toBeCloseTo(cycle.period, 15);
      expect(Math.max(...values[0]!)).toBeLessThanOrEqual(m.max + 1e-9);
      expect(values[0]![0]).toBeCloseTo(values[0]!.at(-1)!, 8);
    }
  });

  test('an output that no duty reaches is told as a limit', () => {
    const settled = trySolve(NOMINAL, 60);
    expect(settled.ok ? '' : settled.problem.code).toBe('limit');
  });
});

test('a valley current of just zero is a cycle like any other', () => {
  // D = ½ and ripple twice the load: the smallest current is nothing, and so is what it is relative to.
  const b: Buck = { line: 48, out: 24, load: 0.4, L: 68.18181818e-6, C: 70e-6, f: 220e3, r: 0.01 };
  const { cycle, g } = solve(b);
  expect(Math.abs(cycle.intervals[0]!.z0[0]!)).toBeLessThan(2e-3);
  expect(measure(g, current('L')).mean).toBeCloseTo(0.4, 9);
});
