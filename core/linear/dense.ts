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

/**
 * The first `rows` entries of a·x by the first `width` columns of a, whose rows are n long.
 * Four rows at a time, so that each entry of x is read once for all of them: this is the innermost loop of every run.
 */
export function leadingTimes(a: Float64Array, x: Float64Array, out: Float64Array, rows: number, width: number, n: number): void {
  let i = 0;
  let r0 = 0;
  for (; i + 3 < rows; i += 4, r0 += 4 * n) {
    const [r1, r2, r3] = [r0 + n, r0 + 2 * n, r0 + 3 * n];
    let s0 = 0;
    let s1 = 0;
    let s2 = 0;
    let s3 = 0;
    for (let j = 0; j < width; j++) {
      const v = x[j]!;
      s0 += a[r0 + j]! * v;
      s1 += a[r1 + j]! * v;
      s2 += a[r2 + j]! * v;
      s3 += a[r3 + j]! * v;
    }
    out[i] = s0;
    out[i + 1] = s1;
    out[i + 2] = s2;
    out[i + 3] = s3;
  }
  if (i + 1 < rows) {
    const r1 = r0 + n;
    let s0 = 0;
    let s1 = 0;
    for (let j = 0; j < width; j++) {
      const v = x[j]!;
      s0 += a[r0 + j]! * v;
      s1 += a[r1 + j]! * v;
    }
    out[i] = s0;
    out[i + 1] = s1;
    i += 2;
    r0 += 2 * n;
  }
  if (i < rows) {
    let sum = 0;
    for (let j = 0; j < width; j++) sum += a[r0 + j]! * x[j]!;
    out[i] = sum;
  }
}

/** out = a·x where only the first `active` rows of a differ from the identity: the rest of x stays. */
export function applyActive(a: Float64Array, x: Float64Array, out: Float64Array, active: number, n: number): void {
  leadingTimes(a, x, out, active, n, n);
  for (let i = active; i < n; i++) out[i] = x[i]!;
}

/** out = a·b where below the first `active` rows a and b are both the identity: one step after another. */
export function composeSteps(a: Float64Array, b: Float64Array, out: Float64Array, active: number, n: number): void {
  leadingRows(a, b, out, active, active, n);
  for (let i = 0; i < active; i++) for (let j = active; j < n; j++) out[i * n + j]! += a[i * n + j]!;
  for (let k = active * n; k < n * n; k++) out[k] = b[k]!;
}

/** out = a·b where below the first `active` rows a and b are both zero. */
export function composeRises(a: Float64Array, b: Float64Array, out: Float64Array, active: number, n: number): void {
  leadingRows(a, b, out, active, active, n);
  out.fill(0, active * n, n * n);
}

