import type { Machine, Prepared } from '../circuit/machine';
import { dot } from '../linear/dense';
import { fail, type Result } from '../problem';
import type { SettledCycle } from './newton';
import { noise } from './guards';

/** Within so many times its rounding a comparison is taken to stand at zero. */
const ROUNDINGS = 100;

/**
 * A cycle that rounding would end: something has not acted all period long, and what it compares stays at zero within
 * rounding (two voltages that are both nothing, say). Problem "edge" by its name; undefined where there is none.
 */
export function onEdge(m: Machine, { intervals, trace, state }: SettledCycle): Result<never> | undefined {
  const acted = new Set(trace.all.map((j) => j.owner));
  for (const [i, eventSource] of m.eventSources.entries()) {
    if (acted.has(eventSource.id)) continue;
    for (const { index, offset, slope } of eventSource.active(state.memory[i]!)) {
      if (slope !== 0) continue;
      const guard = m.guardsFrom[i]! + index;
      const stands = (p: Prepared, z: Float64Array): boolean => Math.abs(dot(p.guards[guard]!.row, z, p.size) + offset) <= ROUNDINGS * noise(p, { guard, offset, slope }, z);
      const all = intervals.every((s, k) => stands(s.pattern as Prepared, s.z0) && stands(s.pattern as Prepared, (intervals[k + 1] ?? intervals[0]!).z0));
      if (all) return fail('edge', eventSource.id, 'what it compares stays equal all period long: rounding would decide when it switches', 'give it a hysteresis or an offset, or something to compare');
    }
  }
  return undefined;
}
