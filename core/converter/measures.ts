import { integrals, range, type Extremes, type CycleIntegrals, type Measures, type Quantity } from '../orbit/measure';
import type { Roles } from './roles';
import type { Measurable } from './stresses';

/** A quantity of a converter: one of its circuit, or the voltage of an output. */
export type Seen = Measurable | { output: number };

/** Measures by quantity, kept for the life of a cycle; integrals and extremes are computed once each, and only when read. */
export function keptMeasures(g: CycleIntegrals, roles: Pick<Roles, 'outputs'>): (of: Seen) => Measures {
  const kept = new Map<string, Measures>();
  return (of) => {
    const key = JSON.stringify(of);
    let found = kept.get(key);
    if (!found) {
      const quantity = quantityOf(of, roles);
      let extremes: Extremes | undefined;
      let sums: ReturnType<typeof integrals> | undefined;
      const ends = (): Extremes => (extremes ??= range(g, quantity));
      const over = (): ReturnType<typeof integrals> => (sums ??= integrals(g, quantity));
      found = {
        get mean() {
          return over().mean;
        },
        get rms() {
          return over().rms;
        },
        get min() {
          return ends().min;
        },
        get max() {
          return ends().max;
        },
        get peakToPeak() {
          return ends().max - ends().min;
        },
        get minAt() {
          return ends().minAt;
        },
        get maxAt() {
          return ends().maxAt;
        },
      };
      kept.set(key, found);
    }
    return found;
  };
}

/** The row of a signal in any pattern. */
export const quantityOf =
  (of: Seen, { outputs }: Pick<Roles, 'outputs'>): Quantity =>
  (p) =>
    'output' in of ? p.voltage(...outputs[of.output]!.nodes) : 'voltage' in of ? p.voltage(of.voltage[0], of.voltage[1]) : p.current(of.current);
