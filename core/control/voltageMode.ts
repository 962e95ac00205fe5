import { dutyRamp } from './dutyRamp';
import type { ControlStructure } from './types';

/** Voltage mode: the error amplifier sets the duty. */
export const voltageMode: ControlStructure = {
  id: 'voltage',
  title: 'Voltage mode',
  sets: 'the duty',
  settings: {},
  refuses: ({ pulsed }) => (pulsed ? { code: 'range', where: 'control.method', message: 'this stage draws its current from the mains in pulses, which no loop follows', remedy: 'hold its duty over the mains, or take critical conduction' } : undefined),
  drive: dutyRamp,
  averages: true,
};
