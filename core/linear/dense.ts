/**
 * Small dense real matrices, row by row in a Float64Array (n×n unless said otherwise).
 * Kernels write into buffers they are given and allocate nothing: they stand in the hot loops.
 */

/** out = a·b, all n×n; out must be neither a nor b. */
export function multiply(a: Float64Array, b: Float64Array, out: Float64Array, n: number): void {
  for (let i = 0; i < n; i++) {
    const row = i * n;
    for (let j = 0; j < n; j++) out[row + j] = 0;
    for (let k = 0; k < n; k++) {
      const f = a[row + k]!;
      if (f === 0) continue;
      const from = k * n;
      for (let j = 0; j < n; j++) out[row + j]! += f * b[from + j]!;
    }
  }
}

/** out = a·x for an n×n matrix and a vector of n; out must not be x. */
export function apply(a: Float64Array, x: Float64Array, out: Float64Array, n: number): void {
  for (let i = 0, row = 0; i < n; i++, row += n) {
    let sum = 0;
    for (let j = 0; j < n; j++) sum += a[row + j]! * x[j]!;
    out[i] = sum;
  }
}

/** out = a·x where only the first `active` rows of a differ from the identity: the rest of x stays. */
export function applyActive(a: Float64Array, x: Float64Array, out: Float64Array, active: number, n: number): void {
  for (let i = 0, row = 0; i < active; i++, row += n) {
    let sum = 0;
    for (let j = 0; j < n; j++) sum += a[row + j]! * x[j]!;
    out[i] = sum;
  }
  for (let i = active; i < n; i++) out[i] = x[i]!;
}

/** How many leading rows of F have anything in them: the entries of z that move. */
export function activeRows(F: Float64Array, n: number): number {
  for (let i = n - 1; i >= 0; i--) for (let j = 0; j < n; j++) if (F[i * n + j] !== 0) return i + 1;
  return 0;
}

/** Inner product of the first n entries. */
export function dot(a: Float64Array, b: Float64Array, n: number): number {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += a[i]! * b[i]!;
  return sum;
}

/** rowᵀ·a : a row vector of n times an n×n matrix. */
export function rowTimes(row: Float64Array, a: Float64Array, out: Float64Array, n: number): void {
  out.fill(0, 0, n);
  for (let k = 0; k < n; k++) {
    const f = row[k]!;
    if (f === 0) continue;
    for (let j = 0; j < n; j++) out[j]! += f * a[k * n + j]!;
  }
}

export function identity(n: number): Float64Array {
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) out[i * (n + 1)] = 1;
  return out;
}

/** Largest absolute row sum: an upper bound of every eigenvalue's size. */
export function rowNorm(a: Float64Array, n: number): number {
  let worst = 0;
  for (let i = 0; i < n; i++) {
    let sum = 0;
    for (let j = 0; j < n; j++) sum += Math.abs(a[i * n + j]!);
    if (sum > worst) worst = sum;
  }
  return worst;
}

/**
 * Solve a·X = b in place by Gaussian elimination with partial pivoting.
 *
 * @param a n×n, destroyed
 * @param b n×m right-hand sides, replaced by the solution
 * @returns -1, or the column at which no pivot was found (the matrix is singular)
 */
export function solveInPlace(a: Float64Array, b: Float64Array, n: number, m: number): number {
  // A pivot that elimination has left with rounding alone counts as none.
  const scale = new Float64Array(n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) scale[j] = Math.max(scale[j]!, Math.abs(a[i * n + j]!));
  for (let col = 0; col < n; col++) {
    let pivot = col;
    for (let i = col + 1; i < n; i++) if (Math.abs(a[i * n + col]!) > Math.abs(a[pivot * n + col]!)) pivot = i;
    const value = a[pivot * n + col]!;
    if (!(Math.abs(value) > scale[col]! * 1e-15)) return col;
    if (pivot !== col) {
      swapRows(a, n, pivot, col);
      swapRows(b, m, pivot, col);
    }
    for (let i = col + 1; i < n; i++) {
      const f = a[i * n + col]! / value;
      if (f === 0) continue;
      for (let j = col; j < n; j++) a[i * n + j]! -= f * a[col * n + j]!;
      for (let j = 0; j < m; j++) b[i * m + j]! -= f * b[col * m + j]!;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    const value = a[i * n + i]!;
    for (let j = 0; j < m; j++) {
      let sum = b[i * m + j]!;
      for (let k = i + 1; k < n; k++) sum -= a[i * n + k]! * b[k * m + j]!;
      b[i * m + j] = sum / value;
    }
  }
  return -1;
}

function swapRows(a: Float64Array, width: number, p: number, q: number): void {
  for (let j = 0; j < width; j++) {
    const t = a[p * width + j]!;
    a[p * width + j] = a[q * width + j]!;
    a[q * width + j] = t;
  }
}