/** The first `rows` rows of a·b, of which the first `depth` products are summed, in blocks of two by four. */
function leadingRows(a: Float64Array, b: Float64Array, out: Float64Array, rows: number, depth: number, n: number): void {
  let i = 0;
  let r0 = 0;
  for (; i + 1 < rows; i += 2, r0 += 2 * n) {
    const r1 = r0 + n;
    let j = 0;
    for (; j + 3 < n; j += 4) {
      let [s, t, u, w] = [0, 0, 0, 0];
      let [s2, t2, u2, w2] = [0, 0, 0, 0];
      for (let k = 0, q = j; k < depth; k++, q += n) {
        const f = a[r0 + k]!;
        const g = a[r1 + k]!;
        const x = b[q]!;
        const y = b[q + 1]!;
        const x2 = b[q + 2]!;
        const y2 = b[q + 3]!;
        s += f * x;
        t += f * y;
        u += g * x;
        w += g * y;
        s2 += f * x2;
        t2 += f * y2;
        u2 += g * x2;
        w2 += g * y2;
      }
      out[r0 + j] = s;
      out[r0 + j + 1] = t;
      out[r0 + j + 2] = s2;
      out[r0 + j + 3] = t2;
      out[r1 + j] = u;
      out[r1 + j + 1] = w;
      out[r1 + j + 2] = u2;
      out[r1 + j + 3] = w2;
    }
    for (; j + 1 < n; j += 2) {
      let s = 0;
      let t = 0;
      let u = 0;
      let w = 0;
      for (let k = 0, q = j; k < depth; k++, q += n) {
        const f = a[r0 + k]!;
        const g = a[r1 + k]!;
        const x = b[q]!;
        const y = b[q + 1]!;
        s += f * x;
        t += f * y;
        u += g * x;
        w += g * y;
      }
      out[r0 + j] = s;
      out[r0 + j + 1] = t;
      out[r1 + j] = u;
      out[r1 + j + 1] = w;
    }
    for (; j < n; j++) {
      let s = 0;
      let u = 0;
      for (let k = 0, q = j; k < depth; k++, q += n) {
        s += a[r0 + k]! * b[q]!;
        u += a[r1 + k]! * b[q]!;
      }
      out[r0 + j] = s;
      out[r1 + j] = u;
    }
  }
  for (; i < rows; i++, r0 += n)
    for (let j = 0; j < n; j++) {
      let s = 0;
      for (let k = 0, q = j; k < depth; k++, q += n) s += a[r0 + k]! * b[q]!;
      out[r0 + j] = s;
    }
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

/** The n×n identity, row by row. */
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
  // Circuits are sparse: of the pivot's row only what is there is carried on.
  const there = new Int32Array(Math.max(n, m));
  const carried = new Int32Array(m);
  for (let col = 0; col < n; col++) {
    let pivot = col;
    for (let i = col + 1; i < n; i++) if (Math.abs(a[i * n + col]!) > Math.abs(a[pivot * n + col]!)) pivot = i;
    const value = a[pivot * n + col]!;
    if (!(Math.abs(value) > scale[col]! * 1e-15)) return col;
    if (pivot !== col) {
      swapRows(a, n, pivot, col);
      swapRows(b, m, pivot, col);
    }
    let [inA, inB] = [-1, 0];
    for (let i = col + 1; i < n; i++) {
      const f = a[i * n + col]! / value;
      if (f === 0) continue;
      if (inA < 0) {
        inA = nonZeros(a, col * n, col + 1, n, there);
        inB = nonZeros(b, col * m, 0, m, carried);
      }
      a[i * n + col] = 0;
      for (let k = 0; k < inA; k++) a[i * n + there[k]!]! -= f * a[col * n + there[k]!]!;
      for (let k = 0; k < inB; k++) b[i * m + carried[k]!]! -= f * b[col * m + carried[k]!]!;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    const value = a[i * n + i]!;
    for (let k = i + 1; k < n; k++) {
      const f = a[i * n + k]!;
      if (f !== 0) for (let j = 0; j < m; j++) b[i * m + j]! -= f * b[k * m + j]!;
    }
    for (let j = 0; j < m; j++) b[i * m + j]! /= value;
  }
  return -1;
}

/** Columns of a row, counted from `from`, that are not zero: how many. */
function nonZeros(a: Float64Array, at: number, from: number, to: number, out: Int32Array): number {
  let count = 0;
  for (let j = from; j < to; j++) if (a[at + j] !== 0) out[count++] = j;
  return count;
}

function swapRows(a: Float64Array, width: number, p: number, q: number): void {
  for (let j = 0; j < width; j++) {
    const t = a[p * width + j]!;
    a[p * width + j] = a[q * width + j]!;
    a[q * width + j] = t;
  }
}

/** The leading n×n block of a matrix whose rows are `size` long. */
export function leadingBlock(a: Float64Array, n: number, size: number): Float64Array {
  const out = new Float64Array(n * n);
  for (let i = 0; i < n; i++) out.set(a.subarray(i * size, i * size + n), i * n);
  return out;
}
