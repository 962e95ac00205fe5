import { preferred, printQuantity as print } from '../../quantity';
import type { Network } from '../types';

/** What stands around error amplifiers, in Ω and F: below it the amplifier has to drive too much, above it leakage and strays decide. */
const USUAL = { Ω: { least: 300, most: 3e6 }, F: { least: 10e-12, most: 1e-6 }, S: { least: 0, most: Infinity } } as const;

/**
 * What is unusual about a network, in words, with what would scale it to usual values where something does; undefined
 * where there is nothing to say.
 * @param setting the present value of what scales it (Ω)
 */
export function networkRemark({ parts, scaledBy }: Network, setting: number): { text: string; change?: { key: string; value: number } } | undefined {
  const there = parts.filter((p) => Number.isFinite(p.value));
  const odd = there.filter((p) => p.value < USUAL[p.unit].least || p.value > USUAL[p.unit].most);
  if (odd.length === 0) return undefined;
  const text = `${odd.map((p) => `${p.title ?? p.id} of ${print(p.value, p.unit, 2)}`).join(', ')}: ${odd.length === 1 ? 'an unusual value' : 'unusual values'} around an error amplifier`;
  if (scaledBy === undefined) return { text };
  // All resistances times a factor, all capacitances over it.
  const bounds = there.flatMap(({ unit, value }) => (unit === 'Ω' ? [[USUAL.Ω.least / value, USUAL.Ω.most / value]] : unit === 'F' ? [[value / USUAL.F.most, value / USUAL.F.least]] : []));
  const [least, most] = [Math.max(...bounds.map((b) => b[0]!)), Math.min(...bounds.map((b) => b[1]!))];
  // Where no factor brings all of it within, the one that leaves as much to wish for on either side.
  const factor = least <= most ? Math.min(most, Math.max(least, 1)) : Math.sqrt(least * most);
  const value = preferred(setting * factor, 'E6', factor > 1 ? 'up' : 'down');
  return value === setting ? { text } : { text, change: { key: scaledBy, value } };
}
