import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Complex } from './complex';

/** Eigenvalues of a small dense real matrix (n×n, row by row), unordered. */
export function eigenvalues(a: Float64Array, n: number): Complex[] {
  if (n === 0) return [];
  const m = Matrix.from1DArray(n, n, Array.from(a.subarray(0, n * n)));
  const { realEigenvalues, imaginaryEigenvalues } = new EigenvalueDecomposition(m);
  return realEigenvalues.map((re, i) => ({ re, im: imaginaryEigenvalues[i]! }));
}
