import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Complex } from './complex';
import { solveInPlace } from './dense';

/** Share of the largest entry below which one is nothing: with the largest beside it, it moves an eigenvalue by 1e-14 of that. */
const NOTHING = 1e-28;
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

/** Eigenvalues of a small dense real matrix (n×n, row by row), unordered; balanced first. In the unit of the matrix: of a rate, 1/s. */
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

/** Shares of each row's own size by which the diagonal of a matrix without a full set of vectors is shifted until it has one. */
const SHIFTS = [0, 1e-13, 1e-11, 1e-9, 1e-7, 1e-6, 1e-5, 1e-4];

/** From 0.5 to 1.5, for no two rows in a ratio that theirs may have. */
const unlike = (i: number): number => 0.5 + (((i + 1) * (Math.sqrt(5) - 1)) / 2) % 1;

/** Entries of V⁻¹, V's being one at most, beyond which digits are lost in it. */
const PARALLEL = 1e13;
/**
 * Eigenvalues nearer than this to one another, as a share of the rows that make them, tell little of what their vectors
 * differ by: of a double pole's growth, which is the product of a small distance with a large entry of V⁻¹, rounding of
 * 1e-16 then leaves five digits and less. That matters where the vectors are nearly parallel, with entries above the second.
 */
const [NEAR, SKEW] = [1e-11, 10];

/** Eigenvalues and vectors, balanced. Where there is no full set of vectors, those of a matrix next to it. */
export function decompose(a: Float64Array, n: number): Decomposition {
  const balanced = a.slice(0, n * n);
  const scale = balance(balanced, n);
  const rows = Float64Array.from({ length: n }, (_, i) => balanced.subarray(i * n, (i + 1) * n).reduce((most, v) => Math.max(most, Math.abs(v)), 0));
  for (const shift of SHIFTS) {
    if (shift > 0) for (let i = 0; i < n; i++) balanced[i * (n + 1)]! += shift * rows[i]! * unlike(i);
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
    if (shift < SHIFTS.at(-1)! && (left.some((v) => Math.abs(v) > PARALLEL) || nearlyDouble(realEigenvalues, imaginaryEigenvalues, right, left, rows))) continue;
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++) {
        right[i * n + k]! *= scale[i]!;
        left[k * n + i]! /= scale[i]!;
      }
    return { n, re: Float64Array.from(realEigenvalues), im: Float64Array.from(imaginaryEigenvalues), right, left, scale };
  }
  throw new Error('no eigenvectors');
}

/** Are there two eigenvalues so near, and their vectors so nearly parallel, that the vectors say little? In balanced coordinates. */
function nearlyDouble(re: readonly number[], im: readonly number[], right: Float64Array, left: Float64Array, rows: Float64Array): boolean {
  const n = rows.length;
  const skewed = re.map((_, k) => rows.some((_, i) => Math.abs(left[k * n + i]!) > SKEW));
  /** Size of the rows that make an eigenvalue, by the part that each state takes in it */
  const sizeOf = (k: number): number => {
    let [sum, all] = [0, 0];
    for (let i = 0; i < n; i++) {
      const part = Math.abs(right[i * n + k]! * left[k * n + i]!);
      sum += part * rows[i]!;
      all += part;
    }
    return sum / all;
  };
  for (let k = 0; k < n; k++)
    for (let other = k + 1; other < n; other++)
      if (skewed[k] && skewed[other] && Math.hypot(re[k]! - re[other]!, im[k]! - im[other]!) <= NEAR * Math.min(sizeOf(k), sizeOf(other))) return true;
  return false;
}
