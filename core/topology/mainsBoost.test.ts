import { noWork } from '../linear/tolerance';
import { Circuit } from '../circuit/elements';
import { buildMachine, restState } from '../circuit/machine';
import { emptyTrace, march } from '../orbit/march';
import { cycleIntegrals, integrals, range, type Measures, type Quantity } from '../orbit/measure';
import { CAPACITOR, DIODE, INDUCTOR, SWITCH } from '../testing/briefs';
import { gaussLegendre, mainsAngles, slowRipple } from '../surroundings/mains';
import { mainsBoost } from './mainsBoost';
import type { SizingInput } from './types';

/** A charger's front end: 230 V to 390 V, 600 W. */
const input = (changes: { load?: number; resistance?: number; drop?: number; share?: number } = {}): SizingInput => {
  const { load = 1.5, resistance = 0.05, drop = 0.8, share = 0.3 } = changes;
  return {
    brief: { line: { min: 200, max: 250, mains: 50 }, output: { voltage: 390 }, load: { min: load / 10, max: load }, loadStep: load / 2, frequency: 70e3, air: { min: 0, max: 40 }, rippleShare: share, lineRipple: 5 },
    parts: {
      D2: { ...DIODE, drop, slopeResistance: resistance }, C1: CAPACITOR, L1: { ...INDUCTOR, resistance }, Q1: { ...SWITCH, onResistance: resistance }, D1: { ...DIODE, drop, slopeResistance: resistance }, C2: { ...CAPACITOR, capacitance: 1e-4, esr: 0.1 },
    },
    drive: { voltage: 10, gateResistance: 3, turnOffResistance: null, deadTime: 2e-8 }, crossover: 5e3, allowed: { ripple: 12, deviation: 30, stress: 0.9 },
  };
};

describe('means along the mains', () => {
  test('Gauss–Legendre: n nodes are exact for polynomials of degree 2n − 1', () => {
    for (const n of [2, 5, 8]) {
      const nodes = gaussLegendre(n);
      for (let power = 0; power < 2 * n; power++) expect(nodes.reduce((s, { x, w }) => s + w * x ** power, 0)).toBeCloseTo(power % 2 ? 0 : 2 / (power + 1), 13);
    }
  });
  test('a power that beats as sin² swings a reservoir by I / (ω C), at 45° and 135°', () => {
    const at = mainsAngles(0, 8);
    const swing = slowRipple(at, at.map((a) => 2 * 3 * Math.sin(a.angle) ** 2), 4e-4, 50);
    expect(swing.peakToPeak / (3 / (2 * Math.PI * 50 * 4e-4))).toBeCloseTo(1, 5);
    expect(swing.at((3 * Math.PI) / 4)).toBeCloseTo(swing.peakToPeak / 2, 9);
    expect(swing.at(Math.PI / 4)).toBeCloseTo(-swing.peakToPeak / 2, 9);
  });
});

test('Erickson, Maksimović, ch. 18: switch and diode rms of a boost rectifier without ripple and loss', () => {
  const ideal = input({ resistance: 1e-6, drop: 0, share: 0.02 });
  const { parts } = mainsBoost.forecast(ideal, mainsBoost.size(ideal), { line: 230, load: 1.5 });
  const [rms, crest, out] = [(390 * 1.5) / 230, Math.SQRT2 * 230, 390];
  // They know no angle below which nothing is drawn: the squares differ by its third power, under a thousandth here.
  expect(parts.L1!.rms / rms).toBeCloseTo(1, 3);
  expect(parts.Q1!.rms / (rms * Math.sqrt(1 - (8 / (3 * Math.PI)) * (crest / out)))).toBeCloseTo(1, 2);
  expect(parts.D1!.rms / (1.5 * Math.sqrt((16 / (3 * Math.PI)) * (out / crest)))).toBeCloseTo(1, 2);
  expect(parts.D2!.mean / ((rms * Math.SQRT2) / Math.PI)).toBeCloseTo(1, 2);
});

