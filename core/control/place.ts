import { degrees, phase, radians, size, type Complex } from '../linear/complex';
import { printQuantity } from '../quantity';
import { fail, ok, type Result } from '../problem';
import type { TypeThree } from './network';

export interface Placement {
  compensator: TypeThree;
  /** Phase the compensator lifts at crossover above its integrator's −90°, in degrees. */
  boost: number;
  /** Ratio of the double pole to the double zero. */
  k: number;
}

/** Smallest ratio of poles to zeros: a lift of 23° */
const LEAST_K = 1.5;

/**
 * Place a type III compensator by the K factor ("The K factor: a new mathematical tool for
 * stability analysis and synthesis", Proc. Powercon 10, 1983): a double zero at fc/√K and a double
 * pole at fc·√K, with K = tan²(boost/4 + 45°), and the integrator set for a loop gain of one at fc.
 *
 * @param plant everything in the loop but the compensator, at fc
 * @param crossover fc in Hz
 * @param phaseMargin wanted, in degrees
 * @returns the placement, or problem "boost" when the plant lags too much at fc
 */
export function placeTypeThree(plant: Complex, crossover: number, phaseMargin: number): Result<Placement> {
  let lag = degrees(phase(plant));
  if (lag > 0) lag -= 360; // a power stage lags: the branch below zero is meant
  const boost = phaseMargin - lag - 90;
  if (boost >= 175)
    return fail(
      'boost',
      'control.crossover',
      `${phaseMargin.toFixed(0)}° at ${printQuantity(crossover, 'Hz')} wants a phase lift of ${boost.toFixed(0)}°, and a type III compensator gives less than 180°`,
      'lower the crossover or the wanted phase margin',
    );
  // A plant that lags little wants no lift. Zeros and poles that meet can not be built, so they stay a little apart.
  const k = Math.max(LEAST_K, Math.tan(radians(Math.max(0, boost) / 4 + 45)) ** 2);
  const root = Math.sqrt(k);
  // |C(fc)| = (fi/fc)·K for the double zero and pole placed so; times |plant| it shall be one.
  const integrator = crossover / (k * size(plant));
  const compensator = { integrator, zero1: crossover / root, zero2: crossover / root, pole1: crossover * root, pole2: crossover * root };
  return ok({ compensator, boost: 4 * (degrees(Math.atan(root)) - 45), k });
}
