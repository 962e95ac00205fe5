import { printQuantity as print } from '../quantity';
import type { Stress } from './figures';

/** What stands above the share of its rating that the brief allows, and what would mend it, in a sentence. Undefined where it holds. */
export function remedyOf(s: Stress, limit: number): string | undefined {
  if (s.value <= limit * s.rating) return undefined;
  const wanted = print(s.value / limit, s.unit);
  const what = `${s.slot} ${s.title}: ${print(s.value, s.unit)} is above ${print(limit, '%', 2)} of ${print(s.rating, s.unit)}.`;
  if (s.unit === 'T') return `${what} Take a larger core, more turns or less inductance.`;
  if (s.unit === 'A') return `${what} Take more in parallel, or a part rated so that all together carry ${wanted}.`;
  return `${what} Take a part rated ${wanted} or more.`;
}
