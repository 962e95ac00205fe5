import type { Circuit, Element, ElementOf } from './elements';
import type { Pattern } from './pattern';
import { canonical, clipsOf } from './transfer';

/**
 * Elements with more than one straight piece. A pattern is the choice of one segment for each of them.
 *
 *   driven   switches and comparators: the segment is what their gate says, 0 or 1
 *   bent     diodes, loads, saturating inductors, blocks that clip: the segment is where a quantity of their own (the
 *            voltage across, the flux linkage, what would be put out) lies among rising bounds; segment k holds between
 *            bounds[k−1] and bounds[k]. The characteristic is continuous there.
 */
export interface Device {
  id: string;
  kind: Element['kind'];
  gate?: string;
  /** Of bent ones, rising */
  bounds: readonly number[];
  /** The segment at rest */
  start: number;
  /** What the bounds are about, and the sizes its rounding errors are relative to */
  measure(p: Pattern): { row: Float64Array; size: Float64Array };
}

/** A straight piece of a resistive characteristic: i = conductance · v + offset. */
export interface Piece {
  conductance: number;
  offset: number;
}

/** A straight piece of an inductor: i = flux / inductance + offset. */
export interface FluxPiece {
  inductance: number;
  offset: number;
}

/** Segment of each device that is not at its start, by id. */
export type Segments = ReadonlyMap<string, number>;

/** Does its segment follow the circuit itself (a diode, a saturating core), and not a gate? */
export const isBent = (d: Device): boolean => d.gate === undefined;

const abs = (row: Float64Array): Float64Array => row.map(Math.abs);

/** All devices of a circuit, in the order of its elements. */
export function devicesOf(circuit: Circuit): Device[] {
  return circuit.elements.flatMap((e): Device[] => {
    if (e.kind === 'switch') return [driven(e.id, e.kind, e.gate)];
    if (e.kind === 'comparator') return [driven(e.id, e.kind, e.id)];
    const bends = bendsOf(e);
    if (bends) return [{ id: e.id, kind: e.kind, bounds: bends, start: 0, measure: (p) => across(p, e as Element & { a: string; b: string }) }];
    const clips = e.kind === 'transfer' ? clipsOf(e) : undefined;
    if (e.kind === 'transfer' && clips) return [{ id: e.id, kind: e.kind, bounds: clips.bounds, start: clips.linear, measure: (p) => unclipped(p, e) }];
    if (e.kind === 'inductor' && e.saturation) {
      const bounds = fluxBounds(e);
      return [{ id: e.id, kind: e.kind, bounds, start: bounds.length / 2, measure: (p) => flux(p, e.id) }];
    }
    return [];
  });
}

const driven = (id: string, kind: Element['kind'], gate: string): Device => ({ id, kind, gate, bounds: [], start: 0, measure: () => ({ row: new Float64Array(0), size: new Float64Array(0) }) });

/**
 * Voltage across. Where the element conducts, by its current, v = (i − offset)/G: the two node voltages nearly cancel
 * there, and where both hang on leakages they are nothing but rounding. Where it blocks, errors are relative to each of them.
 */
function across(p: Pattern, e: Element & { a: string; b: string }): { row: Float64Array; size: Float64Array } {
  const piece = pieceOf(e, p.segment(e.id))!;
  if (piece.conductance > 0 && p.byCurrent.has(e.id)) {
    const row = p.current(e.id).map((v) => v / piece.conductance);
    row[p.layout.one]! -= piece.offset / piece.conductance;
    return { row, size: abs(row) };
  }
  const [a, b] = [p.voltage(e.a), p.voltage(e.b)];
  return { row: p.voltage(e.a, e.b), size: a.map((v, k) => Math.abs(v) + Math.abs(b[k]!)) };
}

/** What a block would put out. */
function unclipped(p: Pattern, e: ElementOf<'transfer'>): { row: Float64Array; size: Float64Array } {
  const { c, d } = canonical(e);
  const row = p.voltage(e.plus, e.minus).map((v) => d * v);
  c.forEach((value, k) => (row[p.layout.column.get(`${e.id}.${k}`)!]! += value));
  return { row, size: abs(row) };
}

function flux(p: Pattern, id: string): { row: Float64Array; size: Float64Array } {
  const row = new Float64Array(p.size);
  row[p.layout.column.get(id)!] = 1;
  return { row, size: abs(row) };
}

