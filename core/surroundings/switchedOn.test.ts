import fc from 'fast-check';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { Circuit } from '../circuit/elements';
import { buildMachine, restState } from '../circuit/machine';
import { editDesign } from '../design';
import { evaluate, sizeDesign } from '../evaluation';
import { closedDesign } from '../evaluation/closedDesign';
import { march } from '../orbit/march';
import { inrushRun } from '../schedule/inrushRun';
import { holdUp } from './holdUp';
import { inrushPeak } from './inrush';

/** What happens when the mains comes and goes. */

test('inrush: the peak of a series R-L-C is what the engine runs, damped or not', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.05, max: 60, noNaN: true }), fc.double({ min: 1e-5, max: 2e-3, noNaN: true }), (R, L) => {
      const C = 880e-6;
      const circuit = Circuit.parse({ elements: [
        { kind: 'voltage-source', id: 'line', a: 'a', b: '0', value: 325 },
        { kind: 'resistor', id: 'R', a: 'a', b: 'b', resistance: R },
        { kind: 'inductor', id: 'L', a: 'b', b: 'c', inductance: L },
        { kind: 'capacitor', id: 'C', a: 'c', b: '0', capacitance: C },
      ] });
      const m = must(buildMachine(circuit));
      const column = m.layout.column.get('L')!;
      let [most, state] = [0, restState(m)];
      const slow = Math.max(R * C, Math.sqrt(L * C));
      // The peak comes within some of the faster time constant, or a quarter turn.
      const span = Math.min(4 * Math.sqrt(L * C), 12 * (L / R)) || slow;
      for (let k = 1; k <= 2000; k++) {
        state = must(march(m, state, (k * span) / 2000));
        most = Math.max(most, state.z[column]!);
      }
      expect(inrushPeak({ volts: 325, inductance: L, resistance: R, capacitance: C }) / most).toBeCloseTo(1, 3);
    }),
    { numRuns: 12 },
  );
  expect(inrushPeak({ volts: 325, inductance: 0, resistance: 10, capacitance: 1e-3 })).toBe(32.5);
});

test('hold-up: published, 1 kW from 390 to 312 V on 880 µF lasts 24 ms; the three kinds of load by their own laws', () => {
  expect(holdUp({ capacitance: 880e-6, from: 390, to: 312, load: 1000 / 390, at: 390, kind: 'constant-power' })).toBeCloseTo(0.0241, 4);
  // By small steps of charge: what each takes at the voltage that is left.
  for (const [kind, amps] of [['constant-power', (v: number) => 1000 / v], ['constant-current', () => 2.5], ['resistance', (v: number) => (2.5 * v) / 390]] as const) {
    let [v, t] = [390, 0];
    const step = 1e-6;
    while (v > 312) {
      v -= (amps(v) * step) / 880e-6;
      t += step;
    }
    const load = kind === 'constant-power' ? 1000 / 390 : 2.5;
    expect(holdUp({ capacitance: 880e-6, from: 390, to: 312, load, at: 390, kind }) / t).toBeCloseTo(1, 3);
  }
  expect(holdUp({ capacitance: 1e-3, from: 300, to: 312, load: 1, at: 390, kind: 'constant-power' })).toBe(0);
});

test('hold-up of the charger is asked for and held; more reservoir holds longer, in proportion', () => {
  const charger = bareDemo('station-charger');
  const at = { line: 230, load: 2.6, air: 25 };
  const one = must(evaluate(charger, at)).mains!.holdUp;
  const two = must(evaluate(change(charger, { 'parts.C2.count': 8 }), at)).mains!.holdUp;
  // Twice the capacitance, and half of the ripple that it begins below.
  expect(two / one).toBeGreaterThan(2);
  expect(two / one).toBeLessThan(2.2);
  const { taken: C } = sizeDesign(charger).values.C2!;
  const ripple = must(evaluate(charger, at)).cycle.outputRipple;
  expect(one).toBeCloseTo((390 / 2.6) * C * Math.log((390 - ripple / 2) / 312), 9);
});

test('inrush of the charger: less with a resistor in its way, at most the crest over that', () => {
  const charger = openDemo('station-charger');
  const at = { line: 230, load: 2, air: 25 };
  const [bare, limited] = [must(evaluate(charger, at)).mains!.inrush, must(evaluate(change(charger, { 'brief.inrushResistance': 10 }), at)).mains!.inrush];
  expect(bare).toBeGreaterThan(200);
  expect(limited).toBeLessThan((Math.SQRT2 * 264) / 10);
  expect(limited).toBeGreaterThan(0.8 * ((Math.SQRT2 * 264) / 10));
});

