import fc from 'fast-check';
import { dot, multiply, rowTimes, solveInPlace } from './dense';
import { balance, decompose, eigenvalues } from './eigen';
import { buildStepTable, climb } from './stepTable';
import { fastestAlive, modalRates, modalRow, modalSizes, modesOf, offChord, offMeanSlope, rateSizes, riseBy, slopeReach, staysBelow } from './modes';
import { GAUSS_8 } from './quadrature';
import { findMinimum } from './minimum';
import { findRoot } from './root';

const entry = fc.double({ min: -3, max: 3, noNaN: true });
const square = (n: number): fc.Arbitrary<Float64Array> => fc.array(entry, { minLength: n * n, maxLength: n * n }).map((a) => Float64Array.from(a));

describe('eigenvalues', () => {
  test('balancing keeps them, to the last power of two', () => {
    // Dense ones: where entries are nothing a matrix may lack vectors, and eigenvalues are then not well defined.
    const dense = fc.array(fc.integer({ min: 1, max: 300 }), { minLength: 25, maxLength: 25 }).map((a) => Float64Array.from(a, (v, k) => (v + (k % 6 === 0 ? 900 * k : 0)) / 100));
    fc.assert(fc.property(dense, fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 5, maxLength: 5 }), (a, powers) => {
      // D⁻¹ A D has the same ones, however far apart its entries.
      const far = a.map((v, k) => v * 2 ** (powers[k % 5]! - powers[Math.floor(k / 5)]!));
      const [p, q] = [eigenvalues(a, 5), eigenvalues(far, 5)].map((l) => l.map((v) => Math.hypot(v.re, v.im)).sort((x, y) => x - y));
      p!.forEach((v, k) => expect(Math.abs(v - q![k]!)).toBeLessThan(1e-6 * Math.max(1, p!.at(-1)!)));
    }));
  });
  test('1e15 beside 1e3: the small ones keep their digits', () => {
    // A delay of 50 ns as a second-order Padé, in the controllable form that closes a loop: s² + (6/T) s + 12/T².
    const T = 50e-9;
    const a = Float64Array.from([-1e3, 0, 0, 0, 0, 1, 1, -12 / T ** 2, -6 / T]);
    const slow = eigenvalues(a, 3).reduce((x, y) => (Math.hypot(x.re, x.im) < Math.hypot(y.re, y.im) ? x : y));
    expect(slow.re / -1e3).toBeCloseTo(1, 9);
    expect(balance(a.slice(), 3).every((d) => Number.isInteger(Math.log2(d)))).toBe(true);
  });
  test('A V = V Λ, V⁻¹ V = 1, for any matrix: one without a full set of vectors has one next to it', () => {
    fc.assert(fc.property(fc.oneof(square(4), fc.constant(Float64Array.from([0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0]))), (a) => {
      const { right, left } = decompose(a, 4);
      const one = new Float64Array(16);
      multiply(left, right, one, 4);
      for (let i = 0; i < 4; i++) for (let j = 0; j < 4; j++) expect(Math.abs(one[i * 4 + j]! - (i === j ? 1 : 0))).toBeLessThan(1e-2);
    }));
  });
});

/** Matrices with two modes that are nearly one, in coordinates of their own. */
const nearlyDouble: fc.Arbitrary<Float64Array> = fc.tuple(square(4), entry, entry, fc.constantFrom(0, 1e-12, 1e-8, 1e-4, 1e-2, 0.1), fc.constantFrom(1, -1)).map(([turn, slow, fast, apart, kind]) => {
  const l = -0.5 - Math.abs(slow);
  // Two real ones, or a pair that hardly rings.
  const J = Float64Array.from([l, 1, 0, 0, kind < 0 ? -apart * apart : 0, kind < 0 ? l : l * (1 + apart), 0, 0, 0, 0, fast, 0, 0, 0, 0, -1]);
  const P = turn.map((v, k) => v / 6 + (k % 5 === 0 ? 1 : 0));
  const [inverse, work, out] = [Float64Array.from({ length: 16 }, (_, k) => (k % 5 === 0 ? 1 : 0)), new Float64Array(16), new Float64Array(16)];
  solveInPlace(P.slice(), inverse, 4, 4);
  multiply(P, J, work, 4);
  multiply(work, inverse, out, 4);
  return out;
});

