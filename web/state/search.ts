import { create } from 'zustand';
import { searching, wrongSearch, type Answer, type SearchAsked, type SearchFound, type Tried } from '../../core/corners/search';
import type { RegionVerdict } from '../../core/corners/worst';
import type { Design } from '../../core/design';
import { inWords } from '../../core/problem';
import { jobs } from '../workers/pool';
import { longWork } from './longWork';

/**
 * A search of a design, as far as it has come. What it asks is answered by the workers, whose answers are kept: begun again after the page was
 * left, it is where it was in a moment.
 */
interface State {
  /** What was searched from, and what was asked */
  design?: Design;
  asked?: SearchAsked;
  found?: SearchFound;
  under: boolean;
  failed?: string;
}

export const useSearch = create<State>(() => ({ under: false }));
const { setState: set } = useSearch;
const work = longWork(set);

/** Designs of one question */
const AT_ONCE = 2;

export const searchActions = {
  begin: (design: Design, verdict: RegionVerdict, asked: SearchAsked): Promise<void> =>
    work.run(async (signal) => {
      const wrong = wrongSearch(design, asked);
      if (wrong) return set({ design, asked, found: undefined, failed: `${wrong.where === '' ? '' : `${wrong.where}: `}${inWords(wrong)}` });
      set({ design, asked, found: undefined, under: true, failed: undefined });
      const engine = jobs().at('asked', signal);
      const answer = async (q: { judge: number[][]; points: RegionVerdict['worst'][number]['at'][] } | { region: Design }): Promise<Answer> => {
        if ('region' in q) {
          const region = await engine.worstInRegion(q.region);
          if (!region.ok) throw new Error(region.problem.message);
          return region.value;
        }
        const pieces = Array.from({ length: Math.ceil(q.judge.length / AT_ONCE) }, (_, k) => q.judge.slice(k * AT_ONCE, (k + 1) * AT_ONCE));
        const { freedoms, aims } = asked;
        const tried = await Promise.all(pieces.map((shares) => engine.judgedFor(design, { freedoms, aims }, shares, q.points)));
        return tried.flat() satisfies Tried[];
      };
      const conversation = searching(design, asked, verdict);
      let said = conversation.next();
      while (!said.done) {
        set({ found: said.value.so });
        const told = await answer(said.value);
        if (signal.aborted) return;
        said = conversation.next(told);
      }
      set({ found: said.value });
    }),
  stop: work.stop,
};
