import type { LinearSystem } from './system';

/**
 * The slow loop around a rectifier that draws its current in step with the mains: it sets the crest of the current
 * so that the reservoir keeps its voltage, and must be slow against twice the mains, else the current is bent.
 *
 * Seen slowly, the stage is a source of power: v falls by a load as by a resistance of its own beside the load's
 * (the power drawn does not change with v), so C dv/dt = i − (2/R) v − step. The loop is i = −(kp + ki ∫) v with
 * crossover at `frequency` and the zero at half of it.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (wide-band loss-free resistor, outer loop).
 *
 * @param capacitance F of the reservoir
 * @param resistance Ω of the load
 * @param frequency Hz, crossover wanted
 * @returns the closed loop from a step of the load in A to the output in V, and its phase margin in degrees
 */
export function voltageLoop(capacitance: number, resistance: number, frequency: number): { closed: LinearSystem; phaseMargin: number } {
  const w = 2 * Math.PI * frequency;
  const zero = w / 2;
  const leak = 2 / resistance;
  // |kp (1 + zero/jw)| = |jwC + leak|
  const kp = Math.hypot(w * capacitance, leak) / Math.hypot(1, zero / w);
  const ki = kp * zero;
  const A = new Float64Array([-(leak + kp) / capacitance, -ki / capacitance, 1, 0]);
  const phase = Math.atan2(-zero, w) - Math.atan2(w * capacitance, leak);
  return { closed: { n: 2, A, b: [new Float64Array([-1 / capacitance, 0])], c: new Float64Array([1, 0]), d: [0] }, phaseMargin: 180 + (phase * 180) / Math.PI };
}
