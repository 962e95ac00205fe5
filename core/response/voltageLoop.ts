import { over, size, times, type Complex } from '../linear/complex';
import { findRoot } from '../linear/root';
import type { LinearSystem } from './system';

/** A proportional and integral part, and a notch. */
export interface MainsLoop {
  /** Hz: crossover on the reservoir alone, and of the zero */
  crossover: number;
  zero: number;
  /** A fed to the output for each V that it is off, at high frequencies */
  proportional: number;
  notch?: { frequency: number; quality: number };
}

/**
 * The slow loop around a rectifier that draws its current in step with the mains: it sets how much is drawn so that the reservoir
 * keeps its voltage, and must be slow against twice the mains, else the current is bent.
 *
 * Seen slowly, the stage is a source of power: v falls by a load as by a resistance of its own beside the load's
 * (the power drawn does not change with v), so C dv/dt = i − (2/R) v − step. The loop is i = −N (kp + ki ∫) v, with a notch N where it has one.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (wide-band loss-free resistor, outer loop).
 *
 * @param capacitance F of the reservoir
 * @param resistance Ω of the load
 * @returns the closed loop to the output in V from a step of the load in A and from one of its reference in V; its crossover in Hz, and its phase margin in degrees
 */
export function voltageLoop(loop: MainsLoop, capacitance: number, resistance: number): { closed: LinearSystem; crossover: number; phaseMargin: number } {
  const { proportional: kp, zero, notch } = loop;
  const ki = kp * 2 * Math.PI * zero;
  const leak = 2 / resistance;
  const at = (f: number): Complex => {
    const w = 2 * Math.PI * f;
    const open = over({ re: kp, im: -ki / w }, { re: leak, im: w * capacitance });
    return notch ? times(open, notchAt(notch, f)) : open;
  };
  // Of a gain that only falls until the notch, one crossing; seen over the logarithm of the frequency.
  const log = (f: number): number => Math.log(size(at(f)));
  const [low, high] = [Math.log(loop.crossover / 100), Math.log(loop.crossover * 1.5)];
  const found = findRoot((x) => log(Math.exp(x)), { low, high, atLow: log(Math.exp(low)), atHigh: log(Math.exp(high)) }, { width: 1e-9, value: 1e-12 });
  const crossover = Math.exp(found.at);
  const { re, im } = at(crossover);
  return { closed: closedOf(kp, ki, capacitance, leak, notch), crossover, phaseMargin: 180 + (Math.atan2(im, re) * 180) / Math.PI };
}

/** N = (s² + ω²) / (s² + ω/Q s + ω²). */
function notchAt({ frequency, quality }: NonNullable<MainsLoop['notch']>, f: number): Complex {
  const away = 1 - (f / frequency) ** 2;
  return over({ re: away, im: 0 }, { re: away, im: f / frequency / quality });
}

/** States: v, ∫ of what the notch lets through, and the two of the notch, which takes ω/Q of its middle off what it is given. */
function closedOf(kp: number, ki: number, C: number, leak: number, notch: MainsLoop['notch']): LinearSystem {
  const b = (n: number): Float64Array[] => [Float64Array.from({ length: n }, (_, i) => (i === 0 ? -1 / C : 0))];
  const c = (n: number): Float64Array => Float64Array.from({ length: n }, (_, i) => (i === 0 ? 1 : 0));
  if (!notch) return { n: 2, A: new Float64Array([-(leak + kp) / C, -ki / C, 1, 0]), b: [...b(2), new Float64Array([kp / C, -1])], c: c(2), d: [0, 0] };
  // N v = v − w, where w = (ω/Q) s / (s² + ω/Q s + ω²) v: w' = ω/Q (v − w) − ω² u, u' = w.
  const w0 = 2 * Math.PI * notch.frequency;
  const wide = w0 / notch.quality;
  return {
    n: 4,
    A: new Float64Array([
      -(leak + kp) / C, -ki / C, kp / C, 0,
      1, 0, -1, 0,
      wide, 0, -wide, -w0 * w0,
      0, 0, 1, 0,
    ]),
    b: [...b(4), new Float64Array([kp / C, -1, -wide, 0])], c: c(4), d: [0, 0],
  };
}
