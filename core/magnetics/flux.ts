import { integrateFromZero } from '../linear/quadrature';
import type { InductorPart } from '../parts/schema';

/** A core with the winding that magnetises it. */
export type Core = Pick<InductorPart, 'turns' | 'coreArea' | 'coreVolume' | 'steinmetz'>;

/** T: flux density of a winding at a current, B = L I / (N A). */
export const fluxDensity = (part: Pick<Core, 'turns' | 'coreArea'>, inductance: number, current: number): number =>
  (inductance * current) / (part.turns * part.coreArea);

const angleIntegrals = new Map<string, number>();

/** ∫₀^2π |cos θ|^α 2^(β−α) dθ, four times that of sin^α from 0 to π/2; kept, since it depends on the material only. */
function angleIntegral(alpha: number, beta: number): number {
  const key = `${alpha} ${beta}`;
  const known = angleIntegrals.get(key);
  if (known !== undefined) return known;
  const value = 4 * integrateFromZero((x) => Math.sin(x) ** alpha, Math.PI / 2) * 2 ** (beta - alpha);
  angleIntegrals.set(key, value);
  return value;
}

/** A piece of the flux's way: T that it moves by, s that it takes. */
interface Piece {
  rise: number;
  seconds: number;
}
/** A way up or down without a turn, and how far it goes in T. */
interface Branch {
  pieces: Piece[];
  rise: number;
}

/**
 * Core loss in W by the improved generalised Steinmetz equation (Venkatachalam et al. 2002) for a
 * winding voltage of flat pieces: dB/dt = v / (N A) in each.
 *
 *   P = V (1/T) Σ k_i |dB/dt|^α ΔB^(β−α) t        k_i = k / ((2π)^(α−1) ∫ |cos θ|^α 2^(β−α) dθ)
 *
 * with ΔB the swing of the loop that the piece belongs to: loops within the large one are taken out as they close,
 * as the paper does.
 */
export function coreLoss(part: Core, voltages: readonly { volts: number; seconds: number }[]): number {
  const { k, alpha, beta } = part.steinmetz;
  const area = part.turns * part.coreArea;
  const period = voltages.reduce((sum, v) => sum + v.seconds, 0);
  const ki = k / ((2 * Math.PI) ** (alpha - 1) * angleIntegral(alpha, beta));
  let sum = 0;
  for (const { swing, pieces } of loopsOf(voltages.filter((v) => v.seconds > 0).map((v) => ({ rise: (v.volts * v.seconds) / area, seconds: v.seconds }))))
    for (const { rise, seconds } of pieces) if (seconds > 0) sum += Math.abs(rise / seconds) ** alpha * swing ** (beta - alpha) * seconds;
  return (part.coreVolume * ki * sum) / period;
}

/** T that the flux goes up and down by over a cycle, from its lowest to its highest. */
export function swingOf(part: Pick<Core, 'turns' | 'coreArea'>, voltages: readonly { volts: number; seconds: number }[]): number {
  let [at, low, high] = [0, 0, 0];
  for (const { volts, seconds } of voltages) {
    at += (volts * seconds) / (part.turns * part.coreArea);
    low = Math.min(low, at);
    high = Math.max(high, at);
  }
  return high - low;
}

/** W that a core would lose by a sine of the same swing: Steinmetz's own equation, V k f^α (ΔB/2)^β, which knows no duty. */
export function sineLoss(part: Core, voltages: readonly { volts: number; seconds: number }[]): number {
  const { k, alpha, beta } = part.steinmetz;
  const period = voltages.reduce((sum, v) => sum + v.seconds, 0);
  return part.coreVolume * k * (1 / period) ** alpha * (swingOf(part, voltages) / 2) ** beta;
}

/** The loops of a flux that goes round: from its lowest point on, each loop that closes within a larger one is taken out with its swing, in T as the pieces are. Source: Venkatachalam, Sullivan, Abdallah, Tacca, “Accurate prediction of ferrite core loss with nonsinusoidal waveforms using only Steinmetz parameters”, COMPEL 2002. */
export function loopsOf(way: readonly Piece[]): { swing: number; pieces: Piece[] }[] {
  if (way.length === 0) return [];
  let [at, low, first] = [0, 0, 0];
  way.forEach((p, i) => {
    at += p.rise;
    if (at < low) [low, first] = [at, i + 1];
  });
  const loops: { swing: number; pieces: Piece[] }[] = [];
  const stack: Branch[] = [];
  const push = (next: Branch): void => {
    const last = stack.at(-1);
    if (last && last.rise * next.rise >= 0) {
      last.pieces.push(...next.pieces);
      last.rise += next.rise;
    } else stack.push(next);
  };
  for (let i = 0; i < way.length; i++) {
    const piece = way[(first + i) % way.length]!;
    push({ pieces: [piece], rise: piece.rise });
    // A branch that is overtaken by the next one, and lies within the one before: a loop of its own.
    while (stack.length >= 3) {
      const [before, inner, outer] = stack.slice(-3) as [Branch, Branch, Branch];
      const size = Math.abs(inner.rise);
      if (Math.abs(outer.rise) < size || Math.abs(before.rise) < size) break;
      const [back, rest] = split(outer, size);
      loops.push({ swing: size, pieces: [...inner.pieces, ...back.pieces] });
      stack.splice(-2);
      if (rest.pieces.length > 0) push(rest);
    }
  }
  // What is left is the large loop, up and down again.
  const swing = Math.max(...stack.map((b) => Math.abs(b.rise)), 0);
  loops.push({ swing, pieces: stack.flatMap((b) => b.pieces) });
  return loops;
}

/** The first part of a branch, that goes as far as `size`, and the rest of it. */
function split(branch: Branch, size: number): [Branch, Branch] {
  const [part, rest]: [Branch, Branch] = [{ pieces: [], rise: 0 }, { pieces: [], rise: 0 }];
  for (const piece of branch.pieces) {
    const room = size - Math.abs(part.rise);
    const length = Math.abs(piece.rise);
    const share = length <= room ? 1 : room / length;
    if (share > 0) {
      part.pieces.push({ rise: piece.rise * share, seconds: piece.seconds * share });
      part.rise += piece.rise * share;
    }
    if (share < 1) {
      rest.pieces.push({ rise: piece.rise * (1 - share), seconds: piece.seconds * (1 - share) });
      rest.rise += piece.rise * (1 - share);
    }
  }
  return [part, rest];
}
