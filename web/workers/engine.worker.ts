import { expose } from 'comlink';
import { cornerPoints, judge, report, type CornerReport } from '../../core/corners/corners';
import { mapRow, type MapCell } from '../../core/corners/map';
import { candidateAt, changeBrief, evaluate, frequencyAt, type Candidate, type Design, type Figures, type FrequencyChoice } from '../../core/design';
import type { Part } from '../../core/parts/schema';
import type { Result } from '../../core/problem';
import type { OperatingPoint } from '../../core/topology';
import { shelfWith } from '../state/ownShelf';

/** The core behind a worker: the same functions, nothing added. */
const engine = {
  evaluate: (design: Design, point: OperatingPoint): Result<Figures> => evaluate(design, point, { detail: true }),
  corners: (design: Design): CornerReport => report(cornerPoints(design).map((p) => judge(design, p, evaluate(design, p, { detail: true })))),
  candidate: (design: Design, index: number, own: readonly Part[]): Candidate => candidateAt(design, index, shelfWith(own)),
  frequency: (design: Design, k: number, own: readonly Part[]): FrequencyChoice => frequencyAt(design, k, shelfWith(own)),
  changeBrief: (design: Design, changes: Partial<Design['brief']>, own: readonly Part[]): ReturnType<typeof changeBrief> => changeBrief(design, changes, shelfWith(own)),
  mapRow: (design: Design, load: number, lines: number[], air: number): MapCell[] => mapRow(design, load, lines, air),
};

export type Engine = typeof engine;
expose(engine);
