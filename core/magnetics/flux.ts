import type { InductorPart } from '../parts/schema';

/** A core with the winding that magnetises it. */
export type Core = Pick<InductorPart, 'turns' | 'coreArea' | 'coreVolume' | 'steinmetz'>;

/** T: flux density of a winding at a current, B = L I / (N A). */
export const fluxDensity = (part: Pick<Core, 'turns' | 'coreArea'>, inductance: number, current: number): number =>
  (inductance * current) / (part.turns * part.coreArea);

const QUADRATURE = 400;
const angleIntegrals = new Map<string, number>();

/** ∫₀^2π |cos θ|^α 2^(β−α) dθ by the midpoint rule; kept, since it depends on the material only. */
function angleIntegral(alpha: number, beta: number): number {
  const key = `${alpha} ${beta}`;
  const known = angleIntegrals.get(key);
  if (known !== undefined) return known;
  let sum = 0;
  for (let i = 0; i < QUADRATURE; i++) sum += Math.abs(Math.cos((2 * Math.PI * (i + 0.5)) / QUADRATURE)) ** alpha;
  const value = ((sum * 2 * Math.PI) / QUADRATURE) * 2 ** (beta - alpha);
  angleIntegrals.set(key, value);
  return value;
}

/**
 * Core loss in W by the improved generalised Steinmetz equation (Venkatachalam et al. 2002) for a
 * winding voltage of flat stretches: dB/dt = v / (N A) in each.
 *
 *   P = V (1/T) Σ k_i |dB/dt|^α ΔB^(β−α) t        k_i = k / ((2π)^(α−1) ∫ |cos θ|^α 2^(β−α) dθ)
 *
 * One loop a period; a waveform with minor loops wants them split first.
 */
export function coreLoss(part: Core, voltages: readonly { volts: number; seconds: number }[]): number {
  const { k, alpha, beta } = part.steinmetz;
  const area = part.turns * part.coreArea;
  const period = voltages.reduce((sum, v) => sum + v.seconds, 0);
  let flux = 0;
  let high = 0;
  let low = 0;
  for (const { volts, seconds } of voltages) {
    flux += (volts * seconds) / area;
    high = Math.max(high, flux);
    low = Math.min(low, flux);
  }
  const swing = high - low;
  const ki = k / ((2 * Math.PI) ** (alpha - 1) * angleIntegral(alpha, beta));
  const sum = voltages.reduce((p, { volts, seconds }) => p + Math.abs(volts / area) ** alpha * swing ** (beta - alpha) * seconds, 0);
  return (part.coreVolume * ki * sum) / period;
}
