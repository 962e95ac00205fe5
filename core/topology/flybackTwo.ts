import { flyback } from './flyback';

/** Flyback with two outputs on one core; the first is regulated. */
export const flybackTwo = flyback(2, {
  width: 960,
  height: 236,
  symbols: [
    { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 120, y: 95, turn: 0, label: 'right' },
    { id: 'C3', symbol: 'capacitor', x: 240, y: 42, turn: 0, label: 'right' },
    { id: 'D2', symbol: 'diode', x: 240, y: 85, turn: 0, label: 'right' },
    { id: 'T1', symbol: 'transformer', x: 395, y: 60, turn: 0, label: 'above' },
    { id: 'T1 third', place: 'T1', symbol: 'inductor', x: 415, y: 160, turn: 0, label: 'none' },
    { id: 'Q1', symbol: 'switch', x: 375, y: 190, turn: 0, label: 'left' },
    { id: 'D1', symbol: 'diode', x: 520, y: 28, turn: 3, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 680, y: 64, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 820, y: 64, turn: 0, label: 'right' },
    { id: 'D3', symbol: 'diode', x: 520, y: 128, turn: 3, label: 'below' },
    { id: 'C4', symbol: 'capacitor', x: 680, y: 174, turn: 0, label: 'right' },
    { id: 'load 2', symbol: 'load', x: 820, y: 174, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[30, 95], [30, 5], [375, 5], [375, 28]], carries: 'line' },
    { points: [[120, 5], [120, 226]], carries: 'C1' },
    { points: [[240, 5], [240, 110], [375, 110]], carries: 'D2' },
    { points: [[375, 92], [375, 226]], carries: 'Q1' },
    { points: [[415, 28], [680, 28]], carries: 'D1' },
    { points: [[680, 28], [680, 104]], carries: 'C2' },
    { points: [[680, 28], [820, 28], [820, 104]], carries: 'load' },
    { points: [[415, 92], [415, 104], [820, 104]], carries: '' },
    { points: [[415, 128], [680, 128]], carries: 'D3' },
    { points: [[680, 128], [680, 216]], carries: 'C4' },
    { points: [[680, 128], [820, 128], [820, 216]], carries: 'load 2' },
    { points: [[415, 192], [415, 216], [820, 216]], carries: '' },
    { points: [[30, 95], [30, 226], [375, 226]], carries: '' },
  ],
  dots: [[120, 5], [240, 5], [120, 226], [375, 110], [680, 28], [680, 104], [680, 128], [680, 216]],
});
