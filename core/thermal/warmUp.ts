import { exponentialStep } from '../linear/exponential';
import { apply } from '../linear/dense';
import type { ThermalNode } from './network';

/** A thermal network in time: how its nodes warm up from a temperature that all of them have. */

/** A node with what it stores, J/K. */
export interface StoringNode extends ThermalNode {
  capacity: number;
}

/** W that enter at a node, and W/K by which they grow with its temperature: where it has a temperature in °C. */
export interface Heat {
  watts: number;
  perKelvin: number;
  at: number;
}

export interface WarmUp {
  /** s, rising, from zero */
  time: number[];
  /** °C of each node, in the order of the nodes */
  temperatures: number[][];
}

/**
 * The rates of a network's temperatures, size × size over them and a one: what enters a node is straight in its temperature, as copper
 * and channels have it, so all of it is C T' = −G T + P(T).
 * @param heat by node id @param air °C
 */
export function systemOf(nodes: readonly StoringNode[], heat: Readonly<Record<string, Heat>>, air: number): Float64Array {
  const n = nodes.length;
  const size = n + 1;
  const F = new Float64Array(size * size);
  nodes.forEach((node, i) => {
    const g = 1 / node.resistance;
    const next = nodes.findIndex((other) => other.id === node.towards);
    F[i * size + i]! -= g / node.capacity;
    if (next < 0) F[i * size + n]! += (g * air) / node.capacity;
    else {
      F[i * size + next]! += g / node.capacity;
      F[next * size + i]! += g / nodes[next]!.capacity;
      F[next * size + next]! -= g / nodes[next]!.capacity;
    }
    const own = heat[node.id];
    if (!own) return;
    F[i * size + i]! += own.perKelvin / node.capacity;
    F[i * size + n]! += (own.watts - own.perKelvin * own.at) / node.capacity;
  });
  return F;
}

/**
 * Temperatures over time: the network is linear, and each step exact by the matrix exponential, however long beside the fastest time constant.
 * @param heat by node id @param air °C @param from °C of all nodes at the beginning @param time s, rising, the first of them zero
 */
export function warmUp(nodes: readonly StoringNode[], heat: Readonly<Record<string, Heat>>, air: number, from: number, time: readonly number[]): WarmUp {
  const n = nodes.length;
  const size = n + 1;
  const F = systemOf(nodes, heat, air);
  let z = new Float64Array(size).fill(from);
  z[n] = 1;
  const temperatures = nodes.map(() => [] as number[]);
  time.forEach((t, k) => {
    if (k > 0) {
      const next = new Float64Array(size);
      apply(exponentialStep(F, t - time[k - 1]!, size).phi, z, next, size);
      z = next;
    }
    temperatures.forEach((list, i) => list.push(z[i]!));
  });
  return { time: [...time], temperatures };
}

/** Points a decade of a warm-up that is drawn */
const POINTS = 24;

/** Zero, and times a decade after the other from the fastest that something moves in to the last, s. */
export function decadesUntil(first: number, last: number): number[] {
  const count = Math.max(1, Math.ceil(POINTS * Math.log10(last / first)));
  return [0, ...Array.from({ length: count + 1 }, (_, k) => first * (last / first) ** (k / count))];
}
