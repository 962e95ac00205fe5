import { z } from 'zod';
import { AMPLIFIERS, CARRIERS, DISCRETISATIONS, SETTINGS, STRUCTURES, type Control as ControlOf } from '../control';
import { Branch } from '../branches/branch';
import { Measured, MOST_MEASURED } from '../measured/types';
import { STANDARDS } from '../noise/receiver';
import { Part } from '../parts/schema';
import { Brief, Drive } from '../surroundings/brief';
import { Captured, MOST_CAPTURES } from '../capture/types';
import { MOST_PINNED, MOST_SCHEDULES, Pinned, Schedule } from '../surroundings/schedule';

/** The design document: the one thing that is stored, sent to workers, exported and checked. */

export const KIND = 'jump-reed design';
export const VERSION = 1;

/** null: the placed value stands, or there is none. */
const placed = z.number().positive().nullable();

/** What all control structures are given, and the settings of each by its key: what the chosen one does not have rests. */
export const Control: z.ZodType<ControlOf> = z.strictObject({
  method: z.enum(STRUCTURES.map((s) => s.id) as [string, ...string[]]).default(STRUCTURES[0]!.id),
  amplifier: z.enum(AMPLIFIERS.map((a) => a.id) as [string, ...string[]]).default(AMPLIFIERS[0]!.id),
  /** Hz, wanted at the middle of the line and full load */
  crossover: z.number().positive(),
  /** °, wanted there */
  phaseMargin: z.number().min(10).max(90),
  /** V, amplitude of the modulator's ramp */
  ramp: z.number().positive(),
  /** s from the comparator to the switch */
  delay: z.number().nonnegative(),
  /** V at the error amplifier */
  reference: z.number().positive(),
  /** Network in preferred values (E12 capacitors, E96 resistors); the loop is computed with what it gives */
  rounded: z.boolean(),
  /** Title of the measured plant that the compensator is placed on; nothing: the one that is computed */
  placedOn: z.string().max(60).default(''),
  /** What a ramp is compared with, where there is one */
  carrier: z.enum(CARRIERS.map((c) => c.id) as [string, ...string[]]).default(CARRIERS[0].id),
  /** Does it sample, and how its difference equation is made */
  sampled: z.enum(['none', ...DISCRETISATIONS.map((m) => m.id)]).default('none'),
  ...Object.fromEntries(Object.entries(SETTINGS).map(([key, { value }]) => [key, typeof value === 'string' ? placed.default(null) : z.number().positive().default(value)])),
}) as unknown as z.ZodType<ControlOf>;

const requirement = z.strictObject({ limit: z.number(), on: z.boolean() });

export const Requirements = z.strictObject({
  ripple: requirement,
  deviation: requirement,
  phaseMargin: requirement,
  gainMargin: requirement,
  efficiency: requirement,
  junction: requirement,
  winding: requirement,
  ratings: requirement,
  /** Asked where the brief has a line step, and where heights are known */
  lineDeviation: requirement.default({ limit: 1, on: false }),
  height: requirement.default({ limit: 0.03, on: false }),
  /** Asked where the brief says up to where, and where it has a mask */
  lowGain: requirement.default({ limit: 20, on: false }),
  impedance: requirement.default({ limit: 1, on: false }),
  pinned: requirement.default({ limit: 1, on: false }),
  /** Asked where a filter or an impedance stands before it */
  filterMargin: requirement.default({ limit: 6, on: false }),
  /** Asked where a linear regulator stands behind it */
  headroom: requirement.default({ limit: 0.1, on: false }),
  postRipple: requirement.default({ limit: 1e-3, on: false }),
  /** Asked on the mains */
  powerFactor: requirement.default({ limit: 0.95, on: false }),
  distortion: requirement.default({ limit: 0.05, on: false }),
  harmonics: requirement.default({ limit: 1, on: false }),
  holdUp: requirement.default({ limit: 0.02, on: false }),
  /** dB below both limits of its conducted noise */
  noise: requirement.default({ limit: 3, on: false }),
});

/** Lanes at most, and traces of one */
export const [MOST_LANES, MOST_IN_LANE] = [8, 4];