describe('against the whole circuit run through the mains in time', () => {
  /** Four diodes on a sine, with an average-current loop that follows |sin|: nothing of it is settled or averaged. */
  function halfCycle(s: SizingInput, line: number, load: number): (of: (p: Parameters<Quantity>[0]) => Float64Array) => Measures {
    const sizing = mainsBoost.size(s);
    const crest = mainsBoost.forecast(s, sizing, { line, load }).crest!;
    const [L, C, f] = [sizing.values.L1!.taken, sizing.values.C2!.taken, s.brief.frequency];
    const { D2, D1, Q1, L1, C2 } = s.parts as unknown as Record<string, { drop: number; slopeResistance: number; onResistance: number; resistance: number; esr: number; capacitance: number }>;
    const diode = (id: string, a: string, b: string, d: typeof D2): object => ({ kind: 'diode', id, a, b, drop: d!.drop, onResistance: d!.slopeResistance, offConductance: 1e-8 });
    const [fc, zero, pole] = [12e3, 5e3, 80e3].map((v) => 2 * Math.PI * v) as [number, number, number];
    const gain = (fc * L) / 390 / Math.hypot(1, zero / fc);
    const circuit = Circuit.parse({
      elements: [
        { kind: 'voltage-source', id: 'mains', a: 'n', b: 'm', value: { shape: 'sine', amplitude: Math.SQRT2 * line, frequency: 50 } },
        diode('DA', 'n', 'rect', D2), diode('DB', 'm', 'rect', D2), diode('DC', '0', 'n', D2), diode('DD', '0', 'm', D2),
        { kind: 'capacitor', id: 'C1', a: 'rect', b: '0', capacitance: 2e-7, esr: 0.02 },
        { kind: 'inductor', id: 'L1', a: 'rect', b: 'wound', inductance: L },
        { kind: 'resistor', id: 'winding', a: 'wound', b: 'sw', resistance: L1!.resistance },
        { kind: 'switch', id: 'Q1', a: 'sw', b: '0', onResistance: Q1!.onResistance, offConductance: 1e-8, gate: 'high' },
        diode('D1', 'sw', 'out', D1),
        { kind: 'capacitor', id: 'C2', a: 'out', b: '0', capacitance: C, esr: (C2!.esr * C2!.capacitance) / C },
        { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: 390 / load },
        { kind: 'voltage-source', id: 'wanted', a: 'wanted', b: '0', value: { shape: 'points', points: Array.from({ length: 801 }, (_, k) => [(k * 0.02) / 800, crest * Math.abs(Math.sin((k * 2 * Math.PI) / 800))]) } },
        { kind: 'current-sense', id: 'sense', a: 'sensed', b: '0', of: 'L1', gain: 1 },
        { kind: 'transfer', id: 'compensator', a: 'duty', b: '0', plus: 'wanted', minus: 'sensed', numerator: [gain * zero, gain], denominator: [0, 1, 1 / pole] },
      ],
      modulators: [{ kind: 'pwm', id: 'modulator', gate: 'high', period: 1 / f, control: ['duty', '0'] }],
    });
    const machine = buildMachine(circuit);
    if (!machine.ok) throw new Error(machine.problem.message);
    const m = machine.value;
    const start = restState(m);
    start.z[m.layout.column.get('C2')!] = 390;
    const first = march(m, start, 0.01);
    if (!first.ok) throw new Error(first.problem.message);
    const trace = emptyTrace();
    const second = march(m, first.value, 0.02, { trace });
    if (!second.ok) throw new Error(second.problem.message);
    const g = cycleIntegrals({ period: 0.01, intervals: trace.intervals, closure: 0, iterations: 0, work: noWork(), monodromy: new Float64Array(), states: 0 });
    return (of) => {
      const ends = range(g, of);
      return { ...integrals(g, of), ...ends, peakToPeak: ends.max - ends.min };
    };
  }

  test.each([
    ['continuous but near the zero crossing', 1.5],
    ['discontinuous for most of the half cycle', 0.12],
  ])('rms within half a percent, peak 2 %, ripple 3 %: %s', (_, load) => {
    const s = input({ load: 1.5 });
    const at = { line: 230, load };
    const promised = mainsBoost.forecast(s, mainsBoost.size(s), at);
    const run = halfCycle(s, 230, load);
    const within = (found: number, expected: number, share: number): void => expect(Math.abs(found / expected - 1)).toBeLessThan(share);
    expect(run((p) => p.voltage('out')).mean).toBeCloseTo(390, -1);
    for (const id of ['L1', 'Q1', 'D1', 'C2']) within(run((p) => p.current(id)).rms, promised.parts[id]!.rms, 0.005);
    // In discontinuous conduction the peak stands somewhere between two of the angles.
    within(run((p) => p.current('L1')).max, promised.parts.L1!.peak, promised.mode === 'continuous' ? 0.02 : 0.04);
    within(run((p) => p.voltage('out')).peakToPeak, promised.outputRipple, 0.03);
  });
});
