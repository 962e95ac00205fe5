import { type CapacitorPart, type DiodePart, type InductorPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import { heldCommand, type HeldCommand } from '../control/held';
import { crestOf, mainsAngles } from '../surroundings/mains';
import type { Problem } from '../problem';
import type { Brief } from '../surroundings/brief';
import type { Working } from '../working';
import { boostDiode } from './boostDiode';
import { capacitorValue, dutyNear, dutyOver, ERICKSON, inductorValue, LARGEST_DUTY, lineDrawnAlways, ratings } from './common';
import { landmark } from './landmarks';
import { behindRectifier, movesWithin } from './onMains';
import { putReservoir, reservoirValue } from './reservoir';
import type { Signal, Sizing, SizingInput, Topology } from './types';

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
export const LEAST = 1.5 * (1 - DUTY_MOST);
const SOURCE = `${ERICKSON}, ch. 18`;

const FED = { rectifier: 'D2', reservoir: 'C2', least: LEAST };

/** What is common to one boost behind a rectifier and several. */
const behind = (n: number): ReturnType<typeof behindRectifier> => behindRectifier({ inner: boostDiode, phases: n, fed: FED, innerInput: (input) => input, drawnBy: (parts) => parts.L1!.mean });

/** Mean over the mains of v² Vout / (Vout − v), V²: what a boost of a held duty draws power by. */
const drawnWithDuty = (line: number, output: number): number => mainsAngles(0, MEANS).reduce((sum, { angle, weight }) => {
  const v = crestOf(line) * Math.sin(angle);
  return sum + (weight * v ** 2 * output) / (output - v);
}, 0);
const MEANS = 12;

/** H at most: that which still rests in every period at its duty, or that which switches no slower than it shall, at either end of the line. */
function mostInductance({ brief }: SizingInput, held: HeldCommand): Working {
  const { line, output, load, frequency } = brief;
  const power = output.voltage * load.max;
  const at = (v: number): number => {
    const off = 1 - crestOf(v) / output.voltage;
    return held === 'duty' ? ((RESTS * off) ** 2 * drawnWithDuty(v, output.voltage)) / (2 * frequency * power) : (v ** 2 * off) / (2 * frequency * power);
  };
  const [low, high] = [at(line.min), at(line.max)];
  const text = { least: print(low < high ? line.min : line.max, 'V'), P: print(power, 'W'), f: print(frequency, 'Hz') };
  return held === 'duty'
    ? { title: 'inductance that comes to rest in every period', formula: `L ≤ (${RESTS} (1 − √2 Vline / Vout))² ⟨v² Vout / (Vout − v)⟩ / (2 f P)`, numbers: `at ${text.least}, ${text.P} and ${text.f}; ⟨ ⟩ is the mean over the mains`, value: Math.min(low, high), unit: 'H', source: SOURCE, leavesOut: 'losses: the duty is a little more' }
    : { title: 'inductance for the lowest frequency', formula: 'L ≤ Vline² (1 − √2 Vline / Vout) / (2 f P)', numbers: `at ${text.least}, ${text.P} and ${text.f}, which is had at the crest`, value: Math.min(low, high), unit: 'H', source: SOURCE, leavesOut: 'losses: it is on a little longer' };
}
/** Share of the period within which the current has come to rest, in a stage that holds its duty */
const RESTS = 0.9;

/** The sizing of so many boosts behind a rectifier. @param drop V of what hands the current to the output @param rest slots that stand the output besides the switch */
export function sizeMainsBoost(n: number, input: SizingInput, drop: number, rest: readonly string[]): Sizing {
  const { brief, allowed } = input;
  const { line, output, load } = brief;
  const power = output.voltage * load.max;
  const all = (2 * power) / crestOf(line.min);
  const crest = all / n;
  const largest = Math.max(...[line.min, line.max].flatMap((v) => [crestOf(v), Math.min(crestOf(v), output.voltage / 2)]).map((v) => v * (1 - v / output.voltage)));
  const text = { f: print(brief.frequency, 'Hz'), out: print(output.voltage, 'V'), P: print(power, 'W') };
  const duty = (v: number, title: string): Working => ({
    title, formula: 'D = 1 − √2 Vline / (Vout + Vf)', numbers: `1 − √2 × ${print(v, 'V')} / ${print(output.voltage, 'V')}`, value: 1 - crestOf(v) / (output.voltage + drop), unit: '%', source: SOURCE, leavesOut: 'resistances; towards the zero crossing the duty rises to its limit',
  });
  const held = heldCommand(input.control);
  const inductance: Working = held ? mostInductance(input, held) : {
    title: 'inductance', formula: `L ≥ max v (1 − v / Vout) / (f · r · I),  I = 2 P / (√2 Vline${n > 1 ? ` · ${n}` : ''}) at the lowest line`, numbers: `${print(largest, 'V')} / (${text.f} × ${brief.rippleShare} × ${print(crest, 'A')}),  I = 2 × ${text.P} / (√2 × ${print(line.min, 'V')}${n > 1 ? ` × ${n}` : ''})`,
    value: largest / (brief.frequency * brief.rippleShare * crest), unit: 'H', source: SOURCE, leavesOut: 'losses: the current is a few percent more',
  };
  const C2 = reservoirValue(input, 'C2', all);
  const L1 = inductorValue(input.parts.L1 as InductorPart, inductance, input.series, held ? 'down' : 'up');
  const swing = largest / (brief.frequency * L1.taken);
  const top = output.voltage + allowed.ripple / 2;
  return {
    duty: dutyOver(duty(line.max, 'duty at the crest of the highest line'), duty(line.min, 'duty at the crest of the lowest line')),
    values: { L1, C1: capacitorValue(input.parts.C1 as CapacitorPart, [lineDrawnAlways(swing, brief.frequency, brief.lineRipple)]), C2 },
    inductorCurrent: crest,
    blocking: ratings(input, { D2: crestOf(line.max), Q1: top, C1: crestOf(line.max), C2: top, ...Object.fromEntries(rest.map((slot) => [slot, top])) }),
  };
}

/** Why a boost can not serve a mains: it moves within a switching period, its crest is above the output, or it wants too much duty. */
export function refusesMainsBoost(brief: Brief): Problem | undefined {
  const { line, output } = brief;
  const moves = movesWithin(brief);
  if (moves) return moves;
  const least = crestOf(line.max) * 1.03;
  if (output.voltage < least)
    return { code: 'impossible', where: 'brief.output.voltage', message: `a boost only steps up, and ${print(output.voltage, 'V')} is below ${print(least, 'V')}, 103 % of the crest of the highest line`, remedy: `raise the output above ${print(least, 'V')} or lower the line below ${print(output.voltage / 1.03 / Math.SQRT2, 'V')}` };
  const most = 1 - crestOf(line.min) / output.voltage;
  return most <= LARGEST_DUTY ? undefined : { code: 'impossible', where: 'brief.line.min', message: `it would want a duty of ${print(most, '%')} at the crest of ${print(line.min, 'V')}, and losses leave no more than ${LARGEST_DUTY * 100} %`, remedy: 'raise the lowest line or lower the output' };
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
  const size = (input: SizingInput): Sizing => sizeMainsBoost(n, input, (input.parts.D1 as DiodePart).drop, ['D1']);
  const { atAngle, borderAt, levelAt, fedBy, forecast } = behind(n);
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
  refuses: refusesMainsBoost,
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
    putReservoir(f, input, sizing, 'C2', ['out', '0']);
    f.inStep(drawn, 'C2');
    f.aside('D2', { leg: 'line' });
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
    for (const k of phases) f.duty(`high${tail(k)}`, undefined, { id: `modulator${tail(k)}`, phase: k / n });
  },
  duty: (input, sizing, point) => dutyNear(atAngle(input, sizing, point).forecast.duty, 0.995),
  start(input, sizing, point) {
    const { fed, forecast: f } = atAngle(input, sizing, point);
    const { L1 } = f.parts;
    const low = f.mode === 'continuous' ? L1!.peak - L1!.peakToPeak : 0;
    // Later phases stand a share of their rise higher.
    return { C2: input.brief.output.voltage, ...Object.fromEntries(phases.map((k) => [`L1${tail(k)}`, k === 0 || f.mode !== 'continuous' ? low : low + (L1!.peakToPeak * k) / n])), reservoir: fed - point.load };
  },
  signals,
  mains: { ...FED, charges: true, switch: 'Q1', ...(n === 1 ? { rests: 'L1' } : {}), drawnAt: (input, sizing, point) => atAngle(input, sizing, point).drawn, borderAt, levelAt, fedBy },
  landmarks(input, sizing, point) {
    const L = sizing.values.L1!.taken / n;
    const C = sizing.values.C2!.taken;
    const D = atAngle(input, sizing, point).forecast.duty;
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

