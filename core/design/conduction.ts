import type { Forecast, OperatingPoint, SizingInput, Topology } from '../topology';

/** How the inductor's current runs at the smallest load and a line. */
export interface LightLoad {
  line: number;
  mode: Forecast['mode'];
}

/** Conduction at the smallest load, at both ends of the line and its middle. */
export function atLightLoad(t: Topology, input: SizingInput): LightLoad[] {
  const { line, load } = input.brief;
  const sizing = t.size(input);
  return [line.min, (line.min + line.max) / 2, line.max].map((v) => ({ line: v, mode: t.forecast(input, sizing, { line: v, load: load.min } satisfies Pick<OperatingPoint, 'line' | 'load'>).mode }));
}

/** Halvings of the logarithm of the ripple share: to a fifth of a percent */
const ROUNDS = 12;
/** Ripple shares that are tried */
const LEAST = 0.01;
const MOST = 2;

/**
 * The sizing input with the ripple share that brings the conduction which the brief wants at the smallest load: less ripple than
 * asked for where it shall be continuous, more where it shall be discontinuous; as near to what was asked for as that
 * goes. As it is where nothing is wanted, where all is well, and where no ripple brings it (the verdict tells then).
 */
export function withConduction(t: Topology, input: SizingInput): SizingInput {
  const wanted = input.brief.lightLoad;
  if (wanted === undefined) return input;
  const asked = input.brief.rippleShare;
  const of = (rippleShare: number): SizingInput => ({ ...input, brief: { ...input.brief, rippleShare } });
  const holds = (share: number): boolean => atLightLoad(t, of(share)).every((l) => l.mode === wanted);
  const far = wanted === 'continuous' ? LEAST : MOST;
  if (holds(asked) || !holds(far)) return input;
  let [bad, good] = [asked, far];
  for (let round = 0; round < ROUNDS; round++) {
    const middle = Math.sqrt(bad * good);
    if (holds(middle)) good = middle;
    else bad = middle;
  }
  return of(Number(good.toPrecision(3)));
}
