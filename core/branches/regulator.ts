import type { Regulator } from './branch';
import { beforeLoad } from './drawn';
import type { BranchKind } from './types';

/** One that makes nine tenths of the output, where nothing is said. */
export const usualRegulator = (output: number): Regulator => ({ voltage: Number((0.9 * output).toPrecision(2)), dropout: 0.3, groundCurrent: 1e-4, rejection: [[100, 70], [10e3, 60], [100e3, 40], [1e6, 30], [10e6, 20]], noise: 2e-5, thermalResistance: 60, maxJunction: 125 });

/** dB that a regulator rejects at a frequency: straight between its points over the logarithm of the frequency, level beyond them. */
export function rejectionAt({ rejection }: Pick<Regulator, 'rejection'>, frequency: number): number {
  const sorted = rejection.toSorted(([a], [b]) => a - b);
  const k = sorted.findIndex(([f]) => f >= frequency);
  if (k <= 0) return (k < 0 ? sorted.at(-1)! : sorted[0]!)[1];
  const [[f0, a], [f1, b]] = [sorted[k - 1]!, sorted[k]!];
  return a + ((b - a) * Math.log(frequency / f0)) / Math.log(f1 / f0);
}

/**
 * A linear regulator behind the output: it takes the load's current and some of its own, whatever the output does, lets little of the ripple through, and
 * burns what lies between. What it makes of the output is computed from the settled cycle (evaluation/postRegulator).
 */
export const regulator: BranchKind = {
  id: 'regulator',
  title: 'linear post-regulator',
  purpose: 'takes what is left of the ripple, and burns what lies between',
  fills: [],
  on(stage, id, branch) {
    return {
      slots: [],
      size: () => ({ values: {}, blocking: {} }),
      forecast: () => ({ parts: {} }),
      put(f) {
        const [plus, minus] = f.outputs[0]!.nodes;
        f.constantLoad();
        f.put({ kind: 'current-source', id: `${id} ground current`, a: plus, b: minus, value: branch.regulator?.groundCurrent ?? 0 });
      },
      signals: [],
      drawing: beforeLoad(stage, id),
    };
  },
};
