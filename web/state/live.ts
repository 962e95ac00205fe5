import { cornerPoints, report } from '../../core/corners/corners';
import { MAP_LINES, MAP_LOADS, spread, type MapCell } from '../../core/corners/map';
import { candidateCount, FREQUENCIES, type By } from '../../core/choice';
import { editDesign, sameFigures, type Design } from '../../core/design';
import { type Figures, type PlaceId } from '../../core/evaluation';
import type { Result } from '../../core/problem';
import type { Engine } from '../workers/functions';
import type { OperatingPoint } from '../../core/topology';
import { jobs, newestOnly } from '../workers/pool';
import type { Kept } from './storage';
import { actions, useStore } from './store';

/** A fault of the program itself: said in words, with the details for whoever looks into it. */
function failed(error: unknown): void {
  console.error(error);
  actions.refuse({ code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'undo the last change, or save the design as a file and reload the page' });
}

/**
 * A list whose entries are asked for all at once, each by itself, with its progress; superseded by a newer request, or
 * stopped, what there is stays on screen, stale.
 */
const streamed = <T>(count: number, one: (engine: Engine, design: Design, k: number) => Promise<T>, told: { progress(): number | undefined; begin(): void; more(list: T[], progress: number): void; end(list: T[], design: Design): void }): ((design: Design) => void) =>
  newestOnly<Design>(async (design, current, newer) => {
    const stopped = new AbortController();
    const engine = jobs().at('asked', AbortSignal.any([newer, stopped.signal]));
    const list: (T | undefined)[] = Array.from({ length: count }, () => undefined);
    const there = (): T[] => list.filter((x) => x !== undefined);
    told.begin();
    await Promise.all(list.map(async (_, k) => {
      const found = await one(engine, design, k);
      if (!current()) return;
      if (told.progress() === undefined) return stopped.abort();
      list[k] = found;
      told.more(there(), there().length / count);
    }));
    if (current() && !stopped.signal.aborted) told.end(there(), design);
  }, failed);

/** ms after the corners before the map is begun, and how often a newer question is looked for meanwhile */
const [MAP_WAITS, GLANCE] = [700, 35];

const isSeen = (): boolean => typeof document === 'undefined' || !document.hidden;

const answers = () => useStore.getState().answers;
const ownParts = () => useStore.getState().ownParts;

const candidates = streamed(candidateCount, (engine, design, k) => engine.candidate(design, k, ownParts()), {
  progress: () => answers().candidatesProgress,
  begin: () => actions.answer({ candidatesProgress: 0 }),
  more: (list, candidatesProgress) => actions.answer({ candidates: list, candidatesProgress }),
  end: (list, design) => actions.answer({ candidates: list, candidatesOf: design, candidatesProgress: undefined }),
});

const frequencies = streamed(FREQUENCIES, (engine, design, k) => engine.frequency(design, k, ownParts()), {
  progress: () => answers().frequenciesProgress,
  begin: () => actions.answer({ frequenciesProgress: 0 }),
  more: (list, frequenciesProgress) => actions.answer({ frequencies: list, frequenciesProgress }),
  end: (list, design) => actions.answer({ frequencies: list, frequenciesOf: design, frequenciesProgress: undefined }),
});

/** Ask the brief for something that may want another topology; then that is taken, and said. */
export async function askOfBrief(changes: Partial<Design['brief']>): Promise<void> {
  const { design, ownParts } = useStore.getState();
  const edited = editDesign(design, Object.fromEntries(Object.entries(changes).map(([key, value]) => [`brief.${key}`, value])));
  if (edited.ok) return actions.take(edited.value);
  actions.notify('Looking for a topology that serves this brief …');
  try {
    const changed = await jobs().at('asked').changeBrief(design, changes, ownParts);
    // Meanwhile something else was changed: that stands.
    if (useStore.getState().design !== design) return;
    if (!changed.ok) return actions.refuse(changed.problem);
    actions.take(changed.value.design);
    actions.notify(`${changed.value.taken} taken: the one before can not serve this brief. Ctrl Z goes back.`);
  } catch (error) {
    failed(error);
  }
}

/** Take what is chosen for the design as it is; where something else was changed meanwhile, that stands. */
async function takeChosen(choose: (design: Design) => Promise<Result<Design>>): Promise<void> {
  const { design } = useStore.getState();
  try {
    const chosen = await choose(design);
    if (useStore.getState().design !== design) return;
    if (chosen.ok) actions.take(chosen.value);
    else actions.refuse(chosen.problem);
  } catch (error) {
    failed(error);
  }
}

/** Take another topology for a brief that the one in use refuses, with parts of the shelf where those here do not fit. */
export function takeTopologyFor(changes: Record<string, unknown>, id: string): Promise<void> {
  actions.dismiss();
  return takeChosen((design) => jobs().at('asked').takeFor(design, changes, id, ownParts()));
}

/** Choose the part of a slot, or all of them, anew for the brief as it is. */
export const chooseAnew = (by: By, slot?: string): Promise<void> => takeChosen((design) => jobs().at('asked').anew(design, ownParts(), by, slot));

