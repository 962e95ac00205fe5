import { z } from 'zod';
import { copperArea, layerFactor, skinDepth, wireResistance } from './copper';
import type { UnitName } from '../quantity';
import type { Curve } from './curves';

/** What is on the shelf without a place of its own in the power stage: heat sinks, wires, core materials, cores. SI units. */
const positive = z.number().positive();
const part = z.string().min(1).max(80);

export const Sink = z.strictObject({
  kind: z.literal('sink'),
  part,
  /** K/W to still air */
  thermalResistance: positive,
  /** m */
  length: positive,
  width: positive,
  height: positive,
});

export const Wire = z.strictObject({
  kind: z.literal('wire'),
  part,
  /** m of the copper of one strand; of a flat conductor its thickness */
  diameter: positive,
  strands: z.int().positive(),
  /** m over the insulation of all strands; of a flat conductor over its thickness */
  outerDiameter: positive,
  /** m of copper along the window, of a flat conductor; a foil is cut to it */
  width: z.union([positive, z.literal('window')]).optional(),
});

export const Material = z.strictObject({
  kind: z.literal('material'),
  part,
  /** Of the initial magnetisation, relative */
  permeability: positive,
  /** T at which it counts as full */
  maxFluxDensity: positive,
  /** W/m³ = k·f^alpha·B^beta (Hz, T) */
  steinmetz: z.strictObject({ k: positive, alpha: z.number().min(1).max(3), beta: z.number().min(1).max(4) }),
});

/** A core by its shape, of whatever material. */
export const Core = z.strictObject({
  kind: z.literal('core'),
  part,
  /** m² of the leg, m³ of all of it */
  coreArea: positive,
  coreVolume: positive,
  /** m of the window from the leg outwards and along it, and of the mean turn */
  windowWidth: positive,
  windowHeight: positive,
  turnLength: positive,
  /** K/W from its winding to the air, and m above the board */
  thermalResistance: positive,
  height: positive,
});

/** What stands between a case and its sink: a pad, a film, grease. */
export const Pad = z.strictObject({
  kind: z.literal('pad'),
  part,
  /** m, and W/(m K) */
  thickness: positive,
  conductivity: positive,
});

/** K/W of a pad under a case of so many m². */
export const padResistance = (p: Pick<Pad, 'thickness' | 'conductivity'>, area: number): number => p.thickness / (p.conductivity * area);

export const Goods = z.discriminatedUnion('kind', [Sink, Wire, Material, Core, Pad]);
export type Sink = z.infer<typeof Sink>;
export type Wire = z.infer<typeof Wire>;
export type Material = z.infer<typeof Material>;
export type Core = z.infer<typeof Core>;
export type Pad = z.infer<typeof Pad>;
export type Goods = z.infer<typeof Goods>;

/** Units of their fields that no part has. */
export const GOODS_FIELDS: Readonly<Record<string, { unit: UnitName }>> = { length: { unit: 'm' }, width: { unit: 'm' }, diameter: { unit: 'm' }, outerDiameter: { unit: 'm' }, strands: { unit: '' }, permeability: { unit: '' }, windowWidth: { unit: 'm' }, windowHeight: { unit: 'm' }, thickness: { unit: 'm' }, conductivity: { unit: 'W/(m K)' } };

/** Is it a sink, wire, material, core or pad, and no part for a slot? */
export const isGoods = (item: { kind: string }): item is Goods => ['sink', 'wire', 'material', 'core', 'pad'].includes(item.kind);

export { copperArea, skinDepth, wireResistance };

/**
 * Resistance of one layer of a wire or foil at a frequency in Hz over that at dc: a layer of round wire as a foil of the same copper.
 * Source: Dowell, "Effects of eddy currents in transformer windings", Proc. IEE 113 (1966), one layer.
 */
export function skinFactor(w: Wire, frequency: number): number {
  const q = ((w.width === undefined ? Math.sqrt(Math.PI) / 2 : 1) * w.diameter) / skinDepth(frequency);
  return layerFactor(q, 1);
}

/** How a turn of so much copper is wound: strands of the thickest wire that a field still goes through. */
export interface Winding {
  wire: Wire & { width?: undefined };
  parallel: number;
}

/**
 * The fewest strands side by side that make the copper of a turn, each no thicker than two skin depths.
 * @param area m² of copper that a turn has
 * @returns undefined where no wire of the list is thin enough for the area
 */
export function windTurn(wires: readonly Wire[], area: number, frequency: number): Winding | undefined {
  const most = 2 * skinDepth(frequency);
  const thin = wires.filter((w): w is Wire & { width?: undefined } => w.strands === 1 && w.width === undefined).filter((w) => w.diameter <= most && copperArea(w) <= area * 1.15).sort((a, b) => b.diameter - a.diameter);
  const [wire] = thin;
  return wire && { wire, parallel: Math.max(1, Math.round(area / copperArea(wire))) };
}

const POINTS = 60;
const decades = (from: number, to: number): number[] => Array.from({ length: POINTS + 1 }, (_, k) => from * (to / from) ** (k / POINTS));

/** What is drawn of them. */
export function goodsCurves(g: Goods): Curve[] {
  if (g.kind === 'wire')
    return [{ title: 'resistance over that at dc, one layer', x: { title: 'frequency', unit: 'Hz', logarithmic: true }, y: { title: 'factor', unit: '', logarithmic: true }, lines: [{ name: '', points: decades(1e4, 1e6).map((f) => [f, skinFactor(g, f)]) }], leavesOut: 'more layers, which raise it by far' }];
  if (g.kind === 'material') {
    const { k, alpha, beta } = g.steinmetz;
    return [{ title: 'loss of a cubic centimetre', x: { title: 'amplitude of the flux density', unit: 'T', logarithmic: true }, y: { title: 'loss', unit: 'W', logarithmic: true }, lines: [50e3, 100e3, 200e3].map((f) => ({ name: `${f / 1000} kHz`, points: decades(0.01, g.maxFluxDensity).map((B): [number, number] => [B, 1e-6 * k * f ** alpha * B ** beta]) })), leavesOut: 'bias and temperature' }];
  }
  return [];
}
