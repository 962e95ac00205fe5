import type { Control } from '../control/types';
import type { Fragment, Winding } from '../converter/fragment';
import type { Part, PartKind } from '../parts/schema';
import type { Problem } from '../problem';
import type { SeriesName, UnitName } from '../quantity';
import type { MainsFed } from '../surroundings/mains';
import type { Working } from '../working';
import type { Brief, Drive, OperatingPoint } from '../surroundings/brief';
import type { Carried } from './pieces';

/** What a topology is given: the brief, the parts by place, the drive, and the loop's wanted crossover. */
export interface SizingInput {
  brief: Brief;
  parts: Readonly<Record<string, Part>>;
  drive: Drive;
  /** Preferred numbers that inductances and resistances are rounded to; each place has its usual one when left out */
  series?: SeriesName;
  /** How it is controlled; in voltage mode when left out */
  control?: Control;
  /** Hz, wanted: the load step sizes the output capacitor by it */
  crossover: number;
  /** A that flow with nothing connected, by the output's own divider */
  least?: number;
  /** V: allowed ripple (peak to peak) and deviation after the load step; stress as a share of rating */
  allowed: { ripple: number; deviation: number; stress: number };
}

/** Reads the parts of a topology's slots, each of the kind that its slot takes: `partsAs<{ Q1: 'switch'; L1: 'inductor' }>()`. */
export const partsAs =
  <Kinds extends Record<string, PartKind>>() =>
  ({ parts }: SizingInput): { readonly [Id in keyof Kinds]: Extract<Part, { kind: Kinds[Id] }> } =>
    parts as never;

/** A place for a part in the power stage. */
export interface Slot {
  id: string;
  kind: PartKind;
  title: string;
  purpose: string;
  /** So many alike: legs of a bridge, phases. Currents, stresses and sizes are those of one, losses of all. */
  copies?: number;
  /** Its leakage carries the current for a moment at each edge: it can not be nothing */
  leaks?: true;
  /** A capacitor whose ripple is that of twice the mains */
  beats?: true;
  /** An inductor wound on the core of another, with k: the core’s flux is that of both, and its loss counts there */
  core?: { slot: string; k: number };
}

/** So many parts stand in a place. */
export const copiesOf = (p: Slot): number => p.copies ?? 1;

/** One value that the brief wants of a part, with the value taken for it. */
export interface SizedValue {
  /** The slot that it is a further value of: turns of a winding, the resistor beside a capacitor */
  slot?: string;
  /** Where a design overrides it, by path, where that is not the part's own value */
  path?: string;
  title: string;
  unit: UnitName;
  /** At least so much is wanted */
  wanted: number;
  /** The largest of these is what is wanted */
  workings: Working[];
  /** What stands in the circuit */
  taken: number;
  /** So many parts in parallel make it, of capacitors */
  count?: number;
  suggestedCount?: number;
  /** How it came about: "next in E12", "your value", "6 × 22 µF" */
  how: string;
  /** What would be taken without an override, and how that reads */
  suggested: number;
  overridden: boolean;
}

export interface Sizing {
  duty: { min: number; max: number; workings: Working[] };
  /** By place id; switches have none here. Windings: "T1" is the inductance of the primary, "T1 primary" … its turns */
  values: Readonly<Record<string, SizedValue>>;
  /** A: largest mean of the inductor's current at full load; ripple shares are of it */
  inductorCurrent: number;
  /** V that each switch, diode or capacitor stands at most, and the rating that this wants at the allowed stress */
  blocking: Readonly<Record<string, { most: number; wanted: number }>>;
}

/** What sizing promises of an operating point; the engine is held against it. */
export interface Forecast {
  mode: 'continuous' | 'discontinuous';
  duty: number;
  /** V peak to peak */
  outputRipple: number;
  /** No promise of the ripple, only good enough to size by */
  rippleEstimate?: true;
  /** By place, and by winding of a transformer. `estimate`: no promise, only good enough to choose a part by */
  parts: Readonly<Record<string, Carried & { estimate?: true }>>;
  /** A, crest of the current drawn from the mains, where that is the line; the command where that is held over it (share of the period, or s), and s of the period at the angle asked for */
  crest?: number;
  command?: number;
  period?: number;
  /** Its duty is held over the mains, and somewhere along it the current does not come to rest */
  goesOn?: true;
  /** V of each output, where there are several */
  outputs?: readonly number[];
  /** How far from the border of the modes, as a share; nothing where there is only one */
  border?: number;
}

