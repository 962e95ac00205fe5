import type { Design } from '../design/schema';
import { leakageOf, lossAt, sectionsOf, strandsOf, type Section } from '../magnetics/field';
import { turnResistance, type TransformerPart, type TransformerWinding } from '../parts/schema';
import { partLosses, type TransformerState } from '../loss';
import { windingsAcOf } from '../loss/copperAc';
import { fail, ok, type Result } from '../problem';
import { logSpaced } from '../response/system';
import type { OperatingPoint } from '../topology';
import { warmedAt } from './evaluate';
import { windingSpectrum, windowOf } from './windings';

/** How a transformer of a design is wound, what its copper costs at frequency, and what other strands and another order would. */

export interface WindingFigures {
  title: string;
  turns: number;
  /** Share of the window */
  share: number;
  /** Strands of a turn, and layers of them in all */
  perTurn: number;
  layers: number;
  /** Ω at dc and the temperature of the winding; A rms */
  resistance: number;
  rms: number;
  /** W at dc, and what is added at frequency */
  dc: number;
  ac: number;
}

/** Copper of the whole transformer with other strands or another order. */
export interface Other {
  strandDiameter: number;
  interfaces: number;
  copper: number;
}

export interface TransformerStudy {
  winding: TransformerWinding;
  /** The part says so itself; else it is what is usual */
  stated: boolean;
  windings: WindingFigures[];
  sections: Section[];
  /** W of all copper, and of the core; °C */
  copper: number;
  core: number;
  temperature: number;
  /** H a turn², by the field between the windings, and as the part states it */
  leakage: { estimated: number; stated: number };
  /** All copper over that at dc, with the currents of the switching frequency at each frequency */
  factors: { frequency: number; factor: number }[];
  frequency: number;
  /** Over the strands, ordered as they are; and over the order, with the strands that are */
  strands: Other[];
  orders: Other[];
}

/** Window twice as high as wide, strands of a tenth of a millimetre, one winding upon the other: what is usual where nothing is known. */
const usual = (part: TransformerPart): TransformerWinding => ({ windowHeight: Number(Math.sqrt(2 * part.windowArea).toPrecision(2)), strandDiameter: 1e-4, interfaces: 1, insulation: 1e-4 });

/** m: strands that bundles are made of. IEC 60317-0-1, every second of them */
const STRANDS = [0.03e-3, 0.04e-3, 0.05e-3, 0.071e-3, 0.1e-3, 0.14e-3, 0.2e-3, 0.28e-3, 0.4e-3, 0.56e-3, 0.8e-3];
/** Faces of primary and secondary that are tried */
const ORDERS = [1, 2, 3, 4];
const POINTS = 60;

/**
 * All that is said of a transformer's windings at a point.
 * @returns problems of the point; "part" where it is no transformer
 */
export function transformerStudy(d: Design, slot: string, point: OperatingPoint): Result<TransformerStudy> {
  const part = d.parts[slot];
  if (part?.kind !== 'transformer') return fail('part', slot, 'it is no transformer', 'choose one on the power path');
  const found = warmedAt(d, point);
  if (!found.ok) return found;
  const { standing, warm } = found.value;
  const { stage } = warm;
  const winding = part.winding ?? usual(part);
  const { topology, sizing } = standing.bill;
  const window = windowOf(topology, sizing, slot, { ...part, winding }, stage.roles.parts[slot]!.copper!);
  const spectrum = windingSpectrum(stage, slot);
  const temperature = stage.temperature(slot);
  const turn = turnResistance(part, temperature);
  const frequency = 1 / stage.cycle.period;
  const state: TransformerState = { ...(warm.states[slot] as TransformerState), wound: { window, spectrum, frequency, turn, temperature } };
  const dc = state.windings.map((w) => w.rms ** 2 * w.resistance);
  const alternating = acOf(state, winding);
  const copperAs = (w: TransformerWinding): number => [...dc, ...acOf(state, w)].reduce((a, b) => a + b, 0);
  const first = spectrum[0]!;
  const flat = first.reduce((sum, [re, im], i) => sum + (re * re + im * im) * state.windings[i]!.resistance, 0);
  const own = partLosses('transformer', state);
  return ok({
    winding,
    stated: part.winding !== undefined,
    windings: state.windings.map(({ title, rms, resistance }, i) => {
      const { perTurn, build, pitch } = strandsOf(window, i);
      return { title, turns: window.windings[i]!.turns, share: window.windings[i]!.share, perTurn, layers: Math.max(1, Math.round(build / pitch)), resistance, rms, dc: dc[i]!, ac: alternating[i]! };
    }),
    sections: sectionsOf(window.windings, winding.interfaces),
    copper: copperAs(winding),
    core: own.core!,
    temperature: warm.losses.find((l) => l.id === slot)!.temperature,
    leakage: { estimated: leakageOf(window, part.turnLength), stated: part.leakagePermeance },
    factors: flat > 0 ? logSpaced(1e3, 10e6, POINTS).map((f) => ({ frequency: f, factor: lossAt(window, first, f, turn, temperature).reduce((a, b) => a + b, 0) / flat })) : [],
    frequency,
    strands: STRANDS.map((strandDiameter) => ({ strandDiameter, interfaces: winding.interfaces, copper: copperAs({ ...winding, strandDiameter }) })),
    orders: ORDERS.map((interfaces) => ({ strandDiameter: winding.strandDiameter, interfaces, copper: copperAs({ ...winding, interfaces }) })),
  });
}

/** W of each winding that frequency adds, wound so. */
const acOf = (state: TransformerState, winding: TransformerWinding): number[] => {
  const each = windingsAcOf({ ...state, wound: { ...state.wound!, window: { ...state.wound!.window, winding } } });
  return state.windings.map((_, i) => each.reduce((sum, watts) => sum + watts[i]!, 0));
};
