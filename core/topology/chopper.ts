import { onResistance, slopeResistance } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { capacitorValue, DUTY_MAX, dutyNear, dutyRange, lineDrawnInPulses, MOHAN, ratings, refusesAbove } from './common';
import { landmark } from './landmarks';
import { carried, less, type Piece } from './pieces';
import { root } from './root';
import { partsAs, type Forecast, type Signal, type Sizing, type SizingInput, type Topology } from './types';

/**
 * Chopper for a load that is a resistance with an inductance of its own, a winding or a magnet: Q1 puts the line
 * on it for D of the period, D1 lets its current run on. There is no filter: the load's own time constant smooths
 * the current, and the output of the brief is the voltage of its resistance, so its ripple is that of the current.
 *
 * The current is exponential in either part of the period; both are solved exactly.
 * Source: Mohan, Undeland, Robbins, "Power Electronics", ch. 7 (step-down converter, load of R and L).
 */
/** Straight pieces that an exponential is drawn with */
const PIECES = 48;

const partsOf = partsAs<{ Q1: 'switch'; D1: 'diode'; C1: 'capacitor' }>();

/** From i towards `end` with a time constant: where it is after t. */
const relax = (i: number, end: number, t: number, tau: number): number => end + (i - end) * Math.exp(-t / tau);

interface Cycle {
  mode: Forecast['mode'];
  duty: number;
  /** A at the beginning and where Q1 opens; s of either part */
  low: number;
  high: number;
  on: number;
  off: number;
  /** Where the current tends to, and how fast, in either part */
  up: { end: number; tau: number };
  down: { end: number; tau: number };
}

