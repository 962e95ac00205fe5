import { amplifierNamed, innerKey, structureNamed, type Amplifier, type Corners, type Handle } from '../../../core/control';
import type { Design } from '../../../core/design';
import type { CompensatorFigures, WithLoop } from '../../../core/evaluation';
import type { Margins } from '../../../core/response/margins';

/** The loop of a cascade that is looked at, or the only one: its figures, and its corners by the keys of the design's control. */
export interface ShownLoop {
  which: 'inner' | 'outer';
  title: string;
  amplifier: Amplifier;
  figures: CompensatorFigures & Margins;
  handles: readonly Handle[];
  wanted: Corners;
  placed: Corners;
  /** Paths of what it is placed for */
  crossover: string;
  phaseMargin: string;
}

const rekeyed = (c: Corners): Corners => Object.fromEntries(Object.entries(c).map(([key, f]) => [innerKey(key), f]));

/** The loops of some figures, inner first. */
export function loopsShown({ control }: Design, { loop }: WithLoop): ShownLoop[] {
  const amplifier = amplifierNamed(control.amplifier)!;
  const outer: ShownLoop = { which: 'outer', title: loop.outer ? 'current' : 'output voltage', amplifier, figures: loop, handles: amplifier.handles, wanted: loop.wanted, placed: loop.placed, crossover: 'control.crossover', phaseMargin: 'control.phaseMargin' };
  const inside = structureNamed(control.method)!.inner;
  if (!inside || !loop.inner) return [outer];
  const own = amplifierNamed(inside.amplifier)!;
  return [
    { which: 'inner', title: loop.inner.title, amplifier: own, figures: loop.inner, handles: own.handles.map((h) => ({ ...h, key: innerKey(h.key) })), wanted: rekeyed(loop.inner.wanted), placed: rekeyed(loop.inner.placed), crossover: 'control.innerCrossover', phaseMargin: 'control.innerPhaseMargin' },
    outer,
  ];
}
