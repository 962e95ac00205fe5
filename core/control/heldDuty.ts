import { dutyRamp } from './dutyRamp';
import { HELD_DUTY, POWER } from './held';
import type { ControlStructure } from './types';

/**
 * Duty held over the mains: the error amplifier, slow against the mains, sets one duty for all of its cycle, and the stage in
 * discontinuous conduction draws in step with the line by itself. Nothing measures the current.
 * Source: see held.ts.
 */
export const heldDuty: ControlStructure = {
  id: HELD_DUTY,
  title: 'Duty held over the mains',
  sets: 'the duty, held over the mains',
  by: 'in discontinuous conduction, its duty held over the mains',
  settings: {},
  refuses: ({ mains }) => (mains ? undefined : { code: 'range', where: 'control.method', message: 'a dc line has no cycle to hold the duty over', remedy: 'choose voltage mode, or feed it from the mains' }),
  drive: (stage, control) => ({ ...dutyRamp(stage, control), held: { power: POWER.duty, full: 1 } }),
  averages: false,
};
