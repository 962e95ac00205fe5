import { flyback } from './flyback';

/** Flyback with one output. */
export const flybackOne = flyback(1, {
  width: 860,
  height: 190,
  symbols: [
    { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
    { id: 'C1', symbol: 'capacitor', x: 120, y: 95, turn: 0, label: 'right' },
    { id: 'C3', symbol: 'capacitor', x: 240, y: 42, turn: 0, label: 'right' },
    { id: 'D2', symbol: 'diode', x: 240, y: 85, turn: 0, label: 'right' },
    { id: 'T1', symbol: 'transformer', x: 395, y: 60, turn: 0, label: 'above' },
    { id: 'Q1', symbol: 'switch', x: 375, y: 145, turn: 0, label: 'right' },
    { id: 'D1', symbol: 'diode', x: 520, y: 28, turn: 3, label: 'below' },
    { id: 'C2', symbol: 'capacitor', x: 640, y: 100, turn: 0, label: 'right' },
    { id: 'load', symbol: 'load', x: 780, y: 100, turn: 0, label: 'right' },
  ],
  wires: [
    { points: [[30, 95], [30, 5], [375, 5], [375, 28]], carries: 'line' },
    { points: [[120, 5], [120, 180]], carries: 'C1' },
    { points: [[240, 5], [240, 110], [375, 110]], carries: 'D2' },
    { points: [[375, 92], [375, 180]], carries: 'Q1' },
    { points: [[415, 28], [640, 28]], carries: 'D1' },
    { points: [[640, 28], [640, 172]], carries: 'C2' },
    { points: [[640, 28], [780, 28], [780, 172]], carries: 'load' },
    { points: [[415, 92], [415, 172], [780, 172]], carries: '' },
    { points: [[30, 95], [30, 180], [375, 180]], carries: '' },
  ],
  dots: [[120, 5], [240, 5], [120, 180], [375, 110], [640, 28], [640, 172]],
});
