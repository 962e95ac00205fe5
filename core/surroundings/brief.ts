import { z } from 'zod';
import { CLASSES } from './drawnCurrent';
import { LOADS } from './loads';

/** What the converter is asked for. Volts, amps, hertz, °C. */
export const Brief = z.strictObject({
  /** V, dc line; or V rms, where `mains` gives the frequency of an ac line in Hz */
  line: z.strictObject({ min: z.number().positive(), max: z.number().positive(), mains: z.number().min(10).max(1000).optional() }),
  /** Ω and H of the line itself, wiring and source, where it is dc: its volts are those behind them; stiff when left out */
  lineResistance: z.number().positive().optional(),
  lineInductance: z.number().positive().optional(),
  output: z.strictObject({
    /** V */
    voltage: z.number().positive(),
  }),
  /** Outputs beside the regulated one; their loads go with its load, from the smallest to the largest */
  further: z.array(z.strictObject({ voltage: z.number().positive(), load: z.strictObject({ min: z.number().positive(), max: z.number().positive() }) })).max(3).optional(),
  /** What hangs on the regulated output; a resistance when left out */
  loadKind: z.enum(LOADS.map((l) => l.id) as [string, ...string[]]).optional(),
  /** H of the load itself, where it is a winding or a magnet: a resistance in series with it */
  loadInductance: z.number().positive().optional(),
  /** V below which the load draws nothing, where it is a string of diodes */
  loadThreshold: z.number().positive().optional(),
  /** Must the output be parted from the line? */
  isolated: z.boolean().optional(),
  /** A; from zero where nothing may be connected: the output's own divider takes a little then */
  load: z.strictObject({ min: z.number().nonnegative(), max: z.number().positive() }),
  /** A, a step of the load within its range */
  loadStep: z.number().positive(),
  /** s that the load step takes; at once when left out */
  loadStepTime: z.number().positive().optional(),
  /** V, a step of the line within its range */
  lineStep: z.number().positive().optional(),
  /** Hz up to which the loop gain may be asked for at least so many dB */
  gainUpTo: z.number().positive().optional(),
  /** Hz and Ω, rising in Hz: what the output impedance may be at most, straight between its points over the logarithms of both */
  impedanceMask: z.array(z.tuple([z.number().positive(), z.number().positive()])).min(2).max(20).optional(),
  /** Class of the equipment by IEC 61000-3-2, on the mains; A when left out */
  equipmentClass: z.enum(CLASSES).optional(),
  /** Ω in the way of the mains while it charges the reservoir, bridged afterwards */
  inrushResistance: z.number().positive().nullable().optional(),
  /** V that the output may sink to while the mains is gone; 80 % of it when left out */
  holdUpTo: z.number().positive().optional(),
  /** Conduction wanted at the smallest load; as it comes when left out */
  lightLoad: z.enum(['continuous', 'discontinuous']).optional(),
  /** Hz */
  frequency: z.number().min(1e3).max(1e7),
  /** Hz that the switching frequency may be chosen from */
  frequencyRange: z.strictObject({ min: z.number().min(1e3).max(1e7), max: z.number().min(1e3).max(1e7) }).optional(),
  /** °C */
  air: z.strictObject({ min: z.number().min(-100), max: z.number().max(250) }),
  /** Inductor ripple, peak to peak, as a share of the largest load current */
  rippleShare: z.number().min(0.01).max(2),
  /** V peak to peak allowed across the input capacitor */
  lineRipple: z.number().positive(),
});
export type Brief = z.infer<typeof Brief>;

/** Gate drive, common to all switches. */
export const Drive = z.strictObject({
  /** V */
  voltage: z.number().positive(),
  /** Ω between driver and gate while it turns on, the driver's own included */
  gateResistance: z.number().positive(),
  /** Ω while it turns off; null: the same */
  turnOffResistance: z.number().positive().nullable().default(null),
  /** s between one switch turning off and its partner turning on */
  deadTime: z.number().nonnegative(),
  /** Ω of those that are the driver's own, where they are known: what share of the gate's energy it burns itself */
  driverResistance: z.number().nonnegative().optional(),
  /** W that controller and drivers take for themselves */
  supplyPower: z.number().nonnegative().optional(),
});
export type Drive = z.infer<typeof Drive>;

/** Where the converter stands: line in V (rms where it is the mains), load in A, air in °C. */
export interface OperatingPoint {
  line: number;
  load: number;
  air: number;
  /** rad after the mains' zero crossing, where the line is the mains: what is seen of the switching is seen there; the crest when left out */
  angle?: number;
  /** A, crest of the current that the mains shall give: set where losses and temperatures are solved */
  drawn?: number;
  /** The command that is held all along the mains, where one is: share of the period, or s; set as the crest is */
  command?: number;
}
