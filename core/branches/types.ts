import type { Fragment } from '../converter/fragment';
import type { OperatingPoint } from '../surroundings/brief';
import type { Drawing, Forecast, Signal, Sizing, SizingInput, Slot, Topology } from '../topology';
import type { Branch, BranchSlot } from './branch';

/** A kind of branch: one file each, listed in ./index. */
export interface BranchKind {
  id: Branch['kind'];
  title: string;
  purpose: string;
  /** It hangs across one switch or diode, or between the line and the power stage; on the output where left out */
  across?: true;
  line?: true;
  /** The slots it fills, in the order in which their parts are chosen */
  fills: readonly BranchSlot[];
  /** It can be damped by a capacitor of its own, which fills a slot then */
  damps?: true;
  /** What it adds to a power stage */
  on(stage: Topology, id: string, branch: Branch): Added;
}

/** What a branch adds to a power stage: as a topology says it, of its own parts alone. */
export interface Added {
  slots: readonly Slot[];
  /** Sizes of its parts beside those that the stage has already */
  size(input: SizingInput, own: Sizing): Pick<Sizing, 'values' | 'blocking'>;
  /** What its parts carry, and what it makes of the ripple */
  forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, own: Forecast, point: Pick<OperatingPoint, 'line' | 'load'>): Pick<Forecast, 'parts'> & Partial<Forecast>;
  /** Its elements, into the fragment that the stage stands in */
  put(f: Fragment, sizing: Sizing): void;
  /** Where its states begin, and those of the stage that it moves */
  start?(input: SizingInput, sizing: Sizing, point: OperatingPoint): Readonly<Record<string, number>>;
  signals: readonly Signal[];
  /** What rings last before the output from now on */
  ringing?: Topology['ringing'];
  /** Share of the period in which the sensed switch carries what it discharges */
  blanking?: number;
  /** Hz that a voltage loop's crossover should stay below for its sake */
  crossoverLimit?(sizing: Sizing): number;
  drawing: Drawing;
  /** The node that the line feeds it at, where it stands before the power stage */
  fedAt?: string;
}

/** The slots that a branch fills. */
export const filledBy = ({ fills, damps }: Pick<BranchKind, 'fills' | 'damps'>, branch: Pick<Branch, 'damped'>): readonly BranchSlot[] => (damps && branch.damped === 'parallel' ? [...fills, 'E'] : fills);
