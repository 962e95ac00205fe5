import { dutyRamp } from './dutyRamp';
import type { ControlStructure } from './types';

/** Voltage mode: the error amplifier sets the duty. */
export const voltageMode: ControlStructure = {
  id: 'voltage',
  title: 'Voltage mode',
  sets: 'the duty',
  settings: {},
  drive: dutyRamp,
  averages: true,
};
