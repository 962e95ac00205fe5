import type { Machine, Prepared } from '../circuit/machine';
import { solveShifted, type Complex } from '../linear/complex';
import { dot, solveInPlace } from '../linear/dense';
import { stepOf } from '../orbit/cycle';
import type { SettledCycle } from '../orbit/settle';
import { jumpOf } from '../orbit/sensitivity';

/**
 * The small-signal response of a settled cycle, with no averaging (Floquet): a small e^{jωt} on a
 * source makes δz(t) = p(t) e^{jωt} with p periodic. In a stretch
 *
 *   δz(t) = Φ(t−t₀) h + q e^{jωt}        (jωI − F) q = F's column of the input        h = δz(t₀) − q e^{jωt₀}
 *
 * and at a junction δz⁺ = R δz⁻ + (R f⁻ − f⁺) δt, as in orbit/sensitivity. Closing it over the period,
 * (e^{jωT} I − X) δz(0) = forced part, leaves one small complex solve a frequency. What an analyser with
 * a narrow filter reads at a node is the baseband coefficient (1/T) ∫ δy e^{−jωt} dt, exact as well: the
 * moved edges count with their area (y⁻ − y⁺) δt.
 *
 * Holds in discontinuous conduction, with current-mode modulators, samplers and delays, past half the
 * switching frequency.
 */
export class SmallSignal {
  private readonly size: number;
  private readonly free: number[];
  private readonly phis: Float64Array[];
  private readonly jumps: Float64Array[];

  constructor(machine: Machine, private readonly cycle: SettledCycle) {
    const { layout } = machine;
    this.size = layout.size;
    // What moves: the states and what samplers hold. Sources stay put.
    this.free = [...layout.column].filter(([name, i]) => i < layout.n || name.startsWith('held ')).map(([, i]) => i);
    this.phis = cycle.trace.stretches.map((s) => stepOf(s).phi);
    this.jumps = cycle.trace.all.map((j) => jumpOf(j, this.size));
    this.column = layout.column;
  }

  private readonly column: ReadonlyMap<string, number>;

  /**
   * Responses of some quantities to one source.
   * @param input id of the source that is moved by one unit
   * @param outputs rows in each pattern
   * @param frequencies Hz, above zero
   * @returns for each output, its response at each frequency
   */
  respond(input: string, outputs: readonly ((p: Prepared) => Float64Array)[], frequencies: readonly number[]): Complex[][] {
    const col = this.column.get(input);
    if (col === undefined) throw new Error(`no source ${input}`);
    const plans = this.plan(col, outputs);
    const answers = outputs.map((): Complex[] => []);
    for (const f of frequencies) this.at(2 * Math.PI * f, col, plans, outputs.length, answers);
    return answers;
  }

