import { z } from 'zod';
import { AMPLIFIERS, STRUCTURES } from '../control';
import { KIND, VERSION, type Design } from '../design/schema';
import { preferred, type UnitName } from '../quantity';
import { Brief } from '../surroundings/brief';

/** What a new design is asked for: line, output and load; the rest where it is said. Volts, amps, hertz, °C. */
export const Asked = z.strictObject({
  line: Brief.shape.line,
  output: z.number().positive(),
  load: z.strictObject({ min: z.number().nonnegative(), max: z.number().positive() }),
  further: Brief.shape.further,
  isolated: z.boolean().optional(),
  loadKind: Brief.shape.loadKind,
  loadInductance: Brief.shape.loadInductance,
  loadThreshold: Brief.shape.loadThreshold,
  frequency: z.number().min(1e3).max(1e7).optional(),
  air: z.strictObject({ min: z.number().min(-100), max: z.number().max(250) }).optional(),
  /** V peak to peak */
  ripple: z.number().positive().optional(),
  /** A, and V that the output may leave its value by after it */
  loadStep: z.number().positive().optional(),
  deviation: z.number().positive().optional(),
  phaseMargin: z.number().min(10).max(90).optional(),
  gainMargin: z.number().positive().optional(),
  efficiency: z.number().gt(0).lt(1).optional(),
});
export type Asked = z.infer<typeof Asked>;

/** A value that was not asked for and is taken, with why. */
export interface Taken {
  /** Where it stands in the design */
  path: string;
  title: string;
  value: number;
  unit: UnitName;
  why: string;
}

/** What limits are where nothing else is asked: shares of the output, degrees, dB, °C, shares of ratings. */
const USUAL = { ripple: 0.01, deviation: 0.05, phaseMargin: 45, gainMargin: 8, lowGain: 20, filterMargin: 6, headroom: 0.1, postRipple: 1e-3, powerFactor: 0.95, distortion: 0.05, holdUp: 0.02, noise: 3, efficiency: 0.85, junction: 125, winding: 110, ratings: 0.9, step: 0.5, rippleShare: 0.35, lineRipple: 0.03 };

/** Placed with more than is asked, so that corners away from the placement have some to lose. */
const MORE_MARGIN = 15;

/** Hz that converters of a power, on a line or to an output of some volts, usually switch at. */
export function usualFrequency(watts: number, volts: number): number {
  // Losses of switching go with the voltage and with what is switched: some 300 kHz up to 100 W and 100 V, from there downwards.
  const most = 3e5 * Math.min(1, (100 / watts) ** 0.35) * Math.min(1, (100 / volts) ** 0.5);
  return Number(Math.max(2e4, most).toPrecision(1));
}

