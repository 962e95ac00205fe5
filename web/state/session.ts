import brake from '../../demo/brake-magnet.json';
import cabin from '../../demo/cabin-lighting-rail.json';
import door from '../../demo/door-motor.json';
import gates from '../../demo/gate-supplies.json';
import radio from '../../demo/radio.json';
import charger from '../../demo/station-charger.json';
import reference from '../../demo/reference-supply.json';
import sensor from '../../demo/sensor-supply.json';
import { Design as Schema, readDesign, readDesignValue, type Design } from '../../core/design';
import { isCircuit } from '../../core/interchange/circuitFile';
import { isLink, linkOf, readLink } from '../../core/interchange/designLink';
import { describeProblem, ok, type Problem, type Result } from '../../core/problem';
import { isPlant, readPlant } from '../../core/plant';
import type { Trace } from '../../core/measured/types';
import { circuitActions, useCircuit } from './circuit';
import { plantActions, usePlant } from './plant';
import { pack, unpack, type PackedDesign } from './history';
import { loadOwn } from './shelf';
import { storage, type StoredCircuit, type StoredDesign } from './storage';
import { controllerSource } from '../../core/interchange/cSource';
import type { SampledFigures } from '../../core/evaluation';
import { actions, useStore } from './store';
import { openTabs, type Tabs } from './tabs';

/** The designs that are shipped, by name. */
const DEMOS: readonly unknown[] = [cabin, door, radio, sensor, gates, brake, charger, reference];
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

/** ms that the browser may take to open its store and what was open before the work begins without it */
const OPENS = 4000;

const tabs = (): Tabs =>
  (theTabs ??= openTabs({
    changed: (id, mine) => id === useStore.getState().id && actions.mayChange(mine),
    told(told) {
      const { id, following } = useStore.getState();
      if (told.id !== id || !following) return;
      if ('deleted' in told) void openNext('It was deleted in another tab.');
      else actions.follow(unpack(told.stored));
    },
  }));
let theTabs: Tabs | undefined;

/** What the browser says when it does not store, in words. */
const inPlain = (error: unknown): string => {
  const { name = '', inner } = error as { name?: string; inner?: { name?: string } };
  const what = `${name} ${inner?.name ?? ''}`;
  if (/Quota/.test(what)) return 'the browser has no room left';
  if (/Version/.test(what)) return 'its store is of a newer Jump Reed';
  if (/MissingAPI|Security|InvalidState/.test(what)) return 'the browser keeps nothing here (a private window, or storage that is switched off)';
  if (/Timeout/.test(what)) return 'the browser does not open its store (another tab with an older page may hold it)';
  return 'the browser refused it';
};

/** Do something with the store; where it fails that is said, with a way to save the work, and the rest goes on. */
async function stored<T>(work: () => Promise<T>): Promise<T | undefined> {
  try {
    const found = await work();
    if (useStore.getState().unstored !== undefined) actions.unstored(undefined);
    return found;
  } catch (error) {
    console.warn(error);
    actions.unstored(inPlain(error));
    return undefined;
  }
}

const intime = <T>(work: Promise<T>): Promise<T> => {
  let timer: ReturnType<typeof setTimeout>;
  const late = new Promise<never>((_, no) => (timer = setTimeout(() => no(Object.assign(new Error('no answer'), { name: 'Timeout' })), OPENS)));
  return Promise.race([work, late]).finally(() => clearTimeout(timer));
};

/** What of a record is a design that can be worked with; undefined and why where it is none. Damaged states of its history are left out. */
export function soundOf(packed: PackedDesign): Result<StoredDesign> {
  const record = unpack(packed);
  const read = readDesignValue(record.design as unknown);
  if (!read.ok) return read;
  const isSound = (s: { design?: unknown; kept?: unknown }): boolean => Schema.safeParse(s?.design).success && Array.isArray(s.kept) && s.kept.every((k: { design?: unknown }) => Schema.safeParse(k?.design).success);
  const kept = Array.isArray(record.kept) ? record.kept.filter((k) => Schema.safeParse(k?.design).success) : [];
  return ok({ ...record, design: read.value, kept, past: record.past.filter(isSound), future: record.future.filter(isSound), point: { ...fresh(read.value).point, ...(typeof record.point === 'object' ? record.point : {}) } });
}

