import { LuDecomposition, Matrix } from 'ml-matrix';

/**
 * A general solver of stiff linear equations, for tests alone: ẏ = F y by the three-stage Radau IIA formula (order 5, L-stable;
 * E. Hairer, G. Wanner, Solving Ordinary Differential Equations II, IV.5 and IV.8), whose step is halved and doubled as the
 * difference between one step and two of half its length asks for.
 */

const r6 = Math.sqrt(6);
/** Its coefficients */
const A = [
  [(88 - 7 * r6) / 360, (296 - 169 * r6) / 1800, (-2 + 3 * r6) / 225],
  [(296 + 169 * r6) / 1800, (88 + 7 * r6) / 360, (-2 - 3 * r6) / 225],
  [(16 - r6) / 36, (16 + r6) / 36, 1 / 9],
];
const ORDER = 5;

/** What a solution took. */
export interface StiffSolution {
  y: Float64Array;
  steps: number;
}

/**
 * Solve ẏ = F y over a time.
 * @param F n × n, row by row
 * @param scale size of each state, beside which it counts as wrong
 * @param tolerance error of a step, as a share of the scale
 * @throws where it takes more than a million steps
 */
export function solveStiff(F: Float64Array, y0: Float64Array, duration: number, scale: Float64Array, tolerance: number): StiffSolution {
  const n = y0.length;
  const factored = new Map<number, LuDecomposition>();
  /** (I − h A⊗F) of a step's length, factored. */
  const of = (h: number): LuDecomposition => {
    let lu = factored.get(h);
    if (!lu) {
      const m = Matrix.eye(3 * n);
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) for (let r = 0; r < n; r++) for (let c = 0; c < n; c++) m.set(i * n + r, j * n + c, m.get(i * n + r, j * n + c) - h * A[i]![j]! * F[r * n + c]!);
      factored.set(h, (lu = new LuDecomposition(m)));
    }
    return lu;
  };
  const step = (y: Float64Array, h: number): Float64Array => {
    const rate = Array.from({ length: n }, (_, r) => F.subarray(r * n, (r + 1) * n).reduce((sum, f, c) => sum + f * y[c]!, 0));
    const k = of(h).solve(Matrix.columnVector([...rate, ...rate, ...rate]));
    return y.map((v, r) => v + h * (A[2]![0]! * k.get(r, 0) + A[2]![1]! * k.get(n + r, 0) + A[2]![2]! * k.get(2 * n + r, 0)));
  };
  let y = y0;
  let steps = 0;
  // Times as whole parts of the duration, so that the end is met and few lengths are factored.
  let [done, part] = [0, 1 / 16];
  while (done < 1) {
    if (++steps > 1e6) throw new Error('more than a million steps');
    const h = part * duration;
    const whole = step(y, h);
    const halves = step(step(y, h / 2), h / 2);
    const wrong = Math.max(...halves.map((v, i) => (scale[i]! > 0 ? Math.abs(v - whole[i]!) / scale[i]! : 0))) / (2 ** ORDER - 1);
    if (wrong > tolerance && part > 2 ** -50) {
      part /= 2;
      continue;
    }
    y = halves;
    done += part;
    // Only where the longer step still ends on a whole part of the duration.
    if (wrong < tolerance / 2 ** (ORDER + 2) && (done / part) % 2 === 0 && done + 2 * part <= 1) part *= 2;
  }
  return { y, steps };
}
