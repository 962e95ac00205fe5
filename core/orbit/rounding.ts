import type { Prepared } from '../circuit/machine';
import { applyActive, dot } from '../linear/dense';
import type { Cycle } from './cycle';
import type { Quantity } from './measure';

/** Intervals that are walked, spread over the cycle: a mains cycle has thousands, and few patterns. */
const MOST_STRETCHES = 64;

/**
 * What rounding leaves open of a quantity, in its unit: by how much it differs where the same time is walked in one step
 * or in two, for every length of step there is. States are good to all their digits, nearly; a current that is what two
 * nearly equal voltages leave over a thousandth of an ohm, beside an op-amp's gain, is not.
 */
export function roundingOf({ intervals }: Pick<Cycle, 'intervals'>): (quantity: Quantity) => number {
  const every = Math.ceil(intervals.length / MOST_STRETCHES);
  const off = intervals.filter((_, k) => k % every === 0).map((s) => {
    const p = s.pattern as Prepared;
    const { rungs, top, active } = p.stepTable;
    const differences: Float64Array[] = [];
    const step = (rung: Float64Array, z: Float64Array): Float64Array => {
      const out = new Float64Array(p.size);
      applyActive(rung, z, out, active, p.size);
      return out;
    };
    for (let k = 0; k + 1 < rungs.length; k++) {
      if (top / 2 ** k > s.duration) continue;
      const whole = step(rungs[k]!, s.z0);
      const halves = step(rungs[k + 1]!, step(rungs[k + 1]!, s.z0));
      differences.push(whole.map((v, i) => v - halves[i]!));
    }
    return { p, differences };
  });
  return (quantity) => {
    let most = 0;
    for (const { p, differences } of off) {
      const row = quantity(p);
      for (const d of differences) most = Math.max(most, Math.abs(dot(row, d, p.size)));
    }
    return most;
  };
}
