import type { ElementOf } from './elements';
import { order } from './layout';

/**
 * A transfer block in controllable canonical form with its time scaled to its own corner, so that the
 * states have the size of the input: x_k' = rate · x_{k+1}, the last x' = rate (u − Σ feedback x), y = c x + d u.
 */
export function canonical(e: ElementOf<'transfer'>): { c: number[]; d: number; feedback: number[]; rate: number } {
  const n = order(e);
  const lead = e.denominator[n]!;
  // An integrator has no constant: its corner is that of the next coefficient.
  const first = e.denominator.findIndex((v) => v !== 0);
  const rate = first === n ? 1 : Math.abs(e.denominator[first]! / lead) ** (1 / (n - first));
  const scaled = (list: readonly number[]): number[] => Array.from({ length: n + 1 }, (_, k) => ((list[k] ?? 0) * rate ** k) / (lead * rate ** n));
  const a = scaled(e.denominator);
  const b = scaled(e.numerator);
  const d = b[n]!;
  return { c: b.slice(0, n).map((v, k) => v - d * a[k]!), d, feedback: a.slice(0, n), rate };
}

/** Where a block clips, rising, and the segment between in which it does not; undefined for one that never does. */
export function clipsOf({ low, high }: Pick<ElementOf<'transfer'>, 'low' | 'high'>): { bounds: number[]; linear: number } | undefined {
  if (low === undefined && high === undefined) return undefined;
  return { bounds: [...(low === undefined ? [] : [low]), ...(high === undefined ? [] : [high])], linear: low === undefined ? 0 : 1 };
}

/** What a block puts out on a segment where it clips; undefined where it does not. */
export function clippedAt(e: ElementOf<'transfer'>, segment: number): number | undefined {
  const clips = clipsOf(e);
  return clips === undefined || segment === clips.linear ? undefined : segment < clips.linear ? e.low : e.high;
}
