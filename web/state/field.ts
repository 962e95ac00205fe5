import { create } from 'zustand';
import { firstCells, measuresOf, refine, spotKey, wantedBy, type Cell, type Over, type Spot } from '../../core/corners/field';
import type { Design } from '../../core/design';
import type { OperatingPoint } from '../../core/topology';
import { jobs } from '../workers/pool';
import { longWork } from './longWork';

/** A measure over two ranges of the brief, as far as it is known: places are kept while another measure is looked at. */
interface State {
  design?: Design;
  at?: OperatingPoint;
  axes: readonly [Over, Over];
  measure: string;
  known: ReadonlyMap<string, Spot>;
  cells: readonly Cell[];
  under: boolean;
  failed?: string;
}

export const useField = create<State>(() => ({ axes: ['line', 'load'], measure: 'phaseMargin', known: new Map(), cells: [], under: false }));
const { getState: get, setState: set } = useField;
const work = longWork(set);
/** Places of one question */
const AT_ONCE = 3;

/** Do two points differ in nothing but what the field goes over? */
const alike = (a: OperatingPoint | undefined, b: OperatingPoint, axes: readonly [Over, Over]): boolean => a !== undefined && (['line', 'load', 'air'] as const).every((k) => axes.includes(k) || a[k] === b[k]);

export const fieldActions = {
  /** Look at a measure over two ranges: what is known serves again, the rest is asked, refined where it changes. */
  look: (design: Design, at: OperatingPoint, measure: string, axes: readonly [Over, Over]): Promise<void> =>
    work.run(async (signal) => {
      const s = get();
      const known = new Map(s.design === design && s.axes[0] === axes[0] && s.axes[1] === axes[1] && alike(s.at, at, axes) ? s.known : []);
      const all = measuresOf(design);
      const k = all.findIndex((m) => m.id === measure);
      set({ design, at, axes, measure, known, cells: firstCells(), under: true, failed: undefined });
      const engine = jobs().at('asked', signal);
      for (let cells = firstCells(); ; ) {
        const places = wantedBy(cells, known);
        await Promise.all(Array.from({ length: Math.ceil(places.length / AT_ONCE) }, async (_, i) => {
          const spots = await engine.spotsAt(design, axes, at, places.slice(i * AT_ONCE, (i + 1) * AT_ONCE));
          if (signal.aborted) return;
          for (const spot of spots) known.set(spotKey(spot.u, spot.v), spot);
          set({ known: new Map(known), cells });
        }));
        if (signal.aborted) return;
        const next = refine(cells, known, k, all[k]?.limit);
        set({ known: new Map(known), cells });
        if (next.length === cells.length) return;
        cells = next;
      }
    }),
  stop: work.stop,
};
