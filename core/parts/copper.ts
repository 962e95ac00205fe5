/** Copper at frequency: how deep a field goes, and what that makes of a winding's resistance. */

/** Ω m of copper at 25 °C, and 1/K around it (IEC 60028: 1/58 Ω mm²/m and 0.00393 at 20 °C); H/m of the vacuum */
export const COPPER = 1.76e-8;
export const COPPER_RISE = 0.00385;
export const MU = 4e-7 * Math.PI;

/** Ω m of copper at a temperature in °C. */
export const resistivity = (temperature: number): number => COPPER * Math.max(0.2, 1 + COPPER_RISE * (temperature - 25));

/** m that a field goes into copper at a frequency in Hz and a temperature in °C: √(ρ / π μ f). */
export const skinDepth = (frequency: number, temperature = 25): number => Math.sqrt(resistivity(temperature) / (Math.PI * MU * frequency));

/** Thickness over depth beyond which the hyperbolic functions are their limits, to rounding */
const THICK = 20;

/**
 * Resistance of `layers` foils at a frequency over that at dc, the field rising by as much in each.
 *
 *   F = Δ [ (sinh 2Δ + sin 2Δ) / (cosh 2Δ − cos 2Δ) + ⅔ (m² − 1) (sinh Δ − sin Δ) / (cosh Δ + cos Δ) ]
 *
 * @param thickness of one over the skin depth, Δ @param layers m, not always a whole number: bundles have as many as the root of their strands
 * Source: Dowell, "Effects of eddy currents in transformer windings", Proc. IEE 113 (1966).
 */
export function layerFactor(thickness: number, layers: number): number {
  const d = thickness;
  // Rounding takes the differences away: the series, F = 1 + (5 m² − 1) Δ⁴ / 45.
  if (d < 0.05) return 1 + ((5 * layers ** 2 - 1) * d ** 4) / 45;
  const more = (2 / 3) * (layers ** 2 - 1);
  if (d > THICK) return d * (1 + more);
  return d * ((Math.sinh(2 * d) + Math.sin(2 * d)) / (Math.cosh(2 * d) - Math.cos(2 * d)) + (more * (Math.sinh(d) - Math.sin(d))) / (Math.cosh(d) + Math.cos(d)));
}

/**
 * Thickness over depth of the foil that stands for round wires side by side: of the same copper, as a square of it, and thinned by how
 * much of the layer is none.
 * @param diameter m of the copper @param pitch m from one wire to the next @param depth m
 * Source: Kazimierczuk, "High-Frequency Magnetic Components", ch. 5 (Dowell's porosity).
 */
export const foilOfRound = (diameter: number, pitch: number, depth: number): number => (((Math.PI / 4) ** 0.75 * diameter) / depth) * Math.sqrt(diameter / pitch);

/** A wire, a bundle of strands each insulated by itself, or a flat conductor: foil, strip, or a track of a board. */
export interface Strands {
  /** m of the copper of one strand; of a flat one its thickness */
  diameter: number;
  strands: number;
  /** m over the insulation of all strands; of a flat one over its thickness */
  outerDiameter: number;
  /** m of copper along the window, of a flat one */
  width?: number | undefined;
}

/** m² of copper. */
export const copperArea = (w: Strands): number => (w.width === undefined ? (Math.PI / 4) * w.diameter ** 2 : w.diameter * w.width) * w.strands;

/** m along the window from the beginning of one turn to that of the next, as tight as it goes: a flat one has as much insulation beside it as upon it. */
export const alongWindow = (w: Strands): number => (w.width === undefined ? w.outerDiameter : w.width + (w.outerDiameter - w.diameter));

/** Copper of so many m² as strands of about a diameter in m: at least one, of which the diameter follows. */
export function strandsIn(area: number, diameter: number): { count: number; diameter: number } {
  const count = Math.max(1, Math.round(area / ((Math.PI / 4) * diameter ** 2)));
  return { count, diameter: Math.sqrt(area / count / (Math.PI / 4)) };
}

/** Ω a metre at a temperature in °C. */
export const wireResistance = (w: Strands, temperature = 25): number => resistivity(temperature) / copperArea(w);

/**
 * Resistance of a winding of so many layers at a frequency in Hz over that at dc. A bundle's strands lie in a square: √n layers of √n
 * in each of its own, all of which see the field of those around them.
 * @param pitch m from one turn to the next in a layer
 * Source: as of layerFactor; Sullivan, "Optimal choice for number of strands in a litz-wire transformer winding", IEEE Trans. Power Electron. 14 (1999), for strands as layers.
 */
export function windingFactor(w: Strands, layers: number, pitch: number, frequency: number, temperature = 25): number {
  const depth = skinDepth(frequency, temperature);
  if (w.width !== undefined) return layerFactor((w.diameter / depth) * Math.sqrt(Math.min(1, w.width / pitch)), layers);
  const side = Math.sqrt(w.strands);
  return layerFactor(foilOfRound(w.diameter, pitch / side, depth), layers * side);
}

/** m of the copper of a wire by its number. Source: ASTM B258, diameters as a geometric row from 0.005 to 0.46 inch. */
export const gaugeDiameter = (number: number): number => 0.127e-3 * 92 ** ((36 - number) / 39);
