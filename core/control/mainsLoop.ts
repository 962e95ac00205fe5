import type { MainsLoop } from '../response/voltageLoop';
import type { Control, Setting } from './types';

/**
 * The slow loop of a rectifier that draws in step with the mains: by what the output is off it sets how much is drawn.
 * On power its plant is 1/(Vout C s) per watt, a quarter of a turn behind at every frequency. What of the ripple at twice the mains
 * comes through it bends the current: half of what it moves by is third harmonic. A notch there keeps it out, and costs phase below.
 * The duty that the line wants, 1 − v/Vout, can be fed forward: then the current loop has only what is left to do, and what it draws does not
 * run ahead of the line.
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (outer loop of the low-harmonic rectifier); Van de Sype,
 * De Gussemé, Van den Bossche, Melkebeek, "Duty-ratio feedforward for digitally controlled boost PFC converters", IEEE Trans. Ind. Electron. 52 (2005).
 */
export const MAINS_LOOP_SETTINGS: Readonly<Record<string, Setting>> = {
  outerCrossover: { unit: 'Hz', title: 'crossover of the voltage loop', value: 'none', none: { reads: 'a fifth of the mains', begins: 10 }, asked: true },
  outerPhaseMargin: { unit: '°', title: 'its phase margin', value: 72, asked: true },
  notchQuality: { unit: '', title: 'its notch at twice the mains, quality', value: 'none', none: { reads: 'none', begins: 1 }, asked: true },
  feedForward: { unit: '%', title: 'duty fed forward from the line', value: 'none', none: { reads: 'none', begins: 1 }, asked: true },
};

/** Crossover as a share of the mains frequency, where nothing is said: it shall not follow the ripple at twice that */
const USUAL = 0.2;

const numberOf = (v: Control[string] | undefined): number | undefined => (typeof v === 'number' ? v : undefined);

/** Hz that it is to cross at. @param mains Hz */
export const crossoverOf = (asked: Control | undefined, mains: number): number => numberOf(asked?.outerCrossover) ?? USUAL * mains;

/** ° that a notch lags by below its frequency. */
const notchLag = ({ frequency, quality }: NonNullable<MainsLoop['notch']>, f: number): number => (Math.atan2(f / frequency / quality, 1 - (f / frequency) ** 2) * 180) / Math.PI;

/** ° of margin that are there at most, the integral left out. @param mains Hz */
export function mostMargin(asked: Control | undefined, mains: number): number {
  const quality = numberOf(asked?.notchQuality);
  return 90 - (quality === undefined ? 0 : notchLag({ frequency: 2 * mains, quality }, crossoverOf(asked, mains)));
}

/** Of the crossover, where less margin is there than is asked: the integral is as slow as this then */
const SLOWEST = 0.02;

/**
 * Place it on a reservoir: proportional part for the crossover, zero for the margin, what the load takes besides left out.
 * @param mains Hz @param capacitance F of the reservoir
 */
export function placeMainsLoop(asked: Control | undefined, mains: number, capacitance: number): MainsLoop {
  const crossover = crossoverOf(asked, mains);
  const quality = numberOf(asked?.notchQuality);
  const margin = numberOf(asked?.outerPhaseMargin) ?? (MAINS_LOOP_SETTINGS.outerPhaseMargin!.value as number);
  const notch = quality === undefined ? undefined : { frequency: 2 * mains, quality };
  const lag = mostMargin(asked, mains) - margin;
  const zero = crossover * Math.max(SLOWEST, Math.tan((Math.max(0, lag) * Math.PI) / 180));
  const through = notch ? notchGain(notch, crossover) : 1;
  return { crossover, zero, proportional: (2 * Math.PI * crossover * capacitance) / (Math.hypot(1, zero / crossover) * through), ...(notch ? { notch } : {}) };
}

/** |N| of a notch at a frequency. */
export const notchGain = ({ frequency, quality }: NonNullable<MainsLoop['notch']>, f: number): number => {
  const away = 1 - (f / frequency) ** 2;
  return Math.abs(away) / Math.hypot(away, f / frequency / quality);
};

/** A fed for each V off, at a frequency: what of the ripple there comes through. */
export const throughLoop = ({ proportional, zero, notch }: MainsLoop, f: number): number => proportional * Math.hypot(1, zero / f) * (notch ? notchGain(notch, f) : 1);

/**
 * The notch as a difference equation in two states, y = b0 e + s1, s1 ← b1 e − a1 y + s2, s2 ← b0 e − a2 y, by the bilinear transform, exact at its frequency.
 * Source: Oppenheim, Schafer, "Discrete-Time Signal Processing", ch. 7 (bilinear transformation, prewarped; transposed direct form II).
 * @param period s between samples
 */
export function notchSteps({ frequency, quality }: NonNullable<MainsLoop['notch']>, period: number): { b0: number; b1: number; a1: number; a2: number } {
  const half = Math.PI * frequency * period;
  const alpha = Math.sin(2 * half) / (2 * quality);
  const b0 = 1 / (1 + alpha);
  const b1 = (-2 * Math.cos(2 * half)) / (1 + alpha);
  return { b0, b1, a1: b1, a2: (1 - alpha) / (1 + alpha) };
}
