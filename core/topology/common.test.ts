import fc from 'fast-check';
import { bareDemo } from '../../demo/open';
import type { CapacitorPart, InductorPart } from '../parts/schema';
import { parseQuantity } from '../quantity';
import type { Working } from '../working';
import { BEST_DAMPING, capacitorValue, DAMPING, dutyNear, dutyOver, dutyRange, DUTY_MIN, holdsStep, inductorValue, lineDrawnAlways, lineDrawnInPulses, ratings, rippleFedAlways, rippleFedInPulses } from './common';
import { capacitorZero, doublePole, rightZero } from './landmarks';
import { newton, root } from './root';

/** What topologies share: closed forms against the balances that they come from, and the choice of values. */

const { parts } = bareDemo('cabin-lighting-rail');
const C = parts.C2 as CapacitorPart;
const L = parts.L1 as InductorPart;
const working = (value: number): Working => ({ title: '', formula: '', numbers: '', value, unit: 'F', source: '', leavesOut: '' });
const positive = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('capacitances', () => {
  test('fed always: a triangle of current makes ΔI/8fC, and its resistance ΔI·ESR, of as many as there are', () => {
    fc.assert(fc.property(positive(0.1, 20), positive(2e4, 1e6), positive(1e-3, 0.1), (swing, f, allowed) => {
      const farad = rippleFedAlways(C, swing, f, allowed).value;
      const esr = (C.esr * C.capacitance) / farad;
      expect(swing / (8 * f * farad) + swing * esr).toBeCloseTo(allowed, 9);
    }));
  });
  test('fed in pulses: the load alone for D, and the step of the current at its resistance', () => {
    fc.assert(fc.property(positive(0.1, 20), positive(0.05, 0.9), positive(2e4, 1e6), positive(1e-3, 0.1), (load, D, f, allowed) => {
      const peak = load / (1 - D);
      const farad = rippleFedInPulses(C, load, D, peak, f, allowed).value;
      expect((load * D) / (f * farad) + (peak * C.esr * C.capacitance) / farad).toBeCloseTo(allowed, 9);
    }));
  });
  test('a load step is held by the impedance at the crossover', () => {
    const farad = holdsStep(C, 4, 2e4, 0.4).value;
    expect(4 * (1 / (2 * Math.PI * 2e4 * farad) + (C.esr * C.capacitance) / farad)).toBeCloseTo(0.4, 9);
  });
  test('a line drawn on in pulses is worst at a duty of one half, and all the time it sees the triangle alone', () => {
    const at = (D: number): number => lineDrawnInPulses(5, D, 1e5, 0.5).value;
    for (const D of [0.1, 0.3, 0.45, 0.55, 0.8]) expect(at(D)).toBeLessThan(at(0.5));
    expect(at(0.3)).toBeCloseTo(at(0.7), 15);
    expect(lineDrawnAlways(2, 1e5, 0.5).value).toBeCloseTo(2 / (8 * 1e5 * 0.5), 15);
  });
  test('as many in parallel as the largest of the workings wants; one’s own number stands', () => {
    const found = capacitorValue({ ...C, count: null }, [working(1.2 * C.capacitance), working(3.5 * C.capacitance)]);
    expect(found).toMatchObject({ count: 4, suggestedCount: 4, overridden: false });
    expect(found.taken).toBeCloseTo(4 * C.capacitance, 15);
    expect(capacitorValue({ ...C, count: 2 }, [working(3.5 * C.capacitance)])).toMatchObject({ count: 2, suggestedCount: 4, overridden: true });
    // Just as much as is wanted is enough.
    expect(capacitorValue({ ...C, count: null }, [working(3 * C.capacitance)]).count).toBe(3);
  });
});

test('an inductance is the next of its series above what is wanted, or one’s own', () => {
  expect(inductorValue({ ...L, inductance: null }, working(23.4e-6)).taken).toBe(27e-6);
  expect(inductorValue({ ...L, inductance: null }, working(23.4e-6), 'E24').taken).toBe(24e-6);
  expect(inductorValue({ ...L, inductance: 10e-6 }, working(23.4e-6))).toMatchObject({ taken: 10e-6, suggested: 27e-6, overridden: true });
});

