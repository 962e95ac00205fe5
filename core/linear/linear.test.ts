import fc from 'fast-check';
import { factorShifted, shiftedRoom, solveLeadingTransposed, solveShifted, solveShiftedTransposed } from './complex';
import { apply, dot, leadingBlock, multiply, solveInPlace } from './dense';
import { eigenvalues } from './eigen';
import { exponentialStep } from './exponential';
import { advance, areaAlong, buildStepTable, climb, phiAt, rowOfArea } from './stepTable';

const matrix = (n: number, size: number): fc.Arbitrary<Float64Array> =>
  fc.array(fc.double({ min: -size, max: size, noNaN: true }), { minLength: n * n, maxLength: n * n }).map((a) => Float64Array.from(a));

const relative = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  let worst = 0;
  let size = 0;
  for (let i = 0; i < a.length; i++) {
    worst = Math.max(worst, Math.abs(a[i]! - b[i]!));
    size = Math.max(size, Math.abs(b[i]!));
  }
  return worst / (size || 1);
};

describe('matrix exponential', () => {
  test('a rotation is sines and cosines, over many turns', () => {
    const w = 2 * Math.PI * 50;
    const { phi, psi } = exponentialStep(Float64Array.of(0, w, -w, 0), 0.123, 2);
    const angle = w * 0.123;
    expect(relative(phi, [Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle)])).toBeLessThan(1e-12);
    expect(relative(psi, [Math.sin(angle) / w, (1 - Math.cos(angle)) / w, -(1 - Math.cos(angle)) / w, Math.sin(angle) / w])).toBeLessThan(1e-12);
  });

  test('an integrator chain gives the powers of t', () => {
    const { phi } = exponentialStep(Float64Array.of(0, 1, 0, 0, 0, 1, 0, 0, 0), 3, 3);
    expect(relative(phi, [1, 3, 4.5, 0, 1, 3, 0, 0, 1])).toBeLessThan(1e-15);
  });

  test('a slow mode keeps its digits beside one a trillion times faster', () => {
    const { phi } = exponentialStep(Float64Array.of(-1e12, 0, 0, -1), 1e-3, 2);
    expect(phi[3]).toBeCloseTo(Math.exp(-1e-3), 14);
    expect(Math.abs(phi[0]!)).toBeLessThan(1e-300);
  });

  test('Φ(a + b) = Φ(a) Φ(b) and E = F Ψ for any matrix', () => {
    fc.assert(
      fc.property(matrix(3, 4), fc.double({ min: 0.01, max: 1, noNaN: true }), fc.double({ min: 0.01, max: 1, noNaN: true }), (F, a, b) => {
        const whole = exponentialStep(F, a + b, 3);
        const product = new Float64Array(9);
        multiply(exponentialStep(F, a, 3).phi, exponentialStep(F, b, 3).phi, product, 3);
        expect(relative(product, whole.phi)).toBeLessThan(1e-11);
        multiply(F, whole.psi, product, 3);
        for (let i = 0; i < 3; i++) product[4 * i]! += 1;
        expect(relative(product, whole.phi)).toBeLessThan(1e-11);
      }),
    );
  });
});

describe('small solves', () => {
  test('a solution satisfies its equations', () => {
    fc.assert(
      fc.property(matrix(4, 10), matrix(4, 10), (a, b) => {
        for (let i = 0; i < 4; i++) a[5 * i]! += 45; // diagonally dominant: never singular
        const x = b.slice();
        expect(solveInPlace(a.slice(), x, 4, 4)).toBe(-1);
        const back = new Float64Array(16);
        multiply(a, x, back, 4);
        expect(relative(back, b)).toBeLessThan(1e-12);
      }),
    );
  });

  test('a singular matrix is told, not solved', () => {
    expect(solveInPlace(Float64Array.of(1, 2, 2, 4), Float64Array.of(1, 1), 2, 1)).toBe(1);
  });

  test('(jω − A) x = b for a series R-L-C: the current at resonance is V/R', () => {
    const [R, L, C] = [2, 1e-3, 1e-6];
    const A = Float64Array.of(-R / L, -1 / L, 1 / C, 0);
    const [xr, xi, factors] = [Float64Array.of(1 / L, 0), new Float64Array(2), shiftedRoom(2)];
    expect(factorShifted(A, { re: 0, im: 1 / Math.sqrt(L * C) }, factors)).toBe(true);
    solveShifted(factors, xr, xi);
    expect(xr[0]).toBeCloseTo(1 / R, 12);
    expect(xi[0]).toBeCloseTo(0, 12);
  });

  test('(s − A) x = b and its transpose, by what is left over', () => {
    const n = 4;
    fc.assert(fc.property(matrix(n, 5), matrix(2, 5), fc.double({ min: 0.1, max: 20, noNaN: true }), (A, b, w) => {
      const s = { re: 0.3, im: w };
      const factors = shiftedRoom(n);
      if (!factorShifted(A, s, factors)) return;
      for (const transposed of [false, true]) {
        const [xr, xi] = [b.slice(), new Float64Array(n)];
        (transposed ? solveShiftedTransposed : solveShifted)(factors, xr, xi);
        const largest = Math.max(1, ...xr.map(Math.abs), ...xi.map(Math.abs));
        for (let i = 0; i < n; i++) {
          let [re, im] = [s.re * xr[i]! - s.im * xi[i]! - b[i]!, s.re * xi[i]! + s.im * xr[i]!];
          for (let j = 0; j < n; j++) {
            const a = transposed ? A[j * n + i]! : A[i * n + j]!;
            re -= a * xr[j]!;
            im -= a * xi[j]!;
          }
          // Backward stable: what is left is rounding of the terms.
          expect(Math.hypot(re, im)).toBeLessThan(1e-12 * largest);
        }
      }
    }));
  });

  test('(jω − F)ᵀ x = b where the last rows of F are nothing: from the block of what moves, as from all of it', () => {
    const [n, size] = [3, 5];
    fc.assert(fc.property(matrix(size, 5), matrix(3, 5), fc.double({ min: 0.5, max: 20, noNaN: true }), (full, b, w) => {
      const F = full.map((v, k) => (k < n * size ? v : 0));
      const [block, whole] = [shiftedRoom(n), shiftedRoom(size)];
      if (!factorShifted(leadingBlock(F, n, size), { re: 0, im: w }, block) || !factorShifted(F, { re: 0, im: w }, whole)) return;
      const [own, other] = [0, 1].map(() => [b.slice(0, size), new Float64Array(size)] as const);
      solveLeadingTransposed(block, F, size, w, ...own!);
      solveShiftedTransposed(whole, ...other!);
      // Near a mode on the axis both are as far off as the matrix is near to singular.
      const largest = Math.max(1, ...other!.flatMap((v) => [...v].map(Math.abs)));
      if (largest < 1e6) for (const k of [0, 1]) for (let i = 0; i < size; i++) expect(Math.abs(own![k]![i]! - other![k]![i]!)).toBeLessThan(1e-8 * largest);
    }));
  });

  test('eigenvalues of a damped pair', () => {
    const found = eigenvalues(Float64Array.of(-1, 5, -5, -1), 2).sort((a, b) => a.im - b.im);
    expect(found[0]!.re).toBeCloseTo(-1);
    expect(found.map((e) => Math.abs(e.im))).toEqual([5, 5]);
  });
});

