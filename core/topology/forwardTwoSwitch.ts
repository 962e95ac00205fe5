import { forward } from './forward';

/** Two-switch forward: both switches stand no more than the line, and clamp diodes return flux and leakage to it. */
export const forwardTwoSwitch = forward({
  id: 'forward-two-switch',
  title: 'Forward, two switches',
  switches: 2,
  drawing: {
    width: 1093,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 115, y: 95, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 225, y: 40, turn: 0, label: 'right' },
      { id: 'D3', symbol: 'diode', x: 225, y: 140, turn: 0, label: 'right' },
      { id: 'D4', slot: 'D3', symbol: 'diode', x: 370, y: 40, turn: 0, label: 'right' },
      { id: 'Q2', slot: 'Q1', symbol: 'switch', x: 370, y: 140, turn: 0, label: 'right' },
      { id: 'T1', symbol: 'transformer', x: 515, y: 92, turn: 0, label: 'below' },
      { id: 'D1', symbol: 'diode', x: 655, y: 40, turn: 3, label: 'below' },
      { id: 'D2', symbol: 'diode', x: 735, y: 105, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 845, y: 40, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 930, y: 105, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 1032, y: 105, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 95], [30, 5], [370, 5]], carries: 'line' },
      { points: [[115, 5], [115, 180]], carries: 'C1' },
      { points: [[225, 5], [225, 90]], carries: 'Q1' },
      { points: [[225, 90], [225, 180]], carries: 'D3' },
      { points: [[370, 5], [370, 100]], carries: 'D3' },
      { points: [[370, 100], [370, 180]], carries: 'Q1' },
      { points: [[225, 90], [300, 90], [300, 60], [495, 60]], carries: 'Q1' },
      { points: [[370, 100], [460, 100], [460, 124], [495, 124]], carries: 'Q1' },
      { points: [[535, 60], [535, 40], [735, 40]], carries: 'D1' },
      { points: [[735, 40], [735, 170]], carries: 'D2' },
      { points: [[735, 40], [930, 40]], carries: 'L1' },
      { points: [[930, 40], [930, 170]], carries: 'C2' },
      { points: [[930, 40], [1032, 40], [1032, 170]], carries: 'load' },
      { points: [[535, 124], [535, 170], [1032, 170]], carries: '' },
      { points: [[30, 95], [30, 180], [370, 180]], carries: '' },
    ],
    dots: [[115, 5], [225, 5], [115, 180], [225, 180], [225, 90], [370, 100], [735, 40], [930, 40], [735, 170], [930, 170]],
  },
});
