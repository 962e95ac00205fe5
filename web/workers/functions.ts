import { cornerPoints, judge, type Corner } from '../../core/corners/corners';
import { mapRow, type MapCell } from '../../core/corners/map';
import { mainsStudy } from '../../core/schedule/mainsQuality';
import { conductedNoise, type NoiseStudy } from '../../core/evaluation/noise';
import { tuneMains, type Tuning } from '../../core/evaluation/tuneMains';
import { underProfile, type Profile, type Under } from '../../core/evaluation/profile';
import { deratingOf, type Derating } from '../../core/evaluation/derating';
import { warmingOf, type Warming } from '../../core/evaluation/warming';
import { pulseStudy, type PulseStudy } from '../../core/evaluation/pulses';
import { edgeStudy, type EdgeStudy } from '../../core/evaluation/edges';
import { transformerStudy, type TransformerStudy } from '../../core/evaluation/transformer';
import { windingStudy, type WindingStudy } from '../../core/evaluation/winding';
import type { Goods } from '../../core/parts/goods';
import { tradeOf, type Choice, type Trade } from '../../core/corners/trade';
import { lossRow, type Across, type LossCell } from '../../core/corners/lossMap';
import { cureOf, movesOf, type Cure, type Moved } from '../../core/corners/moves';
import { spotsAt, type Over, type Spot } from '../../core/corners/field';
import { faultAt, type Fault, type FaultFound } from '../../core/corners/faults';
import { freedomsOffered, type Offered } from '../../core/corners/freedoms';
import { judged, type SearchAsked, type Tried } from '../../core/corners/search';
import { drawn, drawnDesign, tolerancesOf, type Draw, type Tolerance } from '../../core/corners/spread';
import { worstCase, type WorstCase } from '../../core/corners/worstCase';
import { worstInRegion, type RegionVerdict } from '../../core/corners/worst';
import { liftWorst, placeForRegion, type Lift, type RegionPlacement } from '../../core/corners/region';
import { askedAs, candidateAt, changeBrief, chooseTopology, chosenAnew, frequencyAt, secondStages, wishesOf, type Behind, type By, type StageOffer, type Candidate, type FrequencyChoice } from '../../core/choice';
import { firstLook, proposalOf, type Asked, type FirstLook, type Proposal } from '../../core/proposal';
import type { Design, RequirementId } from '../../core/design';
import { evaluate, fitPlant, injectedLoop, proveOnConverter, type Figures, type Fit, type InjectedLoop, type PlaceId, type Proof } from '../../core/evaluation';
import { settleConverter, type Settled } from '../../core/converter/converter';
import { viewOf, type ConverterView } from '../../core/converter/view';
import { readConverter } from '../../core/interchange/circuitFile';
import { beginRun, harmonicsAt, movesAt, recordStretch, startUp, stretchEnds, type Ending, type Running, type Schedule, type StartUp, type Stretch } from '../../core/schedule';
import type { Points } from '../../core/recording';
import { averagedRun, type Averaged } from '../../core/averaged';
import { recent } from '../../core/recent';
import type { Part, SwitchPart } from '../../core/parts/schema';
import { sweepOne } from '../../core/sweep';
import { fail, ok, type Result } from '../../core/problem';
import type { OperatingPoint } from '../../core/topology';
import { shelfWith } from '../state/ownShelf';

/** Circuits on their settled cycles, so that another element of them is looked at without settling again. */
const settled = recent<string, Result<Settled>>(4);

