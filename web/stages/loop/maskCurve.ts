import type { BodeCurve } from '../../../core/response/margins';
import { decibels } from '../../../core/linear/complex';
import type { ImpedanceMask } from '../../../core/surroundings/impedanceMask';

/** A mask of an impedance as a curve: dB of an ohm at its points, without a phase. */
export const maskCurve = (mask: ImpedanceMask): BodeCurve => ({ frequency: mask.map(([f]) => f), gain: mask.map(([, z]) => decibels(z)), phase: mask.map(() => NaN) });
