import { create } from 'zustand';
import type { CornerReport } from '../../core/corners/corners';
import type { MapCell } from '../../core/corners/map';
import { type Candidate, type FrequencyChoice } from '../../core/choice';
import { editDesign, sameFigures, topologyOf, type Design, type RequirementId } from '../../core/design';
import { type Figures, type PlaceId } from '../../core/evaluation';
import type { Goods } from '../../core/parts/goods';
import type { Part } from '../../core/parts/schema';
import type { Problem } from '../../core/problem';
import type { OperatingPoint, Slot } from '../../core/topology';
import type { SetAside, Snapshot, StoredDesign } from './storage';

export type Paint = 'amps' | 'heat' | 'stress';

/** What the workers have answered. Stale answers stay on screen, marked, until fresh ones come. */
export interface Answers {
  figures?: Figures;
  problem?: Problem;
  fresh: boolean;
  corners?: CornerReport;
  cornersFresh: boolean;
  map?: { rows: MapCell[][] };
  /** Rows of it that are there while the rest is under way */
  mapRows?: MapCell[][];
  /** Share of the map that is computed while it is under way */
  mapProgress?: number;
  /** Every topology held against the brief of `candidatesOf` */
  candidates?: Candidate[];
  candidatesOf?: Design;
  /** Share of them that is held while that is under way */
  candidatesProgress?: number;
  /** Switching frequencies tried for `frequenciesOf` */
  frequencies?: FrequencyChoice[];
  frequenciesOf?: Design;
  /** Share of them that is tried while that is under way */
  frequenciesProgress?: number;
  /** Figures of each kept state at the point in view */
  kept: Record<string, Figures | undefined>;
}

export interface State extends Snapshot {
  id: string;
  ready: boolean;
  past: Snapshot[];
  future: Snapshot[];
  point: OperatingPoint;
  selected: string;
  paint: Paint;
  /** Is the power path folded to a strip? */
  folded: boolean;
  padMeasure: RequirementId;
  /** Where the loop is read besides, broken elsewhere than at its output */
  place?: PlaceId;
  /** The last refusal, shown where it belongs and as a line at the bottom */
  refusal?: Problem;
  /** What would serve a brief that this topology refused: the changes of it, and who can */
  offer?: { changes: Record<string, unknown>; able: { id: string; title: string }[] };
  notice?: string;
  /** Another tab holds this design: it is followed, and changed only there */
  following: boolean;
  /** Why nothing is stored, in words */
  unstored?: string;
  /** Records that could not be read */
  aside: readonly SetAside[];
  /** The engineer's own parts, beside those of the bundled shelf */
  ownParts: readonly Part[];
  ownGoods: readonly Goods[];
  answers: Answers;
}

const LONGEST_HISTORY = 100;
let gesture: string | undefined;

export const useStore = create<State>(() => ({
  id: '',
  ready: false,
  design: undefined as unknown as Design,
  kept: [],
  past: [],
  future: [],
  point: { line: 0, load: 0, air: 0 },
  selected: 'L1',
  paint: 'heat',
  folded: false,
  padMeasure: 'phaseMargin',
  following: false,
  aside: [],
  ownParts: [],
  ownGoods: [],
  answers: { fresh: false, cornersFresh: false, kept: {} },
}));

const { getState: get, setState: set } = useStore;

const snapshot = (): Snapshot => ({ design: get().design, kept: get().kept });
const clamp = (v: number, r: { min: number; max: number }): number => Math.min(r.max, Math.max(r.min, v));

/** The point moved into the region of a brief. */
const held = (p: OperatingPoint, d: Design): OperatingPoint => ({
  line: clamp(p.line, d.brief.line),
  load: clamp(p.load, d.brief.load),
  air: clamp(p.air, d.brief.air),
  ...(p.angle !== undefined && d.brief.line.mains !== undefined ? { angle: p.angle } : {}),
});
/** The same one where it lies within already. */
function within(p: OperatingPoint, d: Design): OperatingPoint {
  const next = held(p, d);
  return next.line === p.line && next.load === p.load && next.air === p.air && next.angle === p.angle ? p : next;
}

