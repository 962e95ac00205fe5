import { freeColumns } from '../circuit/layout';
import { CircuitError } from '../circuit/error';
import type { Machine, Prepared } from '../circuit/machine';
import { factorShifted, shiftedRoom, solveLeadingTransposed, solveShifted, turn, type Complex, type Shifted } from '../linear/complex';
import { dot, leadingBlock } from '../linear/dense';
import { sparse, type Sparse } from '../linear/sparse';
import { phiOf } from '../orbit/cycle';
import type { SettledCycle } from '../orbit/settle';
import { jumpOf } from '../orbit/sensitivity';

/**
 * The small-signal response of a settled cycle, with no averaging (Floquet): a small e^{jωt} on a
 * source makes δz(t) = p(t) e^{jωt} with p periodic. In an interval
 *
 *   δz(t) = Φ(t−t₀) h + q e^{jωt}        (jωI − F) q = F's column of the input        h = δz(t₀) − q e^{jωt₀}
 *
 * and at an event δz⁺ = R δz⁻ + (R f⁻ − f⁺) δt, as in orbit/sensitivity. Closing it over the period,
 * (e^{jωT} I − X) δz(0) = forced part, leaves one small complex solve a frequency. What an analyser with
 * a narrow filter reads at a node is the baseband coefficient (1/T) ∫ δy e^{−jωt} dt, exact as well: the
 * moved edges count with their area (y⁻ − y⁺) δt.
 *
 * Holds in discontinuous conduction, with current-mode modulators, samplers and delays, past half the
 * switching frequency.
 */
export class SmallSignal {
  /** What moves: the states and what samplers hold. Sources stay put, and are left out of all vectors here. */
  private readonly free: number[];
  private readonly column: ReadonlyMap<string, number>;
  private readonly phis: Float64Array[];
  private readonly jumps: Float64Array[];
  /** dz(T)/dz(0) over what is free */
  private readonly X: Float64Array;

  constructor(machine: Machine, private readonly cycle: SettledCycle) {
    const { layout } = machine;
    this.column = layout.column;
    this.free = freeColumns(layout);
    this.phis = cycle.trace.intervals.map((s) => this.square(phiOf(s), layout.size));
    this.jumps = cycle.trace.all.map((j) => this.part(jumpOf(j, layout.size)));
    this.X = this.square(cycle.X, layout.size);
  }

  private part(row: Float64Array): Float64Array {
    return Float64Array.from(this.free, (i) => row[i]!);
  }

  private square(a: Float64Array, size: number): Float64Array {
    const m = this.free.length;
    const out = new Float64Array(m * m);
    this.free.forEach((i, p) => this.free.forEach((j, q) => (out[p * m + q] = a[i * size + j]!)));
    return out;
  }

  /**
   * Responses of some quantities to one source.
   * @param input id of the source that is moved by one unit
   * @param outputs rows in each pattern
   * @param frequencies Hz, above zero
   * @returns for each output, its response at each frequency
   */
  respond(input: string, outputs: readonly ((p: Prepared) => Float64Array)[], frequencies: readonly number[]): Complex[][] {
    return this.responder(input, outputs)(frequencies);
  }

  /** The same with what does not depend on the frequency prepared once, for many calls. */
  responder(input: string, outputs: readonly ((p: Prepared) => Float64Array)[]): (frequencies: readonly number[]) => Complex[][] {
    const col = this.column.get(input);
    if (col === undefined) throw new Error(`no source ${input}`);
    const plan = this.plan(col, outputs);
    return (frequencies) => {
      const answers = outputs.map((): Complex[] => []);
      for (const f of frequencies) this.at(2 * Math.PI * f, plan, answers);
      return answers;
    };
  }

