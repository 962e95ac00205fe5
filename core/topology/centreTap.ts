import type { Fragment, Winding } from '../converter/fragment';
import type { Drawing, Slot } from './types';
import { winding } from './windings';

/**
 * What stands behind a bridge: a secondary in two halves, "s1" and "s2" about the return, a diode or a switch from either
 * to "x", L1 and the output. It is the same for all that drive the primary both ways.
 */
const SHARES = { primary: 0.4, secondary: 0.3 };

export const CENTRE_TAPPED: readonly Winding[] = [winding('T1', 'primary', SHARES.primary), winding('T1', 'secondary', SHARES.secondary), { element: 'T1 secondary 2', turns: 'T1 secondary', share: SHARES.secondary }];

/** What rectifies: the slot of its part, what stands in the circuit of either half, and how it is called. */
export type Rectifier = 'diode' | 'switch';
export const RECTIFIER = {
  diode: { slot: 'D1', elements: ['D1', 'D2'], title: 'rectifier diodes', symbols: { turn: 3, label: 'below' } },
  switch: { slot: 'Q3', elements: ['Q3', 'Q4'], title: 'rectifying switches', symbols: { turn: 1, label: 'below' } },
} as const;

export const placesBehind = (rectifier: Rectifier): readonly Slot[] => [
  { id: RECTIFIER[rectifier].slot, kind: rectifier, title: RECTIFIER[rectifier].title, purpose: 'feed L1 from either half of the secondary, and share its current between the pulses', copies: 2 },
  { id: 'L1', kind: 'inductor', title: 'output inductor', purpose: 'holds the current ripple at full load, at twice the frequency' },
  { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
  { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'takes the ripple and the first of a load step' },
];

/** The ideal transformer from "a", "b" of the magnetising inductance to both halves, the windings' copper, the rectifier and the output. Gates of switches are called as these are. */
export function centreTapped(f: Fragment, [a, b]: readonly [string, string], back: string, rectifier: Rectifier): void {
  const [primary, first, second] = CENTRE_TAPPED;
  f.copper('T1', primary!, b, back);
  f.turns('T1', [[a, b, 'T1 primary'], ['s1', '0', 'T1 secondary'], ['0', 's2', 'T1 secondary']]);
  f.copper('T1', first!, 's1', 'w1');
  f.copper('T1', second!, 's2', 'w2');
  const { slot, elements } = RECTIFIER[rectifier];
  elements.forEach((id, k) => {
    const from = `w${k + 1}`;
    if (rectifier === 'diode') f.diode(slot, from, 'x', id);
    else f.switch(slot, from, 'x', id, id);
  });
  f.inductor('L1', 'x', 'out');
  f.capacitor('C2', 'out', '0');
  f.aside('C1', { beside: 'line' });
  f.output('out', '0');
}

/** Line and C1 at the left, and all that stands right of a transformer at x: the bridge between comes from its own file. */
export function drawnAround(x: number, rectifier: Rectifier, bridge: Pick<Drawing, 'symbols' | 'wires' | 'dots'>): Drawing {
  const right = x + 20;
  const { slot, elements, symbols } = RECTIFIER[rectifier];
  return {
    width: 1050,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 125, y: 95, turn: 0, label: 'right' },
      ...bridge.symbols,
      { id: 'T1', symbol: 'transformer', x, y: 95, turn: 0, label: 'above' },
      { id: elements[0], symbol: rectifier, x: x + 150, y: 30, ...symbols },
      { id: elements[1], slot, symbol: rectifier, x: x + 150, y: 127, ...symbols },
      { id: 'L1', symbol: 'inductor', x: 752, y: 30, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 862, y: 110, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 975, y: 110, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 95], [30, 5], [325, 5]], carries: 'line' },
      { points: [[125, 5], [125, 180]], carries: 'C1' },
      ...bridge.wires,
      { points: [[right, 63], [right, 30], [700, 30]], carries: slot },
      { points: [[right, 127], [700, 127], [700, 30]], carries: slot },
      { points: [[700, 30], [862, 30]], carries: 'L1' },
      { points: [[862, 30], [862, 180]], carries: 'C2' },
      { points: [[862, 30], [975, 30], [975, 180]], carries: 'load' },
      { points: [[right, 95], [right + 85, 95], [right + 85, 180], [975, 180]], carries: '' },
      { points: [[30, 95], [30, 180], [325, 180]], carries: '' },
    ],
    dots: [[125, 5], [125, 180], ...bridge.dots, [700, 30], [862, 30], [862, 180], [right, 95]],
  };
}
