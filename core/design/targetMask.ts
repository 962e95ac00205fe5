import type { ImpedanceMask } from '../surroundings/impedanceMask';
import type { Design } from './schema';

/** Shares of the crossover from and to which it reaches */
const [FROM, TO] = [0.01, 3];
const round = (v: number): number => Number(v.toPrecision(2));

/**
 * The target impedance of an output, as a mask to begin with: the deviation that is allowed over the load step, flat about the crossover.
 * Source: Smith, Anderson, Forehand, Pelc, Roy, "Power distribution system design methodology and capacitor selection for modern CMOS
 * technology", IEEE Trans. Advanced Packaging 22 (1999), p. 284.
 */
export function targetMask({ brief, control, requirements }: Design): ImpedanceMask {
  const target = round(requirements.deviation.limit / brief.loadStep);
  return [[round(FROM * control.crossover), target], [round(Math.min(TO * control.crossover, brief.frequency / 2)), target]];
}
