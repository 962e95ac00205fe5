import brake from '../../demo/brake-magnet.json';
import cabin from '../../demo/cabin-lighting-rail.json';
import door from '../../demo/door-motor.json';
import gates from '../../demo/gate-supplies.json';
import radio from '../../demo/radio.json';
import charger from '../../demo/station-charger.json';
import sensor from '../../demo/sensor-supply.json';
import { readDesign, readDesignValue, type Design } from '../../core/design';
import { isCircuit } from '../../core/interchange/circuitFile';
import { describeProblem } from '../../core/problem';
import { circuitActions, useCircuit } from './circuit';
import { loadOwn } from './shelf';
import { storage, type StoredCircuit, type StoredDesign } from './storage';
import { actions, useStore } from './store';

/** The designs that are shipped, by name. */
const DEMOS: readonly unknown[] = [cabin, door, radio, sensor, gates, brake, charger];
export const demoNames = (): string[] => DEMOS.map((_, i) => demoDesign(i).name);
const OPEN = 'open';
/** The circuit that stands in front of the open design, when one does */
const IN_FRONT = 'circuit';

const newId = (): string => crypto.randomUUID();

const fresh = (design: Design): StoredDesign => ({
  id: newId(),
  name: design.name,
  updated: Date.now(),
  design,
  kept: [],
  past: [],
  future: [],
  point: { line: design.brief.line.min + 0.75 * (design.brief.line.max - design.brief.line.min), load: 0.75 * design.brief.load.max, air: design.brief.air.max },
});

/** A demo design as it was shipped. */
export function demoDesign(index = 0): Design {
  const read = readDesignValue(DEMOS[index]);
  if (!read.ok) throw new Error(describeProblem(read.problem));
  return read.value;
}

/** Open what was open last, or the demo on the first visit. */
export async function restore(): Promise<void> {
  const db = storage();
  await loadOwn();
  const open = await db.settings.get(OPEN);
  const stored = open ? await db.designs.get(open.value) : undefined;
  const inFront = await db.settings.get(IN_FRONT);
  const circuit = inFront && (await db.circuits.get(inFront.value));
  if (circuit) await circuitActions.show(circuit);
  if (stored) return actions.load(stored);
  const first = fresh(demoDesign());
  await db.designs.put(first);
  await db.settings.put({ key: OPEN, value: first.id });
  actions.load(first);
}

async function show(stored: StoredDesign): Promise<void> {
  await storage().settings.delete(IN_FRONT);
  circuitActions.close();
  await storage().settings.put({ key: OPEN, value: stored.id });
  actions.load(stored);
}

/** Write the state in work to the browser's store. */
async function save(): Promise<void> {
  const { ready, id, design, kept, past, future, point } = useStore.getState();
  if (ready) await storage().designs.put({ id, name: design.name, updated: Date.now(), design, kept, past, future, point });
}

/** Store every change at once, and moves of the point when they pause. Returns a function that stops it. */
export function startSaving(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const flush = (): void => {
    clearTimeout(timer);
    timer = undefined;
    void save();
  };
  const stop = useStore.subscribe((s, before) => {
    if (s.id !== before.id) return;
    if (s.design !== before.design || s.kept !== before.kept) flush();
    else if (s.point !== before.point) {
      clearTimeout(timer);
      timer = setTimeout(flush, 200);
    }
  });
  const leave = (): void => {
    if (timer !== undefined) flush();
  };
  window.addEventListener('pagehide', leave);
  return () => {
    stop();
    leave();
    window.removeEventListener('pagehide', leave);
  };
}

export const listDesigns = (): Promise<StoredDesign[]> => storage().designs.orderBy('updated').reverse().toArray();

export async function openStored(id: string): Promise<void> {
  await save();
  const stored = await storage().designs.get(id);
  if (stored) await show(stored);
}

/** Store a design as a new one and show it; the one in work is saved first. */
export async function addDesign(design: Design): Promise<void> {
  await save();
  const stored = fresh(design);
  await storage().designs.put(stored);
  await show(stored);
}

export const listCircuits = (): Promise<StoredCircuit[]> => storage().circuits.orderBy('updated').reverse().toArray();

const keepInFront = async (id: string | undefined): Promise<void> => {
  if (id !== undefined) await storage().settings.put({ key: IN_FRONT, value: id });
};

export async function openStoredCircuit(id: string): Promise<void> {
  const stored = await storage().circuits.get(id);
  if (!stored) return;
  await circuitActions.show(stored);
  await keepInFront(id);
}

export const addShippedCircuit = async (index: number): Promise<void> => keepInFront(await circuitActions.addShipped(index));

/** Delete the open circuit; the design behind it is there again. */
export async function deleteCircuit(): Promise<void> {
  await storage().circuits.delete(useCircuit.getState().open!.id);
  await openStored(useStore.getState().id);
}

/** Delete the design in work; the next most recent one opens, or the demo. */
export async function deleteOpen(): Promise<void> {
  const { id } = useStore.getState();
  await storage().designs.delete(id);
  const [next] = await listDesigns();
  if (next) await show(next);
  else await addDemo();
}

export const addDemo = (index = 0): Promise<void> => addDesign(demoDesign(index));

/** Open a file, a design or a circuit with roles; a bad one is refused with its reason and nothing changes. */
export async function openFile(file: File): Promise<void> {
  const text = await file.text();
  if (isCircuit(text)) {
    const id = await circuitActions.add(text, file.name);
    if (id !== undefined) actions.notify(`${useCircuit.getState().open!.name} opened from ${file.name}`);
    return keepInFront(id);
  }
  const read = readDesign(text);
  if (!read.ok) return actions.refuse({ ...read.problem, where: [file.name, read.problem.where].filter(Boolean).join(', ') });
  await addDesign(read.value);
  actions.notify(`${read.value.name} opened from ${file.name}`);
}

/** Hand a text to the browser as a download. */
export function download(name: string, text: string, type = 'application/json'): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}

const fileName = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'design';

/** Save what is open as a file: the circuit, or the design. */
export function saveFile(): void {
  const { open } = useCircuit.getState();
  if (open) return download(`${fileName(open.name)}.json`, open.text);
  const { design } = useStore.getState();
  download(`${fileName(design.name)}.json`, JSON.stringify(design, null, 2) + '\n');
}