/** Hold every topology against a design's brief; asked by the screen that shows it. */
export function askCandidates(design: Design): void {
  if (useStore.getState().answers.candidatesOf !== design) candidates(design);
}

/** Try the switching frequencies that a design's brief leaves open; asked by the screen that shows them. */
export function askFrequencies(design: Design): void {
  if (useStore.getState().answers.frequenciesOf !== design) frequencies(design);
}

/** Said only where the loop is read elsewhere: what was asked before without it is the same question. */
const placeOf = ({ place }: { place?: PlaceId }): [PlaceId?] => (place === undefined ? [] : [place]);

/**
 * Keeps the answers fresh: whenever design, point or kept states change, asks the workers for what
 * that touches, newest request first. Returns a function that stops it.
 */
export function startLive(): () => void {
  // Once stopped nothing more is asked, and the rest of what is under way is not shown.
  const stopped = new AbortController();

  const point = newestOnly<{ id: string; design: Design; point: OperatingPoint; place?: PlaceId }>(async (r, current) => {
    const found = await jobs().at('view').evaluate(r.design, r.point, ...placeOf(r));
    const now = useStore.getState();
    // Of a design that has gone, or has another power stage by now.
    if (now.id !== r.id || now.design.topology !== r.design.topology) return;
    // While the next one is waiting this is the newest there is: shown, as stale, so that a drag has its figures.
    if (found.ok) actions.answer({ figures: found.value, problem: undefined, fresh: current() });
    // Figures of a point that has none: keep the last ones on screen, stale, beside the problem.
    else if (current()) actions.answer({ problem: found.problem, fresh: false });
  }, failed);

  const region = newestOnly<{ design: Design; air: number; cornersWanted: boolean }>(async (r, newest, newer) => {
    const current = (): boolean => newest() && !stopped.signal.aborted;
    const unwanted = AbortSignal.any([newer, stopped.signal]);
    // From here on the map that stands is one of before.
    actions.answer({ mapProgress: 0 });
    if (r.cornersWanted) {
      const engine = jobs().at('corners', unwanted);
      const corners = report(await Promise.all(cornerPoints(r.design).map((p) => engine.judge(r.design, p))));
      if (sameFigures(useStore.getState().design, r.design)) actions.answer({ corners, cornersFresh: true });
    }
    // The map is much work and is looked at in rest: it waits until nothing has changed for a moment, and the page is seen at all.
    for (let waited = 0; (waited < MAP_WAITS || !isSeen()) && current(); waited += GLANCE) await new Promise((done) => setTimeout(done, GLANCE));
    if (!current() || useStore.getState().answers.mapProgress === undefined) return;
    const lines = spread(r.design.brief.line, MAP_LINES);
    const loads = spread(r.design.brief.load, MAP_LOADS);
    const rows: (MapCell[] | undefined)[] = loads.map(() => undefined);
    const left = new AbortController();
    const engine = jobs().at('region', AbortSignal.any([unwanted, left.signal]));
    await Promise.all(loads.map(async (load, k) => {
      const row = await engine.mapRow(r.design, load, lines, r.air);
      if (!current()) return;
      if (useStore.getState().answers.mapProgress === undefined) return left.abort();
      rows[k] = row;
      const there = rows.filter((x) => x !== undefined);
      // Curves over the load grow while it is under way; the shading waits for all of it.
      actions.answer({ mapProgress: there.length / loads.length, mapRows: there });
    }));
    if (current() && !left.signal.aborted) actions.answer({ map: { rows: rows as MapCell[][] }, mapRows: undefined, mapProgress: undefined });
  }, failed);

  const kept = newestOnly<{ kept: Kept[]; point: OperatingPoint; place?: PlaceId }>(async (r, _, newer) => {
    const engine = jobs().at('kept', AbortSignal.any([newer, stopped.signal]));
    const found = await Promise.all(r.kept.map(async (k): Promise<[string, Figures | undefined]> => {
      const answer = await engine.evaluate(k.design, r.point, ...placeOf(r));
      return [k.id, answer.ok ? answer.value : undefined];
    }));
    actions.answer({ kept: Object.fromEntries(found) });
  }, failed);

  let cornersOf: Design | undefined;
  const ask = (): void => {
    const s = useStore.getState();
    if (!s.ready) return;
    const { place } = s;
    point({ id: s.id, design: s.design, point: s.point, place });
    kept({ kept: s.kept, point: s.point, place });
  };
  const askRegion = (): void => {
    const s = useStore.getState();
    if (!s.ready) return;
    region({ design: s.design, air: s.point.air, cornersWanted: cornersOf === undefined || !sameFigures(cornersOf, s.design) || !s.answers.cornersFresh });
    cornersOf = s.design;
  };
  ask();
  askRegion();
  const unsubscribe = useStore.subscribe((s, before) => {
    // One that is only looked at otherwise has its answers.
    const changed = s.design !== before.design && !(s.id === before.id && s.answers === before.answers && sameFigures(s.design, before.design));
    if (changed || s.point !== before.point || s.kept !== before.kept || s.place !== before.place) ask();
    if (changed || s.point.air !== before.point.air) askRegion();
  });
  return () => {
    stopped.abort();
    unsubscribe();
  };
}
