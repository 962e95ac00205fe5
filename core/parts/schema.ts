import { z } from 'zod';
import { COPPER, COPPER_RISE } from './copper';

/** What is known of a part, in SI units (temperatures in °C). Zod is the one description of it. */

const positive = z.number().positive();
const notNegative = z.number().nonnegative();
/** m above the board, where it is known */
const height = positive.optional();
/** Class of its cost, where it is known: each half as much again as the one before, for parts to be compared by */
const costClass = z.int().min(1).max(30).optional();

/** Rows of so many columns, of which the first `sorted` rise, the later within the earlier */
const rows = <T extends z.ZodType<number[]>>(row: T, sorted: number, what: string) =>
  z.array(row).min(1).max(200).refine((list) => list.every((r, k) => k === 0 || rises(list[k - 1]!, r, sorted)), `rows with rising ${what}`);
const rises = (a: readonly number[], b: readonly number[], sorted: number): boolean => {
  const first = a.slice(0, sorted).findIndex((v, i) => v !== b[i]);
  return first >= 0 && a[first]! < b[first]!;
};

/**
 * Measured energies of a switch's edges, as its maker gives them: over the current at one voltage, temperature and gate resistor; over the
 * current at other temperatures; and, at one current, over gate resistors and over voltages.
 */
export const SwitchingEnergy = z
  .strictObject({
    /** V that the rows were measured at */
    voltage: positive,
    /** 1/K by which they rise, where no other temperature is given */
    rise: z.number(),
    /** Rows of A, J on, J off */
    points: rows(z.tuple([positive, notNegative, notNegative]), 1, 'currents'),
    /** °C of these rows; 25 where left out */
    temperature: z.number().optional(),
    /** Rows of °C, A, J on, J off, of any other temperatures */
    warmPoints: rows(z.tuple([z.number(), positive, notNegative, notNegative]), 2, 'temperatures, and rising currents at each').optional(),
    /** Ω of the gate resistor they were measured with; and rows of Ω, J on, J off, at one current */
    gateResistance: positive.optional(),
    gatePoints: rows(z.tuple([positive, positive, positive]), 1, 'resistances').optional(),
    /** Rows of V, J on, J off, at one current; in proportion where left out */
    voltagePoints: rows(z.tuple([positive, positive, positive]), 1, 'voltages').optional(),
  })
  .refine((t) => !t.warmPoints?.some(([T]) => T === (t.temperature ?? 25)), 'warmPoints of other temperatures than that of the points')
  .refine((t) => t.gatePoints === undefined || t.gateResistance !== undefined, 'gatePoints with the gateResistance of the points')
  .refine((t) => t.gatePoints === undefined || t.gatePoints.length > 1, 'gatePoints at two gate resistors or more')
  .refine((t) => t.voltagePoints === undefined || t.voltagePoints.length > 1, 'voltagePoints at two voltages or more');

/**
 * Thermal impedance from junction to case of one part, as a ladder: as it is built from the junction outwards (Cauer: K/W, J/K of each rung)
 * or as a sum of exponentials (Foster: K/W, s of each).
 */
export const ThermalLadder = z.strictObject({ form: z.enum(['Cauer', 'Foster']), rungs: z.array(z.tuple([positive, positive])).min(1).max(8) });

export const SwitchPart = z.strictObject({
  kind: z.literal('switch'),
  /** Name on the shelf */
  part: z.string().min(1).max(80),
  height,
  costClass,
  /** So many in parallel */
  count: z.int().min(1).max(16),
  /** V, rating */
  blockingVoltage: positive,
  /** Ω at 25 °C, of one; and the share by which one of several in parallel may lie below that, the others above it */
  onResistance: positive,
  spread: z.number().min(0).max(0.4).optional(),
  /** 1/K: R(T) = R₂₅ (1 + rise·(T−25)); or, where it is known, the power of the absolute temperature that it goes with */
  onResistanceRise: notNegative,
  onResistancePower: z.number().min(0).max(5).optional(),
  /** C, whole gate charge at the drive voltage */
  gateCharge: notNegative,
  /** C that the driver moves while current and voltage change over (past threshold, and the plateau) */
  switchingCharge: notNegative,
  /** V at the gate during the change-over */
  plateauVoltage: positive,
  /** F, effective for stored energy over the blocking range */
  outputCapacitance: notNegative,
  /** C swept out of the body diode after it has carried recoveryCurrent */
  recoveryCharge: notNegative,
  /** A at which recoveryCharge was measured; the charge goes with the current */
  recoveryCurrent: positive,
  /** s that sweeping it out takes, where it is known; else it follows from the charge and the slope of the current */
  recoveryTime: notNegative.optional(),
  /** V across the body diode while it conducts */
  bodyDiodeDrop: notNegative,
  /** K/W; and how it stands by time, where that is known: its resistances add up to that */
  junctionToCase: positive,
  ladder: ThermalLadder.optional(),
  /** K/W, pad or grease; and m² of the case, where they are known */
  caseToSink: notNegative,
  caseArea: positive.optional(),
  /** °C, rating */
  maxJunction: z.number(),
  /** V at the gate where it begins to conduct, where it is known */
  thresholdVoltage: positive.optional(),
  /** F of the output at 0 V and V of the bend, where its fall over voltage is known: C₀ / √(1 + v/V_b) */
  junctionCapacitance0: positive.optional(),
  bendVoltage: positive.optional(),
  /** Measured energies of its edges; else they follow from its charges */
  switchingEnergy: SwitchingEnergy.optional(),
});

