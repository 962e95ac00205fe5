import { COMMAND, HIGH } from './command';
import type { Control, Drive, StageAhead } from './types';

/**
 * Carriers of a ramp. Around a triangle's clock the pulse is even, so that what is sampled there, or half a period later, is the mean of
 * a current that is never nothing: a sawtooth's sample is off by what the ripple is at that share of the period.
 * Source: Holmes, Lipo, "Pulse Width Modulation for Power Converters", ch. 3 (carriers, regular sampling).
 */
export const CARRIERS = [
  { id: 'trailing', title: 'sawtooth, trailing edge' },
  { id: 'double', title: 'triangle, both edges' },
] as const;

/** Gates by comparing the command with a ramp: the duty, or of a bridge the shift between its legs. */
export function dutyRamp({ period }: StageAhead, { carrier }: Pick<Control, 'carrier'>): Drive {
  return {
    figures: [],
    elements: () => [],
    modulator(t, closed) {
      const common = { deadTime: 0, period, low: 0, high: closed?.ramp ?? 1, delay: closed?.delay ?? 0 };
      const pwm = { ...common, kind: 'pwm', carrier: carrier === 'double' ? 'double' : 'trailing', sampling: 'natural' } as const;
      switch (t.kind) {
        case 'duty':
          return { ...pwm, id: t.id, gate: t.gate, complement: t.complement, phase: t.phase, control: [COMMAND, '0'] };
        case 'held':
          return { ...pwm, high: 1, id: t.id, gate: t.gate, complement: t.complement, phase: 0, control: [HIGH, '0'] };
        case 'phase-shift':
          return { ...common, kind: 'phase-shift', id: t.id, gates: [...t.gates], phase: 0, control: [COMMAND, '0'] };
      }
    },
  };
}
