import { create } from 'zustand';
import closedBuck from '../../demo/circuits/buck-closed-loop.json';
import type { Converter } from '../../core/converter/converter';
import type { ConverterView } from '../../core/converter/view';
import { editElement } from '../../core/interchange/circuitEdit';
import { readConverter } from '../../core/interchange/circuitFile';
import type { Problem } from '../../core/problem';
import { jobs, newestOnly } from '../workers/pool';
import { storage, type StoredCircuit } from './storage';
import { actions } from './store';

/** The circuit with roles that is open in the place of a design: its text, what was read of it, and what it shows. */
export interface CircuitState {
  open?: StoredCircuit & { converter: Converter };
  selected?: string;
  view?: ConverterView;
  problem?: Problem;
  fresh: boolean;
}

export const useCircuit = create<CircuitState>(() => ({ fresh: false }));
const { getState: get, setState: set } = useCircuit;

/** The circuits with roles that are shipped. */
const SHIPPED: readonly { name: string }[] = [closedBuck];
export const shippedCircuits = (): string[] => SHIPPED.map((c) => c.name);

const LONGEST_HISTORY = 100;

const ask = newestOnly<{ text: string; selected?: string }>(
  async ({ text, selected }, current) => {
    const found = await jobs().at('view').circuit(text, selected);
    if (!current() || get().open?.text !== text) return;
    if (found.ok) set({ view: found.value, problem: undefined, fresh: true });
    else set({ problem: found.problem, fresh: false });
  },
  (error) => {
    console.error(error);
    set({ problem: { code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'undo the last change, or open another file' }, fresh: false });
  },
);

const refresh = (): void => ask({ text: get().open!.text, selected: get().selected });

/** Put a text in place of the open one, store it, and ask for what it shows. */
async function put(next: StoredCircuit): Promise<void> {
  const read = readConverter(next.text);
  if (!read.ok) return actions.refuse(read.problem);
  const same = get().open?.id === next.id;
  set({ open: { ...next, converter: read.value }, fresh: false, ...(same ? {} : { view: undefined, selected: undefined, problem: undefined }) });
  refresh();
  const { id, name, text, past, future } = next;
  try {
    await storage().circuits.put({ id, name, text, past, future, updated: Date.now() });
  } catch (error) {
    console.warn(error);
    actions.unstored('the browser refused it');
  }
}

export const circuitActions = {
  /** Show a stored circuit. */
  show: (stored: StoredCircuit): Promise<void> => put(stored),
  /** Read a text as a circuit with roles and show it as a new one; a bad one is refused and nothing changes. @returns its id */
  async add(text: string, file = ''): Promise<string | undefined> {
    const read = readConverter(text);
    if (!read.ok) {
      actions.refuse({ ...read.problem, where: [file, read.problem.where].filter(Boolean).join(', ') });
      return undefined;
    }
    const id = crypto.randomUUID();
    await put({ id, name: read.value.circuit.name || file || 'Circuit', text, updated: Date.now(), past: [], future: [] });
    return id;
  },
  addShipped: (index: number): Promise<string | undefined> => circuitActions.add(JSON.stringify(SHIPPED[index], null, 2) + '\n'),
  close: (): void => set({ open: undefined, view: undefined, selected: undefined, problem: undefined, fresh: false }),
  select(selected: string): void {
    set({ selected });
    refresh();
  },
  /** Change one value of an element; a refused change leaves all as it was. */
  edit(id: string, field: string, typed: string): Problem | undefined {
    const open = get().open!;
    const changed = editElement(open.text, id, field, typed);
    if (!changed.ok) return changed.problem;
    void put({ ...open, text: changed.value, past: [...open.past, open.text].slice(-LONGEST_HISTORY), future: [] });
    return undefined;
  },
  undo(): void {
    const { open } = get();
    const text = open?.past.at(-1);
    if (open && text !== undefined) void put({ ...open, text, past: open.past.slice(0, -1), future: [...open.future, open.text] });
  },
  redo(): void {
    const { open } = get();
    const text = open?.future.at(-1);
    if (open && text !== undefined) void put({ ...open, text, past: [...open.past, open.text], future: open.future.slice(0, -1) });
  },
};