test('of two modes that are nearly one the bounds are not those of huge parts that cancel', () => {
  // x'' + 2x' + x = 0 from rest at 1: off its chord by h²/8 or so, not by a million times that.
  const modes = modesOf(buildStepTable(Float64Array.from([0, 1, -1, -2]), 2, 2));
  const q = new Float64Array(2);
  modalRates(modes, Float64Array.from([1, 0]), q);
  expect(offChord(modes, modalRow(modes, Float64Array.from([1, 0])), q, 0.1)).toBeLessThan(3 * (0.1 ** 2 / 8));
});

test('modes bound what a quantity does within a time: its chord, its slope, whatever the matrix', () => {
  fc.assert(
    fc.property(fc.oneof(square(4), nearlyDouble), fc.array(entry, { minLength: 4, maxLength: 4 }), fc.array(entry, { minLength: 4, maxLength: 4 }), fc.double({ min: 0.01, max: 2, noNaN: true }), (F, z, r, h) => {
      const stepTable = buildStepTable(F, 2, 4);
      const modes = modesOf(stepTable);
      const [z0, row] = [Float64Array.from(z), Float64Array.from(r)];
      const q = new Float64Array(modes.count);
      modalRates(modes, z0, q);
      const modal = modalRow(modes, row);
      const rate = new Float64Array(4);
      rowTimes(row, F, rate, 4);
      const at = (t: number): Float64Array => climb(stepTable, z0, t);
      const [y0, y1] = [dot(row, z0, 4), dot(row, at(h), 4)];
      const [chord, slope] = [offChord(modes, modal, q, h), offMeanSlope(modes, modal, q, h)];
      // Where vectors are nearly parallel the bounds are those of a matrix next to it, to some millionths of what it moves.
      const rounding = 1e-5 * (1 + Math.abs(y0) + Math.abs(y1) + chord + h * Math.hypot(...F) * Math.hypot(...z) * Math.hypot(...r));
      for (let k = 1; k < 20; k++) {
        const t = (h * k) / 20;
        const y = dot(row, at(t), 4);
        expect(Math.abs(y - (y0 + ((y1 - y0) * t) / h))).toBeLessThanOrEqual(chord * (1 + 1e-9) + rounding);
        expect(Math.abs(dot(rate, at(t), 4) - (y1 - y0) / h)).toBeLessThanOrEqual(slope * (1 + 1e-9) + rounding / h);
      }
    }),
  );
});

test('a double pole is bounded as such, however weakly a third state drives it', () => {
  for (let digits = 0; digits <= 40; digits += 2) {
    const weak = 10 ** -digits;
    const stepTable = buildStepTable(Float64Array.from([-0.5, 1, -2 * weak, 0, -0.5, -weak, 0, 0, -1]), 2, 3);
    const modes = modesOf(stepTable);
    const q = new Float64Array(3);
    modalRates(modes, Float64Array.from([0, 1, 0]), q);
    const h = 0.01;
    // t e^(−t/2) from zero: its bend is one at the beginning.
    expect(offChord(modes, modalRow(modes, Float64Array.from([1, 0, 0])), q, h)).toBeGreaterThan(0.99 * (h ** 2 / 8));
    expect(offChord(modes, modalRow(modes, Float64Array.from([1, 0, 0])), q, h)).toBeLessThan(2 * (h ** 2 / 8));
  }
});

