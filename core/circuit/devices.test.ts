import fc from 'fast-check';
import { devicesOf, fluxPieceOf, pieceOf } from './devices';
import { Circuit, Element, type ElementOf } from './elements';
import { readProgram, runProgram, type Dual } from './program';
import { restState, type Machine, type State } from './machine';
import { march } from '../orbit/march';
import { machineOf, cycleOf } from '../testing/circuits';
import { cycleIntegrals, measure } from '../orbit/measure';
import { multipliers } from '../orbit/stability';

const value = (s: State, row: Float64Array): number => row.reduce((sum, v, i) => sum + v * s.z[i]!, 0);
const runTo = (m: Machine, t: number, from = restState(m)): State => {
  const run = march(m, from, t);
  if (!run.ok) throw new Error(`${run.problem.where}: ${run.problem.message}`);
  return run.value;
};
const probe = (m: Machine, s: State, node: string): number => value(s, m.prepare(s.segments).voltage(node));
const current = (m: Machine, s: State, id: string): number => value(s, m.prepare(s.segments).current(id));

describe('bent characteristics', () => {
  test('a constant-power load: its slope to the accuracy stated, its value to the square of that, anywhere in its range', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 500, noNaN: true }), fc.double({ min: 2, max: 50, noNaN: true }), fc.double({ min: 0.001, max: 0.2, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (power, lowest, accuracy, share) => {
        const e = Element.parse({ kind: 'power-load', id: 'P', a: 'a', b: '0', power, lowest, accuracy }) as ElementOf<'power-load'>;
        const [device] = devicesOf(Circuit.parse({ elements: [e] }));
        const { bounds } = device!;
        expect(bounds.every((v, k) => k === 0 || v > bounds[k - 1]!)).toBe(true);
        const v = Math.min(bounds.at(-1)!, Math.max(bounds[0]!, lowest * 10 ** share));
        const piece = pieceOf(e, bounds.filter((b) => b < v).length || 1)!;
        expect(Math.abs(piece.conductance / (-power / v ** 2) - 1)).toBeLessThan(accuracy * 1.2);
        expect(Math.abs(((piece.conductance * v + piece.offset) * v) / power - 1)).toBeLessThan(accuracy ** 2);
        // It does not jump anywhere.
        const jumps = bounds.map((b, k) => {
          const [low, high] = [pieceOf(e, k)!, pieceOf(e, k + 1)!];
          return Math.abs((low.conductance * b + low.offset) / (high.conductance * b + high.offset) - 1);
        });
        expect(Math.max(...jumps)).toBeLessThan(1e-9);
      }),
    );
  });

  test('a filter before a constant-power load rings up just where R equals L / (C |r|), |r| = V²/P', () => {
    // Source resistance damps while R C > L / |r|: at 102 % of the power that takes it is unstable, at 98 % not.
    const [V, R, L, C] = [24, 0.05, 10e-6, 40e-6];
    const growth = (share: number): number => {
      // The output stands at V − R P / v.
      const damped = (P: number): number => (V + Math.sqrt(V * V - 4 * R * P)) / 2;
      let P = (R * C * V * V) / L;
      for (let k = 0; k < 50; k++) P = (R * C * damped(P) ** 2) / L;
      const m = machineOf(
        Circuit.parse({
          elements: [
            { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: V }, { kind: 'resistor', id: 'R', a: 'in', b: 'a', resistance: R }, { kind: 'inductor', id: 'L', a: 'a', b: 'out', inductance: L },
            { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: C }, { kind: 'power-load', id: 'P', a: 'out', b: '0', power: P * share, lowest: 10 },
          ],
          period: 1e-6,
        }),
      );
      const near = restState(m);
      near.z[m.layout.column.get('C')!] = damped(P * share);
      near.z[m.layout.column.get('L')!] = (P * share) / damped(P * share);
      return multipliers(cycleOf(m, { near }))[0]!.size;
    };
    expect(growth(0.98)).toBeLessThan(1);
    expect(growth(1.02)).toBeGreaterThan(1);
  });

  test('in a circuit: constant current, constant power and a string of diodes draw what they say', () => {
    const load = (e: object): Machine =>
      machineOf(
        Circuit.parse({
          elements: [
            { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: { shape: 'ramp', from: 0, to: 20, start: 0, duration: 1e-3 } },
            { kind: 'resistor', id: 'R', a: 'in', b: 'x', resistance: 0.1 },
            { kind: 'capacitor', id: 'C', a: 'x', b: '0', capacitance: 1e-8, esr: 0.01 },
            { id: 'X', a: 'x', b: '0', ...e },
          ],
        }),
      );
    const constant = load({ kind: 'current-load', current: 2, lowest: 5 });
    expect(current(constant, runTo(constant, 0.1e-3), 'X') / ((2 / 5) * probe(constant, runTo(constant, 0.1e-3), 'x'))).toBeCloseTo(1, 9);
    expect(current(constant, runTo(constant, 0.8e-3), 'X')).toBeCloseTo(2, 9);
    const power = load({ kind: 'power-load', power: 30, lowest: 5, accuracy: 0.005 });
    for (const t of [0.35e-3, 0.6e-3, 0.9e-3]) {
      const s = runTo(power, t);
      expect(Math.abs((current(power, s, 'X') * probe(power, s, 'x')) / 30 - 1)).toBeLessThan(0.005);
    }
    const string = load({ kind: 'string-load', threshold: 9, slope: 1.5 });
    const s = runTo(string, 0.9e-3);
    expect(current(string, s, 'X')).toBeCloseTo((probe(string, s, 'x') - 9) / 1.5, 6);
    expect(Math.abs(current(string, runTo(string, 0.2e-3), 'X'))).toBeLessThan(1e-5);
  });

  test('a saturating inductor: flux continuous, current by the segment it is in, both ways', () => {
    const e = Element.parse({ kind: 'inductor', id: 'L', a: 'x', b: '0', inductance: 1e-3, saturation: [{ current: 1, inductance: 2e-4 }, { current: 3, inductance: 5e-5 }] }) as ElementOf<'inductor'>;
    // At 3 A the flux is 1 mH·1 A + 0.2 mH·2 A on both segments that meet there.
    for (const k of [3, 4]) {
      const { inductance, offset } = fluxPieceOf(e, k);
      expect(1.4e-3 / inductance + offset).toBeCloseTo(3, 12);
    }
    for (const sign of [1, -1]) {
      const m = machineOf(Circuit.parse({ elements: [{ kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: sign * 10 }, { kind: 'resistor', id: 'R', a: 'in', b: 'x', resistance: 1e-9 }, e] }));
      // Volt-seconds are flux: 1 mVs after 100 µs, 1.4 mVs after 140 µs, then 50 µH.
      expect(current(m, runTo(m, 100e-6), 'L')).toBeCloseTo(sign, 6);
      expect(current(m, runTo(m, 140e-6), 'L')).toBeCloseTo(3 * sign, 6);
      expect(current(m, runTo(m, 150e-6), 'L')).toBeCloseTo(sign * (3 + 1e-4 / 5e-5), 5);
    }
  });

  test('a buck whose inductor saturates at its peak: more ripple, the same mean output', () => {
    const buck = (saturation?: object[]): ReturnType<typeof measure>[] => {
      const m = machineOf(
        Circuit.parse({
          elements: [
            { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 24 },
            { kind: 'switch', id: 'Q', a: 'in', b: 'sw', onResistance: 1e-3, gate: 'q' },
            { kind: 'diode', id: 'D', a: '0', b: 'sw', onResistance: 1e-3 },
            { kind: 'inductor', id: 'L', a: 'sw', b: 'out', inductance: 20e-6, ...(saturation ? { saturation } : {}) },
            { kind: 'capacitor', id: 'C', a: 'out', b: '0', capacitance: 1e-4, esr: 1e-3 },
            { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 2 },
          ],
          modulators: [{ kind: 'timed', id: 'M', gate: 'q', period: 5e-6, on: 0, off: 0.5 }],
        }),
      );
      const g = cycleIntegrals(cycleOf(m));
      return [measure(g, (p) => p.current('L')), measure(g, (p) => p.voltage('out'))];
    };
    const [plain, soft] = [buck(), buck([{ current: 6, inductance: 5e-6 }])];
    expect(soft[0]!.peakToPeak).toBeGreaterThan(1.5 * plain[0]!.peakToPeak);
    expect(soft[1]!.mean / plain[1]!.mean).toBeCloseTo(1, 3);
  });
});

