import { z } from 'zod';
import { Control } from '../design/schema';
import { Measured, MOST_MEASURED } from '../measured/types';

/** A loop on a measured plant alone: what was measured, and the controller for it. There is no power stage. */

export const PLANT_KIND = 'jump-reed plant';
export const PLANT_VERSION = 1;

export const PlantDocument = z.strictObject({
  kind: z.literal(PLANT_KIND),
  version: z.literal(PLANT_VERSION),
  name: z.string().min(1).max(80),
  /** From the command to the output, one for each condition it was measured in */
  measured: z.array(Measured).min(1).max(MOST_MEASURED),
  /** Hz of switching, at which a controller samples */
  frequency: z.number().min(100).max(1e7),
  /** V that the output is held at */
  output: z.number().positive(),
  control: Control,
});
export type PlantDocument = z.infer<typeof PlantDocument>;
