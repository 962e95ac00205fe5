import { dutyRamp } from './dutyRamp';
import { typeThree } from './typeThree';
import type { ControlStructure } from './types';

/** Voltage mode: the error amplifier sets the duty. */
export const voltageTypeThree: ControlStructure = {
  id: 'voltage',
  title: 'Voltage mode, type III',
  sets: 'the duty',
  amplifier: typeThree,
  settings: {},
  drive: dutyRamp,
  averages: true,
};
