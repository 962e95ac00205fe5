/** Cycles that a temperature goes through, as fatigue counts them. */

/** A range in K, from which mean in °C, how often: halves where a cycle is not closed. */
export interface Counted {
  range: number;
  mean: number;
  count: number;
}

/** The turning points of a course, its ends among them. */
function turningPoints(values: readonly number[] | Float64Array): number[] {
  const out: number[] = [];
  for (const v of values) {
    if (out.length > 0 && v === out.at(-1)) continue;
    if (out.length > 1 && (out.at(-1)! - out.at(-2)!) * (v - out.at(-1)!) > 0) out[out.length - 1] = v;
    else out.push(v);
  }
  return out;
}

/**
 * Rainflow counting: a range that lies between a larger one before and after it is a cycle and is taken out; what is left at the beginning
 * and at the end counts by halves. Source: ASTM E1049, “Standard practices for cycle counting in fatigue analysis”, 5.4.4.
 */
export function rainflow(values: readonly number[] | Float64Array): Counted[] {
  const stack: number[] = [];
  const found: Counted[] = [];
  const count = (a: number, b: number, by: number): void => void found.push({ range: Math.abs(a - b), mean: (a + b) / 2, count: by });
  for (const v of turningPoints(values)) {
    stack.push(v);
    while (stack.length >= 3) {
      const [a, b, c] = stack.slice(-3) as [number, number, number];
      if (Math.abs(c - b) < Math.abs(b - a)) break;
      if (stack.length === 3) {
        count(a, b, 0.5);
        stack.shift();
      } else {
        count(a, b, 1);
        stack.splice(-3, 2);
      }
    }
  }
  for (let k = 1; k < stack.length; k++) count(stack[k - 1]!, stack[k]!, 0.5);
  return found;
}

/** Cycles by range: so many of at least `least` K, in bins of even width, the largest first. */
export function byRange(cycles: readonly Counted[], bins = 8, least = 1): { from: number; to: number; count: number }[] {
  const seen = cycles.filter((c) => c.range >= least);
  if (seen.length === 0) return [];
  const most = Math.max(...seen.map((c) => c.range));
  const width = (most - least) / bins || 1;
  return Array.from({ length: bins }, (_, k) => ({ from: least + k * width, to: least + (k + 1) * width, count: seen.filter((c) => Math.min(bins - 1, Math.floor((c.range - least) / width)) === k).reduce((sum, c) => sum + c.count, 0) })).filter((b) => b.count > 0).toReversed();
}
