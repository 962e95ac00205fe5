import type { Drawing, DrawnSymbol } from './types';

type Movable = Pick<DrawnSymbol, 'id' | 'symbol' | 'turn'>;

/** Line, L1, Q1, C3 with the branch that damps it, then one part down to the return and one across to the output. */
export const handOverDrawing = (down: Movable, across: Movable): Drawing => ({
  width: 980,
  height: 186,
  symbols: [
    { id: 'line', symbol: 'source', x: 40, y: 121, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 130, y: 121, turn: 0, label: 'right' },
    { id: 'L1', symbol: 'inductor', x: 250, y: 71, turn: 1, label: 'below' },
    { id: 'Q1', symbol: 'switch', x: 345, y: 121, turn: 0, label: 'right' },
    { id: 'C4', symbol: 'capacitor', x: 490, y: 8, turn: 1, label: 'above' },
    { id: 'C3', symbol: 'capacitor', x: 490, y: 71, turn: 1, label: 'below' },
    { ...down, x: 590, y: 121, label: 'right' },
    { ...across, x: 725, y: 71, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 820, y: 121, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 925, y: 121, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[40, 121], [40, 71], [130, 71]], carries: 'line' },
    { points: [[130, 71], [130, 171]], carries: 'C1' },
    { points: [[130, 71], [345, 71]], carries: 'L1' },
    { points: [[345, 71], [345, 171]], carries: 'Q1' },
    { points: [[345, 71], [590, 71]], carries: 'C3' },
    { points: [[420, 71], [420, 8], [560, 8], [560, 71]], carries: 'C4' },
    { points: [[590, 71], [590, 171]], carries: down.id },
    { points: [[590, 71], [820, 71]], carries: across.id },
    { points: [[820, 71], [820, 171]], carries: 'C2' },
    { points: [[820, 71], [925, 71], [925, 171]], carries: 'load' },
    { points: [[40, 121], [40, 171], [925, 171]], carries: '' },
  ],
  dots: [[420, 71], [560, 71], [130, 71], [345, 71], [590, 71], [820, 71], [130, 171], [345, 171], [590, 171], [820, 171]],
});