/** A quantity of the circuit with a name: the voltage between two nodes or the current of an element. */
export interface Signal {
  id: string;
  title: string;
  unit: 'V' | 'A';
  of: { voltage: readonly [string, string?] } | { current: string } | { output: number };
  /** Shown as a lane in Waveforms, less its mean where only the ripple matters */
  lane?: 'whole' | 'ripple';
}

/** One symbol of the power path; x, y on a grid of its own, `turn` in quarter turns to the left; a diode conducts upwards unturned. */
export interface DrawnSymbol {
  id: string;
  symbol: 'source' | 'mains' | 'rectifier' | 'capacitor' | 'switch' | 'diode' | 'inductor' | 'transformer' | 'regulator' | 'load';
  x: number;
  y: number;
  turn: 0 | 1 | 2 | 3;
  label: 'below' | 'right' | 'left' | 'above' | 'none';
  /** Named only, where there is little room: the panel says its value */
  terse?: true;
  /** The place it belongs to where that is not its id: the second of two alike, a further winding */
  slot?: string;
  /** It was hung on the output beside the topology's own: the next stands behind it */
  hung?: true;
}

export interface Drawing {
  width: number;
  height: number;
  symbols: readonly DrawnSymbol[];
  /** Lines with the place whose current they carry ("" for the return) */
  wires: readonly { points: readonly (readonly [number, number])[]; carries: string }[];
  dots: readonly (readonly [number, number])[];
}

/** A named corner of the plant: "double pole of L1 and C2" at a frequency. */
export interface Landmark {
  title: string;
  frequency: number;
  working: Working;
}

/** What a stage on the mains does by its forecast. */
export interface MainsForecast {
  /** A that it draws at the angle of a point */
  drawnAt(input: SizingInput, sizing: Sizing, point: OperatingPoint): number;
  /** How far it is from where its mode changes, as a share, at the angle of a point */
  borderAt(input: SizingInput, sizing: Sizing, point: OperatingPoint): number;
  /** What is the same all along the mains: A, crest of the current where a loop shapes it, or the command that is held */
  levelAt(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): number;
  /** A that it feeds its output over the mains by a command that is held */
  fedBy(input: SizingInput, sizing: Pick<Sizing, 'values'>, line: number, command: number): number;
}

/** Everything the rest of the product asks of a topology; one file each. */
export interface Topology {
  id: string;
  title: string;
  /** The inductor and capacitor that ring last before the output; L1 and C2 when left out */
  ringing?: { L: string; C: string };
  /** So many outputs; one when left out */
  outputs?: number;
  /** Does a transformer part the output from the line? */
  isolated?: true;
  /** Is the output negative against the line's return? */
  inverts?: true;
  slots: readonly Slot[];
  /** Undefined when it can serve the brief; else the field, the reason and what would help. */
  refuses(brief: Brief): Problem | undefined;
  size(input: SizingInput): Sizing;
  /** What is to be expected at a point, in either conduction mode */
  forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load' | 'angle' | 'drawn' | 'command'>): Forecast;
  /** Hz, where there is one at this point */
  rightHalfPlaneZero(input: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined;
  /** Hz that a voltage loop's crossover should stay below at this point; Infinity where nothing is in its way */
  crossoverLimit(input: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number;
  /** Put the power stage at a point into a fragment: its elements between the nodes of line and outputs, what they stand for, and how its gates are driven */
  stage(f: Fragment, input: SizingInput, sizing: Sizing, point: OperatingPoint): void;
  /** Where to begin looking for the duty, and its limits. */
  duty(input: SizingInput, sizing: Sizing, point: OperatingPoint): { min: number; max: number; guess: number };
  /** State near the settled cycle's beginning, by element: where the search for it starts */
  start(input: SizingInput, sizing: Sizing, point: OperatingPoint): Readonly<Record<string, number>>;
  /** "output" is among them: the voltage that requirements speak of */
  signals: readonly Signal[];
  /** The windings of each transformer, by place */
  windings?: Readonly<Record<string, readonly Winding[]>>;
  /** Where a command of the peak current can drive it: the switch that is sensed, and A/s at which its current falls while it is open */
  currentControl?: { sensed: string; fall(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line'>): number };
  /** Share of the period after it closes in which the sensed switch carries what else is discharged through it */
  blanking?: number;
  /** The node that the line feeds it at, where a filter stands between */
  fedAt?: string;
  /** Where it is fed from the mains */
  mains?: MainsFed & MainsForecast;
  landmarks(input: SizingInput, sizing: Sizing, point: OperatingPoint): Landmark[];
  drawing: Drawing;
}
