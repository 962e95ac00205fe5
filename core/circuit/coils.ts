import { solveInPlace } from '../linear/dense';
import { fail, ok, type Result } from '../problem';
import type { Circuit, ElementOf } from './elements';

/** How the inductors' currents follow their voltages: di/dt = L⁻¹ v, all of them together, couplings in it; `inverse` is n×n in 1/H, row by row. Problems "unknown" and "coupling": more energy than there is. */
export function inverseInductance(circuit: Circuit): Result<{ ids: string[]; inverse: Float64Array }> {
  const coils = circuit.elements.filter((e): e is ElementOf<'inductor'> => e.kind === 'inductor' && !e.saturation);
  const n = coils.length;
  const index = new Map(coils.map((c, i) => [c.id, i]));
  const L = new Float64Array(n * n);
  coils.forEach((c, i) => (L[i * n + i] = c.inductance));
  for (const e of circuit.elements) {
    if (e.kind !== 'coupling') continue;
    for (const p of e.inductors)
      for (const q of e.inductors) {
        const [i, j] = [index.get(p), index.get(q)];
        if (i === undefined || j === undefined) return fail('unknown', e.id, `it couples ${i === undefined ? p : q}, which is no inductor of fixed inductance`, 'name inductors of this circuit; couple one that saturates through an ideal transformer');
        if (i !== j) L[i * n + j] = e.k * Math.sqrt(coils[i]!.inductance * coils[j]!.inductance);
      }
  }
  // Energy must be positive for any currents: Cholesky finds the coil where it is not.
  const chol = L.slice();
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = chol[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= chol[i * n + k]! * chol[j * n + k]!;
      if (i === j) {
        if (!(sum > 1e-12 * coils[i]!.inductance)) return fail('coupling', coils[i]!.id, 'the couplings with it add up to more energy than there is', 'lower k');
        chol[i * n + i] = Math.sqrt(sum);
      } else chol[i * n + j] = sum / chol[j * n + j]!;
    }
  const inverse = new Float64Array(n * n);
  for (let i = 0; i < n; i++) inverse[i * (n + 1)] = 1;
  solveInPlace(L, inverse, n, n);
  return ok({ ids: coils.map((c) => c.id), inverse });
}
