import { Circuit } from '../core/circuit/elements';

/**
 * A buck of six states: input filter, snubber, two-stage output. Once with both switches timed (four
 * edges a period with the dead time), once with a diode and its loop closed.
 */
export const T = 4e-6;
const stage = (low: object, extra: object[], modulators: object[]): Circuit =>
  Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'line', a: 'line', b: '0', value: 48 },
      { kind: 'inductor', id: 'L0', a: 'line', b: 'in', inductance: 1e-6 },
      { kind: 'capacitor', id: 'C0', a: 'in', b: '0', capacitance: 20e-6, esr: 5e-3 },
      { kind: 'switch', id: 'Q1', a: 'in', b: 'sw', onResistance: 0.01, gate: 'high' },
      low,
      { kind: 'capacitor', id: 'Cs', a: 'sw', b: '0', capacitance: 1e-9, esr: 10 },
      { kind: 'inductor', id: 'L1', a: 'sw', b: 'mid', inductance: 22e-6 },
      { kind: 'capacitor', id: 'C1', a: 'mid', b: '0', capacitance: 40e-6, esr: 4e-3 },
      { kind: 'resistor', id: 'R2', a: 'mid', b: 'out', resistance: 0.05 },
      { kind: 'capacitor', id: 'C2', a: 'out', b: '0', capacitance: 100e-6, esr: 20e-3 },
      { kind: 'resistor', id: 'load', a: 'out', b: '0', resistance: 4 },
      { kind: 'voltage-source', id: 'duty', a: 'duty', b: '0', value: 0.5 },
      ...extra,
    ],
    modulators,
  });
export const timed = stage(
  { kind: 'switch', id: 'Q2', a: 'sw', b: '0', onResistance: 0.008, gate: 'low' },
  [],
  [{ kind: 'pwm', id: 'M', gate: 'high', complement: 'low', deadTime: 40e-9, period: T, control: ['duty', '0'] }],
);
export const closed = stage(
  { kind: 'diode', id: 'D1', a: '0', b: 'sw', drop: 0.5, onResistance: 0.01 },
  [
    { kind: 'voltage-source', id: 'reference', a: 'ref', b: '0', value: 24 },
    { kind: 'transfer', id: 'U1', a: 'vc', b: '0', plus: 'ref', minus: 'out', numerator: [6000, 1], denominator: [1, 20, 1e-4] },
  ],
  [{ kind: 'pwm', id: 'M', gate: 'high', period: T, control: ['vc', '0'], high: 30 }],
);