  /** All that does not depend on the frequency, cut down to what is free and the input. */
  private plan(col: number, outputs: readonly ((p: Prepared) => Float64Array)[]): Plan {
    const m = this.free.length;
    const vectors = (): [Float64Array, Float64Array] => [new Float64Array(m), new Float64Array(m)];
    const patterns = new Map<number, PatternPlan>();
    const { trace } = this.cycle;
    // What samplers hold stands behind what moves, and has no row in any F.
    const moves = (i: number): boolean => [...new Set(trace.intervals.map((s) => s.pattern))].some(({ F, size }) => F.subarray(i * size, (i + 1) * size).some((v) => v !== 0));
    const moving = this.free.findLastIndex(moves) + 1;
    const see = (p: Prepared): PatternPlan => {
      let found = patterns.get(p.key);
      if (!found) {
        const F = this.square(p.F, p.size);
        const rows = outputs.map((o) => o(p));
        found = {
          F,
          A: leadingBlock(F, moving, m),
          b: Float64Array.from(this.free, (i) => p.F[i * p.size + col]!),
          rows: rows.map((r) => this.part(r)),
          direct: rows.map((r) => r[col]!),
          q: vectors(),
          s: rows.map(vectors),
        };
        patterns.set(p.key, found);
      }
      return found;
    };
    const where = new Map(this.free.map((i, k) => [i, k]));
    const times: number[] = [];
    const places = new Map<number, number>();
    const timeOf = (t: number): number => {
      if (!places.has(t)) places.set(t, times.push(t) - 1);
      return places.get(t)!;
    };
    return {
      times,
      cos: new Float64Array(2 * trace.intervals.length + trace.all.length),
      sin: new Float64Array(2 * trace.intervals.length + trace.all.length),
      patterns: [...new Set(trace.intervals.map((s) => see(s.pattern as Prepared)))],
      intervals: trace.intervals.map((s, k) => ({ plan: see(s.pattern as Prepared), phi: sparse(rowsOf(this.phis[k]!, m)), start: timeOf(s.start), end: timeOf(s.start + s.duration), duration: s.duration, before: trace.events[k]?.length ?? 0 })),
      events: trace.all.map((j, k) => {
        const own = j.cause === k;
        const { size } = j.before;
        return {
          at: timeOf(j.t),
          cause: j.cause,
          gradient: own ? this.part(j.gradient!) : undefined,
          direct: own ? j.gradient![col]! : 0,
          rate: j.rate ?? 1,
          jump: this.jumps[k]!,
          resets: j.resets.filter((r) => where.has(r.column)).map((r) => ({ at: where.get(r.column)!, row: r.row && this.part(r.row), direct: r.row ? r.row[col]! : 0 })),
          changes: outputs.map((o) => dot(o(j.before), j.z, size) - dot(o(j.after), j.zAfter, size)),
        };
      }),
      re: new Float64Array(m),
      im: new Float64Array(m),
      hr: new Float64Array(m),
      hi: new Float64Array(m),
      factors: shiftedRoom(m),
      moving,
      block: shiftedRoom(moving),
    };
  }

  private at(w: number, plan: Plan, answers: Complex[][]): void {
    const T = this.cycle.period;
    for (const p of plan.patterns) {
      factorShifted(p.A, { re: 0, im: w }, plan.block);
      // The input does not move what stands still, either.
      begin(p.q, p.b);
      solveShifted(plan.block, p.q[0], p.q[1]);
      for (let k = 0; k < p.rows.length; k++) {
        const [re, im] = p.s[k]!;
        begin(p.s[k]!, p.rows[k]!);
        solveLeadingTransposed(plan.block, p.F, re.length, w, re, im);
      }
    }
    plan.times.forEach((t, k) => {
      plan.cos[k] = Math.cos(w * t);
      plan.sin[k] = Math.sin(w * t);
    });
    // Forced part: from nothing but the input itself.
    plan.re.fill(0);
    plan.im.fill(0);
    this.walk(plan);
    // (e^{jωT} I − X) δz(0) = forced
    if (!factorShifted(this.X, turn(w * T), plan.factors))
      throw new CircuitError({ code: 'singular', where: '', message: `something of the cycle rings undamped at ${(w * T / (2 * Math.PI)).toPrecision(4)} turns a period, so a signal there has no bounded response`, remedy: 'ask at another frequency, or damp what rings' });
    solveShifted(plan.factors, plan.re, plan.im);
    const sums = answers.map(() => ({ re: 0, im: 0 }));
    this.walk(plan, sums);
    sums.forEach((s, k) => answers[k]!.push({ re: s.re / T, im: s.im / T }));
  }

