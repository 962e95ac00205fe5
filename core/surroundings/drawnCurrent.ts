import type { Harmonic } from '../orbit/spectrum';

/**
 * How well a current is drawn from the mains: power factor, displacement, distortion, and its harmonics against the limits of
 * IEC 61000-3-2, edition 5 (2018), up to 16 A a phase.
 *
 * Source of the figures: IEEE Std 1459 (2010), sinusoidal voltage, non-sinusoidal current.
 */

/** Classes of equipment: what is no other; portable tools; lighting; personal computers, televisions, refrigerators to 600 W. */
export const CLASSES = ['A', 'B', 'C', 'D'] as const;
export type EquipmentClass = (typeof CLASSES)[number];

/** The last order that is limited. */
export const LAST_ORDER = 40;

/** A rms of odd and even orders, class A (tables 1 of the standard); beyond them in proportion to 15/n and 8/n */
const [ODD_A, EVEN_A] = [{ 3: 2.3, 5: 1.14, 7: 0.77, 9: 0.4, 11: 0.33, 13: 0.21 } as Record<number, number>, { 2: 1.08, 4: 0.43, 6: 0.3 } as Record<number, number>];
const [ODD_BEYOND, EVEN_BEYOND] = [0.15 * 15, 0.23 * 8];
/** Share of the fundamental, class C (table 2); of the third so many times the power factor */
const SHARE_C: Record<number, number> = { 2: 0.02, 5: 0.1, 7: 0.07, 9: 0.05 };
const [THIRD_C, BEYOND_C] = [0.3, 0.03];
/** A rms for each watt, class D (table 3); from the thirteenth on in proportion to 1/n */
const PER_WATT: Record<number, number> = { 3: 3.4e-3, 5: 1.9e-3, 7: 1e-3, 9: 0.5e-3, 11: 0.35e-3 };
const PER_WATT_BEYOND = 3.85e-3;

const classA = (n: number): number => (n % 2 ? (ODD_A[n] ?? ODD_BEYOND / n) : (EVEN_A[n] ?? EVEN_BEYOND / n));

/**
 * A rms that a harmonic may have; Infinity where its order is not limited.
 * @param drawn W, power factor, and A rms of the fundamental, which classes C and D go by
 */
export function harmonicLimit(of: EquipmentClass, order: number, drawn: { power: number; powerFactor: number; fundamental: number }): number {
  if (order < 2 || order > LAST_ORDER) return Infinity;
  switch (of) {
    case 'A':
      return classA(order);
    case 'B':
      return 1.5 * classA(order);
    case 'C':
      return order === 3 ? THIRD_C * drawn.powerFactor * drawn.fundamental : order in SHARE_C ? SHARE_C[order]! * drawn.fundamental : order % 2 ? BEYOND_C * drawn.fundamental : Infinity;
    case 'D':
      return order % 2 ? Math.min(classA(order), (PER_WATT[order] ?? PER_WATT_BEYOND / order) * drawn.power) : Infinity;
  }
}

/** A harmonic against its limit, A rms. */
export interface HarmonicStanding {
  order: number;
  value: number;
  limit: number;
  holds: boolean;
}

export interface CurrentQuality {
  /** W, V rms, A rms */
  power: number;
  voltage: number;
  current: number;
  /** A at its crest */
  crest: number;
  powerFactor: number;
  /** cos of the angle of the fundamental */
  displacement: number;
  /** Total harmonic distortion to the last order, of the fundamental */
  distortion: number;
  fundamental: number;
  harmonics: HarmonicStanding[];
  /** The harmonic nearest to its limit, or farthest beyond it */
  tightest?: HarmonicStanding;
}

/**
 * The quality of a current at a sinusoidal voltage.
 * @param voltage the fundamental of the line @param current its harmonics, the mean first, peaks and radians
 * @param rms A of all of the current, what lies above the last order included @param crest A at most
 */
export function qualityOf(voltage: Pick<Harmonic, 'amplitude' | 'phase'>, current: readonly Pick<Harmonic, 'order' | 'amplitude' | 'phase'>[], rms: number, crest: number, of: EquipmentClass): CurrentQuality {
  const first = current.find((h) => h.order === 1)!;
  const fundamental = first.amplitude / Math.SQRT2;
  const volts = voltage.amplitude / Math.SQRT2;
  const displacement = Math.cos(first.phase - voltage.phase);
  const power = volts * fundamental * displacement;
  const powerFactor = power / (volts * rms);
  const higher = current.filter((h) => h.order >= 2 && h.order <= LAST_ORDER);
  const harmonics = higher.map(({ order, amplitude }): HarmonicStanding => {
    const value = amplitude / Math.SQRT2;
    const limit = harmonicLimit(of, order, { power, powerFactor, fundamental });
    return { order, value, limit, holds: value <= limit };
  });
  const distortion = Math.sqrt(harmonics.reduce((sum, h) => sum + h.value ** 2, 0)) / fundamental;
  const tightest = harmonics.filter((h) => Number.isFinite(h.limit)).reduce<HarmonicStanding | undefined>((a, b) => (a === undefined || b.value / b.limit > a.value / a.limit ? b : a), undefined);
  return { power, voltage: volts, current: rms, crest, powerFactor, displacement, distortion, fundamental, harmonics, ...(tightest ? { tightest } : {}) };
}
