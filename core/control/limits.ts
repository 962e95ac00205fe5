import type { Clips } from './controller';
import type { Control, Setting } from './types';

/** What a modulator can not do: gates shorter than its least time on. A converter that would want those skips periods. */
export const LIMIT_SETTINGS: Readonly<Record<string, Setting>> = {
  minimumOn: { unit: 's', title: 'least time on', value: 'none', none: { reads: 'none', begins: 1e-7 }, asked: true },
};

/** How the reference comes up when the converter is switched on. */
export const START_SETTINGS: Readonly<Record<string, Setting>> = {
  softStart: { unit: 's', title: 'soft start', value: 'none', none: { reads: 'none', begins: 2e-3 }, asked: true },
};

/** V between which an amplifier puts out: of a current's command, its limit. */
export const CLIP_SETTINGS: Readonly<Record<string, Setting>> = {
  clipsLow: { unit: 'V', title: 'amplifier clips below', value: 'none', none: { reads: 'nowhere', begins: 0.1 }, asked: true },
  clipsHigh: { unit: 'V', title: 'amplifier clips above', value: 'none', none: { reads: 'nowhere', begins: 2 }, asked: true },
};

/** The same of a controller that computes: it has a range in any case, that of its modulator, or of the converter that reads what it asks for. */
export const RANGE_SETTINGS: Readonly<Record<string, Setting>> = {
  clipsLow: { unit: 'V', title: 'puts out at least', value: 'none', none: { reads: 'its range', begins: 0.1 }, asked: true },
  clipsHigh: { unit: 'V', title: 'puts out at most', value: 'none', none: { reads: 'its range', begins: 1 }, asked: true },
};

/** Times the error that its gain at the crossover makes of a volt that what lies beyond is taken off by: it comes back faster than the loop moves */
const TRACKING = 10;

/**
 * Where an amplifier clips; undefined where it does not. What it would put out beyond is taken off its input, as a network does whose
 * capacitors are no further charged.
 * Source: Åström, Hägglund, "Advanced PID Control", ch. 3 (windup, back-calculation and tracking).
 * @param gain V per V that it has at the crossover
 */
export function clipsOf(control: Control, gain: number): Clips | undefined {
  const [low, high] = [control.clipsLow as number | null | undefined, control.clipsHigh as number | null | undefined];
  if ((low ?? undefined) === undefined && (high ?? undefined) === undefined) return undefined;
  return { ...(low == null ? {} : { low }), ...(high == null ? {} : { high }), tracking: TRACKING / gain };
}

/** Times the largest current that the region wants that a controller which computes can ask for, so that a step is answered */
export const HEADROOM = 1.25;

/** V between which something puts out. */
export interface Span {
  low: number;
  high: number;
}

/** V that a controller which computes puts out at least and at most: what it is told, or all that it can. */
export const spanOf = (control: Control, can: Span): Span => ({ low: (control.clipsLow as number | null | undefined) ?? can.low, high: (control.clipsHigh as number | null | undefined) ?? can.high });

/** s that a gate is on at least; nothing where there is no such limit. */
export const leastOnOf = (control: Control | undefined): number => (control?.minimumOn as number | null | undefined) ?? 0;
