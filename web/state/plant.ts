import { create } from 'zustand';
import { valueAt } from '../../core/design';
import type { Trace } from '../../core/measured/types';
import { carriedTrace } from '../../core/measured/response';
import { editPlant, plantFigures, plantOfTraces, readPlant, type PlantDocument, type PlantFigures } from '../../core/plant';
import { describeProblem, type Problem, type Result } from '../../core/problem';
import type { Edited } from '../frame/edited';
import { storage, type StoredCircuit } from './storage';
import { actions } from './store';

/** A measured plant that stands in the place of a design, with the loop on it: worked out as it is changed, it takes milliseconds. */
export interface PlantState {
  open?: { id: string; plant: PlantDocument; past: PlantDocument[]; future: PlantDocument[] };
  figures?: Result<PlantFigures>;
  /** The last figures there were, where the document has none */
  last?: PlantFigures;
}

export const usePlant = create<PlantState>(() => ({}));
const { getState: get, setState: set } = usePlant;

const LONGEST_HISTORY = 100;
let gesture: string | undefined;

/** Put a document in place, and store it as the text that its file would be. */
function put(open: NonNullable<PlantState['open']>): void {
  const figures = plantFigures(open.plant);
  set((s) => ({ open, figures, last: figures.ok ? figures.value : open.id === s.open?.id ? s.last : undefined }));
  const { id, plant, past, future } = open;
  storage()
    .circuits.put({ id, name: plant.name, text: textOf(plant), past: past.map(textOf), future: future.map(textOf), updated: Date.now() })
    .catch((error: unknown) => {
      console.warn(error);
      actions.unstored('the browser refused it');
    });
}

const textOf = (p: PlantDocument): string => JSON.stringify(p, null, 2) + '\n';

function travel(from: 'past' | 'future', to: 'past' | 'future'): void {
  const { open } = get();
  const plant = open?.[from].at(-1);
  if (!open || !plant) return;
  gesture = undefined;
  put({ ...open, plant, [from]: open[from].slice(0, -1), [to]: [...open[to], open.plant] });
}

export const plantActions = {
  /** Show a stored one; one that can not be read is refused, and what was open stays. @returns is it shown? */
  show({ id, text, past, future }: StoredCircuit): boolean {
    const read = readPlant(text);
    if (!read.ok) {
      actions.refuse(read.problem);
      return false;
    }
    const sound = (list: readonly string[]): PlantDocument[] => list.flatMap((t) => {
      const one = readPlant(t);
      return one.ok ? [one.value] : [];
    });
    gesture = undefined;
    put({ id, plant: read.value, past: sound(past), future: sound(future) });
    return true;
  },
  /** A new one of a document. @returns its id */
  add(plant: PlantDocument): string {
    const id = crypto.randomUUID();
    gesture = undefined;
    put({ id, plant, past: [], future: [] });
    return id;
  },
  /** A new one of what was measured; refused where nothing can be placed on it. @returns its id, or why not */
  begin(name: string, traces: readonly Trace[]): Result<string> {
    const made = plantOfTraces(name, traces);
    return made.ok ? { ok: true, value: plantActions.add(made.value) } : made;
  },
  /** One more measurement of the same plant, in another condition. */
  measure(name: string, traces: readonly Trace[]): Problem | undefined {
    const { measured } = get().open!.plant;
    return plantActions.edit({ measured: [...measured, ...traces.map((t) => carriedTrace({ ...t, title: traces.length > 1 ? `${name}, ${t.title}` : name }, 'plant'))] });
  },
  edit(changes: Record<string, unknown>, gestureKey?: string): Problem | undefined {
    const open = get().open!;
    const edited = editPlant(open.plant, changes);
    if (!edited.ok) return edited.problem;
    const merge = gestureKey !== undefined && gestureKey === gesture;
    gesture = gestureKey;
    put({ ...open, plant: edited.value, past: merge ? open.past : [...open.past, open.plant].slice(-LONGEST_HISTORY), future: [] });
    return undefined;
  },
  undo: (): void => travel('past', 'future'),
  redo: (): void => travel('future', 'past'),
  close: (): void => set({ open: undefined, figures: undefined, last: undefined }),
  /** The text of its file */
  text: (): string => textOf(get().open!.plant),
};

/** The open plant as what fields change. */
export const thePlant: Edited = {
  useAt: (path) => usePlant((s) => valueAt(s.open!.plant, path)),
  at: (path) => valueAt(get().open!.plant, path),
  useRefused: () => false,
  ahead(changes) {
    const found = editPlant(get().open!.plant, changes);
    return found.ok ? {} : { problem: found.problem };
  },
  typed: (changes) => plantActions.edit(changes),
  edit(changes, gestureKey) {
    const wrong = plantActions.edit(changes, gestureKey);
    if (wrong) actions.refuse(wrong);
    return wrong;
  },
  endGesture: () => (gesture = undefined),
  dismiss: actions.dismiss,
};

/** Why there are no figures, in words; undefined where there are. */
export const noFigures = (s: PlantState): string | undefined => (s.figures && !s.figures.ok ? describeProblem(s.figures.problem) : undefined);
