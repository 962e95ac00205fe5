import { twoInductors } from './twoInductors';

/** SEPIC: up and down with the same sign; L2 from the return to the second node, D1 from there to the output. */
export const sepic = twoInductors({
  id: 'sepic',
  title: 'SEPIC',
  feeds: 'off',
  across: (line) => line,
  wiring: { D1: ['x', 'out'], L2: ['0', 'x'], output: ['out', '0'] },
  purposes: { D1: 'hands both inductor currents to the output', L2: 'carries the load current on the mean', C2: 'feeds the load while Q1 conducts' },
  drawing: {
    width: 800,
    height: 140,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 75, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 115, y: 75, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 215, y: 25, turn: 1, label: 'below' },
      { id: 'Q1', symbol: 'switch', x: 300, y: 75, turn: 0, label: 'right' },
      { id: 'C3', symbol: 'capacitor', x: 405, y: 25, turn: 1, label: 'below' },
      { id: 'L2', symbol: 'inductor', x: 475, y: 75, turn: 0, label: 'right' },
      { id: 'D1', symbol: 'diode', x: 580, y: 25, turn: 3, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 655, y: 75, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 755, y: 75, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 75], [30, 25], [115, 25]], carries: 'line' },
      { points: [[115, 25], [115, 125]], carries: 'C1' },
      { points: [[115, 25], [300, 25]], carries: 'L1' },
      { points: [[300, 25], [300, 125]], carries: 'Q1' },
      { points: [[300, 25], [475, 25]], carries: 'C3' },
      { points: [[475, 25], [475, 125]], carries: 'L2' },
      { points: [[475, 25], [655, 25]], carries: 'D1' },
      { points: [[655, 25], [655, 125]], carries: 'C2' },
      { points: [[655, 25], [755, 25], [755, 125]], carries: 'load' },
      { points: [[30, 75], [30, 125], [755, 125]], carries: '' },
    ],
    dots: [[115, 25], [300, 25], [475, 25], [655, 25], [115, 125], [300, 125], [475, 125], [655, 125]],
  },
});
