import type { Cycle } from '../orbit/cycle';
import type { Roles } from './roles';

/** Does the main inductor rest for some part of the period? Told by the devices that its current runs through. */
export function isDiscontinuous({ intervals, period }: Pick<Cycle, 'intervals' | 'period'>, { through, longer }: Roles['conduction']): boolean {
  const conducts = (on: ReadonlySet<string>): boolean => through.some((d) => (typeof d === 'string' ? on.has(d) : d.every((x) => on.has(x))));
  return intervals.some((s) => s.duration > longer * period && !conducts(s.pattern.on));
}