describe('the root finder', () => {
  test('finds what is there to the width asked, with a slope and without, in as few rounds as its order promises', () => {
    fc.assert(fc.property(fc.double({ min: 0.05, max: 0.95, noNaN: true }), fc.double({ min: 0.2, max: 5, noNaN: true }), fc.constantFrom(1e-4, 1e-8, 1e-12), (root, bend, width) => {
      const f = (x: number): number => Math.expm1(bend * (x - root));
      let at = 0;
      const bracket = { low: 0, high: 1, atLow: f(0), atHigh: f(1) };
      const newton = findRoot((x) => f((at = x)), bracket, { width, slope: () => bend * Math.exp(bend * (at - root)) });
      const secant = findRoot(f, bracket, { width });
      expect(Math.abs(newton.at - root)).toBeLessThanOrEqual(2 * width);
      expect(Math.abs(secant.at - root)).toBeLessThanOrEqual(2 * width);
      expect(newton.count).toBeLessThanOrEqual(12);
      expect(secant.count).toBeLessThanOrEqual(16);
    }));
  });
  test('ends where a function jumps or is flat', () => {
    expect(Math.abs(findRoot((x) => (x < 0.3 ? -1 : 1), { low: 0, high: 1, atLow: -1, atHigh: 1 }, { width: 1e-12 }).at - 0.3)).toBeLessThan(1e-9);
    expect(findRoot((x) => (x - 0.5) ** 9, { low: 0, high: 1, atLow: -1, atHigh: 1 }, { width: 1e-6, rounds: 200 }).at).toBeCloseTo(0.5, 1);
  });
});

describe('the least value', () => {
  test('to the width asked, in as few rounds as its order promises', () => {
    fc.assert(fc.property(fc.double({ min: -1.5, max: 1.5, noNaN: true }), fc.constantFrom(1e-3, 1e-5, 1e-7), (least, width) => {
      const found = findMinimum((x) => Math.cosh(x - least) - 1, -2, 2, { width });
      expect(Math.abs(found.at - least)).toBeLessThanOrEqual(3 * width);
      expect(found.count).toBeLessThanOrEqual(25);
    }));
  });
  test('at a kink and at an end', () => {
    expect(Math.abs(findMinimum((x) => Math.abs(x - 0.77), 0, 1, { width: 1e-6 }).at - 0.77)).toBeLessThan(3e-6);
    expect(findMinimum((x) => x, 0, 1, { width: 1e-6 }).at).toBeLessThan(3e-6);
  });
});

test('the quadrature: exact for polynomials to the fifteenth degree, half a turn of a sine to 1e-10', () => {
  const integral = (f: (x: number) => number): number => GAUSS_8.reduce((sum, [x, w]) => sum + w * f(x), 0);
  for (let n = 0; n <= 15; n++) expect(Math.abs(integral((x) => x ** n) * (n + 1) - 1)).toBeLessThan(1e-13);
  expect(Math.abs((integral((x) => Math.sin(Math.PI * x)) * Math.PI) / 2 - 1)).toBeLessThan(1e-10);
});