  /** Per pattern: F without the input's column, its transpose, the column, the output rows. */
  private plan(col: number, outputs: readonly ((p: Prepared) => Float64Array)[]): Map<string, Plan> {
    const n = this.size;
    const plans = new Map<string, Plan>();
    for (const s of this.cycle.trace.stretches) {
      const p = s.pattern as Prepared;
      if (plans.has(p.key)) continue;
      const F = p.F.slice();
      const b = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        b[i] = F[i * n + col]!;
        F[i * n + col] = 0;
      }
      const transposed = new Float64Array(n * n);
      for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) transposed[j * n + i] = F[i * n + j]!;
      const rows = outputs.map((o) => o(p));
      plans.set(p.key, { F, transposed, b, rows, q: [new Float64Array(n), new Float64Array(n)], s: rows.map(() => [new Float64Array(n), new Float64Array(n)]) });
    }
    for (const j of this.cycle.trace.all) for (const p of [j.before, j.after]) if (!plans.has(p.key)) plans.set(p.key, { rows: outputs.map((o) => o(p)) } as Plan);
    return plans;
  }

  private at(w: number, col: number, plans: Map<string, Plan>, outputs: number, answers: Complex[][]): void {
    const n = this.size;
    const work = new Float64Array(2 * n * (n + 1));
    for (const plan of plans.values()) {
      if (!plan.F) continue;
      solveShifted(plan.F, w, plan.b, n, plan.q[0], plan.q[1], work);
      plan.q[0][col] = 1;
      plan.q[1][col] = 0;
      plan.rows.forEach((row, k) => solveShifted(plan.transposed, w, row, n, plan.s[k]![0], plan.s[k]![1], work));
    }
    // Forced part: from δz = 0 but for the input itself.
    const re = new Float64Array(n);
    const im = new Float64Array(n);
    re[col] = 1;
    this.walk(w, col, plans, re, im);
    // (e^{jωT} I − X) δz(0) = forced, over what is free
    const { free } = this;
    const m = free.length;
    const T = this.cycle.period;
    const shifted = new Float64Array(m * m);
    free.forEach((i, a) => free.forEach((j, b) => (shifted[a * m + b] = this.cycle.X[i * n + j]!)));
    const [xr, xi] = solveTurned(shifted, w * T, free.map((i) => re[i]!), free.map((i) => im[i]!), m);
    re.fill(0);
    im.fill(0);
    free.forEach((i, a) => {
      re[i] = xr[a]!;
      im[i] = xi[a]!;
    });
    re[col] = 1;
    const sums = Array.from({ length: outputs }, () => ({ re: 0, im: 0 }));
    this.walk(w, col, plans, re, im, sums);
    sums.forEach((s, k) => answers[k]!.push({ re: s.re / T, im: s.im / T }));
  }

  /** Carry δz once around; with `sums`, also gather ∫ δy e^{−jωt} dt of each output. */
  private walk(w: number, col: number, plans: Map<string, Plan>, re: Float64Array, im: Float64Array, sums?: Complex[]): void {
    const n = this.size;
    const { trace } = this.cycle;
    const shifts: Complex[] = [];
    const hr = new Float64Array(n);
    const hi = new Float64Array(n);
    let index = 0;
    const cross = (count: number): void => {
      for (let c = 0; c < count; c++, index++) {
        const j = trace.all[index]!;
        let shift: Complex = { re: 0, im: 0 };
        if (j.cause >= 0)
          shift = j.cause < index ? shifts[j.cause]! : { re: -dot(j.gradient!, re, n) / j.rate!, im: -dot(j.gradient!, im, n) / j.rate! };
        shifts.push(shift);
        if (sums && j.cause >= 0) {
          const back = { re: Math.cos(w * j.t), im: -Math.sin(w * j.t) };
          sums.forEach((s, k) => {
            const change = dot(plans.get(j.before.key)!.rows[k]!, j.z, n) - dot(plans.get(j.after.key)!.rows[k]!, j.zAfter, n);
            s.re += change * (shift.re * back.re - shift.im * back.im);
            s.im += change * (shift.re * back.im + shift.im * back.re);
          });
        }
        for (const { column, row } of j.resets) {
          const [a, b] = row ? [dot(row, re, n), dot(row, im, n)] : [0, 0];
          re[column] = a;
          im[column] = b;
        }
        if (j.cause >= 0) {
          const jump = this.jumps[index]!;
          for (let i = 0; i < n; i++) {
            re[i]! += jump[i]! * shift.re;
            im[i]! += jump[i]! * shift.im;
          }
        }
        const angle = w * j.t;
        re[col] = Math.cos(angle);
        im[col] = Math.sin(angle);
      }
    };
    trace.stretches.forEach((s, k) => {
      cross(trace.junctions[k]?.length ?? 0);
      const plan = plans.get((s.pattern as Prepared).key)!;
      const phi = this.phis[k]!;
      const [qr, qi] = plan.q;
      const c0 = Math.cos(w * s.start);
      const s0 = Math.sin(w * s.start);
      const t1 = s.start + s.duration;
      const c1 = Math.cos(w * t1);
      const s1 = Math.sin(w * t1);
      for (let i = 0; i < n; i++) {
        hr[i] = re[i]! - (qr[i]! * c0 - qi[i]! * s0);
        hi[i] = im[i]! - (qr[i]! * s0 + qi[i]! * c0);
      }
      hr[col] = 0;
      hi[col] = 0;
      for (let i = 0; i < n; i++) {
        let a = 0;
        let b = 0;
        for (let j = 0; j < n; j++) {
          const v = phi[i * n + j]!;
          a += v * hr[j]!;
          b += v * hi[j]!;
        }
        re[i] = a;
        im[i] = b;
      }
      if (sums)
        sums.forEach((sum, o) => {
          const row = plan.rows[o]!;
          sum.re += dot(row, qr, n) * s.duration;
          sum.im += dot(row, qi, n) * s.duration;
          // −s·(e^{−jωt₁} Φh − e^{−jωt₀} h), with (jωI − Fᵀ) s = row
          const [sr, si] = plan.s[o]!;
          for (let i = 0; i < n; i++) {
            const dr = re[i]! * c1 + im[i]! * s1 - (hr[i]! * c0 + hi[i]! * s0);
            const di = im[i]! * c1 - re[i]! * s1 - (hi[i]! * c0 - hr[i]! * s0);
            sum.re -= sr[i]! * dr - si[i]! * di;
            sum.im -= sr[i]! * di + si[i]! * dr;
          }
        });
      for (let i = 0; i < n; i++) {
        re[i]! += qr[i]! * c1 - qi[i]! * s1;
        im[i]! += qr[i]! * s1 + qi[i]! * c1;
      }
      re[col] = c1;
      im[col] = s1;
    });
    cross(trace.all.length - index);
  }
}

interface Plan {
  F: Float64Array;
  transposed: Float64Array;
  b: Float64Array;
  rows: Float64Array[];
  q: [Float64Array, Float64Array];
  s: [Float64Array, Float64Array][];
}

/** Solve (e^{jθ} I − X) x = b with complex b: as 2m real equations. */
function solveTurned(X: Float64Array, angle: number, br: number[], bi: number[], m: number): [Float64Array, Float64Array] {

  const size = 2 * m;
  const A = new Float64Array(size * size);
  const b = new Float64Array(size);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  for (let i = 0; i < m; i++) {
    for (let j = 0; j < m; j++) {
      A[i * size + j] = -X[i * m + j]!;
      A[(m + i) * size + m + j] = -X[i * m + j]!;
    }
    A[i * size + i]! += c;
    A[(m + i) * size + m + i]! += c;
    A[i * size + m + i] = -s;
    A[(m + i) * size + i] = s;
    b[i] = br[i]!;
    b[m + i] = bi[i]!;
  }
  solveInPlace(A, b, size, 1);
  return [b.slice(0, m), b.slice(m)];
}
