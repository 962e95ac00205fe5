import { COMMAND, HIGH } from './command';
import type { Drive, StageAhead } from './types';

/** Gates by comparing the command with a ramp: the duty, or of a bridge the shift between its legs. */
export function dutyRamp({ period }: StageAhead): Drive {
  return {
    figures: [],
    elements: () => [],
    modulator(t, closed) {
      const common = { deadTime: 0, period, low: 0, high: closed?.ramp ?? 1, delay: closed?.delay ?? 0 };
      const pwm = { ...common, kind: 'pwm', carrier: 'trailing', sampling: 'natural' } as const;
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