/** Runs made ready, so that a stretch goes on where the last has ended. */
const begun = recent<string, Result<Running>>(4);
const ready = (design: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<Running> => begun(JSON.stringify([design, point, schedule, wanted]), () => beginRun(design, point, schedule, wanted));

/** What is known of a run besides its points. */
type About = Pick<Running, 'traces' | 'offered' | 'nodes' | 'devices' | 'period'>;
const aboutOf = ({ traces, offered, nodes, devices, period }: Running): About => ({ traces, offered, nodes, devices, period });

/** The core's functions of a design: the same, nothing added. */
export const ofDesign = {
  evaluate: (design: Design, point: OperatingPoint, place?: PlaceId): Result<Figures> => evaluate(design, point, { detail: true, ...(place ? { place } : {}) }),
  judge: (design: Design, point: OperatingPoint): Corner => judge(design, point, evaluate(design, point, { detail: true })),
  /** A cycle of the mains of the whole circuit. */
  mainsStudy: (design: Design, point: OperatingPoint): ReturnType<typeof mainsStudy> => mainsStudy(design, point),
  /** What a second L-C stage would cost and give. */
  secondStages: (design: Design, own: readonly Part[], kind: Behind): Result<StageOffer> => secondStages(design, shelfWith(own), kind),
  /** Conducted noise as a receiver would read it. */
  conductedNoise: (design: Design, point: OperatingPoint): Result<NoiseStudy> => conductedNoise(design, point),
  /** A cascade on the mains, tuned. */
  tuneMains: (design: Design, point: OperatingPoint): Result<Tuning> => tuneMains(design, point),
  /** Temperatures under a load profile. */
  underProfile: (design: Design, point: OperatingPoint, profile: Profile): Result<Under> => underProfile(design, point, profile),
  /** How much of a load is allowed in which air. */
  derating: (design: Design, line: number): Derating => deratingOf(design, line),
  /** How a design warms up at a point. */
  warming: (design: Design, point: OperatingPoint): Result<Warming> => warmingOf(design, point),
  /** A junction by time: pulses, what it swings by, where it would run away. */
  pulseStudy: (design: Design, slot: string, point: OperatingPoint): Result<PulseStudy> => pulseStudy(design, slot, point),
  /** The edges of a switch, by its charges and by a table, its own or one that is only looked at. */
  edgeStudy: (design: Design, slot: string, point: OperatingPoint, part?: SwitchPart): Result<EdgeStudy> => edgeStudy(design, slot, point, part),
  /** How an inductor or a transformer is wound, and what would do better. */
  transformerStudy: (design: Design, slot: string, point: OperatingPoint): Result<TransformerStudy> => transformerStudy(design, slot, point),
  windingStudy: (design: Design, slot: string, point: OperatingPoint, goods: readonly Goods[]): Result<WindingStudy> => windingStudy(design, slot, point, goods, cornerPoints(design)),
  /** Losses at one load over lines or outputs. */
  lossRow: (design: Design, across: Across, load: number, x: number[], point: OperatingPoint): LossCell[] => lossRow(design, across, load, x, point),
  /** What a choice costs over what may be chosen. */
  tradeOf: (design: Design, choice: Choice, point: OperatingPoint, own: readonly Part[]): Result<Trade> => tradeOf(design, choice, point, shelfWith(own)),
  mapRow: (design: Design, load: number, lines: number[], air: number): MapCell[] => mapRow(design, load, lines, air),
  /** What every value of a design may be off by; a draw as a design by itself. */
  tolerancesOf: (design: Design): Result<Tolerance[]> => ok(tolerancesOf(design)),
  drawnDesign: (design: Design, tolerances: readonly Tolerance[], off: readonly number[]): Result<Design> => drawnDesign(design, tolerances, off),
  /** Some draws of a design as its parts come, from one on. */
  drawnFrom: (design: Design, seed: number, from: number, count: number, points: readonly OperatingPoint[]): Draw[] => {
    const tolerances = tolerancesOf(design);
    return Array.from({ length: count }, (_, k) => drawn(design, tolerances, seed, from + k, points));
  },
  /** Every measure of a design at some places of two ranges. */
  spotsAt: (design: Design, axes: readonly [Over, Over], at: OperatingPoint, places: readonly (readonly [number, number])[]): Spot[] => spotsAt(design, axes, at, places),
  /** What a search may change of a design. */
  freedomsOffered: (design: Design, own: readonly Part[]): Result<Offered[]> => ok(freedomsOffered(design, shelfWith(own))),
  /** Some designs of a search, judged. */
  judgedFor: (design: Design, asked: Pick<SearchAsked, 'freedoms' | 'aims'>, shares: number[][], points: readonly OperatingPoint[]): Tried[] => shares.map((s) => judged(design, asked, s, points)),
  /** A fault, run from a point. */
  faultAt: (design: Design, point: OperatingPoint, fault: Fault): FaultFound => faultAt(design, point, fault),
  /** A requirement at a point with all values at their worst. */
  worstCase: (design: Design, id: RequirementId, point: OperatingPoint): Result<WorstCase> => {
    const found = worstCase(design, tolerancesOf(design), id, point);
    return found ? ok(found) : fail('figures', id, 'it has no figure at this point', 'look at what the corner says');
  },
  /** The worst point of every requirement in the whole region. */
  worstInRegion: (design: Design): Result<RegionVerdict> => ok(worstInRegion(design)),
  /** What moves a requirement at a point, and what would make it hold. */
  movesOf: (design: Design, id: RequirementId, point: OperatingPoint): Result<{ moved: Moved; cure?: Cure }> => {
    const moved = movesOf(design, id, point);
    if (!moved) return fail('figures', id, 'it has no figure at this point', 'look at what the corner says');
    const cure = cureOf(design, moved, point);
    return ok({ moved, ...(cure ? { cure } : {}) });
  },
  placeForRegion: (design: Design): Result<RegionPlacement> => placeForRegion(design),
  fit: (design: Design, title: string, point: OperatingPoint): Result<Fit> => fitPlant(design, design.measured!.find((m) => m.title === title)!, point),
  inject: (design: Design, point: OperatingPoint, frequency: number): Result<InjectedLoop[]> => injectedLoop(design, point, [frequency]),
  /** A stretch of a run through a schedule: from its beginning, or from where the last has ended. */
  runStretch(design: Design, point: OperatingPoint, schedule: Schedule, wanted: readonly string[] | undefined, until: number, from?: Ending): Result<Stretch & About> {
    const run = ready(design, point, schedule, wanted);
    if (!run.ok) return run;
    const stretch = recordStretch(run.value, from ?? run.value.begin, until);
    return stretch.ok ? ok({ ...stretch.value, ...aboutOf(run.value) }) : stretch;
  },
  /** All of it at once. */
  wholeRun(design: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<About & { stretches: Points[] }> {
    const run = ready(design, point, schedule, wanted);
    if (!run.ok) return run;
    const stretches: Points[] = [];
    let { begin: end } = run.value;
    for (const until of stretchEnds(schedule, design.brief.frequency)) {
      const stretch = recordStretch(run.value, end, until);
      if (!stretch.ok) return stretch;
      const { end: reached, ...points } = stretch.value;
      stretches.push(points);
      end = reached;
    }
    return ok({ ...aboutOf(run.value), stretches });
  },
  /** All of a schedule, averaged over the switching period. */
  averagedRun(design: Design, point: OperatingPoint, schedule: Schedule, wanted?: readonly string[]): Result<Omit<Averaged, 'record'>> {
    const found = averagedRun(design, point, schedule, wanted);
    if (!found.ok) return found;
    const { record: _, ...sent } = found.value;
    return ok(sent);
  },
  /** Exact harmonics of a trace over the settled cycle. */
  harmonicsAt: (design: Design, point: OperatingPoint, trace: string, count: number): ReturnType<typeof harmonicsAt> => harmonicsAt(design, point, trace, count),
  /** A run of a sweep. */
  sweepOne: (design: Design, point: OperatingPoint, axes: Parameters<typeof sweepOne>[2], k: number, options: Parameters<typeof sweepOne>[4]): ReturnType<typeof sweepOne> => sweepOne(design, point, axes, k, options),
  /** Whether a run has come to rest where it has ended. */
  movesAt(design: Design, point: OperatingPoint, schedule: Schedule, wanted: readonly string[] | undefined, end: Ending): ReturnType<typeof movesAt> {
    const run = ready(design, point, schedule, wanted);
    return run.ok ? movesAt(run.value, schedule, end) : run;
  },
  startUp: (design: Design, point: OperatingPoint): Result<StartUp> => startUp(design, point),
  prove: (design: Design, point: OperatingPoint): Result<Proof> => proveOnConverter(design, point),
  liftWorst: (design: Design): Lift | undefined => liftWorst(design),
  candidate: (design: Design, index: number, own: readonly Part[]): Candidate => candidateAt(design, index, shelfWith(own)),
  frequency: (design: Design, k: number, own: readonly Part[]): FrequencyChoice => frequencyAt(design, k, shelfWith(own)),
  changeBrief: (design: Design, changes: Partial<Design['brief']>, own: readonly Part[]): ReturnType<typeof changeBrief> => changeBrief(design, changes, shelfWith(own)),
  takeFor: (design: Design, changes: Readonly<Record<string, unknown>>, id: string, own: readonly Part[]): Result<Design> => chooseTopology(askedAs(design, changes), id, shelfWith(own), wishesOf(design.requirements)),
  anew: (design: Design, own: readonly Part[], by: By, slot?: string): Result<Design> => chosenAnew(design, shelfWith(own), by, slot),
};

/** And those of something else. */
export const others = {
  firstLook: (asked: Asked, index: number, own: readonly Part[]): FirstLook => firstLook(asked, index, shelfWith(own)),
  proposal: (asked: Asked, id: string, own: readonly Part[], name: string): Result<Proposal> => proposalOf(asked, id, shelfWith(own), name),
  circuit(text: string, selected?: string): Result<ConverterView> {
    const found = settled(text, () => {
      const read = readConverter(text);
      return read.ok ? settleConverter(read.value) : read;
    });
    return found.ok ? ok(viewOf(found.value, selected)) : found;
  },
};

type Functions = typeof ofDesign & typeof others;
/** The core, asked from afar. */
export type Engine = { [M in keyof Functions]: (...args: Parameters<Functions[M]>) => Promise<ReturnType<Functions[M]>> };

