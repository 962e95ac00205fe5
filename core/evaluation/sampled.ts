import { COMMAND } from '../control/command';
import { continuous, controllerAt } from '../control/controller';
import { fixedPoint, inCounts, type FixedPoint, type InCounts } from '../control/fixedPoint';
import { resolutionOf } from '../control/resolution';
import type { Design } from '../design/schema';
import { degrees, over, phase, size } from '../linear/complex';
import { SmallSignal } from '../response/exact';
import type { Problem, Result } from '../problem';
import type { Compensator, LoopAsked } from './compensator';
import type { SampledFigures } from './figures';
import type { SettledStage } from './settleStage';

/** Share of the switching frequency that is as good as rest */
const REST = 1e-6;

/** The difference equation of a loop in counts: of the converter in, and out of the modulator, or of the converter where it sets an inner loop. */
export function countsOf({ control, brief: { frequency } }: Design, { sensed, held }: LoopAsked, { controller }: Compensator, innermost: boolean): InCounts {
  if (controller.kind !== 'sampled') throw new Error('a network counts nothing');
  const step = (control.converterRange as number) / 2 ** (control.converterBits as number);
  const division = sensed === 'output' ? held.output / held.reference : 1;
  return innermost
    ? inCounts(controller, step * division, control.ramp, 1 / (frequency * (control.modulatorStep as number)))
    : inCounts(controller, step * division, control.converterRange as number, 2 ** (control.converterBits as number));
}

/** A loop's controller in fixed point, as its design asks for it; what rounding does is told at its crossover. */
export function fixedOf(d: Design, counts: InCounts, crossover: number): Result<FixedPoint> {
  const { wordBits, fractionBits } = d.control;
  return fixedPoint(counts, wordBits as number, (2 * Math.PI * crossover) / d.brief.frequency, (fractionBits as number | null) ?? undefined);
}

/** What is to be said of a controller that samples: what that costs, its coefficients in words, and whether it sees and makes steps small enough. */
export function sampledFigures(d: Design, stage: SettledStage, asked: LoopAsked, compensator: Compensator, innermost: boolean): SampledFigures | undefined {
  const { controller } = compensator;
  if (controller.kind !== 'sampled') return undefined;
  const { crossover } = asked.control;
  const { numerator, denominator, period, phase: at, delay } = controller;
  const costs = degrees(phase(over(controllerAt(controller, crossover), controllerAt(continuous(compensator.continuous!), crossover))));
  const counts = countsOf(d, asked, compensator, innermost);
  const fixed = fixedOf(d, counts, crossover);
  const only = innermost && asked.sensed === 'output';
  return {
    numerator: [...numerator], denominator: [...denominator], period, phase: at, delay, costs, counts,
    ...(fixed.ok ? { fixed: fixed.value } : { problem: fixed.problem as Problem }),
    ...(asked.sensed === 'output'
      ? {
          resolution: resolutionOf({
            gain: size(new SmallSignal(stage.machine, stage.cycle).respond(COMMAND, [(p) => p.voltage(...stage.roles.outputs[0]!.nodes)], [REST * d.brief.frequency])[0]![0]!),
            division: asked.held.output / asked.held.reference, converterRange: d.control.converterRange as number, converterBits: d.control.converterBits as number, modulatorStep: d.control.modulatorStep as number, period,
            // C(s) is ωi/s at rest: ωi T in a sample.
            integral: only ? (2 * Math.PI * compensator.built.integrator! * period) / d.control.ramp : 0,
          }),
        }
      : {}),
  };
}