test('inrush run in time: the whole circuit at rest is what a step by step integration of its series R-L-C on the moving mains says', () => {
  const d = change(bareDemo('station-charger'), { 'parts.C1.capacitance': 1e-9, 'parts.C1.count': 1 });
  const at = { line: 230, load: 2.6, air: 25 };
  const { taken: L1 } = sizeDesign(d).values.L1!;
  const { taken: C } = sizeDesign(d).values.C2!;
  const p = d.parts as unknown as Record<string, { resistance: number; drop: number; slopeResistance: number; esr: number; capacitance: number }>;
  // The reference impedance of IEC TR 60725, windings, three diodes, the reservoir and its load.
  const L = L1 + 0.25 / (2 * Math.PI * 50);
  const esr = (p.C2!.esr * p.C2!.capacitance) / C;
  const R = 0.4 + p.L1!.resistance + 2 * p.D2!.slopeResistance + p.D1!.slopeResistance;
  const drops = 2 * p.D2!.drop + p.D1!.drop;
  const G = 2.6 / 390;
  // Through the reservoir's own resistance; the load stands across both.
  const out = (i: number, v: number): number => (v + esr * i) / (1 + esr * G);
  const rate = (t: number, [i, v]: [number, number]): [number, number] => [(Math.SQRT2 * 264 * Math.cos(2 * Math.PI * 50 * t) - drops - R * i - out(i, v)) / L, (i - G * out(i, v)) / C];
  let [x, most]: [[number, number], number] = [[0, 0], 0];
  const h = 1e-6;
  for (let t = 0; t < 8e-3 && x[0] >= 0; t += h) {
    const plus = (k: [number, number], f: number): [number, number] => [x[0] + f * k[0], x[1] + f * k[1]];
    const k1 = rate(t, x);
    const k2 = rate(t + h / 2, plus(k1, h / 2));
    const k3 = rate(t + h / 2, plus(k2, h / 2));
    const k4 = rate(t + h, plus(k3, h));
    x = [x[0] + (h / 6) * (k1[0] + 2 * k2[0] + 2 * k3[0] + k4[0]), x[1] + (h / 6) * (k1[1] + 2 * k2[1] + 2 * k3[1] + k4[1])];
    most = Math.max(most, x[0]);
  }
  expect(must(inrushRun(d, at, must(closedDesign(d, at)))).peak / most).toBeCloseTo(1, 2);
  // A resistor in its way takes most of it, and what it would be without is said.
  const limited = change(d, { 'brief.inrushResistance': 10 });
  const run = must(inrushRun(limited, at, must(closedDesign(limited, at))));
  expect(run.bare! / most).toBeCloseTo(1, 2);
  expect(run.peak).toBeLessThan((Math.SQRT2 * 264) / 10);
});

describe('bad input of mains and filters', () => {
  const charger = openDemo('station-charger');
  const refused = (changes: Record<string, unknown>, d = charger) => {
    const found = editDesign(d, changes);
    return found.ok ? undefined : found.problem;
  };
  test('a mains of 0 Hz is refused by its field; 400 Hz is a mains', () => {
    expect(refused({ 'brief.line.mains': 0 })).toMatchObject({ where: 'brief.line.mains' });
    // With the same reservoir an eighth of the ripple, and that of the switching.
    const fast = change(charger, { 'brief.line.mains': 400, 'parts.C2.count': 4 });
    expect(must(evaluate(fast, { line: 230, load: 2, air: 25 })).cycle.outputRipple).toBeLessThan(must(evaluate(charger, { line: 230, load: 2, air: 25 })).cycle.outputRipple / 4);
  });
  test('a front end whose output lies below the crest is told what would do', () => {
    const problem = refused({ 'brief.output.voltage': 330 });
    expect(problem!.where).toBe('brief.output.voltage');
    expect(problem!.remedy).toMatch(/raise the output above/);
  });
  test('a filter that rings where the converter switches, a damping resistor of nothing', () => {
    expect(refused({ 'parts.L14.inductance': 1e-6, 'parts.C14.capacitance': 1e-8, 'parts.C14.count': 1, 'parts.C1.capacitance': 1e-8, 'parts.C1.count': 1 })).toMatchObject({ where: 'parts.L14.inductance' });
    expect(refused({ 'branches.B4.resistance': 0 })).toMatchObject({ where: 'branches.B4.resistance' });
  });
  test('a voltage loop that follows the ripple, a margin that the notch does not leave', () => {
    expect(refused({ 'control.outerCrossover': 120 })).toMatchObject({ where: 'control.outerCrossover' });
    expect(refused({ 'control.outerPhaseMargin': 85 })).toMatchObject({ where: 'control.outerPhaseMargin' });
  });
});
