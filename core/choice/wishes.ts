/**
 * What parts are chosen with besides what they have to stand: room for what a first design turned out to lack. Closed
 * forms leave things out; where the settled converter shows that it mattered, the choice is made again with wishes.
 */
export interface Wishes {
  /** So many alike in parallel at most, of switches and diodes, to keep their junctions cool */
  parallel: number;
  /** °C that junctions and windings may reach */
  junction: number;
  winding: number;
  /** K less than that, by slot */
  cooler: Readonly<Record<string, number>>;
  /** Times the stress that the closed forms promise, by slot */
  harder: Readonly<Record<string, number>>;
  /** Shares of the ripple and of the deviation that the capacitors are sized for */
  ripple: number;
  deviation: number;
  /** What parts are chosen by: their size (switches and diodes: what they burn), what they all burn, or what they cost */
  by: By;
}

/** By what parts are chosen. */
export type By = 'size' | 'loss' | 'cost';

/** Parts as a shelf is looked through for one place: one of each, by ratings and estimate. */
export const PLAIN: Wishes = { parallel: 1, junction: Infinity, winding: Infinity, cooler: {}, harder: {}, ripple: 1, deviation: 1, by: 'size' };

/** In parallel, of switches and diodes, where the number is left to the choice */
export const MOST_PARALLEL = 12;

/** What a design asks of parts that are chosen for it: as many as keep within its limits of temperature. */
export const wishesOf = ({ junction, winding }: Record<'junction' | 'winding', { limit: number }>): Wishes => ({ ...PLAIN, parallel: MOST_PARALLEL, junction: junction.limit, winding: winding.limit });

/** K by which the sink is warmer than the air at most: what it is chosen by. */
export const SINK_RISE = 30;
