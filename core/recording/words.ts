import type { Device } from '../circuit/devices';

/** What can be said of a device: its id, what it is, and the segment at which it does nothing. */
export type Named = Pick<Device, 'id' | 'kind' | 'start'> & { segments: number };

/** A machine's devices, as events are said with. */
export const named = (devices: readonly Device[]): Named[] => devices.map(({ id, kind, start, bounds }) => ({ id, kind, start, segments: bounds.length + 1 }));

/** An event in words: what happened to which part, and why. */
export function eventInWords({ id, kind, start, segments }: Named, segment: number): string {
  switch (kind) {
    case 'switch':
      return segment === 1 ? `${id} closes: its gate comes` : `${id} opens: its gate goes`;
    case 'diode':
      return segment === 1 ? `${id} conducts: its voltage reached its drop` : `${id} stops: its current reached zero`;
    case 'comparator':
      return `${id} goes ${segment === 1 ? 'high' : 'low'}`;
    case 'transfer':
      return segment === start ? `${id} leaves its end` : `${id} reaches its ${segment > start ? 'upper' : 'lower'} end`;
    case 'inductor':
      return segment === start ? `${id} leaves saturation` : `${id} saturates: its flux passed a bend`;
    default:
      return segment === start ? `${id} is where it began` : `${id} passes a bend of its characteristic, ${segment} of ${segments - 1}`;
  }
}
