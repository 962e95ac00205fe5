import { findRoot } from '../linear/root';
import { MU } from '../parts/copper';

/** A core with a gap: what its inductance is, and how that falls as it fills. */

export interface GappedCore {
  /** m² of the leg, m of the way through the core */
  area: number;
  pathLength: number;
  /** Of the material at low field, relative */
  permeability: number;
  /** T at which it is full */
  maxFluxDensity: number;
  /** m of the window along the leg that the gap is in */
  windowHeight: number;
  /** Gaps in series; each passes field beside itself */
  gaps: number;
}

/**
 * By how much the field that bulges out widens the area of a gap: 1 + (g / √A) ln(2 h / g), of each where there are several.
 * @param gap m, all in series
 * Source: McLyman, "Transformer and Inductor Design Handbook", ch. 8.
 */
export function fringing({ area, windowHeight, gaps }: Pick<GappedCore, 'area' | 'windowHeight' | 'gaps'>, gap: number): number {
  const one = gap / gaps;
  // Each has its share of the leg to bulge over.
  const room = (2 * windowHeight) / gaps;
  return one > 0 && one < room ? 1 + (one / Math.sqrt(area)) * Math.log(room / one) : 1;
}

/** 1/H of one turn on a core without a gap. */
export const ungapped = (c: Pick<GappedCore, 'area' | 'pathLength' | 'permeability'>): number => c.pathLength / c.permeability / (MU * c.area);

/** 1/H of one turn: core and gap in series. */
export const reluctance = (c: GappedCore, gap: number): number => ungapped(c) + gap / fringing(c, gap) / (MU * c.area);

/** H of a winding. @param gap m, all in series */
export const inductanceOf = (c: GappedCore, turns: number, gap: number): number => turns ** 2 / reluctance(c, gap);

/** Gaps beyond that share of the window are no gaps any more */
const WIDEST = 0.5;

/** m of gap, all in series, that a winding has an inductance with; undefined where none does: the core alone has less, or the gap would be half its window. */
export function gapFor(c: GappedCore, turns: number, inductance: number): number | undefined {
  const high = WIDEST * c.windowHeight;
  // In turns squared over the inductance, which is nearly straight in the gap.
  const off = (gap: number): number => reluctance(c, gap) - turns ** 2 / inductance;
  const [atLow, atHigh] = [off(0), off(high)];
  if (atLow > 1e-9 * reluctance(c, 0) || atHigh < 0) return undefined;
  return atLow >= 0 ? 0 : findRoot(off, { low: 0, high, atLow, atHigh }, { width: 1e-13 * high, value: 1e-12 * reluctance(c, 0) }).at;
}

/** Power of the flux density, over that where it is full, by which the core alone gives up */
const BENDS = 10;

/**
 * H that a winding still has at a current in A, for small changes: the core's permeability falls as μ (1 − (B/Bmax)¹⁰) and the gap's does
 * not, with B where N I = B (reluctance of both). An estimate of the shape: it has the measured inductance without current and none but
 * that of the open coil where the core is full.
 */
export function inductanceAt(c: GappedCore, turns: number, gap: number, current: number): number {
  const open = gap / fringing(c, gap) / MU;
  const field = (b: number): number => b * open + (b * c.pathLength) / (MU * c.permeability * Math.max(1 / c.permeability, 1 - (b / c.maxFluxDensity) ** BENDS));
  const wanted = turns * Math.abs(current);
  // B lies between nothing and what the gap alone would let through.
  let high = 2 * c.maxFluxDensity;
  while (field(high) < wanted) high *= 2;
  const b = wanted > 0 ? findRoot((x) => field(x) - wanted, { low: 0, high, atLow: -wanted, atHigh: field(high) - wanted }, { width: 1e-12 * high }).at : 0;
  const d = Math.max(1e-9, 1e-4 * b);
  return (turns * turns * c.area * 2 * d) / (field(b + d) - field(b - d));
}

/**
 * m⁴ of core area times window area that an inductor wants: L Ipeak Irms / (B J k).
 * @param density A/m² of copper @param share of the window that is copper
 * Source: McLyman, as above, ch. 8; Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 14 (the same as a geometrical constant).
 */
export const areaProduct = (inductance: number, peak: number, rms: number, fluxDensity: number, density: number, share: number): number => (inductance * peak * rms) / (fluxDensity * density * share);
