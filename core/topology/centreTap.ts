import type { DiodePart } from '../parts/schema';
import type { OperatingPoint } from './brief';
import { OFF_CONDUCTANCE, partDuty } from './common';
import { coil, loadedOutput } from './elements';
import type { Drawing, PartDuty, Place, Sizing, Spec, Topology, Winding } from './types';
import { winding, windingOhms } from './windings';

/**
 * What stands behind a bridge: a secondary in two halves, "s1" and "s2" about the return, a diode from either to "x",
 * L1 and the output. It is the same for all that drive the primary both ways.
 */
const SHARES = { primary: 0.4, secondary: 0.3 };

export const CENTRE_TAPPED: readonly Winding[] = [winding('T1', 'primary', SHARES.primary), winding('T1', 'secondary', SHARES.secondary), { element: 'T1 secondary 2', turns: 'T1 secondary', share: SHARES.secondary }];

export const PLACES_BEHIND: readonly Place[] = [
  { id: 'D1', kind: 'diode', title: 'rectifier diodes', purpose: 'feed L1 from either half of the secondary, and share its current between the pulses', copies: 2 },
  { id: 'L1', kind: 'inductor', title: 'output inductor', purpose: 'holds the current ripple at full load, at twice the frequency' },
  { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
  { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'takes the ripple and the first of a load step' },
];

/** The ideal transformer from "a", "b" of the magnetising inductance to both halves, the windings' copper, the rectifier and the output. */
export function centreTapped(spec: Spec, sizing: Sizing, point: OperatingPoint, resistance: (place: string) => number, [a, b]: readonly [string, string], back: string): unknown[] {
  const { values } = sizing;
  const [Np, Ns] = [values['T1 primary']!.taken, values['T1 secondary']!.taken];
  const ohms = (id: string, from: string, to: string, turns: number, share: number): unknown => ({ kind: 'resistor', id: `T1 ${id}`, a: from, b: to, resistance: windingOhms(resistance('T1'), turns, share) });
  const D = (id: string, from: string): unknown => ({ kind: 'diode', id, a: from, b: 'x', drop: (spec.parts.D1 as DiodePart).drop, onResistance: resistance('D1'), offConductance: OFF_CONDUCTANCE });
  return [
    ohms('primary', b, back, Np, SHARES.primary),
    { kind: 'transformer', id: 'T1 turns', windings: [{ a, b, turns: Np }, { a: 's1', b: '0', turns: Ns }, { a: '0', b: 's2', turns: Ns }] },
    ohms('secondary', 's1', 'w1', Ns, SHARES.secondary), ohms('secondary 2', 's2', 'w2', Ns, SHARES.secondary), D('D1', 'w1'), D('D2', 'w2'),
    ...coil('L1', 'x', 'out', values.L1!.taken, resistance('L1')),
    ...loadedOutput(spec, sizing, point, ['out', '0']),
  ];
}

/** Duties of what stands behind, of the transformer whose magnetising inductance lies between two nodes, and of C1: what the line is drawn on less its mean. */
export function dutiesBehind(current: Parameters<Topology['duties']>[0], voltage: Parameters<Topology['duties']>[1], core: readonly [string, string]): Record<string, PartDuty> {
  const of = (element: string, a: string, b?: string): PartDuty => partDuty(current(element), voltage(a, b));
  const line = current('line');
  const pulses = {
    mean: 0,
    rms: Math.sqrt(Math.max(0, line.rms ** 2 - line.mean ** 2)),
    get min() {
      return line.min - line.mean;
    },
    get max() {
      return line.max - line.mean;
    },
  };
  return { D1: of('D1', 'w1', 'x'), T1: { ...of('T1', ...core), rms: current('T1 primary').rms }, L1: of('L1', 'x', 'out'), C2: of('C2', 'out', '0'), C1: partDuty(pulses, voltage('line')) };
}

/** Line and C1 at the left, and all that stands right of a transformer at x: the bridge between comes from its own file. */
export function drawnAround(x: number, bridge: Pick<Drawing, 'symbols' | 'wires' | 'dots'>): Drawing {
  const right = x + 20;
  return {
    width: 1050,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 30, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 125, y: 95, turn: 0, label: 'right' },
      ...bridge.symbols,
      { id: 'T1', symbol: 'transformer', x, y: 95, turn: 0, label: 'above' },
      { id: 'D1', symbol: 'diode', x: x + 150, y: 30, turn: 3, label: 'below' },
      { id: 'D2', place: 'D1', symbol: 'diode', x: x + 150, y: 127, turn: 3, label: 'below' },
      { id: 'L1', symbol: 'inductor', x: 790, y: 30, turn: 1, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 880, y: 110, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 975, y: 110, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[30, 95], [30, 5], [325, 5]], carries: 'line' },
      { points: [[125, 5], [125, 180]], carries: 'C1' },
      ...bridge.wires,
      { points: [[right, 63], [right, 30], [700, 30]], carries: 'D1' },
      { points: [[right, 127], [700, 127], [700, 30]], carries: 'D1' },
      { points: [[700, 30], [880, 30]], carries: 'L1' },
      { points: [[880, 30], [880, 180]], carries: 'C2' },
      { points: [[880, 30], [975, 30], [975, 180]], carries: 'load' },
      { points: [[right, 95], [right + 85, 95], [right + 85, 180], [975, 180]], carries: '' },
      { points: [[30, 95], [30, 180], [325, 180]], carries: '' },
    ],
    dots: [[125, 5], [125, 180], ...bridge.dots, [700, 30], [880, 30], [880, 180], [right, 95]],
  };
}
