import type { Design } from '../design/schema';
import { ok, type Result } from '../problem';
import { storing } from '../thermal/capacity';
import type { ThermalNode } from '../thermal/network';
import { hotSpot } from '../thermal/partNetwork';
import { decadesUntil, warmUp } from '../thermal/warmUp';
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

/**
 * The warm-up of a design, all of it at the temperature of the air before: its currents as they are once it is warm, its copper and
 * channels as warm as they are at each moment.
 * @param from °C that all of it has at the beginning; that of the air where left out
 * @returns problems of settling; that of runaway
 */
export function warmingOf(d: Design, point: OperatingPoint, from = point.air): Result<Warming> {
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const { warm, standing, runaway } = found.value;
  if (runaway) return { ok: false, problem: runaway };
  const { topology, input } = standing.bill;
  const nodes = storing(warm.rungs, input.parts, (slot) => copiesOf(topology.slots.find((p) => p.id === slot)!), d.sink.heatCapacity);
  const rises = warm.rises();
  const heat = Object.fromEntries(warm.losses.flatMap((l) => {
    const spot = hotSpot(l.id, input.parts[l.id]!);
    return spot ? [[spot, { watts: l.total, perKelvin: rises[l.id] ?? 0, at: l.temperature }] as const] : [];
  }));
  const slowest = Math.max(...nodes.map((n) => n.resistance * n.capacity), ...nodes.filter((n) => n.towards === 'air').map((n) => n.resistance * nodes.reduce((sum, m) => sum + (m.towards === n.id || m.id === n.id ? m.capacity : 0), 0)));
  const time = decadesUntil(FIRST, LONG * slowest);
  const { temperatures } = warmUp(nodes, heat, standing.air, from, time);
  const ends = warm.rungs.map((r) => r.temperature);
  return ok({
    nodes: warm.rungs.map(({ temperature: _t, heat: _h, ...node }) => node),
    time,
    temperatures,
    ends,
    within: temperatures.map((list, i) => time[Math.min(time.length - 1, list.findLastIndex((v) => Math.abs(v - ends[i]!) > CLOSE) + 1)]!),
  });
}
