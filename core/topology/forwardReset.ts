import { forward } from './forward';

/** Forward with one switch and a reset winding: the switch stands twice the line. */
export const forwardReset = forward({
  id: 'forward-reset',
  title: 'Forward, reset winding',
  switches: 1,
  drawing: {
    width: 1020,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 115, y: 95, turn: 0, label: 'right' },
      { id: 'T1 reset', slot: 'T1', symbol: 'inductor', x: 225, y: 50, turn: 0, label: 'none' },
      { id: 'D3', symbol: 'diode', x: 225, y: 140, turn: 0, label: 'right' },
      { id: 'T1', symbol: 'transformer', x: 375, y: 60, turn: 0, label: 'above' },
      { id: 'Q1', symbol: 'switch', x: 355, y: 140, turn: 0, label: 'right' },
      { id: 'D1', symbol: 'diode', x: 540, y: 28, turn: 3, label: 'below' },
      { id: 'D2', symbol: 'diode', x: 630, y: 100, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 750, y: 28, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 850, y: 100, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 945, y: 100, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 95], [30, 5], [355, 5], [355, 28]], carries: 'line' },
      { points: [[115, 5], [115, 180]], carries: 'C1' },
      { points: [[225, 5], [225, 180]], carries: 'D3' },
      { points: [[355, 92], [355, 180]], carries: 'Q1' },
      { points: [[395, 28], [630, 28]], carries: 'D1' },
      { points: [[630, 28], [630, 172]], carries: 'D2' },
      { points: [[630, 28], [850, 28]], carries: 'L1' },
      { points: [[850, 28], [850, 172]], carries: 'C2' },
      { points: [[850, 28], [945, 28], [945, 172]], carries: 'load' },
      { points: [[395, 92], [465, 92], [465, 172], [945, 172]], carries: '' },
      { points: [[30, 95], [30, 180], [355, 180]], carries: '' },
    ],
    dots: [[115, 5], [225, 5], [115, 180], [225, 180], [630, 28], [850, 28], [630, 172], [850, 172]],
  },
});
