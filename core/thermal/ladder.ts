import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { ThermalLadder } from '../parts/schema';

/** Thermal impedance of a part as a ladder, in either form, and how it answers a pulse. */

/** One rung: K/W and J/K. Of a ladder as it is built (Cauer) from the junction outwards, a capacity at the near end of each resistance. */
export interface Rung {
  resistance: number;
  capacity: number;
}

/**
 * The modes of a ladder that is built so: R_i and C_i of a sum of R_i / (1 + s R_i C_i), fastest first.
 *
 * Its temperatures obey C T' = −G T + P at the first; with C^½ on either side of G that is symmetric, and its eigenvectors' first
 * entries say how much of each mode the junction sees.
 * Source: Gerstenmaier, Kiffe, Wachutka, "Combination of thermal subsystems modeled by rapid circuit transformation", THERMINIC 2007.
 */
export function modesOfLadder(ladder: readonly Rung[]): Rung[] {
  const n = ladder.length;
  const J = Matrix.zeros(n, n);
  ladder.forEach(({ resistance, capacity }, k) => {
    const before = k > 0 ? 1 / ladder[k - 1]!.resistance : 0;
    J.set(k, k, (before + 1 / resistance) / capacity);
    if (k + 1 < n) {
      const beside = -1 / resistance / Math.sqrt(capacity * ladder[k + 1]!.capacity);
      J.set(k, k + 1, beside);
      J.set(k + 1, k, beside);
    }
  });
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(J, { assumeSymmetric: true });
  return realEigenvalues
    .map((rate, i) => {
      const weight = eigenvectorMatrix.get(0, i) ** 2 / ladder[0]!.capacity;
      return { resistance: weight / rate, capacity: 1 / weight };
    })
    .toSorted((a, b) => a.resistance * a.capacity - b.resistance * b.capacity);
}

/**
 * The ladder, from the junction outwards, that has these modes: the tridiagonal matrix of Lanczos' steps from the vector of what the
 * junction sees of each, whose entries are conductances over capacities one after the other.
 * @param modes with different time constants @returns undefined where they make no ladder: a resistance that is not positive, constants that are alike
 * Source: Boley, Golub, "A survey of matrix inverse eigenvalue problems", Inverse Problems 3 (1987).
 */
export function ladderOfModes(modes: readonly Rung[]): Rung[] | undefined {
  const n = modes.length;
  if (n === 0 || modes.some((m) => !(m.resistance > 0) || !(m.capacity > 0))) return undefined;
  const rates = modes.map((m) => 1 / (m.resistance * m.capacity));
  const total = modes.reduce((sum, m) => sum + 1 / m.capacity, 0);
  const rows: number[][] = [modes.map((m) => Math.sqrt(1 / m.capacity / total))];
  const ladder: Rung[] = [];
  let [capacity, before, off] = [1 / total, 0, 0];
  for (let k = 0; k < n; k++) {
    const q = rows[k]!;
    const along = q.reduce((sum, v, i) => sum + v * v * rates[i]!, 0);
    const conductance = along * capacity - before;
    if (!(conductance > 0)) return undefined;
    ladder.push({ resistance: 1 / conductance, capacity });
    if (k + 1 === n) break;
    let next = q.map((v, i) => rates[i]! * v - along * v - (k > 0 ? off * rows[k - 1]![i]! : 0));
    // Against all before, twice: rounding brings them back.
    for (let twice = 0; twice < 2; twice++)
      for (const r of rows) {
        const share = r.reduce((sum, v, i) => sum + v * next[i]!, 0);
        next = next.map((v, i) => v - share * r[i]!);
      }
    off = Math.hypot(...next);
    if (!(off > 1e-12 * along)) return undefined;
    rows.push(next.map((v) => v / off));
    const following = conductance ** 2 / (off ** 2 * capacity);
    [capacity, before] = [following, conductance];
  }
  return ladder;
}

/** K/W that a junction has risen by, so many s after a step of a watt: Σ R (1 − e^(−t/RC)). */
export const pulseResponse = (modes: readonly Rung[], t: number): number => modes.reduce((sum, { resistance, capacity }) => sum - resistance * Math.expm1(-t / (resistance * capacity)), 0);

/**
 * The highest rise of a junction, K a watt of the pulse, under pulses of a share of a period that come for ever: of each mode
 * R (1 − e^(−dT/τ)) / (1 − e^(−T/τ)).
 */
export const pulsesResponse = (modes: readonly Rung[], period: number, share: number): number =>
  modes.reduce((sum, { resistance, capacity }) => {
    const x = period / (resistance * capacity);
    return sum + (x > 700 ? resistance * -Math.expm1(-share * x) : (resistance * Math.expm1(-share * x)) / Math.expm1(-x));
  }, 0);

const known = new WeakMap<ThermalLadder, Rung[] | null>();

/** A part's ladder as it is built, from the junction outwards; undefined where what it says makes none. */
export function cauerOf(ladder: ThermalLadder): Rung[] | undefined {
  let found = known.get(ladder);
  if (found === undefined) known.set(ladder, (found = ladderFrom(ladder) ?? null));
  return found ?? undefined;
}

const ladderFrom = ({ form, rungs }: ThermalLadder): Rung[] | undefined =>
  form === 'Cauer' ? rungs.map(([resistance, capacity]) => ({ resistance, capacity })) : ladderOfModes(rungs.map(([resistance, constant]) => ({ resistance, capacity: constant / resistance })).sort((a, b) => a.resistance * a.capacity - b.resistance * b.capacity));
