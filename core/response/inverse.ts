import type { Complex } from '../linear/complex';

/**
 * The response in time to a unit step, from a stable frequency response: with H(∞) set aside,
 *
 *   y(t) = H(∞) + (2/π) ∫₀^∞ Re{H(jω) − H(∞)} sin(ωt)/ω dω
 *
 * (Papoulis, "The Fourier Integral and Its Applications", ch. 10). The real part is taken as straight between
 * the given frequencies, and each such piece is integrated in closed form: (a + bω) sin(ωt)/ω gives a Si(ωt) − b cos(ωt)/t.
 */
export function stepFromResponse(frequency: readonly number[], response: readonly Complex[], time: readonly number[]): number[] {
  const w = frequency.map((f) => 2 * Math.PI * f);
  const last = response.at(-1)!.re;
  const re = response.map((v) => v.re - last);
  return time.map((t) => {
    if (t === 0) return last;
    // From zero frequency to the first, the value of the first: an integrating loop has next to none there.
    let sum = re[0]! * sineIntegral(w[0]! * t);
    for (let k = 1; k < w.length; k++) {
      const b = (re[k]! - re[k - 1]!) / (w[k]! - w[k - 1]!);
      const a = re[k]! - b * w[k]!;
      sum += a * (sineIntegral(w[k]! * t) - sineIntegral(w[k - 1]! * t)) - (b / t) * (Math.cos(w[k]! * t) - Math.cos(w[k - 1]! * t));
    }
    return last + (2 / Math.PI) * sum;
  });
}

/** Si(x) = ∫₀ˣ sin(u)/u du for x ≥ 0: its series up to 12, then the asymptotic form (Abramowitz, Stegun, 5.2), to 1e-5. */
export function sineIntegral(x: number): number {
  if (x <= 12) {
    let term = x;
    let sum = x;
    for (let n = 1; n < 60; n++) {
      term *= (-x * x) / ((2 * n) * (2 * n + 1));
      const add = term / (2 * n + 1);
      sum += add;
      if (Math.abs(add) < 1e-15 * Math.abs(sum)) break;
    }
    return sum;
  }
  const y = 1 / (x * x);
  const f = (1 / x) * (1 - 2 * y * (1 - 12 * y * (1 - 30 * y)));
  const g = y * (1 - 6 * y * (1 - 20 * y * (1 - 42 * y)));
  return Math.PI / 2 - f * Math.cos(x) - g * Math.sin(x);
}
