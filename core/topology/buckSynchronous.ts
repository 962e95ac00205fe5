import { BUCK, buckDrawing } from './buck';
import { oneInductor } from './oneInductor';

/** Synchronous buck: Q1 from the line to the switch node, Q2 from there to the return, L1 to the output. */
export const buckSynchronous = oneInductor({
  ...BUCK,
  id: 'buck-synchronous',
  title: 'Buck, synchronous',
  rectifier: 'switch',
  words: { ...BUCK.words, duty: 'D = (Vout + I (R_Q2 + R_L1)) / (Vline − I (R_Q1 − R_Q2))' },
  wiring: { ...BUCK.wiring, rectifier: ['sw', '0'] },
  titles: { ...BUCK.titles, rectifier: 'low-side switch' },
  purposes: { ...BUCK.purposes, rectifier: 'carries the inductor current for the rest' },
  drawing: buckDrawing({ id: 'Q2', symbol: 'switch' }),
});
