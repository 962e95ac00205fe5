import type { UnitName } from './quantity';

/** Why a figure is what it is: the formula, the numbers put in, the source, and what it leaves out. */
export interface Working {
  title: string;
  /** Formula in the trade's symbols: "L ≥ Vout (1 − D) / (f · r · Iout)". */
  formula: string;
  /** The same with the numbers put in. */
  numbers: string;
  value: number;
  unit: UnitName;
  /** Author and title, or the part of the engine it comes from. */
  source: string;
  /** What the formula does not count; "" when it is exact within the circuit. */
  leavesOut: string;
}