describe('duties', () => {
  test('the ends of the region, each with its working', () => {
    const asked: string[] = [];
    const { brief } = bareDemo('cabin-lighting-rail');
    const found = dutyRange({ brief }, (title, at) => (asked.push(`${title} ${at.line} ${at.load}`), working(at.line === brief.line.max ? 0.4 : 0.67)));
    expect(asked).toEqual([`smallest duty ${brief.line.max} ${brief.load.min}`, `largest duty ${brief.line.min} ${brief.load.max}`]);
    expect([found.min, found.max, found.workings.length]).toEqual([0.4, 0.67, 2]);
  });
  test.each([NaN, -3, 0])('%p is no duty: none is enough', (value) => expect(dutyOver(working(0.3), working(value)).max).toBe(Infinity));
  test('the first look stays within its ends, wherever the guess lies', () => {
    fc.assert(fc.property(fc.oneof(fc.double(), fc.constant(NaN)), positive(0.2, 0.995), (guess, max) => {
      const found = dutyNear(guess, max);
      expect(found.guess).toBeGreaterThanOrEqual(2 * DUTY_MIN);
      expect(found.guess).toBeLessThan(found.max);
    }));
  });
});

test('ratings: what stands there over the stress that is allowed', () => {
  const { allowed } = { allowed: { ripple: 1, deviation: 1, stress: 0.8 } };
  expect(ratings({ allowed }, { Q1: 60, C2: 24 })).toEqual({ Q1: { most: 60, wanted: 75 }, C2: { most: 24, wanted: 30 } });
});

test('damping by four times the capacitance leaves the smallest peak that there is (Middlebrook’s optimum, as Erickson, Maksimović, ch. 10, give it)', () => {
  /** Largest output impedance of L beside C and R + DAMPING C, over √(L/C), for a share r of that. */
  const peak = (r: number): number =>
    Math.max(...Array.from({ length: 400 }, (_, k) => {
      const w = 10 ** (-1 + (2 * k) / 399);
      // Y = 1/jw + jw + 1/(r + 1/(jw n))
      const n = DAMPING;
      const [re, im] = [r, -1 / (w * n)];
      const d = re ** 2 + im ** 2;
      return 1 / Math.hypot(re / d, w - 1 / w - im / d);
    }));
  for (const off of [0.8, 0.9, 1.1, 1.25]) expect(peak(BEST_DAMPING)).toBeLessThanOrEqual(peak(BEST_DAMPING * off) * 1.0005);
});

describe('landmarks', () => {
  test('their formulas hold their own figures', () => {
    expect(doublePole(1, 27e-6, 70e-6, '').frequency).toBeCloseTo(1 / (2 * Math.PI * Math.sqrt(27e-6 * 70e-6)), 9);
    expect(doublePole(0.4, 27e-6, 70e-6, '').frequency).toBeCloseTo(0.4 * doublePole(1, 27e-6, 70e-6, '').frequency, 9);
    expect(capacitorZero(1e-3, 70e-6).frequency).toBeCloseTo(1 / (2 * Math.PI * 7e-8), 6);
    const { working: w } = rightZero(0.6, 48, 20e-6, 5, 3056);
    expect([w.value, w.unit]).toEqual([3056, 'Hz']);
    expect(parseQuantity(/L = ([^,]*),/.exec(w.numbers)![1]!, 'H')).toMatchObject({ ok: true, value: 20e-6 });
  });
});

describe('roots', () => {
  test('bounds that do not hold it are widened', () => expect(root((x) => x ** 2 - 4, 2.5, 3, 1e-12)).toBeCloseTo(2, 9));
  test('of two the one on the guess’s side', () => {
    const two = (x: number): number => (x - 0.2) * (x - 0.8);
    expect([newton(two, 0.1, 0, 1), newton(two, 0.9, 0, 1)].map((x) => Number(x.toFixed(9)))).toEqual([0.2, 0.8]);
  });
  test('it stays within its bounds', () => expect(newton((x) => x - 5, 0.5, 0, 1)).toBe(1));
});
