import { DUTY_MAX, refusesAbove } from './common';
import type { OneInductor } from './oneInductor';
import type { Drawing, DrawnSymbol } from './types';

/** What both bucks share: line less output across L1 while on, output across it while off; it feeds the output always. */
export const BUCK = {
  on: (line: number, out: number) => line - out,
  off: (_: number, out: number, drop: number) => out + drop,
  draws: 'on',
  feeds: 'always',
  blocks: (line: number) => line,
  words: { duty: '', inductance: 'L ≥ (Vline − Vout) D / (f · r · Iout),  D = Vout / Vline' },
  refuses: (brief) => refusesAbove(brief, DUTY_MAX, 'a buck only steps down'),
  wiring: { Q1: ['line', 'sw'], rectifier: ['sw', '0'], L1: ['sw', 'out'], output: ['out', '0'] },
  titles: { Q1: 'high-side switch', rectifier: '', L1: 'output inductor' },
  purposes: {
    Q1: 'puts the line on the switch node for D of the period',
    rectifier: '',
    L1: 'keeps the ripple to its share of full load',
    C1: 'carries the pulses that the line shall not see',
    C2: 'takes the ripple and the first of a load step',
  },
} satisfies Partial<OneInductor>;

/** Line, Q1 across, rectifier down, L1 across, output. */
export const buckDrawing = (rectifier: Pick<DrawnSymbol, 'id' | 'symbol'>): Drawing => ({
  width: 800,
  height: 140,
  symbols: [
    { id: 'line', symbol: 'source', x: 40, y: 75, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 145, y: 75, turn: 0, label: 'right' },
    { id: 'Q1', symbol: 'switch', x: 265, y: 25, turn: 1, label: 'below' },
    { ...rectifier, x: 375, y: 75, turn: 0, label: 'right' },
    { id: 'L1', symbol: 'inductor', x: 500, y: 25, turn: 1, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 625, y: 75, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 745, y: 75, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[40, 75], [40, 25], [145, 25]], carries: 'line' },
    { points: [[145, 25], [265, 25]], carries: 'Q1' },
    { points: [[145, 25], [145, 125]], carries: 'C1' },
    { points: [[265, 25], [375, 25]], carries: 'Q1' },
    { points: [[375, 25], [375, 125]], carries: rectifier.id },
    { points: [[375, 25], [625, 25]], carries: 'L1' },
    { points: [[625, 25], [625, 125]], carries: 'C2' },
    { points: [[625, 25], [745, 25], [745, 125]], carries: 'load' },
    { points: [[40, 75], [40, 125], [745, 125]], carries: '' },
  ],
  dots: [[145, 25], [375, 25], [625, 25], [145, 125], [375, 125], [625, 125]],
});
