import { create } from 'zustand';
import { ACROSS, lossMapAxes, type Across, type LossCell } from '../../core/corners/lossMap';
import { spread } from '../../core/corners/map';
import type { Design } from '../../core/design';
import type { Problem } from '../../core/problem';
import type { OperatingPoint } from '../../core/topology';
import { isAborted } from '../workers/jobs';
import { jobs } from '../workers/pool';
import type { Kept } from './storage';
import { useStore } from './store';

/** What the Losses stage shows besides the point: losses over the load, and the efficiency map. */

/** A map as far as it has come: rows from the smallest load on. */
export interface MadeMap {
  design: Design;
  point: OperatingPoint;
  across: Across;
  x: number[];
  load: number[];
  rows: (LossCell[] | undefined)[];
}

/** What losses are shown over, the rest of the point as it is. */
export type Over = 'load' | 'line' | 'frequency';

/** Losses over one quantity. */
export interface OverOne {
  design: Design;
  point: OperatingPoint;
  of: Over;
  cells: LossCell[];
}

type View = 'here' | 'over' | 'map' | 'choices';

interface State {
  view: View;
  across: Across;
  map?: MadeMap;
  /** Kept state whose map is taken away from it, and that map */
  less?: { id: string; label: string; map: MadeMap };
  /** Share that is made while it is under way */
  progress?: number;
  over?: OverOne;
  of: Over;
  /** In watts, or as a share of what goes in */
  share: boolean;
  problem?: Problem;
}

export const useLossMap = create<State>(() => ({ view: 'here', across: 'line', of: 'load', share: false }));
const { getState: get, setState: set } = useLossMap;

/** Points that losses are shown at, and ms between pictures of a map that is under way */
const [POINTS, REDRAWN] = [25, 80];

let under = new AbortController();
let underLoad = new AbortController();

const failed = (error: unknown): void => {
  if (isAborted(error)) return;
  console.error(error);
  set({ progress: undefined, problem: { code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'change what is asked, or reload the page' } });
};

/** Is what stands of what the screen shows now? */
export const isOf = (made: { design: Design; point: OperatingPoint } | undefined, design: Design, { line, air }: OperatingPoint, across?: Across): boolean =>
  made !== undefined && made.design === design && made.point.air === air && (across === 'line' || made.point.line === line);

/** The same of losses over one quantity. */
export const isOver = (made: OverOne | undefined, design: Design, { line, load, air }: OperatingPoint, of: Over): boolean =>
  made !== undefined && made.design === design && made.of === of && made.point.air === air && (of === 'line' || made.point.line === line) && (of === 'load' || made.point.load === load);

/** All rows of a map, on all workers; each is handed over as it comes. */
async function rowsOf(map: MadeMap, signal: AbortSignal, each: (there: number) => void): Promise<void> {
  const engine = jobs().at('asked', signal);
  let there = 0;
  await Promise.all(map.load.map(async (load, k) => {
    map.rows[k] = await engine.lossRow(map.design, map.across, load, map.x, map.point);
    if (!signal.aborted) each(++there);
  }));
}

const emptyMap = (design: Design, point: OperatingPoint, axes: Pick<MadeMap, 'across' | 'x' | 'load'>): MadeMap => ({ design, point, ...axes, rows: axes.load.map(() => undefined) });

export const lossActions = {
  show: (view: View): void => set({ view }),
  shareOf: (share: boolean): void => set({ share }),
  cross(across: Across): void {
    if (across !== get().across) set({ across, less: undefined });
  },
  stop(): void {
    under.abort();
    set({ progress: undefined });
  },
  /** Make the map of the design as it is now. */
  async make(): Promise<void> {
    const { design, point } = useStore.getState();
    under.abort();
    const own = (under = new AbortController());
    const map = emptyMap(design, point, lossMapAxes(design, get().across));
    set({ map, progress: 0, problem: undefined, less: undefined });
    let told = 0;
    try {
      await rowsOf(map, own.signal, (there) => {
        if (there < map.load.length && performance.now() - told < REDRAWN) return;
        told = performance.now();
        set({ map: { ...map, rows: [...map.rows] }, progress: there / map.load.length });
      });
      if (!own.signal.aborted) set({ progress: undefined });
    } catch (error) {
      failed(error);
    }
  },
  /** Take a kept state's map away from the one that stands, or leave it whole. */
  async lessThan(kept: Kept | undefined): Promise<void> {
    const { map } = get();
    if (!kept || !map) return set({ less: undefined });
    under.abort();
    const own = (under = new AbortController());
    set({ progress: 0, less: undefined });
    const other = emptyMap(kept.design, map.point, map);
    try {
      await rowsOf(other, own.signal, (there) => set({ progress: there / map.load.length }));
      if (!own.signal.aborted) set({ less: { id: kept.id, label: kept.label, map: other }, progress: undefined });
    } catch (error) {
      failed(error);
    }
  },
  overWhat: (of: Over): void => set({ of }),
  /** Losses over the load, the line or the frequency. */
  async overOne(design: Design, point: OperatingPoint, of: Over): Promise<void> {
    if (isOver(get().over, design, point, of)) return;
    underLoad.abort();
    const own = (underLoad = new AbortController());
    const engine = jobs().at('asked', own.signal);
    const at = spread(of === 'load' ? design.brief.load : ACROSS[of].range(design), POINTS);
    try {
      const rows = await Promise.all(at.map((v) => (of === 'load' ? engine.lossRow(design, 'line', v, [point.line], point) : engine.lossRow(design, of, point.load, [v], point))));
      if (!own.signal.aborted) set({ over: { design, point, of, cells: rows.map((r) => r[0]!) } });
    } catch (error) {
      failed(error);
    }
  },
};
