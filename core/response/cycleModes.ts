import { freeColumns, type Layout } from '../circuit/layout';
import { decompose } from '../linear/eigen';
import type { Cycle } from '../orbit/cycle';

/** A way in which a cycle comes back to itself: one real multiplier, or a pair. */
export interface CycleMode {
  /** Hz, |s|/2π with s = ln μ / T */
  frequency: number;
  /** 1 where it does not ring */
  damping: number;
  /** Size of its multiplier */
  multiplier: number;
  /** States by what they have in it, most first, as shares */
  states: { name: string; share: number }[];
}

/** Multipliers below that have died within the period */
const DEAD = 0.02;
/** Shares below that are not told */
const LITTLE = 0.15;

/**
 * The modes of a settled cycle, by the logarithms of its multipliers over the period, slowest first; what takes part in each by
 * the products of left and right eigenvector (participation factors: Verghese, Pérez-Arriaga, Schweppe, "Selective modal
 * analysis", IEEE Trans. Power Apparatus and Systems 101 (1982), p. 3117).
 */
export function cycleModes({ monodromy, states: n, period }: Cycle, layout: Layout): CycleMode[] {
  if (n === 0) return [];
  const names = [...layout.column].reduce((all, [name, i]) => all.set(i, name), new Map<number, string>());
  const free = freeColumns(layout).map((i) => names.get(i)!);
  const { re, im, right, left } = decompose(monodromy, n);
  const out: CycleMode[] = [];
  for (let k = 0; k < n; k++) {
    const pair = im[k]! > 0;
    const size = Math.hypot(re[k]!, im[k]!);
    const raw = free.map((name, i) => {
      const [u, p] = [right[i * n + k]!, left[k * n + i]!];
      if (!pair) return { name, share: Math.abs(u * p) };
      const [w, q] = [right[i * n + k + 1]!, left[(k + 1) * n + i]!];
      return { name, share: Math.hypot(u * p + w * q, w * p - u * q) };
    });
    const all = raw.reduce((s, x) => s + x.share, 0);
    if (size > DEAD && all > 0) {
      const [decay, turning] = [Math.log(size) / period, Math.atan2(im[k]!, re[k]!) / period];
      const speed = Math.hypot(decay, turning);
      out.push({ frequency: speed / (2 * Math.PI), damping: turning === 0 ? 1 : -decay / speed, multiplier: size, states: raw.map((x) => ({ ...x, share: x.share / all })).filter((x) => x.share > LITTLE).sort((a, b) => b.share - a.share) });
    }
    if (pair) k++;
  }
  return out.sort((a, b) => a.frequency - b.frequency);
}
