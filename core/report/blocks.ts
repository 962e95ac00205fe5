import type { Working } from '../working';

/** What a report is made of: plain data, written as HTML or Markdown by the files beside this one. */
export type Block =
  | { kind: 'text'; text: string; fails?: true }
  | { kind: 'table'; head?: readonly string[]; rows: readonly Row[]; numbers?: readonly number[] }
  | { kind: 'plot'; title: string; x: Axis; y: Axis; lines: readonly Line[]; levels?: readonly { at: number; title: string }[]; marks?: readonly { at: number; title: string }[] }
  | { kind: 'bars'; title: string; unit: string; bars: readonly { title: string; parts: readonly { title: string; value: number }[] }[] }
  | { kind: 'drawing'; svg: string; title: string }
  | { kind: 'workings'; list: readonly Working[] };

/** Cells; `fails` where the row says that something does not hold */
export interface Row {
  cells: readonly string[];
  fails?: true;
}

export interface Axis {
  title: string;
  /** Written as SI quantities of this */
  unit: 's' | 'V' | 'A' | 'Hz' | 'dB' | '°' | '';
  log?: true;
}

export interface Line {
  title: string;
  x: ArrayLike<number>;
  y: ArrayLike<number>;
}

export interface Section {
  id: SectionId;
  title: string;
  blocks: readonly Block[];
}

/** The sections of a report in their order; what is not asked for is left out. */
export const SECTIONS = [
  { id: 'brief', title: 'Brief' },
  { id: 'verdict', title: 'Verdict' },
  { id: 'topology', title: 'Topology' },
  { id: 'bill', title: 'Bill of materials' },
  { id: 'waveforms', title: 'Waveforms' },
  { id: 'loop', title: 'Loop' },
  { id: 'losses', title: 'Losses' },
  { id: 'heat', title: 'Heat' },
  { id: 'spread', title: 'Spread' },
  { id: 'faults', title: 'Faults' },
  { id: 'workings', title: 'Workings' },
] as const;
export type SectionId = (typeof SECTIONS)[number]['id'];

export interface Report {
  title: string;
  /** One line: what it is */
  summary: string;
  /** Does it hold in the whole region? */
  holds: boolean;
  verdict: string;
  sections: readonly Section[];
  /** Of what it was made: version of the product, hash of the design */
  about: readonly (readonly [string, string])[];
}