describe('a step table in steady use', () => {
  // A fast mode that rings, a slow one, and a source.
  const size = 4;
  const F = Float64Array.from([-1e6, 8e6, 0, 2e5, -8e6, -1e6, 3e3, 0, 0, 1e2, -50, 1e3, 0, 0, 0, 0]);
  const z = Float64Array.from([1, -2, 3, 0.5]);
  const times = Array.from({ length: 200 }, (_, k) => 4e-6 * ((k * 0.6180339887) % 1.7));
  test('areas along a time, and the row that they follow from the beginning by, are those of the exponential', () => {
    fc.assert(fc.property(fc.double({ min: 1e-3, max: 3, noNaN: true }), fc.constantFrom(1, 1e3, 1e7), (t, fast) => {
      // Two that move, the second fast, and a source that stands.
      const F = Float64Array.from([-0.3, 2, 1, -2 * fast, -fast, fast, 0, 0, 0]);
      const stepTable = buildStepTable(F, 1, 3);
      const [z0, row] = [Float64Array.of(1, -2, 0.7), Float64Array.of(0.4, 1, -1)];
      const { psi } = exponentialStep(F, t, 3);
      const expected = new Float64Array(3);
      apply(psi, z0, expected, 3);
      const area = areaAlong(stepTable, z0, t);
      expect(relative(area, [...expected])).toBeLessThan(1e-11);
      expect(Math.abs(dot(rowOfArea(stepTable, row, t), z0, 3) - dot(row, expected, 3))).toBeLessThan(1e-11 * (Math.abs(dot(row, expected, 3)) + 1));
    }));
  });
  test('times put together from digits are those of the exponential', () => {
    const stepTable = buildStepTable(F, 2e-6, size);
    for (const t of times) advance(stepTable, z, t);
    expect(stepTable.uses).toBeGreaterThan(100);
    for (const t of times) {
      const { phi } = exponentialStep(F, t, size);
      const wanted = new Float64Array(size);
      apply(phi, z, wanted, size);
      expect(relative(climb(stepTable, z, t), wanted)).toBeLessThan(1e-13);
      expect(relative(phiAt(stepTable, t), phi)).toBeLessThan(1e-13);
    }
  });
  test('times that are whole digits, and next to them', () => {
    const stepTable = buildStepTable(F, 2e-6, size);
    for (const t of times) advance(stepTable, z, t);
    const around = Array.from({ length: 400 }, (_, k) => (2e-6 / 16 ** (1 + (k % 4))) * (1 + (k >> 4)) * (1 + ((k % 5) - 2) * 1.2e-16));
    for (const t of [...around, 9.375e-7]) {
      const wanted = new Float64Array(size);
      apply(exponentialStep(F, t, size).phi, z, wanted, size);
      expect(relative(climb(stepTable, z, t), wanted)).toBeLessThan(1e-13);
    }
  });
  test('and the same as of one that has just been built', () => {
    const [used, fresh] = [buildStepTable(F, 2e-6, size), buildStepTable(F, 2e-6, size)];
    for (const t of times) advance(used, z, t);
    for (const t of times) expect(relative(climb(used, z, t), climb(fresh, z, t))).toBeLessThan(1e-13);
  });
});
