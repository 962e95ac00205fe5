import { degrees, phase, radians, size, type Complex } from '../../linear/complex';
import { printQuantity as print } from '../../quantity';
import { fail, ok, type Result } from '../../problem';
import type { Control, Corners } from '../types';

/** Degrees that an amplifier has to lift the phase above its integrator's −90° so that the loop has a margin at a frequency. @param plant all of the loop but the amplifier, there */
export function boostWanted(plant: Complex, phaseMargin: number): number {
  let lag = degrees(phase(plant));
  if (lag > 0) lag -= 360; // a power stage lags: the branch below zero is meant
  return phaseMargin - lag - 90;
}

/** Problem "boost": the phase that is wanted is more than an amplifier gives. @param gives "a type II network gives less than 90°" @param or another way out, in words */
export const tooMuchLift = (boost: number, phaseMargin: number, crossover: number, gives: string, or = ''): Result<never> =>
  fail('boost', 'control.crossover', `${phaseMargin.toFixed(0)}° at ${print(crossover, 'Hz')} wants a phase lift of ${boost.toFixed(0)}°, and ${gives}`, `lower the crossover or the wanted phase margin${or}`);

/**
 * A zero and a pole, each over the crossover, that lift the phase there by so many degrees: about the crossover, with as
 * much on either side ("The K factor: a new mathematical tool for stability analysis and synthesis", Proc. Powercon 10,
 * 1983). Nearer to each other than `least` they can not be built: then both stay so far apart and go below the crossover,
 * where they lift less, and what lies above keeps the gain of a plain integrator.
 * @param lift degrees, below 90; nothing or less gives the pair about the crossover, `least` apart
 * @param least pole over zero
 */
export function pairFor(lift: number, least: number): { zero: number; pole: number } {
  const k = Math.tan(radians(lift / 2 + 45)) ** 2;
  if (k >= least || !(lift > 0)) {
    const root = Math.sqrt(Math.max(k, least));
    return { zero: 1 / root, pole: root };
  }
  // atan u − atan(u / least) = lift, with u the crossover over the zero: the root above √least.
  const t = Math.tan(radians(lift));
  const b = 1 - 1 / least;
  const u = (b + Math.sqrt(b ** 2 - (4 * t ** 2) / least)) / ((2 * t) / least);
  return { zero: 1 / u, pole: least / u };
}

/** Degrees that a zero and a pole can be asked to lift */
const MOST_LIFT = 85;

/** Corners of a type II network, or problem "boost". @param least pole over zero @param or another way out, in words */
export function placePair(plant: Complex, { crossover, phaseMargin }: Pick<Control, 'crossover' | 'phaseMargin'>, least: number, or: string): Result<Corners> {
  const boost = boostWanted(plant, phaseMargin);
  if (boost > MOST_LIFT) return tooMuchLift(boost, phaseMargin, crossover, 'a type II network gives less than 90°', or);
  const pair = pairFor(boost, least);
  const [zero1, pole1] = [pair.zero * crossover, pair.pole * crossover];
  return ok({ integrator: integratorFor(plant, crossover, [zero1], [pole1]), zero1, pole1 });
}

/** Hz of the integrator with which |C · plant| is one at the crossover, zeros and poles of C in Hz. @param plant all of the loop but the amplifier, there */
export const integratorFor = (plant: Complex, crossover: number, zeros: readonly number[], poles: readonly number[]): number => {
  const gain = (corners: readonly number[]): number => corners.reduce((g, f) => g * Math.hypot(1, crossover / f), 1);
  return (crossover * gain(poles)) / (gain(zeros) * size(plant));
};