  /** Carry δz once around; with `sums`, also gather ∫ δy e^{−jωt} dt of each output. */
  private walk(plan: Plan, sums?: Complex[]): void {
    const { re, im, hr, hi } = plan;
    const m = re.length;
    const shifts: Complex[] = [];
    let index = 0;
    const cross = (count: number): void => {
      for (let c = 0; c < count; c++, index++) {
        const j = plan.events[index]!;
        const [cos, sin] = [plan.cos[j.at]!, plan.sin[j.at]!];
        let shift: Complex = { re: 0, im: 0 };
        if (j.cause >= 0)
          shift = j.gradient && !(j.rate > 0) ? shift : j.gradient
            ? { re: -(dot(j.gradient, re, m) + j.direct * cos) / j.rate, im: -(dot(j.gradient, im, m) + j.direct * sin) / j.rate }
            : shifts[j.cause]!;
        shifts.push(shift);
        if (j.resets.length > 0) {
          const values = j.resets.map((r) => (r.row ? { re: dot(r.row, re, m) + r.direct * cos, im: dot(r.row, im, m) + r.direct * sin } : { re: 0, im: 0 }));
          j.resets.forEach((r, k) => {
            re[r.at] = values[k]!.re;
            im[r.at] = values[k]!.im;
          });
        }
        if (j.cause < 0) continue;
        if (sums)
          sums.forEach((s, k) => {
            s.re += j.changes[k]! * (shift.re * cos + shift.im * sin);
            s.im += j.changes[k]! * (shift.im * cos - shift.re * sin);
          });
        for (let i = 0; i < m; i++) {
          re[i]! += j.jump[i]! * shift.re;
          im[i]! += j.jump[i]! * shift.im;
        }
      }
    };
    for (const s of plan.intervals) {
      cross(s.before);
      const [qr, qi] = s.plan.q;
      const c0 = plan.cos[s.start]!;
      const s0 = plan.sin[s.start]!;
      const c1 = plan.cos[s.end]!;
      const s1 = plan.sin[s.end]!;
      for (let i = 0; i < m; i++) {
        hr[i] = re[i]! - (qr[i]! * c0 - qi[i]! * s0);
        hi[i] = im[i]! - (qr[i]! * s0 + qi[i]! * c0);
      }
      // What a sampler holds only stands: most of its rows are nothing.
      const { from, at, by } = s.phi;
      for (let i = 0, k = 0; i < m; i++) {
        let a = 0;
        let b = 0;
        for (const end = from[i + 1]!; k < end; k++) {
          const v = by[k]!;
          const j = at[k]!;
          a += v * hr[j]!;
          b += v * hi[j]!;
        }
        re[i] = a;
        im[i] = b;
      }
      if (sums)
        for (let o = 0; o < sums.length; o++) {
          const sum = sums[o]!;
          const row = s.plan.rows[o]!;
          sum.re += (dot(row, qr, m) + s.plan.direct[o]!) * s.duration;
          sum.im += dot(row, qi, m) * s.duration;
          // −s·(e^{−jωt₁} Φh − e^{−jωt₀} h), with (jωI − Fᵀ) s = row
          const [sr, si] = s.plan.s[o]!;
          for (let i = 0; i < m; i++) {
            const dr = re[i]! * c1 + im[i]! * s1 - (hr[i]! * c0 + hi[i]! * s0);
            const di = im[i]! * c1 - re[i]! * s1 - (hi[i]! * c0 - hr[i]! * s0);
            sum.re -= sr[i]! * dr - si[i]! * di;
            sum.im -= sr[i]! * di + si[i]! * dr;
          }
        }
      for (let i = 0; i < m; i++) {
        re[i]! += qr[i]! * c1 - qi[i]! * s1;
        im[i]! += qr[i]! * s1 + qi[i]! * c1;
      }
    }
    cross(plan.events.length - index);
  }
}

interface PatternPlan {
  F: Float64Array;
  /** Its leading block: what moves, by what moves */
  A: Float64Array;
  b: Float64Array;
  rows: Float64Array[];
  /** What the input adds to each output directly */
  direct: number[];
  q: [Float64Array, Float64Array];
  s: [Float64Array, Float64Array][];
}

interface Plan {
  patterns: PatternPlan[];
  /** s of all edges, each once, with the cosine and the sine that belong to them at the frequency looked at */
  times: number[];
  cos: Float64Array;
  sin: Float64Array;
  /** Beginning, end and time of an event by their place among those */
  intervals: { plan: PatternPlan; phi: Sparse; start: number; end: number; duration: number; before: number }[];
  events: {
    at: number;
    cause: number;
    gradient: Float64Array | undefined;
    direct: number;
    rate: number;
    jump: Float64Array;
    resets: { at: number; row: Float64Array | undefined; direct: number }[];
    /** y⁻ − y⁺ of each output */
    changes: number[];
  }[];
  re: Float64Array;
  im: Float64Array;
  hr: Float64Array;
  hi: Float64Array;
  factors: Shifted;
  /** How many of what is free move, and room for the factors of those */
  moving: number;
  block: Shifted;
}

/** A real right side, where the solution is to come. */
function begin([re, im]: [Float64Array, Float64Array], b: Float64Array): void {
  re.set(b);
  im.fill(0);
}

/** The rows of an n×n matrix. */
const rowsOf = (a: Float64Array, n: number): Float64Array[] => Array.from({ length: n }, (_, i) => a.subarray(i * n, (i + 1) * n));
