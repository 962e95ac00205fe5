import { refusesDuty } from './common';
import { oneInductor } from './oneInductor';

/** Inverting buck-boost: Q1 from the line to the switch node, L1 from there to the return, D1 from the negative output. */
export const inverting = oneInductor({
  id: 'inverting',
  title: 'Inverting buck-boost',
  rectifier: 'diode',
  on: (line) => line,
  off: (_, out, drop) => out + drop,
  draws: 'on',
  feeds: 'off',
  blocks: (line, out) => line + out,
  words: {
    duty: 'D (Vline − I_L R_Q1) = (1 − D) (Vout + Vf + I_L R_D1) + I_L R_L1,  I_L = Iout / (1 − D)',
    inductance: 'L ≥ Vline D / (f · r · I_L),  D = Vout / (Vline + Vout),  I_L = Iout / (1 − D) at the lowest line',
  },
  refuses: (brief) => refusesDuty(brief, brief.output.voltage / (brief.output.voltage + brief.line.min)),
  wiring: { Q1: ['line', 'sw'], rectifier: ['out', 'sw'], L1: ['sw', '0'], output: ['0', 'out'] },
  titles: { Q1: 'switch', rectifier: 'diode', L1: 'inductor' },
  purposes: {
    Q1: 'puts the line across the inductor for D of the period',
    rectifier: 'draws the inductor current from the negative output',
    L1: 'carries the power over: the line fills it, the output empties it',
    C1: 'carries the pulses that the line shall not see',
    C2: 'feeds the load while Q1 conducts',
  },
  drawing: {
    width: 800,
    height: 140,
    symbols: [
      { id: 'line', symbol: 'source', x: 40, y: 75, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 145, y: 75, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 265, y: 25, turn: 1, label: 'below' },
      { id: 'L1', symbol: 'inductor', x: 375, y: 75, turn: 0, label: 'right' },
      { id: 'D1', symbol: 'diode', x: 500, y: 25, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 625, y: 75, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 745, y: 75, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 75], [40, 25], [145, 25]], carries: 'line' },
      { points: [[145, 25], [145, 125]], carries: 'C1' },
      { points: [[145, 25], [375, 25]], carries: 'Q1' },
      { points: [[375, 25], [375, 125]], carries: 'L1' },
      { points: [[375, 25], [625, 25]], carries: 'D1' },
      { points: [[625, 25], [625, 125]], carries: 'C2' },
      { points: [[625, 25], [745, 25], [745, 125]], carries: 'load' },
      { points: [[40, 75], [40, 125], [745, 125]], carries: '' },
    ],
    dots: [[145, 25], [375, 25], [625, 25], [145, 125], [375, 125], [625, 125]],
  },
});
