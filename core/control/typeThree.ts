import { over, times, type Complex } from '../linear/complex';

/**
 * A type III compensator: an integrator, two zeros, two poles.
 *
 *            ωi  (1 + s/ωz1)(1 + s/ωz2)
 *   C(s)  =  ──  ──────────────────────
 *            s   (1 + s/ωp1)(1 + s/ωp2)
 *
 * All corners are stored in Hz. `integrator` is where the integrator alone has a gain of one.
 */
export interface TypeThree {
  integrator: number;
  zero1: number;
  zero2: number;
  pole1: number;
  pole2: number;
}

/** C(jω) at a frequency in Hz. */
export function compensatorGain(c: TypeThree, f: number): Complex {
  const corner = (at: number): Complex => ({ re: 1, im: f / at });
  const zeros = times(corner(c.zero1), corner(c.zero2));
  const poles = times(corner(c.pole1), corner(c.pole2));
  return times({ re: 0, im: -c.integrator / f }, over(zeros, poles));
}
