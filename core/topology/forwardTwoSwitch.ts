import { forward } from './forward';

/** Two-switch forward: both switches stand no more than the line, and clamp diodes return flux and leakage to it. */
export const forwardTwoSwitch = forward({
  id: 'forward-two-switch',
  title: 'Forward, two switches',
  switches: 2,
  drawing: {
    width: 980,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 115, y: 95, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 225, y: 40, turn: 0, label: 'right' },
      { id: 'D3', symbol: 'diode', x: 225, y: 140, turn: 0, label: 'right' },
      { id: 'D4', place: 'D3', symbol: 'diode', x: 335, y: 40, turn: 0, label: 'right' },
      { id: 'Q2', place: 'Q1', symbol: 'switch', x: 335, y: 140, turn: 0, label: 'right' },
      { id: 'T1', symbol: 'transformer', x: 465, y: 92, turn: 0, label: 'below' },
      { id: 'D1', symbol: 'diode', x: 570, y: 40, turn: 3, label: 'below' },
      { id: 'D2', symbol: 'diode', x: 650, y: 105, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 760, y: 40, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 845, y: 105, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 935, y: 105, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 95], [30, 5], [335, 5]], carries: 'line' },
      { points: [[115, 5], [115, 180]], carries: 'C1' },
      { points: [[225, 5], [225, 90]], carries: 'Q1' },
      { points: [[225, 90], [225, 180]], carries: 'D3' },
      { points: [[335, 5], [335, 100]], carries: 'D3' },
      { points: [[335, 100], [335, 180]], carries: 'Q1' },
      { points: [[225, 90], [300, 90], [300, 60], [445, 60]], carries: 'Q1' },
      { points: [[335, 100], [410, 100], [410, 124], [445, 124]], carries: 'Q1' },
      { points: [[485, 60], [485, 40], [650, 40]], carries: 'D1' },
      { points: [[650, 40], [650, 170]], carries: 'D2' },
      { points: [[650, 40], [845, 40]], carries: 'L1' },
      { points: [[845, 40], [845, 170]], carries: 'C2' },
      { points: [[845, 40], [935, 40], [935, 170]], carries: 'load' },
      { points: [[485, 124], [485, 170], [935, 170]], carries: '' },
      { points: [[30, 95], [30, 180], [335, 180]], carries: '' },
    ],
    dots: [[115, 5], [225, 5], [115, 180], [225, 180], [225, 90], [335, 100], [650, 40], [845, 40], [650, 170], [845, 170]],
  },
});