/** A brief, limits and control for what is asked, and what was taken for granted. */
export function usual(asked: Asked): { brief: Brief; requirements: Design['requirements']; control: Record<string, unknown>; drive: Design['drive']; taken: Taken[] } {
  const taken: Taken[] = [];
  const take = (path: string, title: string, unit: UnitName, given: number | undefined, value: number, why: string): number => {
    if (given !== undefined) return given;
    taken.push({ path, title, value, unit, why });
    return value;
  };
  const { line, output, load } = asked;
  const watts = output * load.max + (asked.further ?? []).reduce((s, o) => s + o.voltage * o.load.max, 0);
  const step = take('brief.loadStep', 'load step', 'A', asked.loadStep, (load.max - load.min > 0 ? Math.min(load.max - load.min, USUAL.step * load.max) : USUAL.step * load.max), 'half of full load');
  const frequency = take('brief.frequency', 'switching frequency', 'Hz', asked.frequency, usualFrequency(watts, Math.max(line.max * (line.mains ? Math.SQRT2 : 1), output)), 'usual at this power and voltage');
  const air = asked.air ?? { min: 0, max: take('brief.air.max', 'air at most', '°C', undefined, 50, 'inside of a case') };
  const limit = (value: number): { limit: number; on: boolean } => ({ limit: value, on: true });
  const requirements: Design['requirements'] = {
    ripple: limit(take('requirements.ripple.limit', 'ripple', 'V', asked.ripple, rounded((line.mains ? 2 : 1) * USUAL.ripple * output), line.mains ? '2 % of the output, on the mains' : '1 % of the output')),
    deviation: limit(take('requirements.deviation.limit', 'after the step', 'V', asked.deviation, rounded(USUAL.deviation * output), '5 % of the output')),
    phaseMargin: limit(take('requirements.phaseMargin.limit', 'phase margin', '°', asked.phaseMargin, USUAL.phaseMargin, 'usual')),
    gainMargin: limit(take('requirements.gainMargin.limit', 'gain margin', 'dB', asked.gainMargin, USUAL.gainMargin, 'usual')),
    efficiency: limit(take('requirements.efficiency.limit', 'efficiency', '%', asked.efficiency, USUAL.efficiency, 'at full load')),
    junction: limit(take('requirements.junction.limit', 'junctions', '°C', undefined, USUAL.junction, 'usual')),
    winding: limit(take('requirements.winding.limit', 'windings', '°C', undefined, USUAL.winding, 'usual')),
    ratings: limit(take('requirements.ratings.limit', 'stress of ratings', '%', undefined, USUAL.ratings, 'usual')),
    lineDeviation: { limit: rounded(USUAL.deviation * output), on: false },
    height: { limit: 0.03, on: false },
    lowGain: { limit: USUAL.lowGain, on: false },
    impedance: { limit: 1, on: false }, pinned: { limit: 1, on: false }, filterMargin: { limit: USUAL.filterMargin, on: false }, headroom: { limit: USUAL.headroom, on: false }, postRipple: { limit: USUAL.postRipple, on: false },
    powerFactor: { limit: USUAL.powerFactor, on: false }, distortion: { limit: USUAL.distortion, on: false }, harmonics: { limit: 1, on: false }, holdUp: { limit: USUAL.holdUp, on: false }, noise: { limit: USUAL.noise, on: false },
  };
  const brief: Brief = {
    line, output: { voltage: output }, load, loadStep: step, frequency, air, rippleShare: USUAL.rippleShare, lineRipple: rounded(USUAL.lineRipple * line.min),
    ...(asked.further ? { further: asked.further } : {}), ...(asked.isolated ? { isolated: true } : {}),
    ...(asked.loadKind ? { loadKind: asked.loadKind } : {}), ...(asked.loadInductance ? { loadInductance: asked.loadInductance } : {}), ...(asked.loadThreshold ? { loadThreshold: asked.loadThreshold } : {}),
  };
  // A divider of a few milliamperes at low voltages, and of less than a tenth of a watt at high ones.
  const inputResistor = preferred(Math.max(10e3, output ** 2 / 0.1), 'E12', 'up');
  return {
    brief, requirements, taken,
    control: { method: STRUCTURES[0]!.id, amplifier: AMPLIFIERS[0]!.id, crossover: frequency / 10, phaseMargin: Math.min(75, requirements.phaseMargin.limit + MORE_MARGIN), ramp: 1, delay: 5e-8, reference: output > 3 ? 2.5 : rounded(output / 2), rounded: true, carrier: 'trailing', sampled: 'none', placedOn: '', inputResistor },
    drive: { voltage: 10, gateResistance: 3, turnOffResistance: null, deadTime: Math.min(1e-7, 0.01 / frequency) },
  };
}

const rounded = (v: number): number => Number(v.toPrecision(2));

/** A design that has all but its power stage. */
export const blank = (asked: Asked, name: string): { design: Design; taken: Taken[] } => {
  const { taken, ...rest } = usual(asked);
  return { design: { kind: KIND, version: VERSION, name, topology: '', parts: {}, sink: { thermalResistance: 1 }, ...rest } as unknown as Design, taken };
};
