import { skinDepth, strandsIn } from '../parts/copper';
import type { TransformerWinding } from '../parts/schema';

/**
 * Copper of several windings in one window: each stands in the field of all. Along the window's height the field is what all turns
 * between there and its outer edge make, H = Σ N I / h, so it rises or falls over every winding by that winding's own ampere turns.
 *
 * A layer of thickness t with the fields H₁, H₂ at its sides burns a square metre
 *
 *   P = ρ / (2 t) [ F |H₂ − H₁|² + G |(H₁ + H₂) / 2|² ],   ν = t / δ
 *   F = ν/2 (sinh ν + sin ν) / (cosh ν − cos ν)      what its own current makes of it: 1 at dc
 *   G = 2 ν (sinh ν − sin ν) / (cosh ν + cos ν)      what the field of the others does: nothing at dc
 *
 * Source: Vandelac, Ziogas, "A novel approach for minimizing high-frequency transformer copper losses", IEEE Trans. Power Electron. 3
 * (1988), the solution in one dimension; with one winding it is Dowell's.
 */

/** Thickness over depth beyond which the hyperbolic functions are their limits, and below which differences are rounding. */
const [THICK, THIN] = [30, 0.05];

/** F, of the current of a layer itself. @param v thickness over skin depth */
export function ownFactor(v: number): number {
  if (v < THIN) return 1 + v ** 4 / 180;
  return v > THICK ? v / 2 : ((v / 2) * (Math.sinh(v) + Math.sin(v))) / (Math.cosh(v) - Math.cos(v));
}

/** G, of the field it stands in. @param v thickness over skin depth */
export function fieldFactor(v: number): number {
  if (v < THIN) return v ** 4 / 3;
  return v > THICK ? 2 * v : (2 * v * (Math.sinh(v) - Math.sin(v))) / (Math.cosh(v) + Math.cos(v));
}

/** A complex number */
export type Phasor = readonly [re: number, im: number];
const square = ([re, im]: Phasor): number => re * re + im * im;

/** A winding as it takes part: its turns, its share of the window, and whether it stands on the side of the primary. */
export interface InWindow {
  turns: number;
  share: number;
  primary: boolean;
}

/** What lies in the window from its outer edge to the leg: of which winding, and what share of its turns. */
export interface Section {
  winding: number;
  part: number;
}

/**
 * Windings laid with so many faces between primaries and secondaries: sections of either in turns, those at the ends half as thick.
 * Of several windings on a side each has its share of every section, one upon the other.
 */
export function sectionsOf(windings: readonly InWindow[], interfaces: number): Section[] {
  const sides = [windings.flatMap((w, i) => (w.primary ? [i] : [])), windings.flatMap((w, i) => (w.primary ? [] : [i]))];
  if (sides.some((s) => s.length === 0)) return windings.map((_, winding) => ({ winding, part: 1 }));
  // The secondary is outermost where both ends can not be the primary's.
  const first = interfaces % 2 === 0 ? 0 : 1;
  return Array.from({ length: interfaces + 1 }, (_, k) => (k === 0 || k === interfaces ? 1 : 2) / interfaces).flatMap((part, k) => sides[(first + k) % 2]!.map((winding) => ({ winding, part })));
}

/** The window of a transformer and what it is wound with. */
export interface WoundWindow {
  windings: readonly InWindow[];
  winding: TransformerWinding;
  /** m², and the share of it that is copper */
  windowArea: number;
  copperShare: number;
}

/** A winding as strands side by side: m of one across, m from one to the next, and m that the whole winding is thick. */
export function strandsOf({ windings, winding, windowArea, copperShare }: WoundWindow, index: number): { diameter: number; pitch: number; build: number; perTurn: number } {
  const { share, turns } = windings[index]!;
  const { count: perTurn, diameter } = strandsIn((copperShare * share * windowArea) / turns, winding.strandDiameter);
  return { diameter, pitch: diameter * Math.sqrt(Math.PI / 4 / copperShare), build: (share * windowArea) / winding.windowHeight, perTurn };
}

/**
 * W of each winding at one frequency.
 * @param currents of the windings, A rms, positive where it magnetises the core as the primary's does
 * @param turn Ω of one turn that fills the window, at the temperature in °C
 */
export function lossAt(w: WoundWindow, currents: readonly Phasor[], frequency: number, turn: number, temperature: number): number[] {
  const depth = skinDepth(frequency, temperature);
  const out = w.windings.map(() => 0);
  const made = w.windings.map((_, i) => {
    const { diameter, pitch, build } = strandsOf(w, i);
    const thickness = (Math.sqrt(Math.PI / 4) * diameter * Math.sqrt((Math.sqrt(Math.PI / 4) * diameter) / pitch)) / depth;
    return { own: ownFactor(thickness), field: fieldFactor(thickness), layers: build / pitch };
  });
  let at: Phasor = [0, 0];
  for (const { winding, part } of sectionsOf(w.windings, w.winding.interfaces)) {
    const { turns, share } = w.windings[winding]!;
    const [re, im] = currents[winding]!;
    const rise: Phasor = [part * turns * re, part * turns * im];
    const mean: Phasor = [at[0] + rise[0] / 2, at[1] + rise[1] / 2];
    const { own, field, layers } = made[winding]!;
    const m = Math.max(1, layers * part);
    // Σ over the layers of |mean field of each|²: that of the middle, and of the straight line through it.
    out[winding]! += (turn / (share * part)) * (own * square(rise) + field * m * m * (square(mean) + (square(rise) * (1 - 1 / m ** 2)) / 12));
    at = [at[0] + rise[0], at[1] + rise[1]];
  }
  return out;
}

/**
 * H a turn² of the leakage between the first winding and all on the other side, from the energy of the field between them.
 * @param turnLength m of the mean turn
 * Source: Snelling, "Soft Ferrites", ch. 11: μ₀ l / h (Σ x / 3 + Σ insulation) over the faces squared.
 */
export function leakageOf(w: WoundWindow, turnLength: number): number {
  const other = w.windings.reduce((sum, v) => sum + (v.primary ? 0 : v.share), 0);
  const first = w.windings.reduce((sum, v) => sum + (v.primary ? v.share : 0), 0);
  let [at, sum, side] = [0, 0, undefined as boolean | undefined];
  for (const { winding, part } of sectionsOf(w.windings, w.winding.interfaces)) {
    const { share, primary } = w.windings[winding]!;
    if (side !== undefined && side !== primary) sum += w.winding.insulation * at ** 2;
    side = primary;
    // One ampere turn of the primary against as many of the others, by their copper.
    const next = at + (primary ? (part * share) / first : (-part * share) / other);
    sum += (((part * share * w.windowArea) / w.winding.windowHeight) * (at ** 2 + at * next + next ** 2)) / 3;
    at = next;
  }
  return (VACUUM * turnLength * sum) / w.winding.windowHeight;
}
/** H/m */
const VACUUM = 4e-7 * Math.PI;
