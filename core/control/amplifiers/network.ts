import { preferred, SERIES } from '../../quantity';
import type { Held } from '../types';

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

/**
 * The op-amp network of a type III compensator: R1 from the output to the inverting input with
 * R3–C3 across it; R2–C1 in series around the op-amp with C2 across them; `lower` from the inverting
 * input to ground sets the output against the reference.
 */
export interface Network {
  R1: number;
  R2: number;
  R3: number;
  C1: number;
  C2: number;
  C3: number;
  /** Infinity where the output is to be the reference itself: left out */
  lower: number;
}

const TWO_PI = 2 * Math.PI;

/** The network that has just these zeros and poles, for a chosen R1 in Ω. No rounding. */
export function exactNetwork(c: TypeThree, R1: number, output: number, reference: number): Network {
  const total = 1 / (TWO_PI * c.integrator * R1); // C1 + C2
  const C2 = (total * c.zero1) / c.pole2;
  const C1 = total - C2;
  const R2 = 1 / (TWO_PI * c.zero1 * C1);
  // z2 = 1/2π(R1+R3)C3 and p1 = 1/2πR3C3
  const R3 = (R1 * c.zero2) / (c.pole1 - c.zero2);
  const C3 = 1 / (TWO_PI * c.pole1 * R3);
  return { R1, R2, R3, C1, C2, C3, lower: (R1 * reference) / (output - reference) };
}

/** Ω from the inverting input to ground that divides what is held to the reference with R1; Infinity where both are alike. */
export function lowerOf(R1: number, { output, reference }: Held, rounded: boolean): number {
  const exact = reference < output ? (R1 * reference) / (output - reference) : Infinity;
  return rounded && Number.isFinite(exact) ? preferred(exact, 'E96') : exact;
}

/** Share by which the upper resistor of a divider may be another than was asked, where nothing else depends on it */
const LEEWAY = 0.1;

/** The divider of a held voltage whose upper resistor is free: of all pairs of E96 near what was asked the one that holds it best. */
export function dividerPair(asked: number, held: Held, rounded: boolean): { upper: number; lower: number } {
  if (!rounded || !(held.reference < held.output)) return { upper: asked, lower: lowerOf(asked, held, rounded) };
  const error = (upper: number, lower: number): number => Math.abs((held.reference * (1 + upper / lower)) / held.output - 1);
  let best = { upper: preferred(asked, 'E96'), lower: lowerOf(preferred(asked, 'E96'), held, true) };
  const decade = 10 ** Math.floor(Math.log10(asked));
  for (const scale of [decade / 10, decade, decade * 10])
    for (const base of SERIES.E96) {
      const upper = Number((base * scale).toPrecision(6));
      if (Math.abs(upper / asked - 1) > LEEWAY) continue;
      const lower = lowerOf(upper, held, true);
      if (error(upper, lower) < error(best.upper, best.lower) * (1 - 1e-9)) best = { upper, lower };
    }
  return best;
}

/** V that a divider holds at the output with what is at its tap. */
export const heldBy = ({ upper, lower }: { upper: number; lower: number }, reference: number): number => (Number.isFinite(lower) ? reference * (1 + upper / lower) : reference);

/** The zeros, poles and integrator that a network has (ideal op-amp). */
export function networkCorners(n: Network): TypeThree {
  return {
    integrator: 1 / (TWO_PI * n.R1 * (n.C1 + n.C2)),
    zero1: 1 / (TWO_PI * n.R2 * n.C1),
    zero2: 1 / (TWO_PI * (n.R1 + n.R3) * n.C3),
    pole1: 1 / (TWO_PI * n.R3 * n.C3),
    pole2: (n.C1 + n.C2) / (TWO_PI * n.R2 * n.C1 * n.C2),
  };
}

/**
 * The network in preferred values: capacitors in E12, resistors in E96. Capacitors are coarse, so R1
 * is moved within half and double of what was asked until all three capacitors lie nearest to E12
 * values; the resistors then take up what is left.
 * @param R1 Ω @param output V regulated @param reference V
 */
export const preferredNetwork = (c: TypeThree, R1: number, output: number, reference: number): Network =>
  nearestR1(R1, { output, reference }, (trial) => {
    const rounded = roundNetwork(exactNetwork(c, trial, output, reference), c);
    return { network: rounded, error: cornerError(networkCorners(rounded), c) };
  });

/** Squared share of a corner that a squared share of the held voltage is worth: a hundredth of it matters as much as seven of a corner */
const HOLDS = 50;

/**
 * The network of least error over R1 of E96 within half and double of what was asked, the nearer the better. R1 is the upper resistor
 * of the divider as well: with the nearest to ground it has to hold the output.
 * @param build the network for an R1 in Ω, and its error, squared shares of its corners
 */
export function nearestR1<N>(R1: number, held: Held, build: (R1: number) => { network: N; error: number }): N {
  let best: N | undefined;
  let least = Infinity;
  for (const decade of [0.1, 1, 10])
    for (const base of SERIES.E96) {
      const trial = Number((base * decade * 10 ** Math.floor(Math.log10(R1))).toPrecision(6));
      if (trial < R1 / 2 || trial > R1 * 2) continue;
      const { network, error } = build(trial);
      const off = Math.log(heldBy({ upper: trial, lower: lowerOf(trial, held, true) }, held.reference) / held.output);
      const all = error + HOLDS * off ** 2 + 0.002 * Math.abs(Math.log(trial / R1));
      if (!(all < least)) continue;
      least = all;
      best = network;
    }
  return best!;
}

function roundNetwork(exact: Network, c: TypeThree): Network {
  const C1 = preferred(exact.C1, 'E12');
  const C2 = preferred(exact.C2, 'E12');
  const C3 = preferred(exact.C3, 'E12');
  // Zeros matter more to the margin than far poles: the resistors set z1 and p1 right.
  const R2 = preferred(1 / (TWO_PI * c.zero1 * C1), 'E96');
  const R3 = preferred(1 / (TWO_PI * c.pole1 * C3), 'E96');
  return { R1: exact.R1, R2, R3, C1, C2, C3, lower: Number.isFinite(exact.lower) ? preferred(exact.lower, 'E96') : Infinity };
}

/** Squared relative errors of all corners, far poles counted at a quarter. */
function cornerError(a: TypeThree, b: TypeThree): number {
  const off = (x: number, y: number): number => Math.log(x / y) ** 2;
  return off(a.integrator, b.integrator) + off(a.zero1, b.zero1) + off(a.zero2, b.zero2) + (off(a.pole1, b.pole1) + off(a.pole2, b.pole2)) / 4;
}

/** True when real parts can make these corners: zeros below their poles. */
export const buildable = (c: TypeThree): boolean => c.zero1 < c.pole2 && c.zero2 < c.pole1;
