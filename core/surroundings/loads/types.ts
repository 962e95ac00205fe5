import type { Fragment } from '../../converter/fragment';
import type { Problem } from '../../problem';
import type { Brief } from '../brief';

/** What an output is asked for: V at its nodes, A through its load. */
export interface Wanted {
  volts: number;
  amps: number;
}

/** A kind of load of the regulated output: one file each, listed in ./index. */
export interface Load {
  id: string;
  /** As the brief offers it */
  title: string;
  /** Paths of the brief that it asks for besides, with what they begin with */
  asks?: Readonly<Partial<Record<keyof Brief, (brief: Brief) => number>>>;
  refuses?(brief: Brief): Problem | undefined;
  /** Put it between the nodes, as `id`: it takes the current wanted at the voltage wanted. */
  put(f: Fragment, id: string, nodes: readonly [string, string], wanted: Wanted, brief: Brief): void;
}
