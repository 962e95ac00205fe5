import { dutyNear } from './common';
import { boostSynchronous } from './boostSynchronous';
import { LEAST, refusesMainsBoost, sizeMainsBoost } from './mainsBoost';
import { behindRectifier } from './onMains';
import { putReservoir, RESERVOIR } from './reservoir';
import type { Carried } from './pieces';
import type { Signal, SizingInput, Topology } from './types';

/**
 * Boost without a bridge, totem-pole: L1 from the mains to a leg of two fast switches, and from the other side of the mains to a leg of two
 * slow diodes. In one half cycle the lower switch is that of a boost and the upper one hands its current over, in the other they change;
 * one diode is in the way of the current instead of two.
 *
 * At an angle it is a synchronous boost on √2 V sin θ; each of its switches carries over the mains what both carry there, half
 * of the time each. Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18; Su, Lu, "An interleaved totem-pole boost bridgeless rectifier with reduced reverse-recovery
 * problems for power factor correction", IEEE Trans. Power Electronics 25 (2010).
 */
const FED = { rectifier: 'D2', reservoir: 'C2', least: LEAST, conducting: 1 } as const;

/** The two switches of the fast leg are one part. */
const made = new WeakMap<SizingInput, SizingInput>();
function innerInput(input: SizingInput): SizingInput {
  const known = made.get(input);
  if (known) return known;
  const found = { ...input, parts: { ...input.parts, Q2: input.parts.Q1! } };
  made.set(input, found);
  return found;
}

/** What a switch carries that is one of two things for half of the time each. */
const either = (a: Carried, b: Carried): Carried => ({ mean: (a.mean + b.mean) / 2, rms: Math.sqrt((a.rms ** 2 + b.rms ** 2) / 2), peak: Math.max(a.peak, b.peak), peakToPeak: Math.max(a.peakToPeak, b.peakToPeak) });

const { atAngle, borderAt, levelAt, fedBy, forecast } = behindRectifier({ inner: boostSynchronous, phases: 1, fed: FED, innerInput, drawnBy: (parts) => parts.L1!.mean });

const signals: Signal[] = [
  { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
  { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
  { id: 'output', title: 'Output, switching', unit: 'V', of: { output: 0 }, lane: 'ripple' },
  { id: 'Q1Current', title: 'Q1 current, lower', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
  { id: 'Q1HighCurrent', title: 'Q1 current, upper', unit: 'A', of: { current: 'Q1 high' } },
  { id: 'rectified', title: 'Mains', unit: 'V', of: { voltage: ['line'] } },
];

export const totemPole: Topology = {
  id: 'mains-totem-pole',
  title: 'Mains boost without a bridge, totem-pole',
  slots: [
    { id: 'D2', kind: 'diode', title: 'slow diode', purpose: 'one of the two carries the line current in each half cycle', copies: 2 },
    { id: 'C1', kind: 'capacitor', title: 'film capacitor', purpose: 'holds the ripple of the switching across the mains' },
    { id: 'L1', kind: 'inductor', title: 'line inductor', purpose: 'keeps the ripple to its share of the line current' },
    { id: 'Q1', kind: 'switch', title: 'fast switch', purpose: 'in one half cycle puts the mains across the inductor, in the other hands its current to the output', copies: 2 },
    { id: 'C2', kind: 'capacitor', title: 'reservoir', purpose: 'takes the power that beats at twice the mains frequency', beats: true },
  ],
  refuses: refusesMainsBoost,
  size: (input) => sizeMainsBoost(1, input, 0, ['D2']),
  forecast(input, sizing, point) {
    const found = forecast(input, sizing, point);
    const { Q2, ...parts } = found.parts;
    return { ...found, parts: { ...parts, Q1: either(parts.Q1!, Q2!) } };
  },
  rightHalfPlaneZero: () => undefined,
  crossoverLimit: (input) => input.brief.frequency / 8,
  stage(f, input, sizing) {
    f.inductor('L1', 'line', 'sw');
    f.switch('Q1', 'sw', '0', 'high');
    f.switch('Q1', 'out', 'sw', 'low', 'Q1 high');
    f.capacitor('C2', 'out', '0');
    putReservoir(f, input, sizing, 'C2', ['out', '0']);
    f.inStep('L1', 'C2', 'Q1');
    f.aside('D2', { leg: 'line' });
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
    f.duty('high', 'low');
  },
  duty: (input, sizing, point) => dutyNear(atAngle(input, sizing, point).forecast.duty, 0.995),
  start(input, sizing, point) {
    const { fed, forecast: f } = atAngle(input, sizing, point);
    return { C2: input.brief.output.voltage, L1: f.parts.L1!.peak - f.parts.L1!.peakToPeak, [RESERVOIR]: fed - point.load };
  },
  signals,
  mains: { ...FED, charges: true, switch: 'Q1', drawnAt: (input, sizing, point) => atAngle(input, sizing, point).drawn, borderAt, levelAt, fedBy },
  landmarks: () => [],
  drawing: {
    width: 900,
    height: 232,
    symbols: [
      { id: 'line', symbol: 'mains', x: 40, y: 115, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 150, y: 115, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 265, y: 80, turn: 1, label: 'above' },
      { id: 'Q1 high', slot: 'Q1', symbol: 'switch', x: 370, y: 44, turn: 0, label: 'none' },
      { id: 'Q1', symbol: 'switch', x: 370, y: 187, turn: 0, label: 'right' },
      { id: 'D2 high', slot: 'D2', symbol: 'diode', x: 520, y: 80, turn: 0, label: 'none' },
      { id: 'D2', symbol: 'diode', x: 520, y: 187, turn: 0, label: 'right' },
      { id: 'C2', symbol: 'capacitor', x: 660, y: 115, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 810, y: 115, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 115], [40, 80], [370, 80]], carries: 'L1' },
      { points: [[40, 115], [40, 150], [520, 150]], carries: 'line' },
      { points: [[150, 80], [150, 150]], carries: 'C1' },
      { points: [[370, 12], [370, 220]], carries: 'Q1' },
      { points: [[520, 12], [520, 220]], carries: 'D2' },
      { points: [[660, 12], [660, 220]], carries: 'C2' },
      { points: [[370, 12], [810, 12], [810, 220]], carries: 'load' },
      { points: [[370, 220], [810, 220]], carries: '' },
    ],
    dots: [[150, 80], [150, 150], [370, 80], [520, 150], [520, 12], [520, 220], [660, 12], [660, 220]],
  },
};
