import { flyback } from './flyback';

/** Flyback with one output. */
export const flybackOne = flyback(1, {
  width: 910,
  height: 190,
  symbols: [
    { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 120, y: 95, turn: 0, label: 'right' },
    { id: 'C3', symbol: 'capacitor', x: 240, y: 34, turn: 0, label: 'right' },
    { id: 'D2', symbol: 'diode', x: 240, y: 92, turn: 0, label: 'right' },
    { id: 'T1', symbol: 'transformer', x: 395, y: 60, turn: 0, label: 'above' },
    { id: 'Q1', symbol: 'switch', x: 375, y: 145, turn: 0, label: 'left' },
    { id: 'D1', symbol: 'diode', x: 570, y: 28, turn: 3, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 690, y: 100, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 830, y: 100, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[30, 95], [30, 5], [375, 5], [375, 28]], carries: 'line' },
    { points: [[120, 5], [120, 180]], carries: 'C1' },
    { points: [[240, 5], [240, 118], [375, 118]], carries: 'D2' },
    { points: [[375, 92], [375, 180]], carries: 'Q1' },
    { points: [[415, 28], [690, 28]], carries: 'D1' },
    { points: [[690, 28], [690, 172]], carries: 'C2' },
    { points: [[690, 28], [830, 28], [830, 172]], carries: 'load' },
    { points: [[415, 92], [415, 172], [830, 172]], carries: '' },
    { points: [[30, 95], [30, 180], [375, 180]], carries: '' },
  ],
  dots: [[120, 5], [240, 5], [120, 180], [375, 118], [690, 28], [690, 172]],
});
