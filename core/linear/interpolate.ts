/** Shares of what is known at some nodes in the polynomial through them, at x (Lagrange's; Abramowitz, Stegun, "Handbook of Mathematical Functions", 25.2.1). */
export const sharesAt = (nodes: readonly number[], x: number): number[] =>
  nodes.map((own, i) => nodes.reduce((product, other, k) => (k === i ? product : (product * (x - other)) / (own - other)), 1));

/** What the parabola through the largest of some points and its two neighbours reaches between those, x ascending; the largest itself where it is the first or the last. */
export function largestBetween(x: readonly number[], y: readonly number[]): number {
  const k = y.reduce((best, v, i) => (v > y[best]! ? i : best), 0);
  if (k === 0 || k === y.length - 1) return y[k]!;
  const [left, right] = [-1, 1].map((by) => (y[k + by]! - y[k]!) / (x[k + by]! - x[k]!)) as [number, number];
  const bent = (right - left) / (x[k + 1]! - x[k - 1]!);
  if (!(bent < 0)) return y[k]!;
  const slope = left + bent * (x[k]! - x[k - 1]!);
  return y[k]! - slope ** 2 / (4 * bent);
}
