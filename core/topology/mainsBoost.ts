import { slopeResistance, type CapacitorPart, type DiodePart, type InductorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { recent } from '../recent';
import { crestOf, drawnFrom, outputRipple, overMains, rectified, settledAngles, type MainsFed } from '../surroundings/mains';
import { crossoverOf } from '../control/mainsLoop';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { boostDiode } from './boostDiode';
import { capacitorValue, dutyNear, dutyOver, ERICKSON, inductorValue, LARGEST_DUTY, lineDrawnAlways, ratings } from './common';
import { landmark } from './landmarks';
import type { Carried } from './pieces';
import type { Forecast, Signal, Sizing, SizingInput, Topology } from './types';

/**
 * Mains rectifier with boost: four diodes D2 turn the mains over, C1 behind them holds the ripple of the switching,
 * and a boost of L1, Q1 and D1 draws a current in step with the mains. The power so drawn beats at twice the mains
 * frequency; C2 takes what the load does not.
 *
 * A current loop sets the duty so that the mean of L1's current over each switching period is I sin θ; a voltage
 * loop, slow against the mains, sets I. At an angle θ the stage is a boost on the dc line √2 V sin θ, which settles;
 * a large inductor "reservoir" from the output to a source of its mean voltage stands for the slow current of C2.
 * Near the zero crossing the line is too low to draw the current at any duty: there it draws nothing.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18 (ideal rectifiers, average current control).
 */
/** Duty at most: near the zero crossing it would be one */
const DUTY_MOST = 0.98;
/** Least rectified voltage that is drawn on, as a share of the output: the duty there leaves a little to regulate with */
const LEAST = 1.5 * (1 - DUTY_MOST);
/** Switching frequency over that of the mains, at least: the mains stands still meanwhile */
const SLOWER = 100;
/** Hz at which "reservoir" and C2 would ring: far below all that is looked at */
const SLOW = 10;
const SOURCE = `${ERICKSON}, ch. 18`;

type At = Pick<OperatingPoint, 'line' | 'load'>;
const bridgeOf = (input: SizingInput): DiodePart => input.parts.D2 as DiodePart;
const FED: MainsFed = { rectifier: 'D2', least: LEAST };

/** The boost at an angle: what it feeds the output is found by the mean that L1 shall carry; of several phases the forecast is that of one. */
function boostAt(input: SizingInput, sizing: Pick<Sizing, 'values'>, volts: number, mean: number, n: number): { fed: number; forecast: Forecast } {
  let fed = (volts * mean) / input.brief.output.voltage;
  let forecast = boostDiode.forecast(input, sizing, { line: volts, load: fed / n });
  // What is fed goes with what is drawn but for losses: three rounds of the rule of proportion, and a secant's worth more.
  for (let round = 0; round < 8; round++) {
    const ratio = mean / n / forecast.parts.L1!.mean;
    if (Math.abs(ratio - 1) < 1e-9) break;
    fed *= ratio;
    forecast = boostDiode.forecast(input, sizing, { line: volts, load: fed / n });
  }
  return { fed, forecast };
}

/** A leg of the rectifier conducts every other half cycle and carries the mean of what is drawn; C1 the rest. */
const legOf = (drawn: number): Carried => ({ mean: drawn / 2, rms: drawn / Math.SQRT2, peak: drawn, peakToPeak: drawn });

/** C2 at an angle: the ripple of the switching, and the slow current. */
const reservoirOf = (fast: Carried, slow: number): Carried => ({ mean: 0, rms: Math.hypot(fast.rms, slow), peak: fast.peak + Math.abs(slow), peakToPeak: fast.peakToPeak });

interface Angled {
  angle: number;
  weight: number;
  /** A fed to the output there */
  fed: number;
  parts: Record<string, Carried>;
  forecast: Forecast;
}

/** The stage at each angle by its forecast, the current being such that the load gets what it takes. */
function quarterCycle(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: At, n: number): { crest: number; at: Angled[] } {
  const list = settledAngles(drawnFrom(FED, bridgeOf(input), point.line, input.brief.output.voltage));
  const ohms = slopeResistance(bridgeOf(input));
  let crest = (2 * input.brief.output.voltage * point.load) / crestOf(point.line);
  let at: Angled[] = [];
  for (let round = 0; round < 12; round++) {
    at = list.map(({ angle, weight }) => {
      const drawn = crest * Math.sin(angle);
      const { fed, forecast } = boostAt(input, sizing, rectified(bridgeOf(input), point.line, angle, drawn, ohms), drawn, n);
      const { Q1, D1, L1, C2 } = forecast.parts;
      const C1 = { ...L1!, mean: 0, rms: Math.sqrt(Math.max(0, L1!.rms ** 2 - L1!.mean ** 2)), peak: L1!.peak - L1!.mean };
      return { angle, weight, fed, forecast, parts: { Q1: Q1!, D1: D1!, L1: L1!, D2: legOf(drawn), C1, C2: reservoirOf(C2!, fed - point.load) } };
    });
    const ratio = point.load / at.reduce((s, a) => s + a.weight * a.fed, 0);
    if (Math.abs(ratio - 1) < 1e-8) break;
    crest *= ratio;
  }
  return { crest, at };
}

/** Points of a sizing input that are kept solved: forecasts are asked for many times over while parts are chosen */
const MOST_SOLVED = 200;
const solved = new WeakMap<SizingInput, ReturnType<typeof recent<string, ReturnType<typeof quarterCycle>>>>();
function quarter(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: At, n: number): ReturnType<typeof quarterCycle> {
  const find = solved.get(input) ?? recent<string, ReturnType<typeof quarterCycle>>(MOST_SOLVED);
  solved.set(input, find);
  const key = `${n} ${point.line} ${point.load} ${sizing.values.L1!.taken} ${sizing.values.C2!.taken}`;
  return find(key, () => quarterCycle(input, sizing, point, n));
}

/** Slots whose stress is that of one phase alone; what capacitors carry of several is only estimated. */
const SHARED = new Set(['C1', 'C2']);

function forecastOf(n: number, input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load' | 'angle'>): Forecast {
  const { crest, at } = quarter(input, sizing, point, n);
  const angle = point.angle ?? Math.PI / 2;
  const drawn = crest * Math.sin(angle);
  const here = boostAt(input, sizing, rectified(bridgeOf(input), point.line, angle, drawn, slopeResistance(bridgeOf(input))), drawn, n).forecast;
  const parts: Record<string, Carried & { estimate?: true }> = {};
  for (const id of ['D2', 'C1', 'L1', 'Q1', 'D1', 'C2']) parts[id] = { ...overMains(at.map((a) => ({ weight: a.weight, duty: { ...a.parts[id]!, voltage: 0 } })), id === 'C2' ? point.load : 0), ...(n > 1 && SHARED.has(id) ? { estimate: true as const } : {}) };
  return { mode: here.mode, border: here.border, duty: here.duty, outputRipple: outputRipple(sizing.values.C2!.taken, input.brief.line.mains!, at.map((a) => ({ ...a, fast: a.forecast.outputRipple }))).peakToPeak, ...(n > 1 ? { rippleEstimate: true as const } : {}), crest, parts };
}

function sizeOf(n: number, input: SizingInput): Sizing {
  const { brief, allowed } = input;
  const { line, output, load } = brief;
  const power = output.voltage * load.max;
  const all = (2 * power) / crestOf(line.min);
  const crest = all / n;
  const largest = Math.max(...[line.min, line.max].flatMap((v) => [crestOf(v), Math.min(crestOf(v), output.voltage / 2)]).map((v) => v * (1 - v / output.voltage)));
  const slow = 2 * Math.PI * line.mains!;
  const text = { f: print(brief.frequency, 'Hz'), out: print(output.voltage, 'V'), P: print(power, 'W') };
  const duty = (v: number, title: string): Working => ({
    title, formula: 'D = 1 − √2 Vline / (Vout + Vf)', numbers: `1 − √2 × ${print(v, 'V')} / ${print(output.voltage, 'V')}`, value: 1 - crestOf(v) / (output.voltage + (input.parts.D1 as DiodePart).drop), unit: '%', source: SOURCE, leavesOut: 'resistances; towards the zero crossing the duty rises to its limit',
  });
  const inductance: Working = {
    title: 'inductance', formula: `L ≥ max v (1 − v / Vout) / (f · r · I),  I = 2 P / (√2 Vline${n > 1 ? ` · ${n}` : ''}) at the lowest line`, numbers: `${print(largest, 'V')} / (${text.f} × ${brief.rippleShare} × ${print(crest, 'A')}),  I = 2 × ${text.P} / (√2 × ${print(line.min, 'V')}${n > 1 ? ` × ${n}` : ''})`,
    value: largest / (brief.frequency * brief.rippleShare * crest), unit: 'H', source: SOURCE, leavesOut: 'losses: the current is a few percent more',
  };
  const bulk = input.parts.C2 as CapacitorPart;
  const tau = bulk.esr * bulk.capacitance;
  const held: Working = {
    title: 'capacitance for the ripple at twice the mains', formula: 'C ≥ (Iout / (2π fmains) + 2 τ I) / ΔV,  τ = ESR · C of one', numbers: `(${print(load.max, 'A')} / (2π × ${print(line.mains!, 'Hz')}) + 2 × ${print(tau, 's')} × ${print(all, 'A')}) / ${print(allowed.ripple, 'V')}`,
    value: (load.max / slow + 2 * tau * all) / allowed.ripple, unit: 'F', source: SOURCE, leavesOut: 'that the ripple of the switching and the slow one peak at different angles: on the safe side',
  };
  const pace = crossoverOf(input.control, line.mains!);
  const step: Working = {
    title: 'capacitance for the load step', formula: 'C ≥ ΔI / (2π fv · ΔV)', numbers: `${print(brief.loadStep, 'A')} / (2π × ${print(pace, 'Hz')} × ${print(allowed.deviation, 'V')})`,
    value: brief.loadStep / (2 * Math.PI * pace * allowed.deviation), unit: 'F', source: `output impedance near the voltage loop’s crossover taken as that of the capacitor (${ERICKSON}, ch. 9)`, leavesOut: 'what the loop has done by then: the dip is smaller',
  };
  const C2 = capacitorValue(bulk, [held, step]);
  const swing = largest / (brief.frequency * inductorValue(input.parts.L1 as InductorPart, inductance, input.series).taken);
  const top = output.voltage + allowed.ripple / 2;
  return {
    duty: dutyOver(duty(line.max, 'duty at the crest of the highest line'), duty(line.min, 'duty at the crest of the lowest line')),
    values: { L1: inductorValue(input.parts.L1 as InductorPart, inductance, input.series), C1: capacitorValue(input.parts.C1 as CapacitorPart, [lineDrawnAlways(swing, brief.frequency, brief.lineRipple)]), C2 },
    inductorCurrent: crest,
    blocking: ratings(input, { D2: crestOf(line.max), Q1: top, D1: top, C1: crestOf(line.max), C2: top }),
  };
}

const signals: Signal[] = [
  { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
  { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
  { id: 'output', title: 'Output, switching', unit: 'V', of: { output: 0 }, lane: 'ripple' },
  { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
  { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' } },
  { id: 'rectified', title: 'Rectified line', unit: 'V', of: { voltage: ['line'] } },
];

/** A rectifier with so many boosts alike behind it, each a further share of the period later: the file’s head says how it works. */
export function mainsBoostOf(n: number): Topology {
  const phases = Array.from({ length: n }, (_, k) => k);
  const alike = n > 1 ? { copies: n } : {};
  const tail = (k: number): string => (k === 0 ? '' : ` ${k + 1}`);
  const size = (input: SizingInput): Sizing => sizeOf(n, input);
  const forecast: Topology['forecast'] = (input, sizing, point) => forecastOf(n, input, sizing, point);
  return {
  id: n === 1 ? 'mains-boost' : `mains-boost-interleaved-${n}`,
  title: n === 1 ? 'Mains rectifier with boost' : `Mains rectifier with boost, ${['', '', 'two', 'three'][n]} phases`,
  slots: [
    { id: 'D2', kind: 'diode', title: 'rectifier diode', purpose: 'two of the four carry the line current in each half cycle', copies: 4 },
    { id: 'C1', kind: 'capacitor', title: 'film capacitor', purpose: 'holds the ripple of the switching behind the rectifier' },
    { id: 'L1', kind: 'inductor', title: 'line inductor', purpose: 'keeps the ripple to its share of the line current', ...alike },
    { id: 'Q1', kind: 'switch', title: 'low-side switch', purpose: 'puts the rectified line across the inductor for D of the period', ...alike },
    { id: 'D1', kind: 'diode', title: 'boost diode', purpose: 'hands the inductor current to the output', ...alike },
    { id: 'C2', kind: 'capacitor', title: 'reservoir', purpose: 'takes the power that beats at twice the mains frequency', beats: true },
  ],
  refuses({ line, output, frequency }) {
    if (frequency < SLOWER * line.mains!)
      return { code: 'impossible', where: 'brief.frequency', message: `${print(frequency, 'Hz')} is less than ${SLOWER} times the mains, which then moves within a switching period`, remedy: `choose ${print(SLOWER * line.mains!, 'Hz')} or more` };
    const least = crestOf(line.max) * 1.03;
    if (output.voltage < least)
      return { code: 'impossible', where: 'brief.output.voltage', message: `a boost only steps up, and ${print(output.voltage, 'V')} is below ${print(least, 'V')}, 103 % of the crest of the highest line`, remedy: `raise the output above ${print(least, 'V')} or lower the line below ${print(output.voltage / 1.03 / Math.SQRT2, 'V')}` };
    const most = 1 - crestOf(line.min) / output.voltage;
    return most <= LARGEST_DUTY ? undefined : { code: 'impossible', where: 'brief.line.min', message: `it would want a duty of ${print(most, '%')} at the crest of ${print(line.min, 'V')}, and losses leave no more than ${LARGEST_DUTY * 100} %`, remedy: 'raise the lowest line or lower the output' };
  },
  size,
  forecast,
  rightHalfPlaneZero: () => undefined,
  crossoverLimit: (input) => input.brief.frequency / 8,
  stage(f, input, sizing) {
    // Of several phases what is drawn is what they draw together, through a source of 0 V that tells it.
    const drawn = n === 1 ? 'L1' : 'drawn';
    if (n > 1) f.put({ kind: 'voltage-source', id: drawn, a: 'line', b: 'shared', value: 0 });
    for (const k of phases) {
      const [sw, high] = [`sw${tail(k)}`, `high${tail(k)}`];
      f.inductor('L1', n === 1 ? 'line' : 'shared', sw, { id: `L1${tail(k)}` });
      f.switch('Q1', sw, '0', high, `Q1${tail(k)}`);
      f.diode('D1', sw, 'out', `D1${tail(k)}`);
    }
    // Phases are alike: how the first rests, all do.
    if (n > 1) f.conducts('Q1', 'D1');
    f.capacitor('C2', 'out', '0');
    f.put(
      { kind: 'inductor', id: 'reservoir', a: 'out', b: 'mean', inductance: 1 / ((2 * Math.PI * SLOW) ** 2 * sizing.values.C2!.taken) },
      { kind: 'voltage-source', id: 'mean output', a: 'mean', b: '0', value: input.brief.output.voltage },
    );
    f.slow('C2', 'reservoir');
    f.inStep(drawn, 'C2');
    f.aside('D2', { leg: 'line' });
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
    for (const k of phases) f.duty(`high${tail(k)}`, undefined, { id: `modulator${tail(k)}`, phase: k / n });
  },
  duty: (input, sizing, point) => dutyNear(atAngle(input, sizing, point, n).forecast.duty, 0.995),
  start(input, sizing, point) {
    const { fed, forecast: f } = atAngle(input, sizing, point, n);
    const { L1 } = f.parts;
    const low = f.mode === 'continuous' ? L1!.peak - L1!.peakToPeak : 0;
    // Later phases stand a share of their rise higher.
    return { C2: input.brief.output.voltage, ...Object.fromEntries(phases.map((k) => [`L1${tail(k)}`, k === 0 || f.mode !== 'continuous' ? low : low + (L1!.peakToPeak * k) / n])), reservoir: fed - point.load };
  },
  signals,
  mains: FED,
  landmarks(input, sizing, point) {
    const L = sizing.values.L1!.taken / n;
    const C = sizing.values.C2!.taken;
    const D = atAngle(input, sizing, { ...point, angle: point.angle ?? Math.PI / 2 } as OperatingPoint, n).forecast.duty;
    const f = (1 - D) / (2 * Math.PI * Math.sqrt(L * C));
    return [landmark('resonance of L1 and C2', 'f = (1 − D) / (2π √(L C))', `${(1 - D).toFixed(3)} / (2π √(${print(L, 'H')} × ${print(C, 'F')}))`, f, 'damping; above it the current answers the duty as Vout / sL')];
  },
  drawing: {
    width: 920,
    height: 150,
    symbols: [
      { id: 'line', symbol: 'mains', x: 40, y: 80, turn: 0, label: 'right' },
      { id: 'D2', symbol: 'rectifier', x: 165, y: 80, turn: 0, label: 'right' },
      { id: 'C1', symbol: 'capacitor', x: 305, y: 80, turn: 0, label: 'right' },
      { id: 'L1', symbol: 'inductor', x: 410, y: 25, turn: 1, label: 'below' },
      { id: 'Q1', symbol: 'switch', x: 510, y: 80, turn: 0, label: 'right' },
      { id: 'D1', symbol: 'diode', x: 650, y: 25, turn: 3, label: 'below' },
      { id: 'C2', symbol: 'capacitor', x: 750, y: 80, turn: 0, label: 'right' },
      { id: 'load', symbol: 'load', x: 865, y: 80, turn: 0, label: 'right' },
    ],
    wires: [
      { points: [[40, 80], [40, 25], [165, 25], [165, 80]], carries: 'line' },
      { points: [[40, 80], [40, 135], [165, 135], [165, 80]], carries: 'line' },
      { points: [[165, 25], [305, 25], [410, 25]], carries: 'L1' },
      { points: [[305, 25], [305, 135]], carries: 'C1' },
      { points: [[410, 25], [510, 25]], carries: 'L1' },
      { points: [[510, 25], [510, 135]], carries: 'Q1' },
      { points: [[510, 25], [750, 25]], carries: 'D1' },
      { points: [[750, 25], [750, 135]], carries: 'C2' },
      { points: [[750, 25], [865, 25], [865, 135]], carries: 'load' },
      { points: [[165, 135], [865, 135]], carries: '' },
    ],
    dots: [[305, 25], [510, 25], [750, 25], [305, 135], [510, 135], [750, 135]],
  },
  };
}

export const mainsBoost = mainsBoostOf(1);


/** The boost at the angle of a point, with the current drawn there. */
function atAngle(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: OperatingPoint, n: number): { fed: number; forecast: Forecast } {
  const angle = point.angle ?? Math.PI / 2;
  const mean = (point.drawn ?? quarter(input, sizing, point, n).crest) * Math.sin(angle);
  return boostAt(input, sizing, rectified(bridgeOf(input), point.line, angle, mean, slopeResistance(bridgeOf(input))), mean, n);
}
