import type { CapacitorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { capacitorValue, ERICKSON } from '../topology/common';
import type { SizedValue, SizingInput } from '../topology';
import type { Working } from '../working';
import type { Branch } from './branch';

/**
 * Damping of an L-C filter by a capacitor and a resistor beside its own: the resistance that leaves the lowest peak of the output
 * impedance, and that peak, for a damping capacitor n times as large.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 10 (parallel R-C damping, optimum); Middlebrook, "Design
 * techniques for preventing input-filter oscillations in switched-mode regulators", Proc. Powercon 5 (1978).
 */

/** Damping capacitance over that damped, where nothing is said */
export const USUAL_RATIO = 4;

/** Best resistance over √(L/C). @param n damping capacitance over that damped */
export const bestResistance = (n: number): number => Math.sqrt(((2 + n) * (4 + 3 * n)) / (2 * n ** 2 * (4 + n)));

/** Peak of the output impedance over √(L/C), at that resistance. */
export const bestPeak = (n: number): number => Math.sqrt(2 * (2 + n)) / n;

/** What a filter's damping asks for: the capacitor, where it has one, and the working of its resistor (Ω). */
export function dampingOf(input: SizingInput, branch: Branch, E: string, of: { L: number; C: number; title: string }): { capacitor?: SizedValue; working?: Working } {
  if (branch.damped === undefined) return {};
  const level = Math.sqrt(of.L / of.C);
  if (branch.damped === 'series')
    return {
      working: {
        title: 'damping resistance, in series with the capacitor', formula: 'R = √(L / C)', numbers: `√(${print(of.L, 'H')} / ${print(of.C, 'F')})`, value: level, unit: 'Ω', source: `${ERICKSON}, ch. 10`,
        leavesOut: 'capacitors beside it that have no such resistor; the ripple that now stands across the resistor',
      },
    };
  const n = branch.ratio ?? USUAL_RATIO;
  const capacitor = capacitorValue(input.parts[E] as CapacitorPart, [{
    title: 'capacitance that damps', formula: `C ≥ ${n} ${of.title},  with a resistor in series`, numbers: `${n} × ${print(of.C, 'F')}: the impedance peaks at ${bestPeak(n).toFixed(2)} √(L / C) = ${print(bestPeak(n) * level, 'Ω')}`,
    value: n * of.C, unit: 'F', source: `${ERICKSON}, ch. 10`, leavesOut: 'series resistances; what the converter’s input does',
  }]);
  // The ratio that came of it, whole capacitors being what they are.
  const own = capacitor.taken / of.C;
  return {
    capacitor,
    working: {
      title: 'damping resistance', formula: 'R = √(L / C) · √((2 + n)(4 + 3n) / (2 n² (4 + n)))', numbers: `n = ${own.toPrecision(3)}, √(${print(of.L, 'H')} / ${print(of.C, 'F')}) = ${print(level, 'Ω')};  peak ${print(bestPeak(own) * level, 'Ω')}`,
      value: bestResistance(own) * level, unit: 'Ω', source: `${ERICKSON}, ch. 10`, leavesOut: 'resistance of the inductor, which damps as well',
    },
  };
}

/** What is to be said of a damping resistance that is not the best; undefined where it is near enough. @param best Ω */
export function dampingRemark(resistance: number, best: number): string | undefined {
  if (resistance > FAR * best) return `${print(resistance, 'Ω')} are too much: the damping capacitor is parted from the filter, which rings as if it were not there`;
  if (resistance < best / FAR) return `${print(resistance, 'Ω')} are too little: the damping capacitor only adds to the filter’s own, and rings with it`;
  return undefined;
}
/** Times that a resistance may be off the best, either way: the peak is then some half higher */
const FAR = 2.5;