/** Put a record that can not be read aside: out of the way, told, and there to be saved. */
async function putAside(record: PackedDesign, { message }: Problem): Promise<void> {
  const db = storage();
  await db.aside.put({ id: String(record.id), name: String(record.name ?? 'a design'), why: message, text: JSON.stringify(record, null, 2) });
  await db.designs.delete(record.id);
}

/** The record of that id where it is sound; a damaged one is set aside. */
async function soundRecord(id: string): Promise<StoredDesign | undefined> {
  const record = await storage().designs.get(id);
  if (!record) return undefined;
  const sound = soundOf(record);
  if (sound.ok) return sound.value;
  await putAside(record, sound.problem);
  actions.setAside(await storage().aside.toArray());
  return undefined;
}

/** Open what was open last, or the demo on the first visit; where the browser stores nothing or does not answer, the demo, and say so. */
export async function restore(): Promise<void> {
  const found = await stored(() => intime(lastOpen()));
  const circuit = found?.circuit;
  if (circuit) await stored(() => showInFront(circuit));
  load(found?.record ?? fresh(demoDesign()));
  await openLinked();
}

/** What was open last: a design, and the circuit in front of it when one stood there. */
async function lastOpen(): Promise<{ record: StoredDesign; circuit: StoredCircuit | undefined }> {
  const db = storage();
  await db.open();
  await loadOwn();
  actions.setAside(await db.aside.toArray());
  const inFront = await db.settings.get(IN_FRONT);
  const circuit = inFront && (await db.circuits.get(inFront.value));
  const open = await db.settings.get(OPEN);
  const found = open ? await soundRecord(open.value) : undefined;
  if (found) return { record: found, circuit };
  // Whatever else there is, before a demo.
  for (const { id } of await db.designs.orderBy('updated').reverse().toArray()) {
    const other = await soundRecord(id);
    if (other) return { record: other, circuit };
  }
  const record = fresh(demoDesign());
  await db.designs.put(pack(record));
  await db.settings.put({ key: OPEN, value: record.id });
  return { record, circuit };
}

function load(record: StoredDesign): void {
  actions.load(record);
  tabs().hold(record.id);
}

async function show(record: StoredDesign): Promise<void> {
  circuitActions.close();
  plantActions.close();
  load(record);
  await stored(async () => {
    await storage().settings.delete(IN_FRONT);
    await storage().settings.put({ key: OPEN, value: record.id });
  });
}

/** Write the state in work to the browser's store, and tell the other tabs; what is only followed is not this tab's to write. */
async function save(): Promise<void> {
  const { ready, following, id, design, kept, past, future, point } = useStore.getState();
  if (!ready || following) return;
  const record = pack({ id, name: design.name, updated: Date.now(), design, kept, past, future, point });
  tabs().tell({ id, stored: record });
  await stored(() => storage().designs.put(record));
}

export const takeOver = (): void => tabs().takeOver();

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

/** The stored designs, the latest first; damaged ones are no designs. */
export const listDesigns = async (): Promise<StoredDesign[]> => ((await stored(() => storage().designs.orderBy('updated').reverse().toArray())) ?? []).flatMap((r) => {
  const sound = soundOf(r);
  return sound.ok ? [sound.value] : [];
});

/** The stored designs with the folder that each lies in; "" in none. */
export async function listProjects(): Promise<(StoredDesign & { folder: string })[]> {
  const [designs, folders] = [await listDesigns(), (await stored(() => storage().folders.toArray())) ?? []];
  const of = new Map(folders.map((f) => [f.id, f.folder]));
  return designs.map((d) => ({ ...d, folder: of.get(d.id) ?? '' }));
}

