import { refusesBelow } from './common';
import type { OneInductor } from './oneInductor';
import type { Drawing, DrawnSymbol } from './types';

/** What both boosts share: the line across L1 while on, output less line while off; it draws on the line always. */
export const BOOST = {
  on: (line: number) => line,
  off: (line: number, out: number, drop: number) => out + drop - line,
  draws: 'always',
  feeds: 'off',
  blocks: (_: number, out: number) => out,
  words: { duty: '', inductance: 'L ≥ Vline D / (f · r · I_L),  D = 1 − Vline / Vout,  I_L = Iout / (1 − D) at the lowest line' },
  refuses: (brief) => refusesBelow(brief, 'a boost only steps up'),
  wiring: { Q1: ['sw', '0'], rectifier: ['sw', 'out'], L1: ['line', 'sw'], output: ['out', '0'] },
  titles: { Q1: 'low-side switch', rectifier: '', L1: 'line inductor' },
  purposes: {
    Q1: 'puts the line across the inductor for D of the period',
    rectifier: '',
    L1: 'keeps the ripple to its share of the line current',
    C1: 'carries the ripple that the line shall not see',
    C2: 'feeds the load while Q1 conducts',
  },
} satisfies Partial<OneInductor>;

/** Line, L1 across, Q1 down, rectifier across, output. */
export const boostDrawing = (rectifier: Pick<DrawnSymbol, 'id' | 'symbol' | 'turn'>): Drawing => ({
  width: 800,
  height: 140,
  symbols: [
    { id: 'line', symbol: 'source', x: 40, y: 75, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 145, y: 75, turn: 0, label: 'right' },
    { id: 'L1', symbol: 'inductor', x: 260, y: 25, turn: 1, label: 'below' },
    { id: 'Q1', symbol: 'switch', x: 365, y: 75, turn: 0, label: 'right' },
    { ...rectifier, x: 520, y: 25, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 625, y: 75, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 745, y: 75, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[40, 75], [40, 25], [145, 25]], carries: 'line' },
    { points: [[145, 25], [145, 125]], carries: 'C1' },
    { points: [[145, 25], [365, 25]], carries: 'L1' },
    { points: [[365, 25], [365, 125]], carries: 'Q1' },
    { points: [[365, 25], [625, 25]], carries: rectifier.id },
    { points: [[625, 25], [625, 125]], carries: 'C2' },
    { points: [[625, 25], [745, 25], [745, 125]], carries: 'load' },
    { points: [[40, 75], [40, 125], [745, 125]], carries: '' },
  ],
  dots: [[145, 25], [365, 25], [625, 25], [145, 125], [365, 125], [625, 125]],
});
