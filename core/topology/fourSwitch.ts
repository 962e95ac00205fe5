import { type Fragment, esrOf } from '../converter/fragment';
import { onResistance, windingResistance } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { capacitorValue, dutyNear, dutyOver, ERICKSON, holdsStep, inductorValue, lineDrawnInPulses, ratings, refusesDuty, rippleFedAlways, rippleFedInPulses } from './common';
import { capacitorZero, doublePole, rightZero } from './landmarks';
import { capacitorRipple, carried, less, type Piece } from './pieces';
import { partsAs, type Forecast, type Signal, type Sizing, type SizingInput, type Topology } from './types';

/**
 * Four-switch buck-boost: a leg on the line (Q1, Q2), a leg on the output (Q3 to the output, Q4 to the return) and
 * one inductor between them. Well above the output the first leg works alone, as a buck; well below, the second
 * alone, as a boost; between, both work with one duty: Q1 and Q4 for D, Q2 and Q3 for the rest.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 2 and 6 (buck and boost in cascade).
 */
/** Line over output above which it bucks, and below the inverse of which it boosts */
const APART = 1.2;

type Way = 'buck' | 'both' | 'boost';

const partsOf = partsAs<{ Q1: 'switch'; Q2: 'switch'; Q3: 'switch'; Q4: 'switch'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor' }>();

const wayAt = (input: SizingInput, line: number): Way => (line >= APART * input.brief.output.voltage ? 'buck' : line * APART <= input.brief.output.voltage ? 'boost' : 'both');

/** Does the inductor feed the output, draw on the line, all the time? */
const FEEDS = { buck: true, both: false, boost: false } as const;

/** V across L1 in either part, without losses. */
const ideal = (way: Way, line: number, out: number): { on: number; off: number } => ({ on: way === 'buck' ? line - out : line, off: way === 'boost' ? out - line : out });
const idealDuty = (way: Way, line: number, out: number): number => {
  const { on, off } = ideal(way, line, out);
  return off / (on + off);
};
const coilMean = (way: Way, load: number, D: number): number => (FEEDS[way] ? load : load / (1 - D));

interface Cycle {
  way: Way;
  D: number;
  coil: [Piece, Piece];
}

function cycleAt(input: SizingInput, values: Sizing['values'] | undefined, { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Cycle {
  const p = partsOf(input);
  const way = wayAt(input, line);
  const out = input.brief.output.voltage;
  const { on, off } = ideal(way, line, out);
  const [q1, q2, q3, q4] = [p.Q1, p.Q2, p.Q3, p.Q4].map((q) => onResistance(q, 25)) as [number, number, number, number];
  const rl = windingResistance(p.L1, 25);
  const up = rl + (way === 'boost' || way === 'both' ? q1 + q4 : q1 + q3);
  const down = rl + (way === 'boost' ? q1 + q3 : q2 + q3);
  const esr = values && !FEEDS[way] ? esrOf(p.C2, values.C2!.taken) : 0;
  let D = idealDuty(way, line, out);
  for (let k = 0; k < 60; k++) {
    const i = coilMean(way, load, D);
    const [a, b] = [on - i * up, off + i * (down + D * esr)];
    D = b / (a + b);
  }
  const i = coilMean(way, load, D);
  const T = 1 / input.brief.frequency;
  const swing = values ? ((on - i * up) * D * T) / values.L1!.taken : 0;
  return { way, D, coil: [{ seconds: D * T, from: i - swing / 2, to: i + swing / 2 }, { seconds: (1 - D) * T, from: i + swing / 2, to: i - swing / 2 }] };
}

/** Which part of the period each switch conducts in: the first, the second, both, none. */
const CONDUCTS: Record<Way, Record<'Q1' | 'Q2' | 'Q3' | 'Q4', readonly [boolean, boolean]>> = {
  buck: { Q1: [true, false], Q2: [false, true], Q3: [true, true], Q4: [false, false] },
  both: { Q1: [true, false], Q2: [false, true], Q3: [false, true], Q4: [true, false] },
  boost: { Q1: [true, true], Q2: [false, false], Q3: [false, true], Q4: [true, false] },
};

function forecast(input: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
  const { way, D, coil } = cycleAt(input, values, point);
  const only = (id: 'Q1' | 'Q2' | 'Q3' | 'Q4'): Piece[] => coil.map((p, k) => (CONDUCTS[way][id][k] ? p : { seconds: p.seconds, from: 0, to: 0 }));
  const C = values.C2!.taken;
  const fed = less(only('Q3'), point.load);
  const drawn = only('Q1');
  return {
    mode: 'continuous', duty: D, outputRipple: capacitorRipple(fed, C, esrOf(partsOf(input).C2, C)),
    parts: { Q1: carried(drawn), Q2: carried(only('Q2')), Q3: carried(only('Q3')), Q4: carried(only('Q4')), L1: carried(coil), C1: { ...carried(less(drawn, carried(drawn).mean)), estimate: true }, C2: carried(fed) },
  };
}

/** Lines of the region, with those where the way of working changes. */
function linesOf(input: SizingInput): number[] {
  const { line, output } = input.brief;
  const all = Array.from({ length: 33 }, (_, k) => line.min + ((line.max - line.min) * k) / 32);
  const turns = [APART * output.voltage, output.voltage / APART].flatMap((v) => [v * 0.9999, v * 1.0001]);
  return [...all, ...turns.filter((v) => v >= line.min && v <= line.max)];
}

function size(input: SizingInput): Sizing {
  const { brief, allowed, crossover } = input;
  const p = partsOf(input);
  const { frequency, load, output } = brief;
  const out = output.voltage;
  const lines = linesOf(input);
  const figures = lines.map((line) => {
    const way = wayAt(input, line);
    const D = idealDuty(way, line, out);
    return { line, way, D, mean: coilMean(way, load.max, D), voltSeconds: ideal(way, line, out).on * D };
  });
  const base = Math.max(...figures.map((f) => f.mean));
  const worst = figures.reduce((a, b) => (b.voltSeconds > a.voltSeconds ? b : a));
  const L1 = inductorValue(p.L1, {
    title: 'inductance for the ripple share', formula: 'L ≥ V_L D / (f · r · I_L): the largest of the three ways of working, I_L the largest mean',
    numbers: `${print(worst.voltSeconds / worst.D, 'V')} × ${worst.D.toFixed(3)} / (${print(frequency, 'Hz')} × ${brief.rippleShare} × ${print(base, 'A')})  — at a line of ${print(worst.line, 'V')}`,
    value: worst.voltSeconds / (frequency * brief.rippleShare * base), unit: 'H', source: `${ERICKSON}, ch. 2`, leavesOut: 'voltage across the resistances; fall of the inductance with current',
  }, input.series);
  const ripples = figures.map((f) => {
    const swing = f.voltSeconds / (frequency * L1.taken);
    return FEEDS[f.way] ? rippleFedAlways(p.C2, swing, frequency, allowed.ripple) : rippleFedInPulses(p.C2, load.max, f.D, f.mean + swing / 2, frequency, allowed.ripple);
  });
  const drawn = figures.filter((f) => f.way !== 'boost').map((f) => lineDrawnInPulses(f.mean, f.D, frequency, brief.lineRipple));
  // Only a boost draws all the time; then the ripple of the inductor is all there is.
  const boost = figures.filter((f) => f.way === 'boost').map((f): Working => ({ title: 'capacitance for the ripple on the line', formula: 'C ≥ ΔI / (8 f · ΔV)', numbers: `${print(f.voltSeconds / (frequency * L1.taken), 'A')} at ${print(f.line, 'V')}`, value: f.voltSeconds / (frequency * L1.taken) / (8 * frequency * brief.lineRipple), unit: 'F', source: `${ERICKSON}, ch. 2`, leavesOut: 'series resistance' }));
  const most = (list: Working[]): Working => list.reduce((a, b) => (b.value > a.value ? b : a));
  const values = {
    L1,
    C1: capacitorValue(p.C1, [most([...drawn, ...boost])]),
    C2: capacitorValue(p.C2, [most(ripples), holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)]),
  };
  const duties = lines.flatMap((line) => [load.min, load.max].map((amps) => ({ line, amps, D: cycleAt(input, values, { line, load: amps }).D })));
  const working = (title: string, at: (typeof duties)[number]): Working => ({
    title, formula: 'buck: D = Vout / Vline;  boost: D = 1 − Vline / Vout;  both legs: D = Vout / (Vline + Vout);  each with I R', numbers: `at ${print(at.line, 'V')} and ${print(at.amps, 'A')}: ${wayAt(input, at.line) === 'both' ? 'both legs' : wayAt(input, at.line)}`,
    value: at.D, unit: '%', source: `${ERICKSON}, ch. 6`, leavesOut: 'dead time; resistances are taken at 25 °C',
  });
  const duty = dutyOver(working('smallest duty', duties.reduce((a, b) => (b.D < a.D ? b : a))), working('largest duty', duties.reduce((a, b) => (b.D > a.D ? b : a))));
  return {
    duty, values, inductorCurrent: base,
    blocking: ratings(input, { Q1: brief.line.max, Q2: brief.line.max, Q3: out, Q4: out, C1: brief.line.max, C2: out }),
  };
}

function stage(f: Fragment, input: SizingInput, _: Sizing, point: OperatingPoint): void {
  const way = wayAt(input, point.line);
  f.switch('Q1', 'line', 'sw', 'Q1');
  f.switch('Q2', 'sw', '0', 'Q2');
  f.inductor('L1', 'sw', 'sw 2');
  f.switch('Q3', 'sw 2', 'out', 'Q3');
  f.switch('Q4', 'sw 2', '0', 'Q4');
  f.capacitor('C2', 'out', '0');
  f.aside('C1', { beside: 'line' });
  f.output('out', '0');
  // The leg that rests holds one of its switches closed.
  if (way === 'boost') f.held('Q1', 'Q2');
  else f.duty('Q1', 'Q2', { id: 'modulator Q1' });
  if (way === 'buck') f.held('Q3', 'Q4');
  else f.duty('Q4', 'Q3', { id: 'modulator Q4' });
}

function rightHalfPlaneZero(input: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined {
  const { way, D } = cycleAt(input, sizing.values, point);
  if (way === 'buck') return undefined;
  const { on, off } = ideal(way, point.line, input.brief.output.voltage);
  return ((1 - D) * (on + off)) / (2 * Math.PI * sizing.values.L1!.taken * coilMean(way, point.load, D));
}

const signals: Signal[] = [
  { id: 'switchNode', title: 'Line leg', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
  { id: 'secondNode', title: 'Output leg', unit: 'V', of: { voltage: ['sw 2'] }, lane: 'whole' },
  { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
  { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
  { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
  { id: 'Q3Current', title: 'Q3 current', unit: 'A', of: { current: 'Q3' } },
];

export const fourSwitch: Topology = {
  id: 'buck-boost-four-switch',
  title: 'Buck-boost, four switches',
  slots: [
    { id: 'Q1', kind: 'switch', title: 'high-side switch of the line leg', purpose: 'joins line and inductor: for D, or all the time while it boosts' },
    { id: 'Q2', kind: 'switch', title: 'low-side switch of the line leg', purpose: 'carries the inductor current for the rest' },
    { id: 'Q3', kind: 'switch', title: 'high-side switch of the output leg', purpose: 'joins inductor and output: for the rest, or all the time while it bucks' },
    { id: 'Q4', kind: 'switch', title: 'low-side switch of the output leg', purpose: 'fills the inductor where the line alone would not' },
    { id: 'L1', kind: 'inductor', title: 'inductor', purpose: 'stands between the two legs' },
    { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
    { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'feeds the load while the output leg is away' },
  ],
  refuses: (brief) => refusesDuty(brief, brief.line.min * APART > brief.output.voltage ? 0.5 : 1 - brief.line.min / brief.output.voltage),
  size,
  forecast,
  rightHalfPlaneZero,
  crossoverLimit: (input, sizing, point) => (rightHalfPlaneZero(input, sizing, point) ?? Infinity) / 4,
  stage,
  duty: (input, sizing, point) => dutyNear(cycleAt(input, sizing.values, point).D),
  start: (input, sizing, point) => ({ C2: input.brief.output.voltage, L1: cycleAt(input, sizing.values, point).coil[0].from }),
  signals,
  landmarks(input, sizing, point) {
    const { way, D } = cycleAt(input, sizing.values, point);
    const [L, C] = [sizing.values.L1!.taken, sizing.values.C2!.taken];
    const { on, off } = ideal(way, point.line, input.brief.output.voltage);
    const right = rightHalfPlaneZero(input, sizing, point);
    return [
      doublePole(FEEDS[way] ? 1 : 1 - D, L, C, 'damping by load and resistances'),
      capacitorZero(esrOf(partsOf(input).C2, C), C),
      ...(right === undefined ? [] : [rightZero(D, on + off, L, coilMean(way, point.load, D), right)]),
    ];
  },
  drawing: {
    width: 900,
    height: 190,
    symbols: [
      { id: 'line', symbol: 'source', x: 40, y: 95, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 145, y: 95, turn: 0, label: 'right' },
      { id: 'Q1', symbol: 'switch', x: 270, y: 45, turn: 0, label: 'left' },
      { id: 'Q2', symbol: 'switch', x: 270, y: 140, turn: 0, label: 'left' },
      { id: 'L1', symbol: 'inductor', x: 410, y: 92, turn: 1, label: 'below' },
      { id: 'Q3', symbol: 'switch', x: 550, y: 45, turn: 0, label: 'right' },
      { id: 'Q4', symbol: 'switch', x: 550, y: 140, turn: 0, label: 'right' },
      { id: 'C2', symbol: 'capacitor', x: 705, y: 95, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 830, y: 95, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 95], [40, 5], [145, 5]], carries: 'line' },
      { points: [[145, 5], [145, 180]], carries: 'C1' },
      { points: [[145, 5], [270, 5], [270, 92]], carries: 'Q1' },
      { points: [[270, 92], [270, 180]], carries: 'Q2' },
      { points: [[270, 92], [550, 92]], carries: 'L1' },
      { points: [[550, 92], [550, 5], [705, 5]], carries: 'Q3' },
      { points: [[550, 92], [550, 180]], carries: 'Q4' },
      { points: [[705, 5], [705, 180]], carries: 'C2' },
      { points: [[705, 5], [830, 5], [830, 180]], carries: 'load' },
      { points: [[40, 95], [40, 180], [830, 180]], carries: '' },
    ],
    dots: [[145, 5], [145, 180], [270, 92], [550, 92], [270, 180], [550, 180], [705, 5], [705, 180]],
  },
};
