import type { TransformerPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import { ERICKSON } from './common';
import type { Winding } from '../converter/fragment';
import type { SizedValue } from './types';

/** What transformers share: turns from volt-seconds and ratio, the inductance of the primary, copper of a winding. */

const turnsValue = (slot: string, field: 'primaryTurns' | 'secondaryTurns', title: string, wanted: number, suggested: number, own: number | null, how: string, workings: Working[]): SizedValue => ({
  slot, path: `parts.${slot}.${field}`, title, unit: '', wanted, suggested, taken: own ?? suggested, overridden: own !== null, how: own === null ? how : 'your value', workings,
});

export interface TurnsWanted {
  /** Secondary over primary, at least */
  ratio: Working;
  /** V·s that the primary stands in a period, at most, and where */
  voltSeconds: number;
  where: string;
  /** T that the flux may swing by */
  swing: number;
}

/**
 * Turns of primary and secondary: enough on the primary for the flux, and the fewest on the secondary whose ratio
 * does not fall below what is wanted.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12.
 * @param slot of the transformer
 */
export function turnsFor(part: TransformerPart, { ratio, voltSeconds, where, swing }: TurnsWanted, slot = 'T1'): { primary: SizedValue; secondary: SizedValue } {
  const flux: Working = {
    title: 'turns that keep the flux',
    formula: 'N ≥ V t / (ΔB A)',
    numbers: `${print(voltSeconds * 1e6, '')} µVs ${where} / (${print(swing, 'T')} × ${print(part.coreArea, 'm²')})`,
    value: voltSeconds / (swing * part.coreArea),
    unit: '',
    source: `${ERICKSON}, ch. 12`,
    leavesOut: 'voltage across the resistances; what the loop asks for in a step',
  };
  const least = Math.ceil(flux.value - 1e-9);
  const n = ratio.value;
  let second = part.secondaryTurns ?? 1;
  if (part.secondaryTurns === null) {
    if (part.primaryTurns !== null) second = Math.ceil(n * part.primaryTurns - 1e-9);
    else while (Math.floor(second / n + 1e-9) < least && second < 10_000) second++;
  }
  const first = Math.max(1, Math.floor(second / n + 1e-9));
  const primary = turnsValue(slot, 'primaryTurns', 'turns of the primary', flux.value, first, part.primaryTurns, 'for flux and ratio', [flux]);
  return { primary, secondary: turnsValue(slot, 'secondaryTurns', 'turns of the secondary', n * primary.taken, Math.max(1, Math.ceil(n * primary.taken - 1e-9)), part.secondaryTurns, 'next whole turn', [ratio]) };
}

/** Inductance (H) of the primary on a core without a gap: A_L N². */
export function ungapped(part: TransformerPart, turns: number): SizedValue {
  const value = part.permeance * turns ** 2;
  return {
    title: 'inductance of the primary', unit: 'H', wanted: 0, suggested: value, taken: part.inductance ?? value, overridden: part.inductance !== null, how: part.inductance === null ? 'core without a gap' : 'your value',
    workings: [{ title: 'inductance of the primary', formula: 'L = A_L N²', numbers: `${print(part.permeance, 'H')} × ${turns}²`, value, unit: 'H', source: `${ERICKSON}, ch. 12`, leavesOut: 'spread of the material, which is large' }],
  };
}

/**
 * Resistances across leakage and core, as their own losses are, in times the impedance level of the primary: they
 * take a thousandth of its current while it commutates, next to nothing else, and damp what rings when everything
 * has let go.
 */
export const LEAKAGE_DAMPING = 1000;
export const CORE_DAMPING = 30_000;

/** H of the leakage, seen from the primary. */
export const leakage = (part: TransformerPart, turns: number): number => part.leakagePermeance * turns ** 2;

/** A winding of the transformer in a slot: the resistor of its copper, the value that has its turns, its share of the window. */
export const winding = (slot: string, title: string, share: number, turns = title): Winding => ({ element: `${slot} ${title}`, turns: `${slot} ${turns}`, share });
