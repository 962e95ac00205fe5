import type { Trace } from '../orbit/march';
import type { CycleIntegrals, Quantity } from '../orbit/measure';
import { apply, dot } from '../linear/dense';
import type { LinearSystem } from './system';

/** The inputs of an averaged model, in the order of its columns. */
export interface AveragedInputs {
  /** Index of the duty input: always 0. */
  duty: 0;
  /** Index of each source by its id. */
  sources: Record<string, number>;
}

/**
 * The averaged model of a settled cycle (Middlebrook and Ćuk 1976): state matrices weighted by the
 * share of the period spent in each pattern, and for the duty the difference that moving an edge
 * makes, taken at the mean state.
 *
 *   A = Σ (t_k/T) A_k        b_duty = Σ (perDuty_k/T) F_k z̄        b_source = Σ (t_k/T) B_k
 *
 * @param perDuty seconds of each interval per unit of duty, as of stretchSlopes()
 * @param output the quantity that is y
 */
export function averagedModel(
  g: CycleIntegrals,
  perDuty: readonly number[],
  output: Quantity,
): { system: LinearSystem; inputs: AveragedInputs } {
  const { cycle } = g;
  const first = cycle.intervals[0]!.pattern;
  const { n } = first.layout;
  const { size } = first;
  const { sources: names } = first.layout;
  const mean = meanState(g);

  const A = new Float64Array(n * n);
  const duty = new Float64Array(n);
  const c = new Float64Array(n);
  const sources = names.map(() => new Float64Array(n));
  const feed = new Float64Array(names.length);
  let dutyFeed = 0;
  const rate = new Float64Array(size);
  cycle.intervals.forEach((s, k) => {
    const share = s.duration / cycle.period;
    const slope = perDuty[k]! / cycle.period;
    const row = output(s.pattern);
    apply(s.pattern.F, mean, rate, size);
    for (let i = 0; i < n; i++) {
      for (let j = 0; j < n; j++) A[i * n + j]! += share * s.pattern.F[i * size + j]!;
      duty[i]! += slope * rate[i]!;
      c[i]! += share * row[i]!;
      sources.forEach((b, m) => (b[i]! += share * s.pattern.F[i * size + n + m]!));
    }
    sources.forEach((_, m) => (feed[m]! += share * row[n + m]!));
    dutyFeed += slope * dot(row, mean, size);
  });
  return {
    system: { n, A, b: [duty, ...sources], c, d: [dutyFeed, ...feed] },
    inputs: { duty: 0, sources: Object.fromEntries(names.map((id, m) => [id, m + 1])) },
  };
}

/** z̄ = (1/T) ∫ z dt, exact. */
function meanState(g: CycleIntegrals): Float64Array {
  const size = g.cycle.intervals[0]!.pattern.size;
  const mean = new Float64Array(size);
  for (const area of g.areas) for (let i = 0; i < size; i++) mean[i]! += area[i]! / g.cycle.period;
  return mean;
}

/** s that each interval grows by per unit of a source that modulators look at: its edges, moved directly. */
export function intervalSlopes(trace: Trace, column: number): number[] {
  const shifts: number[] = [];
  for (const j of trace.all) shifts.push(j.cause < 0 ? 0 : j.cause < shifts.length ? shifts[j.cause]! : -j.gradient![column]! / j.rate!);
  let index = 0;
  let start = 0;
  return trace.intervals.map((_, k) => {
    const after = trace.events[k + 1] ?? [];
    if (k === 0) index += trace.events[0]?.length ?? 0;
    const end = after.length > 0 ? shifts[index]! : 0;
    const slope = end - start;
    index += after.length;
    start = after.length > 0 ? shifts[index - 1]! : 0;
    return slope;
  });
}
