/**
 * Steps that a sampled loop can not see or make, told at the output, and whether they make it wander for ever between them.
 * Source: Peterchev, Sanders, "Quantization resolution and limit cycling in digitally controlled PWM converters", IEEE Trans. Power
 * Electronics 18 (2003), p. 301: none where a step of the modulator moves the output by less than a step of the converter,
 * and the integrator moves it by no more than that in a sample.
 */
export interface Resolution {
  /** V of the output that a step of the converter is, and that a step of the modulator makes */
  converterStep: number;
  outputStep: number;
  /** Share of the converter's step that the integrator moves the output by, for an error of one step, in a sample */
  integral: number;
  /** Does it wander? By which of the two */
  cycles: 'modulator' | 'integral' | undefined;
  /** s: a step of the modulator that would not, by a tenth */
  modulatorStep: number;
  /** Bits of the modulator over a period: as it is, and that this takes */
  bits: { has: number; wants: number };
}

/** Share of the largest step that would do */
const FINER = 0.9;

/**
 * @param gain V of the output per unit of duty, at rest
 * @param division V of the output per V at the converter
 * @param integral units of duty per V of the output that the integrator adds in a sample
 */
export function resolutionOf({ gain, division, converterRange, converterBits, modulatorStep, period, integral }: { gain: number; division: number; converterRange: number; converterBits: number; modulatorStep: number; period: number; integral: number }): Resolution {
  const converterStep = (converterRange / 2 ** converterBits) * division;
  const outputStep = (gain * modulatorStep) / period;
  const moved = integral * gain;
  const largest = (converterStep * period) / gain;
  return {
    converterStep, outputStep, integral: moved,
    cycles: !(outputStep < converterStep) ? 'modulator' : moved > 1 ? 'integral' : undefined,
    modulatorStep: Number((FINER * largest).toPrecision(2)),
    bits: { has: Math.log2(period / modulatorStep), wants: Math.ceil(Math.log2(period / largest) + 1e-9) },
  };
}
