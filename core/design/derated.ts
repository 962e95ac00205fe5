import { capacitorInUse, varies } from '../parts/capacitor';
import type { SizingInput, Topology } from '../topology';

/**
 * The sizing input with each capacitor as it is where it stands: under the voltage of its place, at the frequency of its ripple
 * (a reservoir on the mains: twice that of the mains) and in the coldest air of the brief, where it is weakest.
 */
export function derated(t: Topology, input: SizingInput): SizingInput {
  const { brief } = input;
  const some = t.slots.some(({ id }) => {
    const part = input.parts[id];
    return part?.kind === 'capacitor' && varies(part);
  });
  if (!some) return input;
  // What a place blocks does not go with its capacitor.
  const { blocking } = t.size(input);
  const parts = { ...input.parts };
  for (const { id, beats } of t.slots) {
    const part = parts[id];
    if (part?.kind !== 'capacitor') continue;
    const frequency = beats ? 2 * brief.line.mains! : brief.frequency;
    parts[id] = capacitorInUse(part, { volts: blocking[id]?.most ?? 0, frequency, temperature: brief.air.min });
  }
  return { ...input, parts };
}
