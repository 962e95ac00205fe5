import { flyback } from './flyback';

/** Flyback with two outputs on one core; the first is regulated. */
export const flybackTwo = flyback(2, {
  width: 1010,
  height: 236,
  symbols: [
    { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 120, y: 95, turn: 0, label: 'right' },
    { id: 'C3', symbol: 'capacitor', x: 240, y: 34, turn: 0, label: 'right' },
    { id: 'D2', symbol: 'diode', x: 240, y: 92, turn: 0, label: 'right' },
    { id: 'T1', symbol: 'transformer', x: 395, y: 60, turn: 0, label: 'above' },
    { id: 'T1 third', slot: 'T1', symbol: 'inductor', x: 415, y: 160, turn: 0, label: 'none' },
    { id: 'Q1', symbol: 'switch', x: 375, y: 190, turn: 0, label: 'left' },
    { id: 'D1', symbol: 'diode', x: 570, y: 28, turn: 3, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 730, y: 64, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 870, y: 64, turn: 0, label: 'right' },
    { id: 'D3', symbol: 'diode', x: 570, y: 128, turn: 3, label: 'below' },
    { id: 'C4', symbol: 'capacitor', x: 730, y: 174, turn: 0, label: 'right' },
    { id: 'load 2', symbol: 'load', x: 870, y: 174, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[30, 95], [30, 5], [375, 5], [375, 28]], carries: 'line' },
    { points: [[120, 5], [120, 226]], carries: 'C1' },
    { points: [[240, 5], [240, 118], [375, 118]], carries: 'D2' },
    { points: [[375, 92], [375, 226]], carries: 'Q1' },
    { points: [[415, 28], [730, 28]], carries: 'D1' },
    { points: [[730, 28], [730, 104]], carries: 'C2' },
    { points: [[730, 28], [870, 28], [870, 104]], carries: 'load' },
    { points: [[415, 92], [415, 104], [870, 104]], carries: '' },
    { points: [[415, 128], [730, 128]], carries: 'D3' },
    { points: [[730, 128], [730, 216]], carries: 'C4' },
    { points: [[730, 128], [870, 128], [870, 216]], carries: 'load 2' },
    { points: [[415, 192], [415, 216], [870, 216]], carries: '' },
    { points: [[30, 95], [30, 226], [375, 226]], carries: '' },
  ],
  dots: [[120, 5], [240, 5], [120, 226], [375, 118], [730, 28], [730, 104], [730, 128], [730, 216]],
});