function cycleAt(input: SizingInput, { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Cycle {
  const p = partsOf(input);
  const L = input.brief.loadInductance!;
  const R = input.brief.output.voltage / load;
  const T = 1 / input.brief.frequency;
  const [r1, r2] = [R + onResistance(p.Q1, 25), R + slopeResistance(p.D1)];
  const up = { end: line / r1, tau: L / r1 };
  const down = { end: -p.D1.drop / r2, tau: L / r2 };
  const at = (duty: number): Cycle & { mean: number } => {
    const on = duty * T;
    const [a, b] = [Math.exp(-on / up.tau), Math.exp(-(T - on) / down.tau)];
    let low = (down.end * (1 - b) + up.end * (1 - a) * b) / (1 - a * b);
    let off = T - on;
    let high = relax(low, up.end, on, up.tau);
    const rests = low < 0;
    if (rests) {
      low = 0;
      high = relax(0, up.end, on, up.tau);
      off = down.tau * Math.log((high - down.end) / -down.end);
    }
    // L di/dt = V − R i, over each part.
    const mean = (up.end * on - up.tau * (high - low) + down.end * off - down.tau * ((rests ? 0 : low) - high)) / T;
    return { mode: rests ? 'discontinuous' : 'continuous', duty, low, high, on, off, up, down, mean };
  };
  return at(root((duty) => at(duty).mean - load, 1e-6, 1, 1e-12 * load));
}

const drawn = (i: number, to: { end: number; tau: number }, seconds: number): Piece[] =>
  Array.from({ length: PIECES }, (_, k) => ({ seconds: seconds / PIECES, from: relax(i, to.end, (k * seconds) / PIECES, to.tau), to: relax(i, to.end, ((k + 1) * seconds) / PIECES, to.tau) }));

function forecast(input: SizingInput, _: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
  const c = cycleAt(input, point);
  const T = 1 / input.brief.frequency;
  const first = drawn(c.low, c.up, c.on);
  const second = drawn(c.high, c.down, c.off);
  const none = (seconds: number): Piece => ({ seconds, from: 0, to: 0 });
  const Q1 = [...first, none(T - c.on)];
  return {
    mode: c.mode, border: c.low / c.high || (c.off - (T - c.on)) / T, duty: c.duty, outputRipple: ((c.high - c.low) * input.brief.output.voltage) / point.load,
    parts: { Q1: carried(Q1), D1: carried([none(c.on), ...second, none(Math.max(0, T - c.on - c.off))]), C1: { ...carried(less(Q1, carried(Q1).mean)), estimate: true } },
  };
}

function size(input: SizingInput): Sizing {
  const { brief } = input;
  const p = partsOf(input);
  const corners = [brief.line.min, brief.line.max].map((line) => cycleAt(input, { line, load: brief.load.max }).duty);
  const worst = corners.reduce((a, b) => (b * (1 - b) > a * (1 - a) ? b : a));
  const working = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
    title, formula: 'mean of i(t) = Iout,  i(t) exponential with L / R in either part', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, L = ${print(brief.loadInductance!, 'H')}, R = ${print(brief.output.voltage / at.load, 'Ω')}`,
    value: cycleAt(input, at).duty, unit: '%', source: `${MOHAN}`, leavesOut: 'dead time; resistances are taken at 25 °C',
  });
  return {
    duty: dutyRange(input, working),
    values: { C1: capacitorValue(p.C1, [lineDrawnInPulses(brief.load.max, worst, brief.frequency, brief.lineRipple)]) },
    blocking: ratings(input, { Q1: brief.line.max + p.D1.drop, D1: brief.line.max, C1: brief.line.max }),
    inductorCurrent: brief.load.max,
  };
}

const signals: Signal[] = [
  { id: 'switchNode', title: 'Voltage on the load', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
  { id: 'inductorCurrent', title: 'Load current', unit: 'A', of: { current: 'load inductance' }, lane: 'whole' },
  { id: 'output', title: 'Ripple on the load’s resistance', unit: 'V', of: { output: 0 }, lane: 'ripple' },
  { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
  { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' } },
];

export const chopper: Topology = {
  id: 'chopper',
  title: 'Chopper, R-L load',
  slots: [
    { id: 'Q1', kind: 'switch', title: 'switch', purpose: 'puts the line on the load for D of the period' },
    { id: 'D1', kind: 'diode', title: 'freewheeling diode', purpose: 'lets the current of the load run on' },
    { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
  ],
  refuses(brief) {
    if (brief.loadInductance === undefined) return { code: 'impossible', where: 'brief.loadInductance', message: 'it has no filter of its own: the load has to bring an inductance', remedy: 'give the inductance of the load, or take a topology with an inductor' };
    return refusesAbove(brief, DUTY_MAX, 'a chopper only steps down');
  },
  size,
  forecast,
  rightHalfPlaneZero: () => undefined,
  crossoverLimit: () => Infinity,
  stage(f, { brief }) {
    f.switch('Q1', 'line', 'sw', 'high');
    f.diode('D1', '0', 'sw');
    f.put({ kind: 'inductor', id: 'load inductance', a: 'sw', b: 'out', inductance: brief.loadInductance! });
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
    f.smoothedByLoad();
    f.duty('high');
  },
  duty: (input, _, point) => dutyNear(cycleAt(input, point).duty, 0.995),
  start: (input, _, point) => ({ 'load inductance': cycleAt(input, point).low }),
  signals,
  landmarks(input, _, point) {
    const L = input.brief.loadInductance!;
    const R = input.brief.output.voltage / point.load;
    return [landmark('pole of the load', 'f = R / (2π L)', `${print(R, 'Ω')} / (2π × ${print(L, 'H')})`, R / (2 * Math.PI * L), 'resistances of switch and diode')];
  },
  drawing: {
    width: 700,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 40, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 160, y: 95, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 290, y: 25, turn: 1, label: 'below' },
      { id: 'D1', symbol: 'diode', x: 420, y: 100, turn: 0, label: 'right' },
      { id: 'load inductance', symbol: 'inductor', x: 570, y: 65, turn: 0, label: 'none' },
      { id: 'load', symbol: 'load', x: 570, y: 140, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 95], [40, 25], [160, 25]], carries: 'line' },
      { points: [[160, 25], [160, 175]], carries: 'C1' },
      { points: [[160, 25], [420, 25]], carries: 'Q1' },
      { points: [[420, 25], [420, 175]], carries: 'D1' },
      { points: [[420, 25], [570, 25], [570, 175]], carries: 'load' },
      { points: [[40, 95], [40, 175], [570, 175]], carries: '' },
    ],
    dots: [[160, 25], [420, 25], [160, 175], [420, 175]],
  },
};
