import { z } from 'zod';

/**
 * Which elements of a circuit are what. Plain data beside the circuit: whatever is known of a converter (stresses,
 * losses, conduction, output, loops) is read from the circuit by these, and no id or node has a meaning of its own.
 */
const id = z.string().min(1).max(60);
const Front = z.strictObject({ elements: z.array(id), feeds: id });
const pair = z.tuple([id, id]);

/** What stands for the part in a slot. Stresses are those of the first of the elements, losses of all alike. */
export const PartRole = z.strictObject({
  /** One or several alike; none where the part is not in the circuit, and one of the next two says what it carries */
  elements: z.array(id),
  /** Beside a stiff source: the source gives the mean of what is drawn, the part takes the rest */
  beside: id.optional(),
  /** A leg of a rectifier in front of a source: it carries what the source gives for half of the time */
  leg: id.optional(),
  /** The body diode of a switch, where it is an element by itself */
  body: id.optional(),
  /** The resistors that are the copper of an inductor's winding, or of a transformer's windings */
  copper: z.array(z.strictObject({ element: id, title: z.string() })).optional(),
  /** An inductor wound on the core of another slot: the flux there is of both, and the loss counts there */
  core: z.strictObject({ slot: id, k: z.number().gt(0).lt(1) }).optional(),
  /** A resistor across a capacitor, or several before it, whose loss counts as the capacitor's */
  across: z.union([id, z.array(id).min(1)]).optional(),
  /** A slow current that a capacitor carries besides what is seen within a period: the mean of this element's */
  slow: id.optional(),
});
export type PartRole = z.infer<typeof PartRole>;

/** Through what the main inductor's current runs */
const Conduction = z.strictObject({ through: z.array(z.union([id, z.array(id).min(2)])), longer: z.number().nonnegative() });

export const Roles = z.strictObject({
  /** The source that is the line */
  line: id,
  /** The regulated output first: its nodes (and those that it is fed back at, where they are others), the resistances that are its load, the source that steps it */
  outputs: z.array(z.strictObject({ nodes: pair, loads: z.array(id), step: id.optional(), sensed: pair.optional() })).min(1),
  parts: z.record(id, PartRole),
  /**
   * Conduction is discontinuous where for longer than a share of the period none of these devices conducts; of several
   * in brackets, not all of them.
   */
  conduction: Conduction,
  /** Behind a rectifier: the element whose mean current is drawn in step with the mains, and the slot that holds what beats with it */
  mains: z.strictObject({ current: id, reservoir: id, alternates: id.optional() }).optional(),
  /** Elements of a filter between the line and the converter, and the source of 0 V that leads from it into the converter */
  front: Front.optional(),
});
export type Roles = z.infer<typeof Roles>;

/** A loop of a circuit, and where it can be broken: a source of 0 V in series with it. Wanted Hz and degrees, where any are. */
export const LoopRole = z.strictObject({ title: z.string().min(1).max(60), source: id, crossover: z.number().positive().optional(), phaseMargin: z.number().min(0).max(180).optional() });
export type LoopRole = z.infer<typeof LoopRole>;

/** Roles as the file of a circuit gives them: its loops are closed in it. Outputs may say what they are to be, in V, and within what share. */
export const FileRoles = z.strictObject({
  line: id,
  outputs: z.array(z.strictObject({ nodes: pair, loads: z.array(id).min(1), step: id.optional(), sensed: pair.optional(), voltage: z.number().optional(), within: z.number().gt(0).lt(1).default(0.01) })).min(1).max(20),
  parts: z.record(id, PartRole).default({}),
  conduction: Conduction.optional(),
  front: Front.optional(),
  loops: z.array(LoopRole).max(20).default([]),
});
export type FileRoles = z.infer<typeof FileRoles>;
