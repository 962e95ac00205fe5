import { preferred } from '../quantity';
import type { SizedValue, SizingInput } from '../topology';
import type { Working } from '../working';
import type { Branch } from './branch';

/** The resistor of a branch: what its working proposes, rounded, or one's own. @param slot of the capacitor that it belongs to */
export function resistorValue(input: SizingInput, id: string, { resistance }: Branch, slot: string, working: Working): SizedValue {
  const series = input.series ?? 'E24';
  const suggested = Number(preferred(working.value, series).toPrecision(6));
  return { slot, path: `branches.${id}.resistance`, title: working.title, unit: 'Ω', wanted: working.value, suggested, taken: resistance ?? suggested, overridden: resistance !== null, how: resistance === null ? `nearest in ${series}` : 'your value', workings: [working] };
}

/** Key of that resistor among the sizes. */
export const resistorOf = (slot: string): string => `${slot} resistor`;
