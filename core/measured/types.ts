import { z } from 'zod';

/** What a column of a measured file holds; `ignored` where nobody knows, or it is not wanted. */
export const ROLES = ['frequency', 'frequency rad/s', 'gain dB', 'ratio', 'phase °', 'phase rad', 'real', 'imaginary', 'ignored'] as const;
export type Role = (typeof ROLES)[number];

export interface Column {
  /** As the file calls it, or "column 2" */
  title: string;
  role: Role;
  /** Its numbers are multiplied by that: 1e3 where the header says kHz */
  scale: number;
}

/** One response that was measured: frequencies ascending, gain in dB, phase in degrees, unwrapped. */
export interface Trace {
  title: string;
  frequency: number[];
  gain: number[];
  phase: number[];
}

/** A file as it was read: columns as they were recognised, the traces they make, and what is to be said of them. */
export interface MeasuredFile {
  columns: Column[];
  traces: Trace[];
  remarks: string[];
}

/** What a trace is of. A plant is what stands between the controller's output and what is fed back: modulator and delay are in it. */
export const KINDS = [
  { id: 'plant', title: 'the plant: from the command to the output' },
  { id: 'loop', title: 'the loop gain' },
  { id: 'closed', title: 'the closed loop: from the reference to the output' },
] as const;
export type Kind = (typeof KINDS)[number]['id'];

/** Points of a trace that a design carries at most */
export const MOST_POINTS = 800;
const numbers = z.array(z.number()).min(2).max(MOST_POINTS);

/** A trace that a design carries, with what it is of, and the line (V) and load (A) that it was measured at. */
export const Measured = z
  .strictObject({ title: z.string().min(1).max(60), of: z.enum(KINDS.map((k) => k.id) as [Kind, ...Kind[]]), frequency: numbers, gain: numbers, phase: numbers, at: z.strictObject({ line: z.number().positive(), load: z.number().nonnegative() }).optional() })
  .refine((m) => m.gain.length === m.frequency.length && m.phase.length === m.frequency.length, 'as many gains and phases as frequencies')
  .refine((m) => m.frequency.every((f, i) => f > 0 && (i === 0 || f > m.frequency[i - 1]!)), 'frequencies above zero that rise');
export type Measured = z.infer<typeof Measured>;
export const MOST_MEASURED = 6;
