import type { Element, Modulator } from '../circuit/elements';
import type { Timing } from '../converter/fragment';
import type { Complex } from '../linear/complex';
import type { Problem, Result } from '../problem';
import type { UnitName } from '../quantity';
import type { Working } from '../working';

/** What all control structures are given by the design, beside their own settings. */
export interface Common {
  method: string;
  /** What makes the command of what the output is off */
  amplifier: string;
  /** Hz, and degrees, wanted at the middle of the line and full load */
  crossover: number;
  phaseMargin: number;
  /** V, amplitude of the modulator's ramp */
  ramp: number;
  /** s from the comparator to the switch */
  delay: number;
  /** V at the error amplifier */
  reference: number;
  /** Network in preferred values; the loop is computed with what it gives */
  rounded: boolean;
  /** Title of a measured plant that it is placed on; nothing where on the one that is computed */
  placedOn: string;
  /** What a ramp compares the command with: a sawtooth (the pulse begins at the clock), or a triangle (it stands around the clock) */
  carrier: string;
  /** Does it sample, and by which way its difference equation is made: "none" is a network */
  sampled: string;
}

/** A design's control: what all have, and the settings of every structure by their keys. */
export type Control = Common & Readonly<Record<string, number | string | boolean | null>>;

/** A number that a structure has of its own, by its key in the design's control. */
export interface Setting {
  unit: UnitName;
  title: string;
  /** Placed unless it is set (null: as placed); none unless it is set (null: not there); else it has a value, this one when left out */
  value: 'placed' | 'none' | number;
  /** Where it may be none: how that reads, and what it begins with when it is given */
  none?: { reads: string; begins: number };
  /** Among the fields of the brief? Those of a compensator stand beside its plot */
  asked?: true;
}

/** A corner of a compensator, dragged along the frequency: a setting of that key, in Hz. */
export interface Handle {
  key: string;
  /** In a letter or two, for plots */
  name: string;
  kind: 'gain' | 'zero' | 'pole';
}

/** Corners by key, Hz */
export type Corners = Readonly<Record<string, number>>;

/** A part of the network that makes a compensator. */
export interface NetworkPart {
  id: string;
  unit: 'Ω' | 'F' | 'S';
  /** Infinity where it is left out */
  value: number;
  /** Where its id does not say it */
  title?: string;
}

export interface Network {
  parts: readonly NetworkPart[];
  /** Ω of the divider of what is fed back, from it to the amplifier and on to ground (Infinity: none) */
  divider: { upper: number; lower: number };
  /** The setting that scales all of its impedances alike, where there is one */
  scaledBy?: string;
}

/** V that is held and V at the amplifier when it is: the divider's two ends. */
export interface Held {
  output: number;
  reference: number;
}

/** A rational function of s: coefficients from the constant upwards. */
export interface Rational {
  numerator: readonly number[];
  denominator: readonly number[];
}

/** An error amplifier with its network: how it is placed on a plant, built, and what it transfers. */
export interface Amplifier {
  id: string;
  title: string;
  /** In a sentence's middle, for reports: "by a transconductance amplifier"; nothing where it is the usual */
  by?: string;
  /** What the network is rounded to, as it is called */
  series: string;
  settings: Readonly<Record<string, Setting>>;
  handles: readonly Handle[];
  /**
   * @param plant all of the loop but the amplifier, at the crossover
   * @returns its corners, or problem "boost" where the phase can not be had
   */
  place(plant: Complex, control: Control): Result<Corners>;
  /** The network for corners that are wanted, and the corners that it has. Problem "network" where none can be built. */
  build(wanted: Corners, control: Control, held: Held): Result<{ built: Corners; network: Network }>;
  /** Hz of the corners that a network of such parts has, by their ids; left out where parts alone do not say */
  cornersOf?(parts: Readonly<Record<string, number>>): Corners;
  /** V out per V that the output is off, by its corners alone */
  transfer(built: Corners): Rational;
  /** The same with what the amplifier itself lacks, where the design says so */
  real?(built: Corners, network: Network, control: Control): Rational;
  /** Share by which its gain may be off either way, by its part, where that is much */
  spread?(control: Control): number;
  placement: Pick<Working, 'formula' | 'source' | 'leavesOut'>;
}