/** The voltages at which an element's characteristic bends; undefined for one that does not. */
function bendsOf(e: Element): number[] | undefined {
  switch (e.kind) {
    case 'diode':
      return [e.drop];
    case 'string-load':
      return [e.threshold];
    case 'current-load':
      return [e.lowest];
    case 'power-load':
      return powerBends(e);
    default:
      return undefined;
  }
}

/** Current of a resistive element on one segment, A = S · V + A; undefined for elements that are none. */
export function pieceOf(e: Element, segment: number): Piece | undefined {
  switch (e.kind) {
    case 'resistor':
      return { conductance: 1 / e.resistance, offset: 0 };
    case 'switch':
      return { conductance: segment ? 1 / e.onResistance : e.offConductance, offset: 0 };
    case 'diode':
      return fromDrop(segment ? 1 / e.onResistance : e.offConductance, e.drop);
    case 'string-load':
      return fromDrop(segment ? 1 / e.slope : e.offConductance, e.threshold);
    case 'current-load':
      return segment ? { conductance: 0, offset: e.current } : { conductance: e.current / e.lowest, offset: 0 };
    case 'power-load':
      return powerPiece(e, segment);
    default:
      return undefined;
  }
}

const fromDrop = (conductance: number, drop: number): Piece => ({ conductance, offset: -conductance * drop });

/**
 * Tangents of i = P/v at voltages v_k that rise by a ratio r each. Two neighbours meet at 2 v_k v_{k+1}/(v_k + v_{k+1}),
 * between which and v_k the true slope P/v² is off the tangent's by (1 + accuracy) at most where r = 1 + accuracy.
 * Below, a resistance; above, a constant current: each from where it meets the outermost tangent.
 */
function powerTangents(e: ElementOf<'power-load'>): number[] {
  const highest = e.highest ?? 10 * e.lowest;
  const count = Math.max(1, Math.ceil(Math.log(highest / e.lowest) / Math.log1p(e.accuracy)));
  return Array.from({ length: count }, (_, k) => e.lowest * (highest / e.lowest) ** ((k + 0.5) / count));
}

/** How many tangents a constant-power load has. */
export const powerPieces = (e: ElementOf<'power-load'>): number => powerTangents(e).length;

const known = new WeakMap<object, { tangents: number[]; bends: number[] }>();

function powerShape(e: ElementOf<'power-load'>): { tangents: number[]; bends: number[] } {
  let found = known.get(e);
  if (!found) {
    const tangents = powerTangents(e);
    const [first, last] = [tangents[0]!, tangents.at(-1)!];
    // The resistance goes through the first tangent where that is worth P/lowest² · v; the last one reaches P/highest.
    const highest = e.highest ?? 10 * e.lowest;
    const low = (2 * e.power) / first / (e.power / e.lowest ** 2 + e.power / first ** 2);
    const high = (2 / last - 1 / highest) * last ** 2;
    found = { tangents, bends: [low, ...tangents.slice(1).map((v, k) => (2 * v * tangents[k]!) / (v + tangents[k]!)), high] };
    known.set(e, found);
  }
  return found;
}

const powerBends = (e: ElementOf<'power-load'>): number[] => powerShape(e).bends;

function powerPiece(e: ElementOf<'power-load'>, segment: number): Piece {
  if (segment === 0) return { conductance: e.power / e.lowest ** 2, offset: 0 };
  const { tangents } = powerShape(e);
  const v = tangents[segment - 1];
  if (v === undefined) return { conductance: 0, offset: e.power / (e.highest ?? 10 * e.lowest) };
  return { conductance: -e.power / v ** 2, offset: (2 * e.power) / v };
}

/** Flux linkages at which a saturating inductor bends, both ways. */
function fluxBounds(e: ElementOf<'inductor'>): number[] {
  const up: number[] = [];
  let linkage = 0;
  let current = 0;
  let inductance = e.inductance;
  for (const s of e.saturation!) {
    linkage += inductance * (s.current - current);
    up.push(linkage);
    ({ current, inductance } = s);
  }
  return [...up.map((v) => -v).reverse(), ...up];
}

/** i = flux / inductance + offset (A, V·s, H) on one segment of a saturating inductor. */
export function fluxPieceOf(e: ElementOf<'inductor'>, segment: number): FluxPiece {
  const bends = e.saturation!;
  const step = segment - bends.length;
  if (step === 0) return { inductance: e.inductance, offset: 0 };
  const { current, inductance } = bends[Math.abs(step) - 1]!;
  const at = fluxBounds(e)[bends.length + Math.abs(step) - 1]!;
  return { inductance, offset: Math.sign(step) * (current - at / inductance) };
}
