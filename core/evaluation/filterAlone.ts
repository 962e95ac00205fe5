import { billOf } from './bill';
import type { Design } from '../design/schema';
import { scale, size } from '../linear/complex';
import { ladderStep, type LadderStep } from '../noise/ladderStep';
import { through } from '../noise/network';
import { fail, ok, type Result } from '../problem';
import { bode, type BodeCurve } from '../response/margins';
import { logSpaced } from '../response/system';
import { laddersOf, STRAYS, straysOf } from './noise';
import { resistanceAt } from './settleStage';

/** A line filter by itself, with its strays, at 25 °C: what of a current drawn behind it comes from the line, and the impedance that is met from behind it. */
export interface FilterAlone {
  /** A of the line for each A drawn, in dB */
  through: BodeCurve;
  /** Ω looked at from the converter, in dB */
  impedance: BodeCurve;
  /** dB that it takes off at the frequency of the switching, strays and resistances counted */
  attenuation: number;
  /** Hz above which its strays let more through again: where it takes off most */
  best: number;
  /** What the line delivers after a step of what is drawn */
  step: LadderStep;
}

/** Points, and Hz of both ends over the switching frequency */
const [POINTS, LOWEST, HIGHEST] = [260, 1e-3, 300];
/** Ω of a stiff line: next to nothing */
const STIFF = 1e-6;

/** The filters before the line of a design, by themselves. Problem "front" where there are none. */
export function filterAlone(d: Design): Result<FilterAlone> {
  const bill = billOf(d);
  const { between } = laddersOf(bill, d, { ...STRAYS, ...straysOf(d.noise), edge: 0 }, (slot) => resistanceAt(d.parts[slot]!, 25));
  if (!between.some((s) => s.series)) return fail('front', 'branches', 'nothing stands before the line', 'hang a line filter');
  const { frequency: switching } = d.brief;
  const frequency = logSpaced(LOWEST * switching, Math.min(1e9, HIGHEST * switching), POINTS);
  const at = (f: number) => through(between, { re: STIFF, im: 0 }, f);
  const drawn = frequency.map((f) => scale(at(f).transfer, 1 / STIFF));
  const curve = bode(frequency, drawn);
  let least = 0;
  drawn.forEach((v, k) => size(v) < size(drawn[least]!) && (least = k));
  return ok({ through: curve, impedance: bode(frequency, frequency.map((f) => at(f).input)), attenuation: -20 * Math.log10(size(at(switching).transfer) / STIFF), best: frequency[least]!, step: ladderStep(between) });
}
