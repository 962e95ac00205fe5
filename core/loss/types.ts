import type { Phasor, WoundWindow } from '../magnetics/field';
import type { CapacitorPart, DiodePart, InductorPart, SwitchPart, TransformerPart } from '../parts/schema';
import type { Drive } from '../surroundings/brief';
import type { Working } from '../working';

/** One edge of one switch on the settled cycle. */
export interface Commutation {
  edge: 'on' | 'off';
  /** V across it while off, beside the edge */
  blocked: number;
  /** A through it while on, beside the edge; negative flows through its body diode during dead time */
  carried: number;
  /** Of turning on: what hands over to it, and has to block from then on */
  givesWay?: readonly HandsOver[];
}

/** A part whose capacitance and stored charge a switch that turns on has to move. */
export interface HandsOver {
  part: SwitchPart | DiodePart;
  /** V that it blocks before and after */
  from: number;
  to: number;
  /** A that it, or its body diode, carried until then */
  carried: number;
  /** What of it is this switch's to move, where several turn on together; all of it when left out */
  share?: number;
}

export interface SwitchState {
  id: string;
  part: SwitchPart;
  /** A rms */
  rms: number;
  /** Ω at its temperature */
  resistance: number;
  /** °C */
  junction: number;
  commutations: readonly Commutation[];
  /** A of its body diode, where it is in the circuit by itself */
  body?: { mean: number; rms: number };
  frequency: number;
  drive: Drive;
}

export interface DiodeState {
  id: string;
  part: DiodePart;
  rms: number;
  mean: number;
  /** Ω of the slope, all in parallel */
  resistance: number;
}

export interface InductorState {
  id: string;
  part: InductorPart;
  rms: number;
  resistance: number;
  /** °C of the winding */
  temperature: number;
  frequency: number;
  /** A rms of its current at the switching frequency and its multiples, where the part says how it is wound */
  spectrum?: readonly number[];
  /** Voltage across the winding as it steps through the cycle: flat intervals */
  voltages: readonly { volts: number; seconds: number }[];
}

export interface CapacitorState {
  id: string;
  part: CapacitorPart;
  rms: number;
  /** Ω of all in parallel */
  resistance: number;
  /** A resistor beside it: V rms across it, Ω */
  beside?: { volts: number; resistance: number };
  /** Resistors beside capacitors in series: V across a string, Ω of all strings in parallel */
  balancing?: { volts: number; resistance: number };
}

export interface TransformerState {
  id: string;
  part: TransformerPart;
  /** Each winding with its rms current in A and its resistance in Ω */
  windings: readonly { title: string; rms: number; resistance: number }[];
  primaryTurns: number;
  /** Voltage across the primary as it steps through the cycle: flat intervals */
  voltages: readonly { volts: number; seconds: number }[];
  /**
   * Where the part says how it is wound: its windings in their window, in the order of `windings`, A rms of each at every multiple of the
   * frequency, Ω of one turn that fills the window, and °C of the winding
   */
  wound?: { window: WoundWindow; spectrum: readonly (readonly Phasor[])[]; frequency: number; turn: number; temperature: number };
}

export interface PartStates {
  switch: SwitchState;
  diode: DiodeState;
  inductor: InductorState;
  capacitor: CapacitorState;
  transformer: TransformerState;
}

/** One way of losing power in one kind of part. A new mechanism is a file like the others and a line in index.ts. */
export interface Mechanism<K extends keyof PartStates = keyof PartStates> {
  id: string;
  title: string;
  /** One word, where the title has no room; its first word when left out */
  short?: string;
  kind: K;
  /** Is there anything to lose here? Always when left out */
  applies?(state: PartStates[K]): boolean;
  /** W */
  power(state: PartStates[K]): number;
  working(state: PartStates[K]): Omit<Working, 'title' | 'value' | 'unit'>;
}
