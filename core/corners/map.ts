import { evaluate } from '../evaluation/evaluate';
import type { Design, RequirementId } from '../design/schema';
import { REQUIREMENTS, standings } from './requirements';

/** What the line × load pad can be shaded by: every requirement's figure. */
export interface MapCell {
  line: number;
  load: number;
  /** Figure of each requirement there; missing where the design has no figures */
  values: Partial<Record<RequirementId, number>>;
  holds: boolean;
}

/** Measures along the line (V) at one load (A) and air (°C): a row of the operating map. */
export function mapRow(d: Design, load: number, lines: readonly number[], air: number): MapCell[] {
  return lines.map((line) => {
    const found = evaluate(d, { line, load, air });
    if (!found.ok) return { line, load, values: {}, holds: false };
    const values = Object.fromEntries(REQUIREMENTS.map((r) => [r.id, r.value(found.value, d)]));
    return { line, load, values, holds: standings(d, found.value).every((s) => s.holds) };
  });
}

/** Most figures bend over the load and hardly over the line. */
export const MAP_LINES = 5;
export const MAP_LOADS = 9;

/** Evenly spaced values from min to max, both included; two of the same where there is only one, so that there is a way across. */
export const spread = (r: { min: number; max: number }, count: number): number[] =>
  Array.from({ length: r.min === r.max ? 2 : count }, (_, i, n = r.min === r.max ? 2 : count) => r.min + ((r.max - r.min) * i) / (n - 1));
