import { dutyRamp } from './dutyRamp';
import { transconductance } from './transconductance';
import type { ControlStructure } from './types';

/** Voltage mode by a transconductance amplifier, whose type II network lifts the phase by less than 90°. */
export const voltageTransconductance: ControlStructure = {
  id: 'voltage-transconductance',
  title: 'Voltage mode, transconductance',
  sets: 'the duty, by a transconductance amplifier',
  by: 'by a transconductance amplifier',
  amplifier: transconductance,
  settings: {},
  drive: dutyRamp,
  averages: true,
};
