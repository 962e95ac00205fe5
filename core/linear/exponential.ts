import { apply, identity, multiply, rowNorm } from './dense';

/**
 * The matrix exponential and its integral over one step of z' = F z:
 *
 *   Φ(h) = e^{Fh}        Ψ(h) = ∫₀ʰ e^{Fs} ds        E(h) = Φ(h) − I = F Ψ(h)
 *
 * by scaling and doubling (Higham, "Functions of Matrices", ch. 10; Van Loan 1978 for Ψ):
 * a Taylor series at a step so short that ‖F h₀‖ ≤ ½, then
 *
 *   Ψ(2h) = 2Ψ(h) + Ψ(h)E(h)        E(2h) = 2E(h) + E(h)²
 *
 * E is doubled instead of Φ so that slow modes keep their digits beside fast ones: rounding
 * errors stay relative to E, not to the 1 in I + E.
 */
export interface Step {
  h: number;
  /** Φ(h), n×n */
  phi: Float64Array;
  /** Ψ(h), n×n */
  psi: Float64Array;
}

const TAYLOR_NORM = 0.5;

/** Ψ(h) and E(h) by Taylor; wants ‖F‖h ≤ ½, then 16 terms leave less than 1e-19. */
export function shortStep(F: Float64Array, h: number, n: number): { psi: Float64Array; e: Float64Array } {
  const psi = new Float64Array(n * n);
  let term = identity(n);
  for (let i = 0; i < n * n; i++) term[i]! *= h;
  psi.set(term);
  let next = new Float64Array(n * n);
  for (let k = 2; k <= 17; k++) {
    multiply(term, F, next, n);
    const f = h / k;
    let size = 0;
    for (let i = 0; i < n * n; i++) {
      const value = next[i]! * f;
      next[i] = value;
      psi[i]! += value;
      const abs = value < 0 ? -value : value;
      if (abs > size) size = abs;
    }
    [term, next] = [next, term as Float64Array<ArrayBuffer>];
    // ‖term‖ falls by more than h‖F‖/k each time; Ψ is at least h in size.
    if (size < 1e-22 * h) break;
  }
  const e = new Float64Array(n * n);
  multiply(F, psi, e, n);
  return { psi, e };
}

/** How many halvings bring ‖F‖h to ½ or less. */
export const halvings = (norm: number, h: number): number =>
  Math.max(0, Math.ceil(Math.log2((norm * h) / TAYLOR_NORM || Number.MIN_VALUE)));

/** Double a step in place: (Ψ, E) of h become those of 2h. `work` is n×n scratch. */
export function doubleStep(psi: Float64Array, e: Float64Array, work: Float64Array, n: number): void {
  multiply(psi, e, work, n);
  for (let i = 0; i < n * n; i++) psi[i] = 2 * psi[i]! + work[i]!;
  multiply(e, e, work, n);
  for (let i = 0; i < n * n; i++) e[i] = 2 * e[i]! + work[i]!;
}

/** Φ(h) and Ψ(h) for one duration h ≥ 0. */
export function exponentialStep(F: Float64Array, h: number, n: number): Step {
  const doublings = halvings(rowNorm(F, n), h);
  const { psi, e } = shortStep(F, h / 2 ** doublings, n);
  const work = new Float64Array(n * n);
  for (let k = 0; k < doublings; k++) doubleStep(psi, e, work, n);
  for (let i = 0; i < n; i++) e[i * (n + 1)]! += 1;
  return { h, phi: e, psi };
}

/** z(h) = e^{Fh} z for one vector by Taylor; wants ‖F‖h of order one or less. */
export function taylorAdvance(F: Float64Array, z: Float64Array, h: number, out: Float64Array, n: number): void {
  let term = Float64Array.from(z.subarray(0, n));
  let next = new Float64Array(n);
  out.set(term);
  for (let k = 1; k <= 40; k++) {
    apply(F, term, next, n);
    const f = h / k;
    let small = true;
    for (let i = 0; i < n; i++) {
      next[i]! *= f;
      out[i]! += next[i]!;
      if (Math.abs(next[i]!) > 1e-17 * Math.abs(out[i]!)) small = false;
    }
    if (small) return;
    [term, next] = [next, term];
  }
}

/**
 * The quadratic integral Q(h) = ∫₀ʰ e^{Fᵀs} c cᵀ e^{Fs} ds, so that ∫ (cᵀz)² dt = z₀ᵀ Q z₀ exactly.
 * Same scaling; Taylor by Q' = FᵀQ + QF + …, doubling by Q(2h) = Q(h) + Φ(h)ᵀ Q(h) Φ(h).
 */
export function quadraticIntegral(F: Float64Array, c: Float64Array, h: number, n: number): Float64Array {
  // The series in L(X) = FᵀX + XF converges like that of e^{2‖F‖h}: one halving more.
  const doublings = halvings(2 * rowNorm(F, n), h);
  const h0 = h / 2 ** doublings;
  const q = new Float64Array(n * n);
  let term = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) term[i * n + j] = c[i]! * c[j]! * h0;
  q.set(term);
  let next = new Float64Array(n * n);
  for (let k = 2; k <= 17; k++) {
    lyapunov(F, term, next, n);
    const f = h0 / k;
    let size = 0;
    let whole = 0;
    for (let i = 0; i < n * n; i++) {
      const value = next[i]! * f;
      next[i] = value;
      q[i]! += value;
      size += Math.abs(value);
      whole += Math.abs(q[i]!);
    }
    [term, next] = [next, term];
    if (size <= 1e-19 * whole) break;
  }
  if (doublings === 0) return q;
  const { psi, e } = shortStep(F, h0, n);
  const work = new Float64Array(n * n);
  const left = new Float64Array(n * n);
  for (let k = 0; k < doublings; k++) {
    // Q + (I+E)ᵀ Q (I+E) = 2Q + QE + (QE)ᵀ + Eᵀ(QE), Q symmetric
    multiply(q, e, work, n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        let sum = 0;
        for (let m = 0; m < n; m++) sum += e[m * n + i]! * work[m * n + j]!;
        left[i * n + j] = sum + work[i * n + j]! + work[j * n + i]!;
      }
    for (let i = 0; i < n * n; i++) q[i] = 2 * q[i]! + left[i]!;
    doubleStep(psi, e, work, n);
  }
  return q;
}

/** out = FᵀX + XF for symmetric X. */
function lyapunov(F: Float64Array, x: Float64Array, out: Float64Array, n: number): void {
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (let k = 0; k < n; k++) sum += F[k * n + i]! * x[k * n + j]! + x[i * n + k]! * F[k * n + j]!;
      out[i * n + j] = sum;
      out[j * n + i] = sum;
    }
}

/** zᵀ Q z */
export function quadraticForm(q: Float64Array, z: Float64Array, n: number): number {
  let sum = 0;
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) sum += z[i]! * q[i * n + j]! * z[j]!;
  return sum;
}