describe('comparators, enable and phase shift', () => {
  test('a relaxation oscillator: its period by the exponentials', () => {
    // R-C charged by the comparator's own output between thresholds ±h/2 about half the levels.
    const [R, C, h] = [1e4, 1e-8, 2];
    const m = machineOf(
      Circuit.parse({
        elements: [
          { kind: 'comparator', id: 'U', a: 'o', b: '0', plus: 'mid', minus: 'c', low: 0, high: 10, hysteresis: h },
          { kind: 'resistor', id: 'R', a: 'o', b: 'c', resistance: R },
          { kind: 'capacitor', id: 'C', a: 'c', b: '0', capacitance: C },
          { kind: 'voltage-source', id: 'V', a: 'mid', b: '0', value: 5 },
        ],
      }),
    );
    const edges: number[] = [];
    let high: boolean | undefined;
    const run = march(m, restState(m), 5e-3, {
      each(s) {
        const now = s.pattern.on.has('U');
        if (high === false && now) edges.push(s.start);
        high = now;
      },
    });
    expect(run.ok).toBe(true);
    const period = 2 * R * C * Math.log((5 + h / 2) / (5 - h / 2));
    expect((edges.at(-1)! - edges[2]!) / (edges.length - 3) / period).toBeCloseTo(1, 6);
  });

  test('disabled gates stay off, and come back where the modulator has got to', () => {
    const m = machineOf(
      Circuit.parse({
        elements: [
          { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
          { kind: 'switch', id: 'Q', a: 'in', b: 'x', onResistance: 0.01, gate: 'q' },
          { kind: 'resistor', id: 'R', a: 'x', b: '0', resistance: 10 },
          { kind: 'voltage-source', id: 'E', a: 'en', b: '0', value: { shape: 'pulse', low: 0, high: 1, delay: 12e-6, width: 22e-6, period: 1 } },
        ],
        modulators: [{ kind: 'timed', id: 'M', gate: 'q', enable: ['en', '0'], period: 10e-6, on: 0, off: 0.5 }],
      }),
    );
    const at = (t: number): boolean => m.prepare(runTo(m, t).segments).on.has('Q');
    expect([2, 11, 13, 17, 21, 31, 33.9, 34.1, 41].map((t) => at(t * 1e-6))).toEqual([false, false, true, false, true, true, true, false, false]);
  });

  test('phase shift: the two legs overlap for the share asked for', () => {
    const overlap = (share: number): number => {
      const m = machineOf(
        Circuit.parse({
          elements: [
            { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 },
            ...['a', 'b'].flatMap((leg) => [
              { kind: 'switch', id: `${leg}1`, a: 'in', b: leg, onResistance: 0.01, gate: `${leg} high` },
              { kind: 'switch', id: `${leg}2`, a: leg, b: '0', onResistance: 0.01, gate: `${leg} low` },
            ]),
            { kind: 'resistor', id: 'R', a: 'a', b: 'b', resistance: 10 },
            { kind: 'voltage-source', id: 'S', a: 's', b: '0', value: share },
          ],
          modulators: [{ kind: 'phase-shift', id: 'M', gates: ['a high', 'a low', 'b high', 'b low'], period: 10e-6, control: ['s', '0'] }],
        }),
      );
      const g = cycleIntegrals(cycleOf(m, { warmUp: 2 }));
      expect(Math.abs(measure(g, (p) => p.voltage('a', 'b')).mean)).toBeLessThan(1e-9);
      return (measure(g, (p) => p.voltage('a', 'b')).rms / 10) ** 2;
    };
    for (const share of [0.2, 0.5, 0.9]) expect(overlap(share)).toBeCloseTo(share, 2);
  });
});

describe('sampled control that computes', () => {
  const control = (steps: string[], more: object = {}): Circuit =>
    Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 3 },
        { kind: 'sampled-control', id: 'K', inputs: { x: ['in', '0'] }, memory: { m: 1 }, steps, outputs: { y: { a: 'y', b: '0' } }, period: 1e-3, ...more },
        { kind: 'resistor', id: 'R', a: 'y', b: '0', resistance: 1 },
      ],
    });
  const after = (steps: string[], samples: number): number => {
    const m = machineOf(control(steps));
    return probe(m, runTo(m, (samples - 0.5) * 1e-3), 'y');
  };

  test('steps in order, memory from sample to sample, clamps, products, resets', () => {
    expect(after(['m = m * 2', 'y = m + x'], 1)).toBe(5);
    expect(after(['m = m * 2', 'y = m + x'], 3)).toBe(11);
    expect(after(['m = clamp(m + x, 0, 5)', 'y = m * x'], 4)).toBe(15);
    expect(after(['m = m > 6 ? 0 : m + x', 'y = m'], 3)).toBe(0);
    expect(after(['y = sqrt(x + 1) + min(x, 2) - max(-x, abs(-7)) / 7'], 1)).toBe(3);
  });

  test.each([
    ['a name with no value', ['y = x + q'], 'step', 'K.steps.0'],
    ['an unknown function', ['y = sine(x)'], 'step', 'K.steps.0'],
    ['no assignment', ['x + 1', 'y = 1'], 'step', 'K.steps.0'],
    ['an output that nothing gives', ['z = 1'], 'step', 'K.outputs'],
    ['what is no arithmetic', ['y = x.constructor'], 'step', 'K.steps.0'],
    ['a bracket left open', ['y = (x + 1'], 'step', 'K.steps.0'],
  ])('refused: %s', (_, steps, code, where) => {
    expect(() => machineOf(control(steps as string[]))).toThrow(where as string);
    expect(code).toBe('step');
  });

  test('the gradient of every result is the slope between neighbouring values, whatever the steps', () => {
    const e = Element.parse({ kind: 'sampled-control', id: 'K', inputs: { a: ['p', '0'], b: ['q', '0'] }, steps: ['s = a * b + clamp(a - b, -2, 2)', 'y = (s > 0 ? sqrt(abs(s) + 1) : -s / (b * b + 1)) + max(a, min(b, 3))'], outputs: { y: { a: 'y', b: '0' } }, period: 1 }) as ElementOf<'sampled-control'>;
    const read = readProgram(e);
    if (!read.ok) throw new Error(read.problem.message);
    const y = (a: number, b: number): Dual => {
      const values = new Map<string, Dual>([['a', { value: a, gradient: Float64Array.of(1, 0) }], ['b', { value: b, gradient: Float64Array.of(0, 1) }]]);
      const done = runProgram('K', read.value, values);
      if (!done.ok) throw new Error(done.problem.message);
      return values.get('y')!;
    };
    const size = fc.double({ min: -5, max: 5, noNaN: true });
    fc.assert(
      fc.property(size, size, (a, b) => {
        const h = 1e-6;
        // Away from the bends, where a slope has two values.
        const s = a * b + Math.min(2, Math.max(-2, a - b));
        fc.pre([Math.abs(a - b) - 2, s, a - b, b - 3, a - 3].every((gap) => Math.abs(gap) > 1e-3));
        const { gradient } = y(a, b);
        expect(Math.abs((y(a + h, b).value - y(a - h, b).value) / (2 * h) - gradient[0]!)).toBeLessThan(1e-6);
        expect(Math.abs((y(a, b + h).value - y(a, b - h).value) / (2 * h) - gradient[1]!)).toBeLessThan(1e-6);
      }),
    );
  });

  test('names that every object has are names like any other', () => {
    expect(after(['constructor = x', 'y = constructor'], 1)).toBe(3);
  });

  test('a division by zero while it runs is named', () => {
    const m = machineOf(control(['m = m - 1', 'y = x / m']));
    const run = march(m, restState(m), 2e-3);
    expect(run.ok ? '' : [run.problem.code, run.problem.where]).toEqual(['step', 'K']);
  });
});