test('what is said to stay below zero does, and what the modes have a quantity rise by it does', () => {
  let [said, looked, near] = [0, 0, 0];
  const spread = fc.constantFrom(1, 30, 1e4);
  fc.assert(
    fc.property(fc.oneof(square(4), nearlyDouble), spread, fc.array(entry, { minLength: 4, maxLength: 4 }), fc.array(entry, { minLength: 4, maxLength: 4 }), fc.double({ min: 0.01, max: 6, noNaN: true }), (drawn, fast, z, r, h) => {
      // Nothing grows; one state may be far faster than the others.
      const F = drawn.map((v, k) => (k < 4 ? fast : 1) * (v - (k % 5 === 0 ? 4 : 0)));
      const modes = modesOf(buildStepTable(F, 2, 4));
      if (modes.grows) return;
      const stepTable = buildStepTable(F, 6, 4, 24);
      const [z0, row] = [Float64Array.from(z), Float64Array.from(r)];
      const q = new Float64Array(modes.count);
      modalRates(modes, z0, q);
      const modal = modalRow(modes, row);
      const at = (t: number): number => dot(row, climb(stepTable, z0, t), 4);
      const [y0, y1] = [at(0), at(h)];
      const now = { rise: 0, slope: 0 };
      riseBy(modes, modal, q, h, now);
      const size = 1e-6 + Math.hypot(...z) * Math.hypot(...r);
      looked++;
      // A guess only: of vectors that are nearly parallel no better than they are.
      if (Math.abs(y0 + now.rise - y1) <= 1e-6 * size) near++;
      for (const offset of [-y0, -y0 - 1e-3 * size, -Math.max(y0, y1) - 0.3 * size]) {
        if (!staysBelow(modes, modal, q, h, y0 + offset, y1 + offset)) continue;
        said++;
        // Times near the beginning too: what is fast is over there.
        for (let k = 1; k <= 40; k++) for (const t of [(h * k) / 40, (h / 1e4) * (k / 40), h * 0.7 ** k]) expect(at(t) + offset).toBeLessThanOrEqual(1e-5 * size);
      }
    }),
    { numRuns: 150 },
  );
  expect(said).toBeGreaterThan(20);
  expect(near / looked).toBeGreaterThan(0.8);
});

/** Nothing whose square is lost. */
const seen = entry.map((v) => (Math.abs(v) < 1e-60 ? 0 : v));

test('what modes may do to a slope, worked out for many at once, is never below what it is for one, and grows with the time', () => {
  let close = 0;
  let looked = 0;
  fc.assert(
    fc.property(fc.oneof(square(4), nearlyDouble), fc.array(seen, { minLength: 4, maxLength: 4 }), fc.array(seen, { minLength: 4, maxLength: 4 }), fc.double({ min: 0.01, max: 6, noNaN: true }), (F, z, r, h) => {
      const modes = modesOf(buildStepTable(F, 2, 4));
      const [q, reach, wider, sizes] = [0, 0, 0, 0].map(() => new Float64Array(modes.count)) as [Float64Array, Float64Array, Float64Array, Float64Array];
      modalRates(modes, Float64Array.from(z), q);
      const modal = modalRow(modes, Float64Array.from(r));
      slopeReach(modes, h, reach);
      slopeReach(modes, 1.2 * h, wider);
      rateSizes(modes, q, sizes);
      const most = modalSizes(modes, modal).reduce((sum, v, k) => sum + v * sizes[k]! * reach[k]!, 0);
      const one = offMeanSlope(modes, modal, q, h);
      // But for what has no square that a number can be.
      expect(one).toBeLessThanOrEqual(most * (1 + 1e-12) + 1e-140);
      wider.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(reach[k]! * (1 - 1e-12)));
      looked++;
      if (most <= 3 * one) close++;
    }),
    { numRuns: 200 },
  );
  // Not so far above it that it says nothing.
  expect(close / looked).toBeGreaterThan(0.5);
});

describe('the fastest mode that is alive', () => {
  const fastest = (F: number[], z: number[]): number => {
    const n = z.length;
    const modes = modesOf(buildStepTable(Float64Array.from(F), 1e-3, n));
    const [at, q] = [Float64Array.from(z), new Float64Array(n)];
    modalRates(modes, at, q);
    return fastestAlive(modes, at, q);
  };
  test('one that has died, or was never there, is none', () => {
    const F = [-1e9, 0, 0, -1e3];
    expect(fastest(F, [1, 1])).toBeCloseTo(1e9, 0);
    expect(fastest(F, [1e-6, 1])).toBeCloseTo(1e9, 0);
    expect(fastest(F, [1e-20, 1])).toBeCloseTo(1e3, 6);
  });
  test('one that rings counts with its speed, and one that grows however small it is', () => {
    const [a, w] = [10, 5e4];
    expect(fastest([-a, w, -w, -a], [1, 0])).toBeCloseTo(Math.hypot(a, w), 3);
    expect(fastest([1e6, 0, 0, -1e3], [1e-30, 1])).toBeCloseTo(1e6, 3);
  });
});
