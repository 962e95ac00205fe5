import type { Control } from './types';

/**
 * Ways to draw from the mains without a loop of the current: a command that stands still all along it, and a stage whose current
 * follows the line by itself. What that is:
 * - the duty of a stage in discontinuous conduction: in every period what the line gives is v D² / (2 f L), of a flyback or SEPIC for
 *   all v, of a boost the more the nearer v comes to the output;
 * - the time on of a stage that closes as its current has come to rest: the mean of a boost's inductor is v t / (2 L).
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (automatic loss-free resistors: discontinuous and critical conduction).
 */
export type HeldCommand = 'duty' | 'on-time';

/** The methods that hold one, by id. */
export const [HELD_DUTY, CRITICAL] = ['held-duty', 'critical-conduction'];

/** What a design's control holds all along the mains; undefined where a loop shapes the current. */
export const heldCommand = (control: Pick<Control, 'method'> | undefined): HeldCommand | undefined => (control?.method === HELD_DUTY ? 'duty' : control?.method === CRITICAL ? 'on-time' : undefined);

/** What is fed goes with so high a power of the command. */
export const POWER: Readonly<Record<HeldCommand, number>> = { duty: 2, 'on-time': 1 };

/** s off at least, as a share of the period at the lowest frequency, where nothing is said: what the frequency rises to near the zero crossing and at light loads ends there */
const LEAST_OFF = 0.05;

/** s that a stage in critical conduction is off at least. @param frequency Hz, the lowest */
export const leastOff = (control: Pick<Control, 'method'> | undefined, frequency: number): number => ((control as Control | undefined)?.minimumOff as number | null | undefined) ?? LEAST_OFF / frequency;
