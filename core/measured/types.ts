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