/** Put a design into a folder; into none where its name is empty. */
export const intoFolder = (id: string, folder: string): Promise<void> => stored(() => (folder.trim() === '' ? storage().folders.delete(id) : storage().folders.put({ id, folder: folder.trim().slice(0, 60) }).then(() => undefined))).then(() => undefined);

/** A second record of a stored design, in the same folder, not opened. */
export async function duplicateStored(id: string): Promise<void> {
  const record = await stored(() => soundRecord(id));
  if (!record) return;
  const name = `${record.name.slice(0, 70)}, copy`;
  const copy = { ...fresh({ ...record.design, name }), kept: record.kept, point: record.point };
  await stored(() => storage().designs.put(pack(copy)));
  const folder = await stored(() => storage().folders.get(id));
  if (folder) await intoFolder(copy.id, folder.folder);
}

/** Lay a stored design over the one in work, as a kept state. */
export async function compareStored(id: string): Promise<void> {
  const record = await stored(() => soundRecord(id));
  if (record) actions.keepOther(record.name.slice(0, 24), record.design);
}

/** Delete a stored design; the one in work as deleteOpen does. */
export async function deleteStored(id: string): Promise<void> {
  if (id === useStore.getState().id) return deleteOpen();
  await stored(async () => {
    await storage().designs.delete(id);
    await storage().folders.delete(id);
  });
  tabs().tell({ id, deleted: true });
}

/** The design in work as a link, on the clipboard; as a line to copy where that is not allowed. */
export async function copyLink(): Promise<void> {
  const link = await linkOf(useStore.getState().design);
  if (!link.ok) return actions.refuse(link.problem);
  const address = `${window.location.origin}/power-stage${link.value}`;
  try {
    await navigator.clipboard.writeText(address);
    actions.notify('The link is copied. The design is in it: nobody stores it.');
  } catch {
    window.prompt('The link to this design', address);
  }
}

/** A design that the address holds, opened beside what is there; the address is as usual afterwards. */
async function openLinked(): Promise<void> {
  // There is no address where this is tested.
  const { hash = '', pathname = '/' } = globalThis.location ?? {};
  if (!isLink(hash)) return;
  window.history.replaceState(null, '', pathname);
  const read = await readLink(hash);
  if (!read.ok) return actions.refuse(read.problem);
  await addDesign(read.value);
  actions.notify(`${read.value.name} opened from a link`);
}

export async function openStored(id: string): Promise<void> {
  await save();
  const found = await stored(() => soundRecord(id));
  if (found) await show(found);
}

/** Store a design as a new one and show it; the one in work is saved first. */
export async function addDesign(design: Design): Promise<void> {
  await save();
  const made = fresh(design);
  await stored(() => storage().designs.put(pack(made)));
  await show(made);
}

export const listCircuits = async (): Promise<StoredCircuit[]> => (await stored(() => storage().circuits.orderBy('updated').reverse().toArray())) ?? [];

const keepInFront = async (id: string | undefined): Promise<void> => {
  if (id !== undefined) await stored(() => storage().settings.put({ key: IN_FRONT, value: id }));
};

/** Show a stored circuit, or a stored plant, in front of the design. */
async function showInFront(found: StoredCircuit): Promise<void> {
  if (isPlant(found.text)) {
    if (plantActions.show(found)) circuitActions.close();
    return;
  }
  await circuitActions.show(found);
  plantActions.close();
}

/** A loop on what was measured alone, in front of the design; why not, where nothing can be placed on it. */
export function addPlant(name: string, traces: readonly Trace[]): Problem | undefined {
  const made = plantActions.begin(name, traces);
  if (!made.ok) return made.problem;
  circuitActions.close();
  void keepInFront(made.value);
  return undefined;
}

export async function openStoredCircuit(id: string): Promise<void> {
  const found = await stored(() => storage().circuits.get(id));
  if (!found) return;
  await showInFront(found);
  await keepInFront(id);
}

export async function addShippedCircuit(index: number): Promise<void> {
  const id = await circuitActions.addShipped(index);
  plantActions.close();
  await keepInFront(id);
}

