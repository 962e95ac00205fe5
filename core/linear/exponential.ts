import { composeRises, identity, leadingTimes, multiply, rowNorm } from './dense';

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

/** Ψ(h) and E(h) by Taylor, h of either sign; wants ‖F‖|h| ≤ ½, then 16 terms leave less than 1e-19. */
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
    if (size < 1e-22 * Math.abs(h)) break;
  }
  const e = new Float64Array(n * n);
  multiply(F, psi, e, n);
  return { psi, e };
}

/** E(h) alone, by Taylor, where only the first `active` rows of F have anything in them; h of either sign, ‖F‖|h| ≤ ½. */
export function shortRise(F: Float64Array, h: number, active: number, n: number): Float64Array {
  let term: Float64Array = F.map((v) => v * h);
  const e = term.slice();
  let next: Float64Array = new Float64Array(n * n);
  for (let k = 2; k <= 17; k++) {
    composeRises(term, F, next, active, n);
    const f = h / k;
    let largest = 0;
    for (let i = 0; i < active * n; i++) {
      const value = next[i]! * f;
      next[i] = value;
      e[i]! += value;
      largest = Math.max(largest, Math.abs(value));
    }
    if (largest < 1e-22) break;
    const spare = term;
    term = next;
    next = spare;
  }
  return e;
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

/** Φ(h) = e^(Fh) and Ψ(h) = ∫ Φ, n×n each, for one duration of h ≥ 0 s, F in 1/s. */
export function exponentialStep(F: Float64Array, h: number, n: number): Step {
  const doublings = halvings(rowNorm(F, n), h);
  const { psi, e } = shortStep(F, h / 2 ** doublings, n);
  const work = new Float64Array(n * n);
  for (let k = 0; k < doublings; k++) doubleStep(psi, e, work, n);
  for (let i = 0; i < n; i++) e[i * (n + 1)]! += 1;
  return { h, phi: e, psi };
}

let termBuffer = new Float64Array(64);
let nextBuffer = new Float64Array(64);

/**
 * z(h) = e^{Fh} z for one vector by Taylor; wants ‖F‖h of order one or less. out must not be z.
 * Only the first `active` rows of F are looked at (the rest are zero).
 * @param rest terms smaller than this share of what they are added to are left out, and all that follow
 */
export function taylorAdvance(F: Float64Array, z: Float64Array, h: number, out: Float64Array, n: number, active = n, rest = 1e-17): void {
  if (termBuffer.length < n) {
    termBuffer = new Float64Array(2 * n);
    nextBuffer = new Float64Array(2 * n);
  }
  let term = termBuffer;
  let next = nextBuffer;
  for (let i = 0; i < n; i++) {
    term[i] = z[i]!;
    out[i] = z[i]!;
  }
  for (let k = 1; k <= 40; k++) {
    const f = h / k;
    // From the first derivative on, what does not move has no part.
    leadingTimes(F, term, next, active, k === 1 ? n : active, n);
    let small = true;
    for (let i = 0; i < active; i++) {
      const sum = next[i]! * f;
      next[i] = sum;
      const whole = out[i]! + sum;
      out[i] = whole;
      if ((sum < 0 ? -sum : sum) > rest * (whole < 0 ? -whole : whole)) small = false;
    }
    if (small) return;
    const spare = term;
    term = next;
    next = spare;
  }
}
