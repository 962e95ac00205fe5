import fc from 'fast-check';
import { bareDemo, change } from '../../demo/open';
import { atSamples } from './controller';
import { discretise } from './discretise';
import { fixedPoint, fixedStepper, fractionFor, inCounts, runFixed, runFloating, type FixedPoint, type InCounts } from './fixedPoint';
import { resolutionOf } from './resolution';
import { latest, samplingOf } from './sampling';

/** When a controller samples, in what numbers it computes, and whether its steps make it wander. */

const rail = bareDemo('cabin-lighting-rail');
const control = (changes: Record<string, unknown>) => change(rail, { 'control.amplifier': 'pid', 'control.sampled': 'bilinear', ...Object.fromEntries(Object.entries(changes).map(([k, v]) => [`control.${k}`, v])) }).control;

describe('the moment of a sample', () => {
  test('is as late as the computing leaves it, unless it is said; its output comes as the next period begins', () => {
    const found = samplingOf(control({ computing: 1e-6 }), 200e3)!;
    expect(found.phase).toBeCloseTo(1 - 1e-6 * 200e3, 12);
    expect(found.delay).toBeCloseTo(1e-6, 12);
    const said = samplingOf(control({ computing: 1e-6, sampleAt: 0.5 }), 200e3)!;
    expect([said.phase, said.delay]).toEqual([0.5, 2.5e-6]);
  });
  test('computing that takes longer than a period is refused; at a higher frequency than the design’s it begins with the period', () => {
    expect(() => control({ computing: 6e-6 })).toThrow(/computing is more than the period/);
    expect(latest(control({ computing: 4e-6 }), 300e3)).toBe(0);
  });
  test('a network does not sample', () => expect(samplingOf(rail.control, 200e3)).toBeUndefined());
});

describe('Franklin, Powell, Workman, ch. 6: (1 + s/ω₀) / (1 + 10 s/ω₀) /s by hand', () => {
  // ω₀T = 0.2: bilinear, s = (2/T)(z − 1)/(z + 1).
  const [T, w0] = [1e-4, 2000];
  const corners = { integrator: 1 / (2 * Math.PI), zeros: [w0 / (2 * Math.PI)], poles: [w0 / (10 * 2 * Math.PI)] };
  const at = (z: number): number => {
    const s = ((2 / T) * (z - 1)) / (z + 1);
    return (1 + s / w0) / (1 + (10 * s) / w0) / s;
  };
  test('bilinear: at any z it is the function of s that z stands for', () => {
    const { numerator, denominator } = discretise('bilinear', corners, T, 1e3);
    const value = (p: readonly number[], z: number): number => p.reduce((sum, v, k) => sum + v / z ** k, 0);
    for (const z of [0.3, 2, -3, 7]) expect(value(numerator, z) / value(denominator, z)).toBeCloseTo(at(z), 10);
  });
  test('pre-warped: s = ω / tan(ωT/2) · (z − 1)/(z + 1), so that ω stands where it was', () => {
    const f = 1e3;
    const k = (2 * Math.PI * f) / Math.tan(Math.PI * f * T);
    const { numerator, denominator } = discretise('pre-warped', corners, T, f);
    const s = (z: number): number => (k * (z - 1)) / (z + 1);
    const value = (p: readonly number[], z: number): number => p.reduce((sum, v, i) => sum + v / z ** i, 0);
    for (const z of [0.3, 2, -3]) expect(value(numerator, z) / value(denominator, z)).toBeCloseTo((1 + s(z) / w0) / (1 + (10 * s(z)) / w0) / s(z), 10);
  });
});

/** Equations in counts such as a converter has: an integrator, a zero or two, a pole. */
const equations: fc.Arbitrary<InCounts> = fc
  .record({ integrator: fc.double({ min: 50, max: 3e3, noNaN: true }), zero: fc.double({ min: 300, max: 5e3, noNaN: true }), pole: fc.double({ min: 2e4, max: 9e4, noNaN: true }), step: fc.double({ min: 1e-3, max: 0.05, noNaN: true }) })
  .map(({ integrator, zero, pole, step }) => inCounts(discretise('bilinear', { integrator, zeros: [zero], poles: [pole] }, 5e-6, 1e4), step, 1, 5000));
const made = (c: InCounts, word: number): FixedPoint => {
  const found = fixedPoint(c, word, 0.3);
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};

