import { COMMAND } from '../control/command';
import { continuous, controllerAt } from '../control/controller';
import { fixedPoint, inCounts, type FixedPoint, type InCounts } from '../control/fixedPoint';
import { resolutionOf } from '../control/resolution';
import type { Design } from '../design/schema';
import { degrees, over, phase, size } from '../linear/complex';
import { SmallSignal } from '../response/exact';
import type { Problem, Result } from '../problem';
import type { LoopAsked } from './compensator';
import type { SampledFigures } from './figures';
import type { Compensator } from './placing';
import type { SettledStage } from './settleStage';

/** Share of the switching frequency that is as good as rest */
const REST = 1e-6;

/** Of a design what a controller that samples goes by */
type Clocked = Pick<Design, 'control'> & { brief: Pick<Design['brief'], 'frequency'> };

/** The difference equation of a loop in counts: of the converter in, and out of the modulator, or of the converter where it sets an inner loop. */
export function countsOf({ control, brief: { frequency } }: Clocked, { sensed, held }: Pick<LoopAsked, 'sensed' | 'held'>, { controller }: Compensator, innermost: boolean): InCounts {
  if (controller.kind !== 'sampled') throw new Error('a network counts nothing');
  const step = (control.converterRange as number) / 2 ** (control.converterBits as number);
  const division = sensed === 'output' ? held.output / held.reference : 1;
  return innermost
    ? inCounts(controller, step * division, control.ramp, 1 / (frequency * (control.modulatorStep as number)))
    : inCounts(controller, step * division, control.converterRange as number, 2 ** (control.converterBits as number));
}

/** A loop's controller in fixed point, as its design asks for it; what rounding does is told at its crossover. */
export function fixedOf(d: Clocked, counts: InCounts, crossover: number): Result<FixedPoint> {
  const { wordBits, fractionBits } = d.control;
  return fixedPoint(counts, wordBits as number, (2 * Math.PI * crossover) / d.brief.frequency, (fractionBits as number | null) ?? undefined);
}

/** A controller that samples, by itself: what that costs, its coefficients and those in words. */
export function equationOf(d: Clocked, asked: Pick<LoopAsked, 'sensed' | 'held' | 'control'>, compensator: Compensator, innermost: boolean): SampledFigures | undefined {
  const { controller } = compensator;
  if (controller.kind !== 'sampled') return undefined;
  const { crossover } = asked.control;
  const { numerator, denominator, period, phase: at, delay } = controller;
  const costs = degrees(phase(over(controllerAt(controller, crossover), controllerAt(continuous(compensator.continuous!), crossover))));
  const counts = countsOf(d, asked, compensator, innermost);
  const fixed = fixedOf(d, counts, crossover);
  return { numerator: [...numerator], denominator: [...denominator], period, phase: at, delay, costs, counts, ...(fixed.ok ? { fixed: fixed.value } : { problem: fixed.problem as Problem }) };
}

/** The same, and whether it sees and makes steps small enough. */
export function sampledFigures(d: Design, stage: SettledStage, asked: LoopAsked, compensator: Compensator, innermost: boolean): SampledFigures | undefined {
  const equation = equationOf(d, asked, compensator, innermost);
  if (!equation || asked.sensed !== 'output') return equation;
  const { period } = equation;
  return {
    ...equation,
    resolution: resolutionOf({
      gain: size(new SmallSignal(stage.machine, stage.cycle).respond(COMMAND, [(p) => p.voltage(...stage.roles.outputs[0]!.nodes)], [REST * d.brief.frequency])[0]![0]!),
      division: asked.held.output / asked.held.reference, converterRange: d.control.converterRange as number, converterBits: d.control.converterBits as number, modulatorStep: d.control.modulatorStep as number, period,
      // C(s) is ωi/s at rest: ωi T in a sample.
      integral: innermost ? (2 * Math.PI * compensator.built.integrator! * period) / d.control.ramp : 0,
    }),
  };
}
