import type { Machine } from '../circuit/machine';
import { fail, type Result } from '../problem';

/** States that nothing brings back: what a cycle can not be solved for. */

/** Columns of pure integrators: the outermost state of a block without a constant in its denominator. */
export const integrators = (m: Machine): number[] => m.circuit.elements.flatMap((e) => (e.kind === 'transfer' && e.denominator[0] === 0 && e.denominator.length > 1 ? [m.layout.column.get(`${e.id}.0`)!] : []));

/** How little may bring a state back in a period before that is taken for rounding. */
const HELD = 1e-13;

/** A state that the period brings back as it was, whatever it was: X − I is singular with it. Undefined where there is none. */
export function looseDirection(X: Float64Array, size: number, free: readonly number[], scale: Float64Array): number | undefined {
  const n = free.length;
  const a = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) a[i * n + j] = ((X[free[i]! * size + free[j]!]! - (i === j ? 1 : 0)) * scale[j]!) / scale[i]!;
  // Elimination with complete pivoting: what is left when no pivot is found spans the loose directions.
  const columns = Array.from({ length: n }, (_, j) => j);
  for (let k = 0; k < n; k++) {
    let [p, q, best] = [k, k, 0];
    for (let i = k; i < n; i++) for (let j = k; j < n; j++) if (Math.abs(a[i * n + j]!) > best) [p, q, best] = [i, j, Math.abs(a[i * n + j]!)];
    if (best <= HELD) {
      // Back substitution of the first free column: the direction, in shares of each state's size.
      const v = new Float64Array(n);
      v[k] = 1;
      for (let i = k - 1; i >= 0; i--) {
        let sum = 0;
        for (let j = i + 1; j <= k; j++) sum += a[i * n + j]! * v[j]!;
        v[i] = -sum / a[i * n + i]!;
      }
      const most = Math.max(...v.map(Math.abs));
      // Of those that take part, the first: states of the circuit stand before what samplers keep.
      return free[Math.min(...columns.filter((_, i) => Math.abs(v[i]!) > 0.3 * most))]!;
    }
    for (let j = 0; j < n; j++) [a[p * n + j], a[k * n + j]] = [a[k * n + j]!, a[p * n + j]!];
    for (let i = 0; i < n; i++) [a[i * n + q], a[i * n + k]] = [a[i * n + k]!, a[i * n + q]!];
    [columns[q], columns[k]] = [columns[k]!, columns[q]!];
    for (let i = k + 1; i < n; i++) {
      const f = a[i * n + k]! / a[k * n + k]!;
      if (f !== 0) for (let j = k; j < n; j++) a[i * n + j]! -= f * a[k * n + j]!;
    }
  }
  return undefined;
}

/** The state that nothing brings back, by its element's name. */
export function unheld(m: Machine, column: number | undefined, source = '', code = 'unheld'): Result<never> {
  if (column === undefined) return fail('no-cycle', source, 'the regulated mean does not depend on what is solved for', 'check that the output is connected');
  const name = [...m.layout.column].find(([, i]) => i === column)![0].replace(/^held /, '');
  const owner = m.circuit.elements.find((e) => e.id === name || name.startsWith(`${e.id}.`));
  return fail(code, owner?.id ?? name, `nothing holds ${owner?.kind === 'transfer' || owner?.kind === 'op-amp' ? 'this integrator' : 'this state'}: it keeps whatever it begins with, or runs on for ever`, 'let something follow it, give it a path back to rest (a resistance, a leak, a feedback), or run it in time');
}

