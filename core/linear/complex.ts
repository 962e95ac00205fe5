/** Complex numbers and the one complex factorisation that frequency responses need. */
export interface Complex {
  re: number;
  im: number;
}

/** re + j·im */
export const complex = (re: number, im = 0): Complex => ({ re, im });
/** a + b */
export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
/** a · b */
export const times = (a: Complex, b: Complex): Complex => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re });
/** a · k for real k */
export const scale = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k });
/** a / b; not finite where b is zero */
export function over(a: Complex, b: Complex): Complex {
  const d = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / d, im: (a.im * b.re - a.re * b.im) / d };
}
/** |a| */
export const size = (a: Complex): number => Math.hypot(a.re, a.im);
/** Phase in radians, −π to π. */
export const phase = (a: Complex): number => Math.atan2(a.im, a.re);
/** e^{jφ} */
export const turn = (radians: number): Complex => ({ re: Math.cos(radians), im: Math.sin(radians) });

/** 20 log₁₀ of a ratio of amplitudes, in dB */
export const decibels = (ratio: number): number => 20 * Math.log10(ratio);
/** ° of radians */
export const degrees = (radians: number): number => (radians * 180) / Math.PI;
/** rad of degrees */
export const radians = (deg: number): number => (deg * Math.PI) / 180;

/** Factors of sI − A (n×n) with complex s: room that is written to again for every frequency. */
export interface Shifted {
  n: number;
  /** Real and imaginary parts of the factors, n×n each; the lower one has ones on its diagonal */
  re: Float64Array;
  im: Float64Array;
  /** Row that each step of the elimination took */
  pivots: Int32Array;
}

/** Room for the factors of an n×n matrix. */
export const shiftedRoom = (n: number): Shifted => ({ n, re: new Float64Array(n * n), im: new Float64Array(n * n), pivots: new Int32Array(n) });

/** Factor sI − A for real A (n×n) by elimination with partial pivoting, into `out`. @returns is it regular? */
export function factorShifted(A: Float64Array, s: Complex, out: Shifted): boolean {
  const { n, re, im, pivots } = out;
  for (let k = 0; k < n * n; k++) re[k] = -A[k]!;
  im.fill(0);
  for (let i = 0; i < n; i++) {
    re[i * (n + 1)]! += s.re;
    im[i * (n + 1)] = s.im;
  }
  for (let col = 0; col < n; col++) {
    let pivot = col;
    let best = -1;
    for (let i = col; i < n; i++) {
      const large = Math.abs(re[i * n + col]!) + Math.abs(im[i * n + col]!);
      if (large > best) {
        best = large;
        pivot = i;
      }
    }
    if (!(best > 0)) return false;
    pivots[col] = pivot;
    const c = col * n;
    if (pivot !== col)
      for (let j = 0, p = pivot * n; j < n; j++) {
        [re[p + j], re[c + j]] = [re[c + j]!, re[p + j]!];
        [im[p + j], im[c + j]] = [im[c + j]!, im[p + j]!];
      }
    const pr = re[c + col]!;
    const pi = im[c + col]!;
    const d = pr * pr + pi * pi;
    for (let i = col + 1; i < n; i++) {
      const r = i * n;
      const ar = re[r + col]!;
      const ai = im[r + col]!;
      if (ar === 0 && ai === 0) continue;
      const fr = (ar * pr + ai * pi) / d;
      const fi = (ai * pr - ar * pi) / d;
      re[r + col] = fr;
      im[r + col] = fi;
      for (let j = col + 1; j < n; j++) {
        const br = re[c + j]!;
        const bi = im[c + j]!;
        re[r + j]! -= fr * br - fi * bi;
        im[r + j]! -= fr * bi + fi * br;
      }
    }
  }
  return true;
}

/** Solve (sI − A) x = b from the factors, in place: xr, xi hold b. */
export function solveShifted({ n, re, im, pivots }: Shifted, xr: Float64Array, xi: Float64Array): void {
  for (let i = 0; i < n; i++) {
    const p = pivots[i]!;
    if (p !== i) [xr[i], xr[p], xi[i], xi[p]] = [xr[p]!, xr[i]!, xi[p]!, xi[i]!];
  }
  for (let i = 0; i < n; i++) {
    let [sr, si] = [xr[i]!, xi[i]!];
    for (let j = 0, r = i * n; j < i; j++, r++) {
      sr -= re[r]! * xr[j]! - im[r]! * xi[j]!;
      si -= re[r]! * xi[j]! + im[r]! * xr[j]!;
    }
    [xr[i], xi[i]] = [sr, si];
  }
  for (let i = n - 1; i >= 0; i--) {
    let [sr, si] = [xr[i]!, xi[i]!];
    for (let j = i + 1; j < n; j++) {
      const r = i * n + j;
      sr -= re[r]! * xr[j]! - im[r]! * xi[j]!;
      si -= re[r]! * xi[j]! + im[r]! * xr[j]!;
    }
    divide(sr, si, re[i * (n + 1)]!, im[i * (n + 1)]!, xr, xi, i);
  }
}

/** Solve (sI − A)ᵀ x = b from the same factors, in place. */
export function solveShiftedTransposed({ n, re, im, pivots }: Shifted, xr: Float64Array, xi: Float64Array): void {
  for (let i = 0; i < n; i++) {
    let [sr, si] = [xr[i]!, xi[i]!];
    for (let j = 0, r = i; j < i; j++, r += n) {
      sr -= re[r]! * xr[j]! - im[r]! * xi[j]!;
      si -= re[r]! * xi[j]! + im[r]! * xr[j]!;
    }
    divide(sr, si, re[i * (n + 1)]!, im[i * (n + 1)]!, xr, xi, i);
  }
  for (let i = n - 1; i >= 0; i--) {
    let [sr, si] = [xr[i]!, xi[i]!];
    for (let j = i + 1; j < n; j++) {
      const r = j * n + i;
      sr -= re[r]! * xr[j]! - im[r]! * xi[j]!;
      si -= re[r]! * xi[j]! + im[r]! * xr[j]!;
    }
    [xr[i], xi[i]] = [sr, si];
  }
  for (let i = n - 1; i >= 0; i--) {
    const p = pivots[i]!;
    if (p !== i) [xr[i], xr[p], xi[i], xi[p]] = [xr[p]!, xr[i]!, xi[p]!, xi[i]!];
  }
}

/**
 * Solve (jω I − F)ᵀ x = b in place, where only the first rows of F have anything in them: from the factors of jω I − A, A their leading block,
 * and what stands still follows from that, over jω.
 * @param F size×size @param xr, xi hold b, `size` entries each
 */
export function solveLeadingTransposed(block: Shifted, F: Float64Array, size: number, w: number, xr: Float64Array, xi: Float64Array): void {
  const { n } = block;
  solveShiftedTransposed(block, xr, xi);
  for (let j = n; j < size; j++) {
    let [a, b] = [xr[j]!, xi[j]!];
    for (let i = 0, at = j; i < n; i++, at += size) {
      a += F[at]! * xr[i]!;
      b += F[at]! * xi[i]!;
    }
    xr[j] = b / w;
    xi[j] = -a / w;
  }
}

/** a / b into place i. */
function divide(ar: number, ai: number, br: number, bi: number, xr: Float64Array, xi: Float64Array, i: number): void {
  const d = br * br + bi * bi;
  xr[i] = (ar * br + ai * bi) / d;
  xi[i] = (ai * br - ar * bi) / d;
}
