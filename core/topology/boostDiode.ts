import { BOOST, boostDrawing } from './boost';
import { oneInductor } from './oneInductor';

/** Boost with a diode: L1 from the line to the switch node, Q1 to the return, D1 to the output. */
export const boostDiode = oneInductor({
  ...BOOST,
  id: 'boost-diode',
  title: 'Boost, with diode',
  rectifier: 'diode',
  words: { ...BOOST.words, duty: 'D (Vline − I_L R_Q1) = (1 − D) (Vout + Vf − Vline + I_L R_D1) + I_L R_L1,  I_L = Iout / (1 − D)' },
  titles: { ...BOOST.titles, rectifier: 'diode' },
  purposes: { ...BOOST.purposes, rectifier: 'hands the inductor current to the output' },
  drawing: boostDrawing({ id: 'D1', symbol: 'diode', turn: 3 }),
});