export const DiodePart = z.strictObject({
  kind: z.literal('diode'),
  part: z.string().min(1).max(80),
  height,
  costClass,
  /** So many in parallel */
  count: z.int().min(1).max(16),
  /** V, rating */
  blockingVoltage: positive,
  /** V at which it begins to conduct */
  drop: notNegative,
  /** Ω, slope above the drop, of one */
  slopeResistance: positive,
  /** C swept out after it has carried recoveryCurrent; nothing for Schottky kinds */
  recoveryCharge: notNegative,
  /** A at which recoveryCharge was measured; the charge goes with the current */
  recoveryCurrent: positive,
  /** s that sweeping it out takes, where it is known; else it follows from the charge and the slope of the current */
  recoveryTime: notNegative.optional(),
  /** F, effective for stored energy over the blocking range */
  junctionCapacitance: notNegative,
  /** K/W; and how it stands by time, where that is known: its resistances add up to that */
  junctionToCase: positive,
  ladder: ThermalLadder.optional(),
  /** K/W, pad or grease; and m² of the case, where they are known */
  caseToSink: notNegative,
  caseArea: positive.optional(),
  /** °C, rating */
  maxJunction: z.number(),
});

/** How an inductor is wound, where it is known: its copper at frequency, its gap and how its inductance falls follow from it. Lengths in m */
export const InductorWinding = z.strictObject({
  /** Of the window: from the leg outwards, and along it; and of the mean turn */
  windowWidth: positive,
  windowHeight: positive,
  turnLength: positive,
  /** Of the core's material at low field, relative */
  permeability: z.number().min(1),
  /** Gaps in series */
  gaps: z.int().min(1).max(20),
  /** Copper of one strand, strands of a wire, over the insulation of all of them, and wires in parallel */
  diameter: positive,
  strands: z.int().min(1).max(10_000),
  outerDiameter: positive,
  /** m of copper along the window, where the conductor is flat and the diameter its thickness; a foil is cut to the window */
  width: z.union([positive, z.literal('window')]).optional(),
  parallel: z.int().min(1).max(100),
});

export const InductorPart = z.strictObject({
  kind: z.literal('inductor'),
  part: z.string().min(1).max(80),
  height,
  costClass,
  /** H; null: the value that the brief wants, rounded up to E12 (the gap makes it) */
  inductance: positive.nullable(),
  /** Ω of the winding at 25 °C */
  resistance: positive,
  turns: z.int().positive(),
  /** m² */
  coreArea: positive,
  /** m³ */
  coreVolume: positive,
  /** T at which the core counts as full */
  maxFluxDensity: positive,
  /** Steinmetz parameters: W/m³ = k·f^alpha·B^beta (Hz, T) */
  steinmetz: z.strictObject({ k: notNegative, alpha: z.number().min(1).max(3), beta: z.number().min(1).max(4) }),
  /** K/W from winding to air */
  thermalResistance: notNegative,
  /** °C, rating of the winding */
  maxTemperature: z.number(),
  winding: InductorWinding.optional(),
});

/** How a transformer is wound, where it is known: its copper at frequency follows from it. Lengths in m */
export const TransformerWinding = z.strictObject({
  /** Of the window along the leg; its width is the rest of its area */
  windowHeight: positive,
  /** Copper of one strand of the bundles; a turn that has less copper than that is one wire */
  strandDiameter: positive,
  /** Places where primary and secondaries face one another: 1 where one is upon the other, 2 where one lies between halves of the other … */
  interfaces: z.int().min(1).max(8),
  /** Of insulation at each of these */
  insulation: notNegative.default(0),
});

