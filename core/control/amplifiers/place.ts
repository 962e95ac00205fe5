import { degrees, type Complex } from '../../linear/complex';
import { ok, type Result } from '../../problem';
import { boostWanted, integratorFor, pairFor, tooMuchLift } from './lift';
import type { TypeThree } from './network';

export interface Placement {
  compensator: TypeThree;
  /** Phase the compensator lifts at crossover above its integrator's −90°, in degrees. */
  boost: number;
  /** Ratio of the double pole to the double zero. */
  k: number;
}

/** Smallest ratio of poles to zeros, that can be built in preferred values: 23° where they stand about the crossover */
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
  const boost = boostWanted(plant, phaseMargin);
  if (boost >= 175) return tooMuchLift(boost, phaseMargin, crossover, 'a type III compensator gives less than 180°');
  const { zero, pole } = pairFor(boost / 2, LEAST_K);
  const [z, p] = [zero * crossover, pole * crossover];
  const lift = 2 * (degrees(Math.atan(1 / zero)) - degrees(Math.atan(1 / pole)));
  return ok({ compensator: { integrator: integratorFor(plant, crossover, [z, z], [p, p]), zero1: z, zero2: z, pole1: p, pole2: p }, boost: lift, k: pole / zero });
}