describe('integers', () => {
  test('as many bits behind the point as fit, and not one more', () => {
    fc.assert(
      fc.property(equations, fc.constantFrom(12, 16, 24), (c, word) => {
        const n = fractionFor(c, word);
        fc.pre(n >= 1);
        expect(fixedPoint(c, word, 0.3, n).ok).toBe(true);
        const more = fixedPoint(c, word, 0.3, n + 1);
        expect(more.ok ? 'fits' : more.problem.code).toBe('overflow');
      }),
    );
  });
  test('their response is within half a unit of every coefficient of what they round', () => {
    fc.assert(
      fc.property(equations, (c) => {
        const f = made(c, 24);
        const unit = 2 ** f.fraction;
        const back = { numerator: f.numerator.map((v) => v / unit), denominator: [1, ...f.denominator.map((v) => v / unit)] };
        f.numerator.forEach((v, k) => expect(Math.abs(v / unit - c.numerator[k]!)).toBeLessThanOrEqual(0.5 / unit + 1e-12));
        // What integrates goes on: the denominator is nothing at z = 1.
        expect(Math.abs(back.denominator.reduce((s, v) => s + v, 0))).toBeLessThan(1e-12);
        const [ideal, rounded] = [{ numerator: c.numerator, denominator: [1, ...c.denominator] }, back].map((x) => atSamples(x, 0.3));
        expect(f.off.gain).toBeCloseTo(20 * Math.log10(Math.hypot(rounded!.re, rounded!.im) / Math.hypot(ideal!.re, ideal!.im)), 6);
      }),
    );
  });
  test('never beyond what there is, whatever error stands for however long; and one of the other sign brings it back at once', () => {
    fc.assert(
      fc.property(equations, fc.integer({ min: 1, max: 4000 }), fc.integer({ min: 1, max: 300 }), (c, error, long) => {
        const step = fixedStepper(made(c, 20));
        const outputs = Array.from({ length: long }, () => step(error));
        expect(outputs.every((y) => y >= 0 && y <= c.most)).toBe(true);
        const [full, next, after] = [outputs.at(-1)!, step(-error), step(-error)];
        if (full === c.most) expect(Math.min(next, after)).toBeLessThan(full);
      }),
    );
  });
  test('it begins where it is told that it stood, and stands there without an error', () => {
    const c = inCounts(discretise('bilinear', { integrator: 800, zeros: [1500], poles: [5e4] }, 5e-6, 1e4), 0.01, 1, 5000);
    const step = fixedStepper(made(c, 20), 1234);
    for (let k = 0; k < 50; k++) expect(Math.abs(step(0) - 1234)).toBeLessThanOrEqual(1);
  });
  test('with long words it puts out what floating point does, to a count', () => {
    fc.assert(
      fc.property(equations, fc.array(fc.integer({ min: -200, max: 200 }), { minLength: 5, maxLength: 60 }), (c, errors) => {
        const floating = runFloating(c, errors);
        // An error of rounding of each sample is integrated: half a unit of 2⁻ⁿ for every one of the sums there have been.
        runFixed(made(c, 31), errors).forEach((y, k) => expect(Math.abs(y - Math.floor(floating[k]!))).toBeLessThanOrEqual(1 + Math.ceil(0.01 * k)));
      }),
      { numRuns: 60 },
    );
  });
});

describe('steps that a loop can not see', () => {
  const given = { gain: 48, division: 10, converterRange: 3.3, converterBits: 12, modulatorStep: 1e-9, period: 5e-6, integral: 0.001 };
  test('a step of each at the output, by hand: 3.3 V/4096 · 10 = 8.1 mV, 48 V · 1 ns/5 µs = 9.6 mV; so it wanders', () => {
    const r = resolutionOf(given);
    expect(r.converterStep * 1e3).toBeCloseTo(8.057, 3);
    expect(r.outputStep * 1e3).toBeCloseTo(9.6, 9);
    expect(r.cycles).toBe('modulator');
  });
  test('with the step that is offered it does not; with a tenth more than the limit it does', () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 400, noNaN: true }), fc.integer({ min: 6, max: 16 }), fc.double({ min: 1e-6, max: 1e-4, noNaN: true }), (gain, converterBits, period) => {
        const r = resolutionOf({ ...given, integral: 0, gain, converterBits, period });
        expect(resolutionOf({ ...given, integral: 0, gain, converterBits, period, modulatorStep: r.modulatorStep }).cycles).toBeUndefined();
        expect(resolutionOf({ ...given, integral: 0, gain, converterBits, period, modulatorStep: 1.25 * r.modulatorStep }).cycles).toBe('modulator');
        // And bits that make a step at least as fine.
        expect(resolutionOf({ ...given, integral: 0, gain, converterBits, period, modulatorStep: period / 2 ** r.bits.wants * 0.999 }).cycles).toBeUndefined();
      }),
    );
  });
  test('an integrator that moves the output by more than it sees wanders by itself', () => {
    expect(resolutionOf({ ...given, modulatorStep: 1e-10, integral: 0.03 }).cycles).toBe('integral');
    expect(resolutionOf({ ...given, modulatorStep: 1e-10, integral: 0.02 }).cycles).toBeUndefined();
  });
});
