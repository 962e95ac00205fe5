import { BOOST, boostDrawing } from './boost';
import { oneInductor } from './oneInductor';

/** Synchronous boost: Q2 in place of the diode, so the current is continuous at every load. */
export const boostSynchronous = oneInductor({
  ...BOOST,
  id: 'boost-synchronous',
  title: 'Boost, synchronous',
  rectifier: 'switch',
  words: { ...BOOST.words, duty: 'D (Vline − I_L R_Q1) = (1 − D) (Vout − Vline + I_L R_Q2) + I_L R_L1,  I_L = Iout / (1 − D)' },
  wiring: { ...BOOST.wiring, rectifier: ['out', 'sw'] },
  titles: { ...BOOST.titles, rectifier: 'high-side switch' },
  purposes: { ...BOOST.purposes, rectifier: 'hands the inductor current to the output, both ways' },
  drawing: boostDrawing({ id: 'Q2', symbol: 'switch', turn: 1 }),
});
