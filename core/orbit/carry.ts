import { restState, setTones, type Machine, type State } from '../circuit/machine';

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