export const CapacitorPart = z.strictObject({
  kind: z.literal('capacitor'),
  part: z.string().min(1).max(80),
  height,
  costClass,
  /** So many in parallel; null: as many as the brief wants */
  count: z.int().min(1).max(200).nullable(),
  /** So many in series in each of those: voltages add up, capacitance divides */
  series: z.int().min(1).max(8).default(1),
  /** F of one, at its working voltage */
  capacitance: positive,
  /** Ω of one */
  esr: positive,
  /** V, rating */
  ratedVoltage: positive,
  /** A rms, rating of one */
  ratedCurrent: positive,
  /** V at which half of the capacitance is left; it is constant when left out */
  halfVoltage: positive.optional(),
  /** 1/K of the capacitance around 25 °C */
  capacitanceRise: z.number().optional(),
  /** Times that the series resistance has at −40 °C */
  coldFactor: z.number().min(1).optional(),
  /** tan δ of the dielectric */
  lossFactor: notNegative.optional(),
  /** Ω beside each of those in series, that keep their voltages alike; a usual one when left out */
  balancingResistance: positive.optional(),
});

export const TransformerPart = z.strictObject({
  kind: z.literal('transformer'),
  part: z.string().min(1).max(80),
  height,
  costClass,
  /** Turns of each winding; null: as many as the brief wants. The third is there where a second output is */
  primaryTurns: z.int().positive().nullable(),
  secondaryTurns: z.int().positive().nullable(),
  thirdTurns: z.int().positive().nullable(),
  /** H from the primary; null: what the brief wants (the gap makes it), or the core without a gap */
  inductance: positive.nullable(),
  /** H a turn², without a gap */
  permeance: positive,
  /** H a turn², of the leakage between primary and secondary, seen from the primary */
  leakagePermeance: notNegative,
  /** m² */
  coreArea: positive,
  /** m³ */
  coreVolume: positive,
  /** T at which the core counts as full */
  maxFluxDensity: positive,
  steinmetz: z.strictObject({ k: notNegative, alpha: z.number().min(1).max(3), beta: z.number().min(1).max(4) }),
  /** m² of the window, the share of it that is copper, and the mean length of a turn in m */
  windowArea: positive,
  copperShare: positive.max(1),
  turnLength: positive,
  /** K/W from winding to air */
  thermalResistance: notNegative,
  /** °C, rating of the winding */
  maxTemperature: z.number(),
  winding: TransformerWinding.optional(),
});

export const Part = z.discriminatedUnion('kind', [SwitchPart, DiodePart, InductorPart, CapacitorPart, TransformerPart]);

export type SwitchPart = z.infer<typeof SwitchPart>;
export type ThermalLadder = z.infer<typeof ThermalLadder>;
export type SwitchingEnergy = z.infer<typeof SwitchingEnergy>;
export type DiodePart = z.infer<typeof DiodePart>;
export type InductorPart = z.infer<typeof InductorPart>;
export type InductorWinding = z.infer<typeof InductorWinding>;
export type TransformerWinding = z.infer<typeof TransformerWinding>;
export type CapacitorPart = z.infer<typeof CapacitorPart>;
export type TransformerPart = z.infer<typeof TransformerPart>;
export type Part = z.infer<typeof Part>;
export type PartKind = Part['kind'];

/** Ω of a switch (all in parallel) at a junction temperature in °C. */
export const onResistance = (p: SwitchPart, junction: number): number =>
  (p.onResistance / p.count) * (p.onResistancePower === undefined ? Math.max(0.2, 1 + p.onResistanceRise * (junction - 25)) : (Math.max(1, junction + ZERO) / (25 + ZERO)) ** p.onResistancePower);

/** K of 0 °C */
const ZERO = 273.15;

/** Ω of a diode's slope (all in parallel); it hardly moves with temperature, and its drop is taken warm. */
export const slopeResistance = (p: DiodePart): number => p.slopeResistance / p.count;

/** Ω of a winding at a temperature in °C. */
export const windingResistance = (p: InductorPart, temperature: number): number =>
  p.resistance * Math.max(0.2, 1 + COPPER_RISE * (temperature - 25));

/**
 * Ω that one turn would have if its copper filled the whole window, at a temperature in °C. A winding of N turns
 * that takes a share s of the window has N²/s times as much.
 */
export const turnResistance = (p: TransformerPart, temperature: number): number =>
  ((COPPER * p.turnLength) / (p.copperShare * p.windowArea)) * Math.max(0.2, 1 + COPPER_RISE * (temperature - 25));
