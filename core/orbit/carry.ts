import { freeColumns } from '../circuit/layout';
import { restState, setTones, type Machine, type State } from '../circuit/machine';
import { solveInPlace } from '../linear/dense';
import type { SettledCycle } from './newton';

/**
 * The state of one machine told in the layout of another that differs by what some sources do, or by elements it
 * has besides: those begin at rest. Event sources of the same name keep their memory.
 */
export function carryOver(from: Machine, to: Machine, state: State): State {
  const fresh = restState(to);
  const z = fresh.z.slice();
  for (const [name, i] of to.layout.column) {
    const old = from.layout.column.get(name);
    if (old !== undefined && (i < to.layout.n || name.startsWith('held '))) z[i] = state.z[old]!;
  }
  setTones(to, z, state.t);
  return {
    ...state,
    z,
    segments: Uint16Array.from(to.devices, (d, k) => {
      const old = from.devices.findIndex((x) => x.id === d.id);
      return old >= 0 ? state.segments[old]! : fresh.segments[k]!;
    }),
    memory: to.eventSources.map((a, k) => {
      const old = from.eventSources.findIndex((x) => x.id === a.id);
      return old >= 0 ? [...state.memory[old]!] : fresh.memory[k]!;
    }),
  };
}

/**
 * Where a machine settles that has the layout of another whose settled cycle is known, and other sources: where that began, moved by what the sources
 * make of it to first order. With X split by what is free (f) and what sources set (s), δf = X_ff δf + X_fs δs. What differs
 * besides is not seen; where nothing does, Newton's first step is spared.
 */
export function carrySettled(from: { machine: Machine; cycle: SettledCycle }, to: Machine): State {
  const { X, state } = from.cycle;
  const found = carryOver(from.machine, to, state);
  const { size } = to.layout;
  const free = freeColumns(to.layout);
  const isFree = new Set(free);
  const moved = Array.from(found.z, (v, i) => (isFree.has(i) ? 0 : v - state.z[i]!));
  const n = free.length;
  const step = Float64Array.from(free, (row) => moved.reduce((sum, v, k) => sum + X[row * size + k]! * v, 0));
  const held = new Float64Array(n * n);
  free.forEach((row, i) => free.forEach((column, k) => (held[i * n + k] = (i === k ? 1 : 0) - X[row * size + column]!)));
  if (solveInPlace(held, step, n, 1) >= 0) return found;
  free.forEach((column, i) => (found.z[column]! += step[i]!));
  return found;
}