/** How a trace is looked at: by what name, and how high its lane is beside the usual 1. */
const Look = z.strictObject({ title: z.string().min(1).max(40).optional(), height: z.number().min(0.1).max(8).optional() });
export type Look = z.infer<typeof Look>;
/** Traces that have one at most */
const MOST_LOOKS = 40;

/** K/W to still air, and J/K where it is known; m/s of air along it, and m that it goes */
const HeatSink = z.strictObject({ thermalResistance: z.number().nonnegative(), heatCapacity: z.number().positive().optional(), airFlow: z.number().nonnegative().max(30).optional(), length: z.number().positive().optional() });

/** How far a value is from what it says, as a share either way: uniform between; normal with three standard deviations at it; truncated: normal with one there, cut off. */
const Tolerance = z.strictObject({ share: z.number().nonnegative().lt(1), shape: z.enum(['uniform', 'normal', 'truncated']) });
/** Of values by slot and field, where it is not the usual ("network" is the compensator's); slots that are off together; wet capacitors at the end of their life. */
const Tolerances = z.strictObject({
  values: z.record(z.string().max(20), z.record(z.string().max(40), Tolerance)).default({}),
  matched: z.array(z.array(z.string().min(1).max(20)).min(2).max(8)).max(8).default([]),
  aged: z.boolean().default(false),
});

/** A table of Hz and dBµV, rising in Hz. */
const Limits = z.array(z.tuple([z.number(), z.number()])).max(40);
/** F from the switch node to earth, F beside a filter's winding, H of a capacitor's leads; limits of one's own in place of the standard's. */
export const Noise = z.strictObject({
  standard: z.enum(STANDARDS.map((s) => s.id) as [string, ...string[]]).optional(),
  toEarth: z.number().positive().nullable().optional(),
  windingCapacitance: z.number().positive().nullable().optional(),
  leadInductance: z.number().positive().nullable().optional(),
  quasiPeak: Limits.optional(),
  average: Limits.optional(),
});

export const Design = z.strictObject({
  kind: z.literal(KIND),
  version: z.literal(VERSION),
  name: z.string().min(1).max(80),
  topology: z.string(),
  brief: Brief,
  requirements: Requirements,
  /** By place: "Q1", "L1" … */
  parts: z.record(z.string(), Part),
  /** Preferred numbers for inductances and damping resistances (IEC 60063); E12 and E24 when left out */
  series: z.enum(['E3', 'E6', 'E12', 'E24', 'E48', 'E96', 'E192']).optional(),
  /** By id: B1, B2 … */
  branches: z.record(z.string().regex(/^B[1-4]$/, 'branches are called B1 to B4'), Branch).optional(),
  drive: Drive,
  tolerances: Tolerances.optional(),
  control: Control,
  /** Responses measured on the bench, laid over those that are computed */
  measured: z.array(Measured).max(MOST_MEASURED).optional(),
  /** What it is run through besides what every design is */
  schedules: z.array(Schedule).max(MOST_SCHEDULES).optional(),
  /** What is required of its runs, at every corner */
  pins: z.array(Pinned).max(MOST_PINNED).optional(),
  /** Captures of the bench, laid over its runs */
  captures: z.array(Captured).max(MOST_CAPTURES).optional(),
  /** Traces of its runs by lane, from above; the topology's own signals where left out */
  lanes: z.array(z.array(z.string().min(1).max(120)).min(1).max(MOST_IN_LANE)).min(1).max(MOST_LANES).optional(),
  /** What its conducted noise is held against, and the strays that it is computed with */
  noise: Noise.optional(),
  /** How its traces are looked at, by their ids */
  looks: z.record(z.string().min(1).max(120), Look).refine((l) => Object.keys(l).length <= MOST_LOOKS, `of ${MOST_LOOKS} traces at most`).optional(),
  /** The heat sink that all stand on which say nothing else; and further ones */
  sink: HeatSink,
  sinks: z.array(HeatSink).max(3).optional(),
  /** By place, where a part does not stand on the shared sink: the number of a further one, or m² of copper of its board */
  cooling: z.record(z.string(), z.strictObject({ sink: z.int().min(1).max(4).optional(), board: z.number().positive().max(0.1).optional() })).optional(),
});

export type Design = z.infer<typeof Design>;
export type Control = ControlOf;
export type RequirementId = keyof z.infer<typeof Requirements>;