/** The part that stays in view: the one that was, or the main magnetic part. */
function selectedIn(slots: readonly Slot[], before: string): string {
  const kept = slots.find((p) => p.id === before) ?? slots.find((p) => p.kind === 'inductor' || p.kind === 'transformer');
  return (kept ?? slots[0]!).id;
}

/**
 * What a changed design leaves of the answers: stale ones stay on screen, a branch more or less among them, but those of
 * another topology speak of parts that are no longer there. The selected part is one that is.
 */
function followDesign(s: State, design: Design): Pick<State, 'answers' | 'selected'> {
  // What is only looked at otherwise leaves them all.
  if (sameFigures(design, s.design)) return { selected: s.selected, answers: s.answers };
  const { slots } = topologyOf(design)!;
  const left = { fresh: false, cornersFresh: false, mapRows: undefined };
  return {
    selected: selectedIn(slots, s.selected),
    answers: design.topology === s.design.topology ? { ...s.answers, ...left } : { ...left, kept: s.answers.kept, candidates: s.answers.candidates, candidatesOf: s.answers.candidatesOf, candidatesProgress: s.answers.candidatesProgress },
  };
}

const ELSEWHERE: Problem = { code: 'elsewhere', where: 'another tab', message: 'this design is being changed there, and is only followed here', remedy: 'take it over here to change it' };

/** Put a new snapshot in place, remembering the one before; refused while another tab holds the design. */
function commit(next: Partial<Snapshot>, gestureKey?: string): Problem | undefined {
  const s = get();
  if (s.following) {
    set({ refusal: ELSEWHERE });
    return ELSEWHERE;
  }
  const merge = gestureKey !== undefined && gestureKey === gesture;
  gesture = gestureKey;
  const design = next.design ?? s.design;
  set({
    ...next,
    past: merge ? s.past : [...s.past, snapshot()].slice(-LONGEST_HISTORY),
    future: [],
    point: within(s.point, design),
    refusal: undefined,
    offer: undefined,
    ...(design === s.design ? {} : followDesign(s, design)),
  });
  return undefined;
}

function travel(from: 'past' | 'future', to: 'past' | 'future'): void {
  const s = get();
  const target = s[from].at(-1);
  if (!target) return;
  if (s.following) return set({ refusal: ELSEWHERE });
  gesture = undefined;
  // What was dropped since comes back; what was kept since stays.
  const kept = [...target.kept, ...s.kept.filter((k) => !target.kept.some((t) => t.id === k.id))];
  set({
    design: target.design,
    kept: kept.length === s.kept.length && kept.every((k, i) => k === s.kept[i]) ? s.kept : kept,
    [from]: s[from].slice(0, -1),
    [to]: [...s[to], snapshot()],
    point: within(s.point, target.design),
    refusal: undefined,
    offer: undefined,
    ...followDesign(s, target.design),
  } as Partial<State>);
}

/** A change of what stands beside the design, which undo goes past: it takes no kept state away. */
function beside(next: Pick<Snapshot, 'kept'>): void {
  set(get().following ? { refusal: ELSEWHERE } : next);
}

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ';

