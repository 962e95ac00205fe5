import type { Measures } from '../orbit/measure';
import type { Samples } from '../orbit/sample';
import type { Corners, DriveFigure, Network } from '../control';
import type { FixedPoint, InCounts } from '../control/fixedPoint';
import type { Resolution } from '../control/resolution';
import type { FlatStretch } from '../response/flat';
import type { BodeCurve, Margins } from '../response/margins';
import type { ThermalNodeState } from '../thermal/network';
import type { UnitName } from '../quantity';
import type { CurrentQuality } from '../surroundings/drawnCurrent';
import type { PartStress } from '../converter/stresses';
import type { Landmark, OperatingPoint, Sizing } from '../topology';
import type { Compared } from './measured';
import type { LoopPlace, PlaceId } from './places';
import type { PostFigures } from './postRegulator';
import type { FrontCurves, FrontFigures } from './front';
import type { Problem } from '../problem';
import type { Working } from '../working';

/** Everything known of a design at one operating point. Plain data: crosses to and from workers as it is. */
export interface Figures {
  point: OperatingPoint;
  sizing: Sizing;
  cycle: CycleFigures;
  /** Where the line is the mains */
  mains?: MainsFigures;
  /** The most that any of its runs uses of what is required of it, where that has been held: 1 at the limit */
  pinned?: number;
  /** What is drawn from the mains by the whole circuit, where that has been settled */
  quality?: Pick<CurrentQuality, 'powerFactor' | 'distortion' | 'tightest'>;
  /** dB that its conducted noise is below both limits at least, where that is required */
  noise?: number;
  /** Where a linear regulator stands behind it */
  post?: PostFigures;
  /** Left out where no compensator can be placed or built: `problems` says why */
  loop?: LoopFigures;
  losses: LossFigures;
  heat: HeatFigures;
  duties: Record<string, PartStress>;
  stresses: Stress[];
  /** What is missing of the figures, and why; the others stand */
  problems: { loop?: Problem; heat?: Problem };
  /** Only when asked for: what is drawn and explained */
  detail?: Detail;
}

export interface CycleFigures {
  duty: number;
  conduction: 'continuous' | 'discontinuous';
  period: number;
  /** Largest inductor ripple, peak to peak, as a share of its largest mean at full load */
  rippleShare: number;
  /** Largest |x(T) − x(0)|, relative */
  closure: number;
  /** Largest size of a multiplier of the open-loop cycle */
  multiplier: number;
  signals: Record<string, Measures>;
  /** V peak to peak of the output: over the period, or over the mains where that is the line */
  outputRipple: number;
  /** x(0), to continue from at a neighbouring point */
  start: number[];
}

/** What the mains gives. */
export interface MainsFigures {
  /** A, crest of the current drawn */
  crest: number;
  /** A rms that the mains gives */
  rms: number;
  /** rad: where `cycle` and the loop are seen */
  seen: number;
  /** s that the output takes from its lowest to what it may sink to, once the mains is gone */
  holdUp: number;
  /** A at the peak, switched on empty at the crest of the highest line, which is stiff; where the reservoir is charged with the gates still */
  inrush?: number;
}

/** What is drawn and what the output does over half a cycle of the mains, for drawing. */
export interface MainsCurves {
  /** rad from the zero crossing to π */
  angle: number[];
  /** A: mean, least and largest of the inductor's current within a switching period */
  drawn: number[];
  least: number[];
  largest: number[];
  duty: number[];
  /** V of the output less its mean */
  output: number[];
}

/** What is known of the power stage by itself. */
export type StageFigures = Omit<Figures, 'loop' | 'detail'>;

/** Figures with a loop. */
export type WithLoop = Figures & { loop: LoopFigures };

/** A compensator: Hz of each corner as placement gives it, as wanted after overrides, and as it is built. */
export interface CompensatorFigures {
  placed: Corners;
  wanted: Corners;
  built: Corners;
  network: Network;
  /** Why it has less of the margin than was asked */
  short?: Problem;
  /** Where it samples */
  sampled?: SampledFigures;
}

/** A difference equation: its coefficients in powers of z⁻¹, s of its period, the share of it at which it samples, s to its output. */
export interface SampledFigures {
  numerator: number[];
  denominator: number[];
  period: number;
  phase: number;
  delay: number;
  /** ° at the wanted crossover, against what it stands for: sampling, computing, holding */
  costs: number;
  /** Of the converter in, of the modulator (or of an inner loop's reference) out; in words of so many bits, or why not */
  counts: InCounts;
  fixed?: FixedPoint;
  problem?: Problem;
  /** Of a loop that holds the output */
  resolution?: Resolution;
}

