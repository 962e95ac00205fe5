import type { Circuit, Element } from '../circuit/elements';
import type { Measures } from '../orbit/measure';
import type { PartRole, Roles } from './roles';

/** What the cycle asks of the part in a slot. Currents in A, voltages in V. */
export interface PartStress {
  rms: number;
  mean: number;
  /** Largest absolute current */
  peak: number;
  /** Largest absolute voltage across it */
  voltage: number;
  peakToPeak: number;
}

/** A quantity of the circuit: a voltage between two nodes, or the current of an element. */
export type Measurable = { voltage: readonly [string, string?] } | { current: string };

type Current = Pick<Measures, 'mean' | 'rms' | 'min' | 'max'>;

/** An element with two ends, by its id. */
export function elementOf(circuit: Circuit, id: string): Extract<Element, { a: string }> {
  const e = circuit.elements.find((x) => x.id === id);
  if (!e || !('a' in e)) throw new Error(`no element ${id} with two ends`);
  return e;
}

/** From a current and the voltage across. Extremes cost more than integrals and are read once, after the temperatures have settled. */
const stress = (i: Current, v: Pick<Measures, 'min' | 'max'>): PartStress => ({
  rms: i.rms,
  mean: i.mean,
  get peak() {
    return Math.max(Math.abs(i.min), Math.abs(i.max));
  },
  get voltage() {
    return Math.max(Math.abs(v.min), Math.abs(v.max));
  },
  get peakToPeak() {
    return i.max - i.min;
  },
});

/** A current without its mean: what stands beside a stiff source takes what the source does not give. */
const pulsesOf = (i: Current): Current => ({
  mean: 0,
  rms: Math.sqrt(Math.max(0, i.rms ** 2 - i.mean ** 2)),
  get min() {
    return i.min - i.mean;
  },
  get max() {
    return i.max - i.mean;
  },
});

/** A leg of a rectifier conducts for half of the time and carries the mean of what is drawn. */
const legOf = (drawn: number): Current => ({ mean: drawn / 2, rms: drawn / Math.SQRT2, min: 0, max: drawn });

/** What each slot carries and stands, by what its elements do in a cycle. */
export function stressesIn(circuit: Circuit, roles: Pick<Roles, 'parts'>, measure: (of: Measurable) => Measures): Record<string, PartStress> {
  const across = (id: string): Measures => {
    const { a, b } = elementOf(circuit, id);
    return measure({ voltage: [a, b] });
  };
  const of = (role: PartRole): PartStress => {
    const source = role.beside ?? role.leg;
    if (source !== undefined) {
      const i = measure({ current: source });
      return stress(role.leg === undefined ? pulsesOf(i) : legOf(-i.mean), across(source));
    }
    const [id] = role.elements as [string];
    const own = stress(measure({ current: id }), across(id));
    if (role.slow !== undefined) return withSlow(own, measure({ current: role.slow }).mean);
    // The copper carries more than what magnetises the core.
    if (role.copper) own.rms = measure({ current: role.copper[0]!.element }).rms;
    return own;
  };
  return Object.fromEntries(Object.entries(roles.parts).map(([slot, role]) => [slot, of(role)]));
}

/** A slow current, at one moment of it, on top of what is seen within the period. */
const withSlow = (fast: PartStress, slow: number): PartStress => ({
  mean: 0,
  rms: Math.hypot(fast.rms, slow),
  get peak() {
    return fast.peak + Math.abs(slow);
  },
  get voltage() {
    return fast.voltage;
  },
  get peakToPeak() {
    return fast.peakToPeak;
  },
});