/** Everything that changes the state, in one place. */
export const actions = {
  /**
   * Change the design at some paths; refused changes leave it untouched and are told.
   * Calls with the same gesture key (a drag) make one step of undo.
   */
  edit(changes: Record<string, unknown>, gestureKey?: string): Problem | undefined {
    const edited = editDesign(get().design, changes);
    if (!edited.ok) {
      set({ refusal: edited.problem, offer: undefined });
      return edited.problem;
    }
    return commit({ design: edited.value }, gestureKey);
  },
  endGesture(): void {
    gesture = undefined;
  },
  /** Replace the whole design: a kept state taken back. */
  take(design: Design): void {
    void commit({ design });
  },
  undo: (): void => travel('past', 'future'),
  redo: (): void => travel('future', 'past'),
  movePoint(change: Partial<OperatingPoint>): void {
    const s = get();
    set({ point: within({ ...s.point, ...change }, s.design), answers: { ...s.answers, fresh: false } });
  },
  select: (selected: string): void => set({ selected }),
  paint: (paint: Paint): void => set({ paint }),
  foldPath: (): void => set((s) => ({ folded: !s.folded })),
  shadeBy: (padMeasure: RequirementId): void => set({ padMeasure }),
  /** Read the loop broken at a place as well; at its output alone when none is named. */
  readAt: (place?: PlaceId): void => set((s) => ({ place, answers: { ...s.answers, fresh: false } })),
  keep(): void {
    actions.keepOther('', get().design);
  },
  /** Keep another design than the one in work: one that was found, or drawn. */
  keepOther(what: string, design: Design): void {
    const { kept, past, future } = get();
    // One that nothing has, nor had where undo or redo may bring it back.
    const had = [kept, ...[...past, ...future].map((s) => s.kept)].flat();
    const letter = [...LETTERS].find((l) => !had.some((k) => k.label.startsWith(l))) ?? 'Z';
    beside({ kept: [...kept, { id: `${letter}-${Date.now()}`, label: what === '' ? letter : `${letter} ${what}`, design, visible: true }] });
  },
  showKept(id: string, visible: boolean): void {
    beside({ kept: get().kept.map((k) => (k.id === id ? { ...k, visible } : k)) });
  },
  dropKept(id: string): void {
    commit({ kept: get().kept.filter((k) => k.id !== id) });
  },
  /** Leave the map as far as it is. */
  stopMap: (): void => set((s) => ({ answers: { ...s.answers, mapProgress: undefined, mapRows: undefined } })),
  /** Leave the comparison as far as it is. */
  stopCandidates: (): void => set((s) => ({ answers: { ...s.answers, candidatesProgress: undefined } })),
  /** Leave the frequencies as far as they are. */
  stopFrequencies: (): void => set((s) => ({ answers: { ...s.answers, frequenciesProgress: undefined } })),
  dismiss: (): void => set({ refusal: undefined, offer: undefined, notice: undefined }),
  /** A refusal by this topology alone: told with those that can serve. */
  offer: (refusal: Problem, offer: State['offer']): void => set({ refusal, offer }),
  notify: (notice: string): void => set({ notice }),
  own: (ownParts: readonly Part[], ownGoods: readonly Goods[]): void => set((s) => ({ ownParts, ownGoods, answers: { ...s.answers, candidatesOf: undefined, frequenciesOf: undefined } })),
  refuse: (refusal: Problem): void => set({ refusal, offer: undefined }),
  answer: (answers: Partial<Answers>): void => set((s) => ({ answers: { ...s.answers, ...answers } })),
  /** May this tab change the design, or does it follow another? */
    mayChange: (mine: boolean): void => set((s) => (s.following === !mine ? {} : { following: !mine, refusal: undefined })),
  /** What the tab that holds the design has stored. */
  follow({ design, kept, past, future }: StoredDesign): void {
    const s = get();
    set({ design, kept, past, future, point: within(s.point, design), ...(design === s.design ? {} : followDesign(s, design)) });
  },
  /** Nothing is stored, and why; undefined when it is again. */
  unstored: (why: string | undefined): void => set({ unstored: why }),
  setAside: (aside: readonly SetAside[]): void => set({ aside }),
  /** Show a stored design. */
  load(stored: StoredDesign): void {
    gesture = undefined;
    set({
      id: stored.id,
      design: stored.design,
      kept: stored.kept,
      past: stored.past,
      future: stored.future,
      point: within(stored.point, stored.design),
      selected: selectedIn(topologyOf(stored.design)!.slots, get().selected),
      ready: true,
      place: undefined,
      refusal: undefined,
    offer: undefined,
      answers: { fresh: false, cornersFresh: false, kept: {} },
    });
  },
};
