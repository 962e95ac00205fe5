/** Complex numbers and the one complex solve that frequency responses need. */
export interface Complex {
  re: number;
  im: number;
}

export const complex = (re: number, im = 0): Complex => ({ re, im });
export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im });
export const times = (a: Complex, b: Complex): Complex => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re });
export const scale = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k });
export function over(a: Complex, b: Complex): Complex {
  const d = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / d, im: (a.im * b.re - a.re * b.im) / d };
}
export const size = (a: Complex): number => Math.hypot(a.re, a.im);
/** Phase in radians, −π to π. */
export const phase = (a: Complex): number => Math.atan2(a.im, a.re);
/** e^{jφ} */
export const turn = (radians: number): Complex => ({ re: Math.cos(radians), im: Math.sin(radians) });

export const decibels = (ratio: number): number => 20 * Math.log10(ratio);
export const degrees = (radians: number): number => (radians * 180) / Math.PI;
export const radians = (deg: number): number => (deg * Math.PI) / 180;

/**
 * Solve (jωI − A) x = b for real A (n×n) and real b (n), by elimination with partial pivoting.
 * Writes the solution into xr, xi; `work` is 2·n·(n+1) scratch. ω in rad/s.
 */
export function solveShifted(
  A: Float64Array,
  omega: number,
  b: Float64Array,
  n: number,
  xr: Float64Array,
  xi: Float64Array,
  work: Float64Array,
): void {
  const w = n + 1;
  const im = n * w;
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) {
      work[i * w + j] = -A[i * n + j]!;
      work[im + i * w + j] = i === j ? omega : 0;
    }
    work[i * w + n] = b[i]!;
    work[im + i * w + n] = 0;
  }
  for (let col = 0; col < n; col++) {
    let pivot = col;
    let best = -1;
    for (let i = col; i < n; i++) {
      const s = Math.abs(work[i * w + col]!) + Math.abs(work[im + i * w + col]!);
      if (s > best) {
        best = s;
        pivot = i;
      }
    }
    if (pivot !== col)
      for (let j = col; j < w; j++) {
        for (const part of [0, im]) {
          const t = work[part + pivot * w + j]!;
          work[part + pivot * w + j] = work[part + col * w + j]!;
          work[part + col * w + j] = t;
        }
      }
    const pr = work[col * w + col]!;
    const pi = work[im + col * w + col]!;
    const d = pr * pr + pi * pi;
    for (let i = col + 1; i < n; i++) {
      const ar = work[i * w + col]!;
      const ai = work[im + i * w + col]!;
      if (ar === 0 && ai === 0) continue;
      const fr = (ar * pr + ai * pi) / d;
      const fi = (ai * pr - ar * pi) / d;
      for (let j = col; j < w; j++) {
        const br = work[col * w + j]!;
        const bi = work[im + col * w + j]!;
        work[i * w + j]! -= fr * br - fi * bi;
        work[im + i * w + j]! -= fr * bi + fi * br;
      }
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    let sr = work[i * w + n]!;
    let si = work[im + i * w + n]!;
    for (let j = i + 1; j < n; j++) {
      const ar = work[i * w + j]!;
      const ai = work[im + i * w + j]!;
      sr -= ar * xr[j]! - ai * xi[j]!;
      si -= ar * xi[j]! + ai * xr[j]!;
    }
    const pr = work[i * w + i]!;
    const pi = work[im + i * w + i]!;
    const d = pr * pr + pi * pi;
    xr[i] = (sr * pr + si * pi) / d;
    xi[i] = (si * pr - sr * pi) / d;
  }
}