/** Delete the open circuit or plant; the design behind it is there again. */
export async function deleteCircuit(): Promise<void> {
  await stored(() => storage().circuits.delete((useCircuit.getState().open ?? usePlant.getState().open)!.id));
  await openStored(useStore.getState().id);
}

/** Delete the design in work; the next most recent one opens, or the demo. */
export async function deleteOpen(): Promise<void> {
  const { id, following } = useStore.getState();
  if (following) return actions.refuse({ code: 'elsewhere', where: 'another tab', message: 'this design is open there', remedy: 'take it over here before it is deleted' });
  await stored(async () => {
    await storage().designs.delete(id);
    await storage().folders.delete(id);
  });
  tabs().tell({ id, deleted: true });
  await openNext();
}

/** The latest of what is stored, or the demo. */
async function openNext(why?: string): Promise<void> {
  const [next] = (await listDesigns()).filter((d) => d.id !== useStore.getState().id);
  if (next) await show(next);
  else {
    const demo = fresh(demoDesign());
    await stored(() => storage().designs.put(pack(demo)));
    await show(demo);
  }
  if (why) actions.notify(why);
}

/** Save a record that could not be read as a file, as it is. */
export const saveAside = (id: string): void => {
  const record = useStore.getState().aside.find((r) => r.id === id);
  if (record) download(`${fileName(record.name)}-damaged.json`, record.text);
};

/** Forget a record that could not be read. */
export async function forgetAside(id: string): Promise<void> {
  await stored(() => storage().aside.delete(id));
  actions.setAside(useStore.getState().aside.filter((r) => r.id !== id));
}

export const addDemo = (index = 0): Promise<void> => addDesign(demoDesign(index));

/** Bytes of the largest file that is read: a design with all its parts is some ten thousand. */
const LARGEST = 10e6;

/** Open a file, a design or a circuit with roles; a bad one is refused with its reason and nothing changes. */
export async function openFile(file: File): Promise<void> {
  if (file.size > LARGEST) return actions.refuse({ code: 'size', where: file.name, message: `a file of ${Math.round(file.size / 1e6)} MB is no design`, remedy: `choose one below ${LARGEST / 1e6} MB` });
  const text = await file.text();
  if (isCircuit(text)) {
    const id = await circuitActions.add(text, file.name);
    if (id !== undefined) plantActions.close();
    if (id !== undefined) actions.notify(`${useCircuit.getState().open!.name} opened from ${file.name}`);
    return keepInFront(id);
  }
  if (isPlant(text)) {
    const plant = readPlant(text);
    if (!plant.ok) return actions.refuse({ ...plant.problem, where: [file.name, plant.problem.where].filter(Boolean).join(', ') });
    circuitActions.close();
    actions.notify(`${plant.value.name} opened from ${file.name}`);
    return keepInFront(plantActions.add(plant.value));
  }
  const read = readDesign(text);
  if (!read.ok) return actions.refuse({ ...read.problem, where: [file.name, read.problem.where].filter(Boolean).join(', ') });
  await addDesign(read.value);
  actions.notify(`${read.value.name} opened from ${file.name}`);
}

/** Hand a text, or bytes, to the browser as a download. */
export function download(name: string, text: string | Uint8Array<ArrayBuffer>, type = 'application/json'): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
}

export const fileName = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'design';

/** Save what is open as a file: the circuit, the plant, or the design. */
export function saveFile(): void {
  const plant = usePlant.getState().open;
  if (plant) return download(`${fileName(plant.plant.name)}.json`, plantActions.text());
  const { open } = useCircuit.getState();
  if (open) return download(`${fileName(open.name)}.json`, open.text);
  const { design } = useStore.getState();
  download(`${fileName(design.name)}.json`, JSON.stringify(design, null, 2) + '\n');
}

/** Save the program of a controller that samples as a file; why not, where there is none. */
export function saveController(title: string, sampled: SampledFigures | undefined): void {
  const { design } = useStore.getState();
  const text = controllerSource(design, title, sampled);
  if (text.ok) download(`${fileName(design.name)}-${fileName(title)}.c`, text.value, 'text/x-c');
  else actions.refuse(text.problem);
}
