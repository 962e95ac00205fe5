import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Complex } from './complex';
import { solveInPlace } from './dense';

/** Share of the largest entry below which one is nothing. */
const NOTHING = 1e-40;
/** Rounds, and powers of two either way, within which a matrix is balanced: one that falls apart into blocks would go on for ever. */
const MOST_ROUNDS = 40;
const FURTHEST = 100;

/**
 * Scale rows and columns by powers of two until their norms agree: A becomes D⁻¹ A D in place, with the same
 * eigenvalues (Osborne 1960; Parlett, Reinsch 1969). Without it the rounding of large entries drowns small
 * eigenvalues: a delay of 50 ns puts 1e15 beside 1e3.
 *
 * @param a n×n, row by row; replaced
 * @returns D, n entries
 */
export function balance(a: Float64Array, n: number): Float64Array {
  const d = new Float64Array(n).fill(1);
  // Entries that are nothing would be scaled up until they are something.
  let most = 0;
  for (const v of a) most = Math.max(most, Math.abs(v));
  for (let k = 0; k < n * n; k++) if (Math.abs(a[k]!) < NOTHING * most) a[k] = 0;
  for (let round = 0, done = false; !done && round < MOST_ROUNDS; round++) {
    done = true;
    for (let i = 0; i < n; i++) {
      let [column, row] = [0, 0];
      for (let j = 0; j < n; j++) {
        if (j === i) continue;
        column += Math.abs(a[j * n + i]!);
        row += Math.abs(a[i * n + j]!);
      }
      if (!(column > 0) || !(row > 0) || !Number.isFinite(column + row)) continue;
      // The power of two nearest to √(row/column).
      const f = 2 ** Math.round(Math.log2(row / column) / 2);
      if (!(column * f + row / f < 0.95 * (column + row)) || Math.abs(Math.log2(d[i]! * f)) > FURTHEST) continue;
      done = false;
      d[i]! *= f;
      for (let j = 0; j < n; j++) a[i * n + j]! /= f;
      for (let j = 0; j < n; j++) a[j * n + i]! *= f;
    }
  }
  return d;
}

/**
 * By how much of the largest entry the diagonal is shifted while the decomposition works: its iteration ends an
 * eigenvalue when what is beside it is nothing next to it, which an eigenvalue next to zero never grants. Shifted, none
 * is; the smallest are then good to the rounding of the largest.
 */
const SHIFT = 0.7310585786300049;

/** Eigenvalues and vectors of a balanced matrix, its largest entry brought to one. */
function evd(balanced: Float64Array, n: number): { re: number[]; im: number[]; vectors: Matrix } {
  let most = 0;
  for (const v of balanced) most = Math.max(most, Math.abs(v));
  if (!(most > 0) || !Number.isFinite(most)) return { re: new Array<number>(n).fill(most), im: new Array<number>(n).fill(0), vectors: Matrix.eye(n) };
  // A power of two: no digit is lost. What is nothing next to rounding is left out.
  const unit = 2 ** Math.round(Math.log2(most));
  const plain = Array.from(balanced, (v, k) => (Math.abs(v) < NOTHING * most ? 0 : v / unit) + (k % (n + 1) === 0 ? SHIFT : 0));
  const { realEigenvalues, imaginaryEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(Matrix.from1DArray(n, n, plain));
  return { re: realEigenvalues.map((v) => (v - SHIFT) * unit), im: imaginaryEigenvalues.map((v) => v * unit), vectors: eigenvectorMatrix };
}

/** Eigenvalues of a small dense real matrix (n×n, row by row), unordered; balanced first. */
export function eigenvalues(a: Float64Array, n: number): Complex[] {
  if (n === 0) return [];
  const balanced = a.slice(0, n * n);
  balance(balanced, n);
  const { re, im } = evd(balanced, n);
  return re.map((v, i) => ({ re: v, im: im[i]! }));
}

/** A = V Λ V⁻¹ with real V: the columns of a complex pair are the real and imaginary part of its vector. */
export interface Decomposition {
  n: number;
  re: Float64Array;
  /** Of a pair, positive first */
  im: Float64Array;
  /** V, n×n */
  right: Float64Array;
  /** V⁻¹, n×n */
  left: Float64Array;
  /** Size of V's k-th column in the balanced coordinates, where all states weigh alike: one */
  scale: Float64Array;
}

/** Times the matrix's size by which the diagonal of one without a full set of vectors is shifted until it has one. */
const SHIFTS = [0, 1e-13, 1e-11, 1e-9, 1e-6, 1e-4];

/** Entries of V⁻¹, V's being one at most, beyond which digits are lost in it. */
const PARALLEL = 1e13;

/** Eigenvalues and vectors, balanced. Where there is no full set of vectors, those of a matrix next to it. */
export function decompose(a: Float64Array, n: number): Decomposition {
  const balanced = a.slice(0, n * n);
  const scale = balance(balanced, n);
  let size = 0;
  for (const v of balanced) size = Math.max(size, Math.abs(v));
  for (const shift of SHIFTS) {
    if (shift > 0) for (let i = 0; i < n; i++) balanced[i * (n + 1)]! += shift * size * ((i + 1) / n);
    const { re: realEigenvalues, im: imaginaryEigenvalues, vectors: eigenvectorMatrix } = evd(balanced, n);
    const right = new Float64Array(n * n);
    for (let k = 0; k < n; k++) {
      // A pair shares one factor, or its two columns would no longer turn into each other.
      const pair = imaginaryEigenvalues[k]! > 0 ? [k, k + 1] : [k];
      let norm = 0;
      for (const c of pair) for (let i = 0; i < n; i++) norm = Math.max(norm, Math.abs(eigenvectorMatrix.get(i, c)));
      if (!(norm > 0)) norm = 1;
      for (const c of pair) for (let i = 0; i < n; i++) right[i * n + c] = eigenvectorMatrix.get(i, c) / norm;
      k += pair.length - 1;
    }
    const left = new Float64Array(n * n);
    for (let i = 0; i < n; i++) left[i * (n + 1)] = 1;
    if (solveInPlace(right.slice(), left, n, n) >= 0 || !left.every(Number.isFinite)) continue;
    // Vectors that are nearly parallel stand for one that is missing.
    if (shift < SHIFTS.at(-1)! && left.some((v) => Math.abs(v) > PARALLEL)) continue;
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++) {
        right[i * n + k]! *= scale[i]!;
        left[k * n + i]! /= scale[i]!;
      }
    return { n, re: Float64Array.from(realEigenvalues), im: Float64Array.from(imaginaryEigenvalues), right, left, scale };
  }
  throw new Error('no eigenvectors');
}
