import type { Design } from './schema';

/** Share of the full load that flows anyway where no divider says more. */
const ANYWAY = 1e-4;

/**
 * A that flow from the output with nothing connected: what its own divider takes, (Vout − Vref) / R1. A load "from zero"
 * is this much at its lightest, or an output with a diode behind it would have nothing to stand at.
 */
export function leastLoad({ brief: { output, load }, control }: Pick<Design, 'brief' | 'control'>): number {
  const { inputResistor, reference } = control;
  const divider = typeof inputResistor === 'number' ? (output.voltage - reference) / inputResistor : 0;
  return Math.min(load.max / 10, Math.max(divider, ANYWAY * load.max));
}
