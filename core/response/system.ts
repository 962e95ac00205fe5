import { factorShifted, shiftedRoom, solveShifted, type Complex } from '../linear/complex';
import { exponentialStep } from '../linear/exponential';
import { apply } from '../linear/dense';

/**
 * A linear system with one output and several inputs:
 *   x' = A x + Σ b_k u_k        y = c x + Σ d_k u_k
 */
export interface LinearSystem {
  /** Number of states */
  n: number;
  /** n×n */
  A: Float64Array;
  /** One column of n for each input */
  b: readonly Float64Array[];
  /** Output row of n */
  c: Float64Array;
  /** Feedthrough of each input */
  d: readonly number[];
}

/** H(jω) from one input to the output at each frequency in Hz: one small complex solve each. */
export function frequencyResponse(system: LinearSystem, input: number, frequencies: readonly number[]): Complex[] {
  const { n, A, c } = system;
  const b = system.b[input]!;
  const d = system.d[input]!;
  const xr = new Float64Array(n);
  const xi = new Float64Array(n);
  const factors = shiftedRoom(n);
  return frequencies.map((f) => {
    factorShifted(A, { re: 0, im: 2 * Math.PI * f }, factors);
    xr.set(b);
    xi.fill(0);
    solveShifted(factors, xr, xi);
    let re = d;
    let im = 0;
    for (let i = 0; i < n; i++) {
      re += c[i]! * xr[i]!;
      im += c[i]! * xi[i]!;
    }
    return { re, im };
  });
}

/** Response of y to a unit step on one input, exact at each of `points` times from 0 to `duration` s. */
export function stepResponse(system: LinearSystem, input: number, duration: number, points: number): { time: number[]; value: number[] } {
  const { n, A, c } = system;
  const b = system.b[input]!;
  const size = n + 1;
  const F = new Float64Array(size * size);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) F[i * size + j] = A[i * n + j]!;
    F[i * size + n] = b[i]!;
  }
  const dt = duration / (points - 1);
  const { phi } = exponentialStep(F, dt, size);
  let z = new Float64Array(size);
  z[n] = 1;
  let next = new Float64Array(size);
  const time: number[] = [];
  const value: number[] = [];
  for (let k = 0; k < points; k++) {
    time.push(k * dt);
    let y = system.d[input]!;
    for (let i = 0; i < n; i++) y += c[i]! * z[i]!;
    value.push(y);
    apply(phi, z, next, size);
    [z, next] = [next, z];
  }
  return { time, value };
}

/** Log-spaced frequencies in Hz, both ends included. */
export function logSpaced(from: number, to: number, count: number): number[] {
  const ratio = Math.log(to / from) / (count - 1);
  return Array.from({ length: count }, (_, i) => from * Math.exp(ratio * i));
}