/** What is known of a power stage before it is settled. */
export interface StageAhead {
  /** s */
  period: number;
  /** Ends and middle of line and load */
  region: readonly { line: number; load: number }[];
  /** Where its current can be the command: the switch that is sensed, A/s at which its current falls while it is open, A at its peak and the duty there */
  current?: { sensed: string; fall(line: number): number; at(point: { line: number; load: number }): { peak: number; duty: number } };
  /** Share of the period after it closes in which the sensed switch carries what else is discharged through it */
  blanking: number;
  /** Where there is one inductor L1 whose current can be sensed: A/s at which it rises while the switch is on, A at its least */
  coil?: { at(point: { line: number; load: number }): { least: number; rise: number } };
  /** On the mains, where its command is held over it: the command by the forecast (share of the period, or s), A of the largest peak and s of the period at the crest; the element whose rest closes the switch, and the switch */
  held?: { at(point: { line: number; load: number; angle?: number; command?: number }): { command: number; peak: number; period: number }; rests?: string; sensed: string };
  /** V, middle of the line; share of the period that the switch is on by the forecast */
  middle: number;
  duty(point: { line: number; load: number }): number;
}

/** A figure that a way of driving comes with; `key` where it is a setting. */
export interface DriveFigure {
  key?: string;
  title: string;
  unit: UnitName;
  value: number;
  suggested?: number;
  /** What it stands for */
  note?: string;
}

/** How the command becomes gates. Open, the command runs from 0 to 1; closed, to the ramp's volts. */
export interface Drive {
  modulator(t: Timing, closed?: { ramp: number; delay: number; restarts?: number }, clock?: number): Modulator;
  elements(timings: readonly Timing[], closed?: { ramp: number }): Element[];
  /** Modulators besides those of the timings */
  further?(timings: readonly Timing[], closed?: { ramp: number }): Modulator[];
  /** Limits of the open command and where to look for it first; the duty's own when left out */
  range?(point: { line: number; load: number }): { min: number; max: number; guess: number };
  /** Between which a controller that computes can command, as shares of the full command; from nothing to one where left out */
  commands?: { least: number; most: number };
  /** Where it has no clock: s that its period is looked for from, which is what it takes */
  free?(point: { line: number; load: number }): number;
  /** On the mains, where its command stands still all along it: what is fed goes with so high a power of it; what is commanded when it is full (share of the period, or s) */
  held?: { power: number; full: number };
  /** Where it has no clock, but is kept off for longer than its current takes to rest at a point: s of the period that this makes */
  clockAt?(point: { line: number; load: number; angle?: number; command?: number }): number | undefined;
  /** s: its time on, where that is given, and the least time off that it leaves */
  given?: { on: number; leastOff: number };
  /** The switch whose time on is the duty, where the command is another quantity */
  dutySwitch?: string;
  figures: readonly DriveFigure[];
}

/** A loop inside of the one that holds the output: what it senses, and by what. Its settings are those of its amplifier, with "inner" before their keys. */
export interface InnerLoop {
  title: string;
  /** The element whose current it holds */
  senses: string;
  amplifier: string;
  /** Share of the switching frequency that its crossover is placed at, where nothing is said */
  crossover: number;
}

/**
 * A way to control a power stage: a file each, listed in index.ts. Whatever the product knows of it (schema, checks,
 * figures, screens, report, reed) is driven by what it declares.
 */
export interface ControlStructure {
  id: string;
  title: string;
  /** What the loop sets, in a word or two: "the duty" */
  sets: string;
  /** In a sentence's middle, for reports: "by its peak current"; nothing where it is the usual */
  by?: string;
  /** Settings besides the amplifier's */
  settings: Readonly<Record<string, Setting>>;
  /** Why it can not drive this stage; undefined when it can */
  refuses?(stage: { current: boolean; coil: boolean; mains: boolean; pulsed: boolean; rests: boolean }): Problem | undefined;
  /** Where it is a cascade */
  inner?: InnerLoop;
  /** False where it has no clock, and so nothing that a controller could sample by */
  clocked?: false;
  drive(stage: StageAhead, control: Control): Drive;
  /** Does the plant average over the period? Not where a current is sampled by its peak. */
  averages: boolean;
  /** What is to be said where the cycle itself is lost: a multiplier of it is beyond one, the loop being open */
  lost?(multiplier: number, figures: readonly DriveFigure[]): string;
}
