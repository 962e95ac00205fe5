import { dutyRamp } from './dutyRamp';
import type { ControlStructure } from './types';

/**
 * Average-current control, a cascade: the inner loop holds the mean current of L1 by the duty, the outer one sets what that
 * current is to be. The inner is placed first, the outer on the converter with the inner closed.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 12 (average current-mode control); Leonhard,
 * "Control of Electrical Drives", ch. 7 (nested loops, the inner first).
 */
export const averageCurrent: ControlStructure = {
  id: 'average-current',
  title: 'Average current',
  sets: 'the mean current of L1, and that the duty',
  by: 'by its mean current',
  settings: {
    innerCrossover: { unit: 'Hz', title: 'crossover of the current loop', value: 'placed', asked: true },
    innerPhaseMargin: { unit: '°', title: 'its phase margin', value: 60, asked: true },
    senseGain: { unit: 'Ω', title: 'sense gain, V per A', value: 'placed' },
  },
  inner: { title: 'current of L1', senses: 'L1', amplifier: 'type-two', crossover: 0.1 },
  refuses: ({ coil }) => (coil ? undefined : { code: 'range', where: 'control.method', message: 'this power stage has no one inductor L1 whose mean current can be held', remedy: 'choose voltage mode, or another topology' }),
  drive: dutyRamp,
  averages: true,
};
