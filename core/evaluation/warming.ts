import type { Design } from '../design/schema';
import { ok, type Result } from '../problem';
import { storing } from '../thermal/capacity';
import type { ThermalNode } from '../thermal/network';
import { hotSpot } from '../thermal/partNetwork';
import { decadesUntil, warmUp, type Heat, type StoringNode } from '../thermal/warmUp';
import { copiesOf, type OperatingPoint } from '../topology';
import { warmedAt } from './evaluate';

/** How a design warms up after it is switched on at a point, until it stands where it settles. */
export interface Warming {
  nodes: ThermalNode[];
  /** s, by decades, zero first */
  time: number[];
  /** °C of each node */
  temperatures: number[][];
  /** °C of each where it settles, and s until it stays within a kelvin of that */
  ends: number[];
  within: number[];
}

/** s that a warm-up is shown from at least, and times its slowest node that it goes on for */
const [FIRST, LONG] = [1e-4, 12];
/** K */
const CLOSE = 1;

/** What a design's network stores and is heated by once it is warm at a point. */
interface Heated {
  nodes: ThermalNode[];
  storing: StoringNode[];
  heat: Record<string, Heat>;
  /** °C of each node where it settles */
  ends: number[];
}

/** @returns problems of settling; that of runaway */
export function heatedAt(d: Design, point: OperatingPoint): Result<Heated> {
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const { warm, standing, runaway } = found.value;
  if (runaway) return { ok: false, problem: runaway };
  const { topology, input } = standing.bill;
  const rises = warm.rises();
  return ok({
    nodes: warm.rungs.map(({ temperature: _t, heat: _h, hottest: _o, ...node }) => node),
    storing: storing(warm.rungs, input.parts, (slot) => copiesOf(topology.slots.find((p) => p.id === slot)!)),
    heat: Object.fromEntries(warm.losses.flatMap((l) => {
      const spot = hotSpot(l.id, input.parts[l.id]!);
      return spot ? [[spot, { watts: l.total, perKelvin: rises[l.id] ?? 0, at: l.temperature }] as const] : [];
    })),
    ends: warm.rungs.map((r) => r.temperature),
  });
}

/**
 * The warm-up of a design, all of it at the temperature of the air before: its currents as they are once it is warm, its copper and
 * channels as warm as they are at each moment.
 * @param from °C that all of it has at the beginning; that of the air where left out
 * @returns problems of settling; that of runaway
 */
export function warmingOf(d: Design, point: OperatingPoint, from = point.air): Result<Warming> {
  const heated = heatedAt(d, point);
  if (!heated.ok) return heated;
  const { nodes, storing: nodesThatStore, heat, ends } = heated.value;
  const slowest = Math.max(...nodesThatStore.map((n) => n.resistance * n.capacity), ...nodesThatStore.filter((n) => n.towards === 'air').map((n) => n.resistance * nodesThatStore.reduce((sum, m) => sum + (m.towards === n.id || m.id === n.id ? m.capacity : 0), 0)));
  const time = decadesUntil(FIRST, LONG * slowest);
  const { temperatures } = warmUp(nodesThatStore, heat, point.air, from, time);
  return ok({
    nodes,
    time,
    temperatures,
    ends,
    within: temperatures.map((list, i) => time[Math.min(time.length - 1, list.findLastIndex((v) => Math.abs(v - ends[i]!) > CLOSE) + 1)]!),
  });
}
