import { decibels, degrees, over, phase, scale, size, type Complex } from '../linear/complex';
import type { Quantity } from '../orbit/measure';
import { leastAlong } from '../response/along';
import { bode, type BodeCurve } from '../response/margins';
import { SmallSignal } from '../response/exact';
import { refined, resonancesOf } from '../response/refine';
import { logSpaced } from '../response/system';
import type { ClosedStage } from './closed';
import type { SettledStage } from './settleStage';

/**
 * Two impedances that meet at a converter's input: that of the line with its filter, looking back, and that of the closed converter, looking
 * in. Both are read of one signal in series between them on the settled cycle, so nothing is averaged. Their ratio T = Zo/Zi is a loop gain:
 * the two together are stable where it does not go round −1, and for certain where it stays below one (the input filter criterion).
 * Source: Middlebrook, "Input filter considerations in design and application of switching regulators", IEEE IAS Annual Meeting (1976).
 */
export interface FrontFigures {
  /** dB that the converter's impedance is above the filter's where they are closest; the Hz, and Ω of both there */
  margin: number;
  at: number;
  filter: number;
  converter: number;
  /** ° between them there: at 180 they ring against one another */
  angle: number;
  /** |1 + T| where it is least, and the Hz: how far from ringing for ever */
  distance: number;
  distanceAt: number;
  /** Does T go round −1: unstable, where each is stable by itself */
  circles: boolean;
}

export interface FrontCurves {
  filter: BodeCurve;
  converter: BodeCurve;
}

/** Points of the grid before it is refined, drawn and only read; Hz from which it goes, as a share of the switching frequency, and to which */
const [DRAWN, READ, LOWEST, HIGHEST] = [120, 48, 1e-4, 0.499];

const minusOne = (t: Complex): number => Math.hypot(1 + t.re, t.im);

/** The impedances on both sides of a place at frequencies (Hz), exact on the closed cycle. @param feeds the source of 0 V between them */
export function impedancesAt({ circuit, machine, cycle }: ClosedStage, feeds: string): (frequency: readonly number[]) => { filter: Complex[]; converter: Complex[] } {
  const e = circuit.elements.find((x) => x.id === feeds);
  if (!e || !('a' in e)) throw new Error(`no source ${feeds}`);
  const before: Quantity = (p) => p.voltage(e.a);
  const into: Quantity = (p) => p.current(feeds);
  const respond = new SmallSignal(machine, cycle).responder(feeds, [before, into]);
  return (frequency) => {
    const [v, i] = respond(frequency) as [Complex[], Complex[]];
    // One volt stands across the source: what arrives is what goes on plus that.
    return { filter: v.map((x, k) => scale(over(x, i[k]!), -1)), converter: v.map((x, k) => over({ re: x.re - 1, im: x.im }, i[k]!)) };
  };
}

/**
 * How the two impedances at a closed stage's input stand to one another; nothing where the line is stiff.
 * @param withCurves with what is drawn
 */
export function frontOf(stage: SettledStage, closed: ClosedStage, withCurves: boolean): { figures: FrontFigures; curves?: FrontCurves } | undefined {
  const { front } = stage.roles;
  if (!front) return undefined;
  const at = impedancesAt(closed, front.feeds);
  const ratioAt = (frequency: readonly number[]): Complex[] => {
    const { filter, converter } = at(frequency);
    return filter.map((z, k) => over(z, converter[k]!));
  };
  const ratio = (f: number): Complex => ratioAt([f])[0]!;
  const switching = 1 / stage.cycle.period;
  const { frequency, response } = refined(logSpaced(LOWEST * switching, HIGHEST * switching, withCurves ? DRAWN : READ), ratioAt, [...resonancesOf(stage.cycle), ...resonancesOf(closed.cycle)]);
  const closest = leastAlong(frequency, response.map((t) => -size(t)), (f) => -size(ratio(f)));
  const distance = leastAlong(frequency, response.map(minusOne), (f) => minusOne(ratio(f)));
  const there = at([closest.at]);
  const [filter, converter] = [there.filter[0]!, there.converter[0]!];
  const figures: FrontFigures = {
    margin: -decibels(-closest.value), at: closest.at, filter: size(filter), converter: size(converter), angle: Math.abs(degrees(phase(over(filter, converter)))),
    distance: distance.value, distanceAt: distance.at, circles: goesRound(response),
  };
  if (!withCurves) return { figures };
  const both = at(frequency);
  return { figures, curves: { filter: bode(frequency, both.filter), converter: bode(frequency, both.converter) } };
}

/** Half turns of 1 + T from the lowest frequency to half that of switching, where it is real again: any are a pole beyond the edge. */
function goesRound(response: readonly Complex[]): boolean {
  let turned = 0;
  for (let k = 1; k < response.length; k++) {
    const [a, b] = [response[k - 1]!, response[k]!];
    const step = over({ re: 1 + b.re, im: b.im }, { re: 1 + a.re, im: a.im });
    turned += Math.atan2(step.im, step.re);
  }
  return Math.abs(turned) > Math.PI / 2;
}
