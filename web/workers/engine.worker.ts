import { expose } from 'comlink';
import { cornerPoints, judge, report, type CornerReport } from '../../core/corners/corners';
import { mapRow, type MapCell } from '../../core/corners/map';
import { askedAs, candidateAt, changeBrief, chooseTopology, chosenAnew, frequencyAt, wishesOf, type By, type Candidate, type FrequencyChoice } from '../../core/choice';
import { firstLook, proposalOf, type Asked, type FirstLook, type Proposal } from '../../core/proposal';
import { type Design } from '../../core/design';
import { evaluate, type Figures } from '../../core/evaluation';
import { settleConverter, type Settled } from '../../core/converter/converter';
import { viewOf, type ConverterView } from '../../core/converter/view';
import { readConverter } from '../../core/interchange/circuitFile';
import { recent } from '../../core/recent';
import type { Part } from '../../core/parts/schema';
import { ok, type Result } from '../../core/problem';
import type { OperatingPoint } from '../../core/topology';
import { shelfWith } from '../state/ownShelf';

/** Circuits on their settled cycles, so that another element of them is looked at without settling again. */
const settled = recent<string, Result<Settled>>(4);

/** Held for as long as this worker lives, by its name, so that who waits for it learns that it does not any more. */
const held = new Promise<void>((alive) => {
  if (!navigator.locks) return alive();
  void navigator.locks.request(self.name, () => {
    alive();
    return new Promise<never>(() => undefined);
  });
});

/** The core behind a worker: the same functions, nothing added. */
const engine = {
  alive: (): Promise<void> => held,
  evaluate: (design: Design, point: OperatingPoint): Result<Figures> => evaluate(design, point, { detail: true }),
  corners: (design: Design): CornerReport => report(cornerPoints(design).map((p) => judge(design, p, evaluate(design, p, { detail: true })))),
  candidate: (design: Design, index: number, own: readonly Part[]): Candidate => candidateAt(design, index, shelfWith(own)),
  frequency: (design: Design, k: number, own: readonly Part[]): FrequencyChoice => frequencyAt(design, k, shelfWith(own)),
  changeBrief: (design: Design, changes: Partial<Design['brief']>, own: readonly Part[]): ReturnType<typeof changeBrief> => changeBrief(design, changes, shelfWith(own)),
  firstLook: (asked: Asked, index: number, own: readonly Part[]): FirstLook => firstLook(asked, index, shelfWith(own)),
  proposal: (asked: Asked, id: string, own: readonly Part[], name: string): Result<Proposal> => proposalOf(asked, id, shelfWith(own), name),
  takeFor: (design: Design, changes: Readonly<Record<string, unknown>>, id: string, own: readonly Part[]): Result<Design> => chooseTopology(askedAs(design, changes), id, shelfWith(own), wishesOf(design.requirements)),
  anew: (design: Design, own: readonly Part[], by: By, slot?: string): Result<Design> => chosenAnew(design, shelfWith(own), by, slot),
  circuit(text: string, selected?: string): Result<ConverterView> {
    const found = settled(text, () => {
      const read = readConverter(text);
      return read.ok ? settleConverter(read.value) : read;
    });
    return found.ok ? ok(viewOf(found.value, selected)) : found;
  },
  mapRow: (design: Design, load: number, lines: number[], air: number): MapCell[] => mapRow(design, load, lines, air),
};

export type Engine = typeof engine;
expose(engine);
