import { create } from 'zustand';
import { candidateCount } from '../../core/choice';
import { ranked, readAsked, type Asked, type AskedText, type FirstLook, type Proposal, type Read } from '../../core/proposal';
import { describeProblem, type Problem } from '../../core/problem';
import { printTyped } from '../../core/quantity';
import type { Engine } from '../workers/functions';
import { jobs, newestOnly } from '../workers/pool';
import { addDesign } from './session';
import { actions, useStore } from './store';

/** The sheet on which a new design is asked for. Nothing of it is stored until a design is made. */
export interface NewDesignState {
  open: boolean;
  text: AskedText;
  read: Read;
  /** Topologies held against what is asked, in the order they were; stale while newer ones come */
  looks: FirstLook[];
  looksOf?: Asked;
  /** Share of them that is held, while that is under way */
  progress?: number;
  /** Taken by hand; else the likeliest is made */
  chosen?: string;
  proposal?: Proposal;
  proposalOf?: Asked;
  making?: string;
  problem?: Problem;
}

const EMPTY: AskedText = { line: '', output: '', load: '' };
const begun = (): Omit<NewDesignState, 'open'> => ({ text: EMPTY, read: { taken: [], problems: {} }, looks: [], looksOf: undefined, progress: undefined, chosen: undefined, proposal: undefined, proposalOf: undefined, making: undefined, problem: undefined });

export const useNewDesign = create<NewDesignState>(() => ({ open: false, ...begun() }));
const { getState: get, setState: set } = useNewDesign;

const own = () => useStore.getState().ownParts;
const failed = (error: unknown): void => {
  console.error(error);
  set({ progress: undefined, making: undefined, problem: { code: 'internal', where: 'computation', message: 'it stopped for a reason of its own', remedy: 'change what is asked, or reload the page' } });
};

/** What is made in full: the one chosen, or the likeliest there is. */
export const wanted = (s: NewDesignState): string | undefined => (s.looks.some((l) => l.id === s.chosen && !l.refusal) ? s.chosen : ranked(s.looks)[0]?.id);

const make = newestOnly<{ asked: Asked; id: string }>(async ({ asked, id }, current) => {
  if (get().proposalOf === asked && get().proposal?.id === id) return;
  set({ making: id, problem: undefined });
  const found = await jobs().at('view').proposal(asked, id, own(), nameOf(asked));
  if (!current() || get().read.asked !== asked) return;
  set(found.ok ? { proposal: found.value, proposalOf: asked, making: undefined } : { proposal: undefined, proposalOf: asked, making: undefined, problem: found.problem });
}, failed);

const look = newestOnly<Asked>(async (asked, current, newer) => {
  const looks: FirstLook[] = [];
  set({ progress: 0, problem: undefined });
  const stands = (): boolean => current() && get().read.asked === asked;
  // All workers take the next that nobody has taken, the one for the point in view among them: it rests meanwhile.
  let next = 0;
  const hold = async (engine: Engine): Promise<void> => {
    while (stands() && next < candidateCount) {
      const k = next++;
      looks[k] = await engine.firstLook(asked, k, own());
      if (stands()) set({ progress: looks.filter(Boolean).length / candidateCount });
    }
  };
  await Promise.all(Array.from({ length: jobs().workers }, (_, k) => hold(jobs().at(k === 0 ? 'view' : 'asked', newer))));
  if (!stands()) return;
  set({ looks, looksOf: asked, progress: undefined });
  const id = wanted(get());
  if (id !== undefined) make({ asked, id });
}, failed);

/** "12 V to 5 V, 3 A": the line as it was typed. */
const nameOf = ({ output, load }: Asked): string => `${get().text.line.trim().slice(0, 40)} to ${printTyped(output, 'V', 4)}, ${printTyped(load.max, 'A', 4)}`;

/** ms of no typing after which topologies are held against what stands there */
const PAUSE = 300;
let timer: ReturnType<typeof setTimeout> | undefined;

export const newDesignActions = {
  open: (): void => set({ open: true }),
  close: (): void => set({ open: false }),
  /** A field is typed in: read at once, held against the topologies when the typing pauses. */
  type(key: keyof AskedText, value: string | boolean | undefined): void {
    const text = { ...get().text, [key]: value };
    const read = readAsked(text);
    set({ text, read });
    clearTimeout(timer);
    const { asked } = read;
    if (asked) timer = setTimeout(() => look(asked), PAUSE);
    else set({ progress: undefined });
  },
  choose(id: string): void {
    set({ chosen: id });
    const { looksOf } = get();
    if (looksOf) make({ asked: looksOf, id });
  },
  /** Take the design that is proposed: it is stored, and opens. */
  async take(): Promise<void> {
    const { proposal, proposalOf, read } = get();
    if (!proposal || proposalOf !== read.asked) return;
    await addDesign(proposal.design);
    set({ open: false, ...begun() });
    actions.notify(proposal.problem ? `Made; ${describeProblem(proposal.problem)}` : `${proposal.design.name} made; it holds at ${proposal.holding} of ${proposal.corners} corners.`);
  },
};