/** ° of phase that something takes at the crossover, and what would give some of it back. */
export interface PhaseShare {
  title: string;
  degrees: number;
  remedy: string;
}

/** A mode of the closed circuit: Hz, damping, size of its multiplier, and what moves in it. */
export interface LoopModeFigures {
  frequency: number;
  damping: number;
  multiplier: number;
  of: string;
}

/** The loop inside of a cascade, what the outer one commands standing still. */
export interface InnerLoopFigures extends Margins, CompensatorFigures {
  title: string;
  /** How many times higher it crosses than the outer one, and whether that is enough for it to follow what that asks */
  apart: number;
  follows: boolean;
  /** V per A that it senses by */
  senseGain: number;
  /** Hz and degrees that it is placed for */
  asked: { crossover: number; phaseMargin: number };
}

export interface LoopFigures extends Margins, CompensatorFigures {
  stable: boolean;
  /** What takes its phase at the crossover, most first */
  shares: PhaseShare[];
  /** How the closed circuit comes back to its cycle, slowest first */
  modes: LoopModeFigures[];
  /** Where its phase is flattest, with curves */
  flat?: FlatStretch;
  /** Where the gain of its amplifier spreads: by which share either way, and the margins at its least and at its most */
  spread?: { share: number; least: Margins; most: Margins };
  inner?: InnerLoopFigures;
  /** What its way of driving comes with */
  drive: readonly DriveFigure[];
  /** What is to be said where the cycle is lost with its loop open, whatever the loop does */
  lost?: string;
  /** On the mains: the loop above is that of the current, and this one sets it */
  outer?: { crossover: number; phaseMargin: number; senseResistance: number };
  landmarks: Landmark[];
  /** V, largest after the load step of the brief, and s until it is back within a tenth of that */
  deviation: number;
  recovery: number;
  /** By what that was found: the period map, linearised; a run of the circuit in time; on the mains the slow voltage loop */
  answeredBy: 'linearised' | 'in time' | 'voltage loop';
  /** After the line step of the brief, where it has one: V that the line steps by, V and s as above */
  line?: { step: number; deviation: number; recovery: number };
  /** After a step of the reference; with curves, and not of a current drawn from the mains */
  reference?: ReferenceStep;
  /** dB that the loop gain has at least up to the frequency that the brief names, and the Hz of it */
  lowGain?: { gain: number; at: number };
  /** The share of its mask that the output impedance takes at most, and the Hz and Ω there */
  impedance?: { share: number; at: number; impedance: number };
  /** Where the line is not stiff: its impedance, with its filter, against that of the converter */
  front?: FrontFigures;
  /** Where it can be broken; where it stands broken elsewhere, what is read there */
  places: LoopPlace[];
  place?: { id: PlaceId } & Margins;
}

/** What the output does after a step of its reference: V of the step, share of it gone beyond, s from a tenth to nine, s until it stays within a tenth. */
export interface ReferenceStep {
  change: number;
  overshoot: number;
  rise: number;
  settles: number;
  answeredBy: 'linearised' | 'in time';
}

export interface LossFigures {
  /** W */
  output: number;
  input: number;
  total: number;
  efficiency: number;
  parts: PartLoss[];
}

export interface PartLoss {
  id: string;
  total: number;
  /** W by mechanism */
  mechanisms: Record<string, number>;
  /** °C where the losses enter; the air's for parts without a step table */
  temperature: number;
}

export interface HeatFigures {
  /** None where heat and resistance drive each other up: losses and stresses are those of the cold stage then */
  rungs: ThermalNodeState[];
  iterations: number;
}

export interface Stress {
  slot: string;
  id: string;
  title: string;
  unit: UnitName;
  value: number;
  rating: number;
}

export interface Detail {
  waves: Samples & { ids: string[]; units: ('V' | 'A')[] };
  mains?: MainsCurves;
  bode?: { plant: BodeCurve; averaged?: BodeCurve; compensator: BodeCurve; continuous?: BodeCurve; loop: BodeCurve; inner?: BodeCurve; outputImpedance?: BodeCurve; lineRejection?: BodeCurve; inputImpedance?: BodeCurve; front?: FrontCurves; place?: BodeCurve };
  /** Responses measured on the bench, laid over those */
  measured?: Compared[];
  step?: { time: number[]; value: number[] };
  /** After the line step of the brief, where it has one */
  lineStep?: { time: number[]; value: number[] };
  /** After a step of the reference: V that the output has gone */
  referenceStep?: { time: number[]; value: number[] };
  balance: { input: number; output: number; dissipated: number; residual: number };
  /** By "place/mechanism", and "loop/…" */
  workings: Record<string, Working>;
}
