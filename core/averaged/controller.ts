import { canonical } from '../circuit/transfer';
import type { ElementOf } from '../circuit/elements';
import type { Controller } from '../control/controller';
import { apply } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';

/** A network as it computes from step to step, what it is told going straight between them. */
export interface Stepped {
  /** Its output now, for an error */
  output(error: number): number;
  /** What its output will be a step on, with an error before and one then; it stays where it is. */
  ahead(before: number, after: number): number;
  /** On to the next step. @param before the error there was @param after the one there is now */
  advance(before: number, after: number): void;
  /** Where it stands for ever with an output */
  stand(output: number): void;
}

/**
 * A block x' = A x + B u by its exact step, u straight from one step to the next (first-order hold; Franklin, Powell, Workman,
 * "Digital Control of Dynamic Systems", ch. 4). Beyond its limits `tracking` times what lies beyond comes off its input.
 * @param h s of a step
 */
export function stepped(c: Extract<Controller, { kind: 'continuous' }>, h: number): Stepped {
  const { c: row, d, feedback, rate } = canonical({ kind: 'transfer', id: '', a: '', b: '', plus: '', minus: '', numerator: [...c.numerator], denominator: [...c.denominator], tracking: 0 } as ElementOf<'transfer'>);
  const n = row.length;
  const { low = -Infinity, high = Infinity, tracking = 0 } = c.clips ?? {};
  /** Φ over states, the input, its slope over a step, and a constant. */
  const stepOf = (own: number): Float64Array => {
    const size = n + 3;
    const F = new Float64Array(size * size);
    for (let k = 0; k < n - 1; k++) F[k * size + k + 1] = rate;
    if (n > 0) {
      const last = (n - 1) * size;
      for (let k = 0; k < n; k++) F[last + k] = -rate * (feedback[k]! + (own / (1 + own * d)) * row[k]!);
      F[last + n] = rate / (1 + own * d);
      F[last + n + 2] = (rate * own) / (1 + own * d);
    }
    // The input goes by its slope, which is told a step.
    F[n * size + n + 1] = 1 / h;
    return exponentialStep(F, h, size).phi;
  };
  const linear = stepOf(0);
  const clipped = tracking > 0 ? stepOf(tracking) : linear;
  let x = new Float64Array(n);
  const z = new Float64Array(n + 3);
  const next = new Float64Array(n + 3);
  const raw = (u: number): number => row.reduce((sum, v, k) => sum + v * x[k]!, 0) + d * u;
  const cut = (v: number): number => Math.min(high, Math.max(low, v));
  const on = (before: number, after: number): void => {
    const y = raw(before);
    z.set(x);
    z[n] = before;
    z[n + 1] = after - before;
    z[n + 2] = cut(y);
    apply(y === cut(y) ? linear : clipped, z, next, n + 3);
    x = next.slice(0, n);
  };
  return {
    output: (u) => cut(raw(u)),
    ahead(before, after) {
      const now = x;
      on(before, after);
      const y = cut(raw(after));
      x = now;
      return y;
    },
    advance: on,
    stand(output) {
      x = new Float64Array(n);
      if (n > 0 && row[0] !== 0) x[0] = output / row[0]!;
    },
  };
}
