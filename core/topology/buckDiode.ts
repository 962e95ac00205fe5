import { BUCK, buckDrawing } from './buck';
import { oneInductor } from './oneInductor';

/** Buck with a diode: at light load the current of L1 comes to rest in each period. */
export const buckDiode = oneInductor({
  ...BUCK,
  id: 'buck-diode',
  title: 'Buck, with diode',
  rectifier: 'diode',
  words: { ...BUCK.words, duty: 'D (Vline − Vout − I R_Q1) = (1 − D) (Vout + Vf + I R_D1) + I R_L1' },
  wiring: { ...BUCK.wiring, rectifier: ['0', 'sw'] },
  titles: { ...BUCK.titles, rectifier: 'diode' },
  purposes: { ...BUCK.purposes, rectifier: 'carries the inductor current for the rest, and blocks it at light load' },
  drawing: buckDrawing({ id: 'D1', symbol: 'diode' }),
});
