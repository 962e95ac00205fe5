/** How parts are cooled: the sinks there are, what air does to them, and parts that have nothing but the copper of their board. */

/** A heat sink. */
export interface Sink {
  /** K/W to still air */
  thermalResistance: number;
  /** J/K, where it is known */
  heatCapacity?: number | undefined;
  /** m/s of air along its fins; and m that it goes along them, a usual length where left out */
  airFlow?: number | undefined;
  length?: number | undefined;
}

/** Where a part stands that is not on the shared sink. */
export interface Place {
  /** On a further sink: 2 is the first of those */
  sink?: number | undefined;
  /** On m² of copper of its board */
  board?: number | undefined;
}

/** What a design says of it all. */
export interface Cooling {
  sink: Sink;
  sinks?: readonly Sink[] | undefined;
  cooling?: Readonly<Record<string, Place>> | undefined;
}

/** W/(m² K) of still air at fins, radiation with it; and of a laminar stream, √(m/s / m) */
const [STILL, STREAM] = [6.5, 3.9];
/** m that air goes along a sink where nobody says */
const USUAL = 0.1;

/**
 * Share of its resistance that a sink keeps in moving air: both ways of passing heat add up by their cubes.
 * Source: Incropera, DeWitt, "Fundamentals of Heat and Mass Transfer", ch. 7 (laminar plate: h = 3.9 √(v/L) in air) and 9 (mixed convection).
 */
export function airFactor(flow = 0, length = USUAL): number {
  const stream = STREAM * Math.sqrt(Math.max(0, flow) / length);
  return STILL / Math.cbrt(STILL ** 3 + stream ** 3);
}

/** K/W of a sink to the air. */
export const resistanceOfSink = (s: Sink): number => s.thermalResistance * airFactor(s.airFlow, s.length);

/** m of copper on a board, W/(m K) of it, and m that a package touches it with; W/(m² K) of both sides of a board in still air together */
const [FOIL, CONDUCTS, PACKAGE, BOTH] = [70e-6, 390, 2.5e-3, 20];
const STEPS = 200;

/**
 * K/W from a package in the middle of so many m² of copper to the air: a round fin that is warm at its middle and gives off along its way,
 * θ'' + θ'/r = (h / k t) θ. The ratio y = θ'/θ obeys y' = h/kt − y/r − y², is nothing at the rim, and gives R = −1 / (2π r k t y) at the package.
 * Source: Incropera, DeWitt, as above, ch. 3 (annular fin). Leaves out the board's own conduction and inner layers.
 */
export function boardResistance(area: number): number {
  const m2 = BOTH / (CONDUCTS * FOIL);
  const rim = Math.max(PACKAGE * 1.02, Math.sqrt(area / Math.PI));
  const slope = (r: number, y: number): number => m2 - y / r - y * y;
  const h = (PACKAGE - rim) / STEPS;
  let y = 0;
  for (let k = 0; k < STEPS; k++) {
    const r = rim + k * h;
    const k1 = slope(r, y);
    const k2 = slope(r + h / 2, y + (h / 2) * k1);
    const k3 = slope(r + h / 2, y + (h / 2) * k2);
    const k4 = slope(r + h, y + h * k3);
    y += (h / 6) * (k1 + 2 * k2 + 2 * k3 + k4);
  }
  // What the copper below the package itself gives off stands beside it.
  const own = BOTH * Math.PI * PACKAGE ** 2;
  return 1 / (own - 2 * Math.PI * PACKAGE * CONDUCTS * FOIL * y);
}

/** Node that a part's case stands on, and K/W of its board where it has one. */
export function standsOn({ cooling }: Cooling, slot: string): { sink: number } | { board: number } {
  const place = cooling?.[slot];
  return place?.board === undefined ? { sink: place?.sink ?? 1 } : { board: boardResistance(place.board) };
}

/** Name of a sink's node. */
export const sinkNode = (k: number): string => (k === 1 ? 'sink' : `sink ${k}`);

/** The sinks by their number, the shared one first. */
export const sinksOf = ({ sink, sinks }: Cooling): Sink[] => [sink, ...(sinks ?? [])];

/**
 * K/W that a sink may have for every part on it to stay below its limit: what is left between the limit and the air, less what rises from
 * the sink to the part, over all the heat. Negative where none is good enough.
 * @param parts °C it may reach, and K that it stands above the sink @param heat W of all
 */
export const sinkWanted = (parts: readonly { limit: number; above: number }[], heat: number, air: number): number => Math.min(...parts.map((p) => p.limit - p.above - air)) / heat;
