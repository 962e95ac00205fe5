import type { Fragment } from '../converter/fragment';
import { onResistance, slopeResistance, windingResistance, type DiodePart, type SwitchPart } from '../parts/schema';
import type { Problem } from '../problem';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Brief, OperatingPoint } from '../surroundings/brief';
import { capacitorValue, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnAlways, lineDrawnInPulses, ratings, rippleFedAlways, rippleFedInPulses } from './common';
import { capacitorZero, doublePole, loadPole, rightZero } from './landmarks';
import { carried, capacitorRipple, less, type Piece } from './pieces';
import { newton } from './root';
import { partsAs, type Drawing, type Forecast, type Landmark, type Signal, type SizedValue, type Sizing, type SizingInput, type Topology } from './types';

/**
 * Converters with one inductor: Q1 puts a voltage on it for D of the period, then a rectifier (a second switch,
 * or a diode) takes its current over. They differ by what stands across the inductor in either part, by when
 * it draws on the line and when it feeds the output; all the rest of their sizing is here, once.
 *
 * With Q2 as rectifier the current is continuous at every load. With a diode it is discontinuous where the
 * duty that the load wants there is smaller than that of continuous conduction.
 *
 * The line is stiff: it carries the mean of what is drawn and C1 all the rest.
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 2, 5 and 8;
 * Mohan, Undeland, Robbins, "Power Electronics", ch. 7.
 */
/** What is special about one of them. */
export interface OneInductor {
  id: string;
  title: string;
  rectifier: 'switch' | 'diode';
  /** V across the inductor while Q1 conducts, from line and output */
  on(line: number, out: number): number;
  /** V across it, the other way, while the rectifier conducts; `drop` of the diode */
  off(line: number, out: number, drop: number): number;
  /** Is the line drawn on all the time, or while Q1 conducts? */
  draws: 'always' | 'on';
  /** Does the inductor feed the output all the time, or while the rectifier conducts? */
  feeds: 'always' | 'off';
  /** V that Q1 and the rectifier block at most */
  blocks(line: number, out: number): number;
  /** Formulas in words: duty, inductor voltage while on */
  words: { duty: string; inductance: string };
  /** Why it can not serve a brief */
  refuses(brief: Brief): Problem | undefined;
  titles: { Q1: string; rectifier: string; L1: string };
  purposes: { Q1: string; rectifier: string; L1: string; C1: string; C2: string };
  /** Nodes that each part stands between; the current of a diode flows from a to b */
  wiring: { Q1: readonly [string, string]; rectifier: readonly [string, string]; L1: readonly [string, string]; output: readonly [string, string] };
  drawing: Drawing;
}


const partsOf = partsAs<{ Q1: 'switch'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor' }>();

/** A topology with one inductor, from what its file declares: buck, boost, inverting, with a switch or a diode to hand over to. */
export function oneInductor(d: OneInductor): Topology {
  const rectifier = d.rectifier === 'switch' ? 'Q2' : 'D1';
  const rectifierPart = (input: SizingInput): SwitchPart | DiodePart => input.parts[rectifier] as SwitchPart | DiodePart;
  const dropOf = (input: SizingInput): number => {
    const part = rectifierPart(input);
    return part.kind === 'diode' ? part.drop : 0;
  };
  /** Ω cold: of Q1, of the rectifier, of the winding */
  const resistances = (input: SizingInput): [number, number, number] => {
    const part = rectifierPart(input);
    return [onResistance(partsOf(input).Q1, 25), part.kind === 'diode' ? slopeResistance(part) : onResistance(part, 25), windingResistance(partsOf(input).L1, 25)];
  };
  /** Duty without losses, with the diode's drop: volt-seconds balance. */
  const idealDuty = (input: SizingInput, line: number): number => {
    const [on, off] = [d.on(line, input.brief.output.voltage), d.off(line, input.brief.output.voltage, dropOf(input))];
    return off / (on + off);
  };
  const inductorMean = (load: number, duty: number): number => (d.feeds === 'always' ? load : load / (1 - duty));

  /** Ω of the output capacitor as it will be: where it is fed in pulses, the output stands higher by its drop meanwhile. */
  const seriesResistance = (input: SizingInput, capacitance: number): number => {
    const { C2 } = partsOf(input);
    return d.feeds === 'always' ? 0 : (C2.esr * C2.capacitance) / capacitance;
  };

  /** Volt-seconds balance with resistances, by Newton from the ideal duty: the lower of the two that a step-up has. */
  function continuousDuty(input: SizingInput, line: number, load: number, esr = 0): number {
    const out = input.brief.output.voltage;
    const [r1, r2, rl] = resistances(input);
    const [on, off] = [d.on(line, out), d.off(line, out, dropOf(input))];
    const balance = (D: number): number => {
      const i = inductorMean(load, D);
      return D * (on - i * r1) - (1 - D) * (off + i * (r2 + D * esr)) - i * rl;
    };
    return newton(balance, idealDuty(input, line), 1e-4, 0.995);
  }

  /** Duty that the load wants where the current starts from nothing in each period, resistances by the mean of the ramps. */
  function discontinuousDuty(input: SizingInput, inductance: number, line: number, load: number, esr: number): { duty: number; on: number; off: number } {
    const { frequency, output } = input.brief;
    const [r1, r2, rl] = resistances(input);
    let on = d.on(line, output.voltage);
    let off = d.off(line, output.voltage, dropOf(input));
    let duty = 0;
    for (let k = 0; k < 6; k++) {
      const charge = 2 * frequency * inductance * load;
      duty = d.feeds === 'always' ? Math.sqrt(charge / (on * (1 + on / off))) : Math.sqrt(charge * off) / on;
      const half = (on * duty) / (frequency * inductance) / 2;
      on = d.on(line, output.voltage) - half * (r1 + rl);
      off = d.off(line, output.voltage, dropOf(input)) + half * (r2 + rl + esr * (1 - (duty * on) / off));
    }
    return { duty, on, off };
  }

  function forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { frequency, output } = input.brief;
    const L = sizing.values.L1!.taken;
    const T = 1 / frequency;
    const esr = seriesResistance(input, sizing.values.C2!.taken);
    const continuous = continuousDuty(input, point.line, point.load, esr);
    const broken = discontinuousDuty(input, L, point.line, point.load, esr);
    const isContinuous = d.rectifier === 'switch' || continuous <= broken.duty;
    const duty = isContinuous ? continuous : broken.duty;
    const [r1, , rl] = resistances(input);
    let up: Piece;
    let down: Piece;
    let rest = 0;
    if (isContinuous) {
      const mean = inductorMean(point.load, duty);
      const swing = ((d.on(point.line, output.voltage) - mean * (r1 + rl)) * duty) / (frequency * L);
      up = { seconds: duty * T, from: mean - swing / 2, to: mean + swing / 2 };
      down = { seconds: (1 - duty) * T, from: up.to, to: up.from };
    } else {
      const peak = (broken.on * duty) / (frequency * L);
      const fall = (duty * broken.on) / broken.off;
      up = { seconds: duty * T, from: 0, to: peak };
      down = { seconds: fall * T, from: peak, to: 0 };
      rest = Math.max(0, 1 - duty - fall) * T;
    }
    const none = (seconds: number): Piece => ({ seconds, from: 0, to: 0 });
    const coil = [up, down, none(rest)];
    const first = [up, none(down.seconds), none(rest)];
    const second = [none(up.seconds), down, none(rest)];
    const drawn = d.draws === 'always' ? coil : first;
    const fed = less(d.feeds === 'always' ? coil : second, point.load);
    const { C2 } = partsOf(input);
    const C = sizing.values.C2!.taken;
    return {
      mode: isContinuous ? 'continuous' : 'discontinuous',
      border: d.rectifier === 'switch' ? undefined : continuous / broken.duty - 1,
      duty,
      outputRipple: capacitorRipple(fed, C, (C2.esr * C2.capacitance) / C),
      parts: { Q1: carried(first), [rectifier]: carried(second), L1: carried(coil), C1: { ...carried(less(drawn, carried(drawn).mean)), estimate: true }, C2: carried(fed) },
    };
  }

  const dutyWorking = (input: SizingInput) => (title: string, { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
    title,
    formula: d.words.duty,
    numbers: `at ${print(line, 'V')} and ${print(load, 'A')}, ${print(input.brief.output.voltage, 'V')} out`,
    value: continuousDuty(input, line, load),
    unit: '%',
    source: `${ERICKSON}, ch. 2 and 3`,
    leavesOut: `dead time; resistances are taken at 25 °C${d.rectifier === 'diode' ? '; in discontinuous conduction the duty is smaller' : ''}`,
  });

  /** Mean inductor current at full load, where it is largest: at the lowest line. */
  const largestMean = (input: SizingInput): number => inductorMean(input.brief.load.max, idealDuty(input, input.brief.line.min));

  /** The line of the region at which the ripple of the inductor is largest. */
  function worstLine(input: SizingInput): { line: number; voltSeconds: number } {
    const { line, output } = input.brief;
    return Array.from({ length: 65 }, (_, k) => line.max - ((line.max - line.min) * k) / 64)
      .map((v) => ({ line: v, voltSeconds: d.on(v, output.voltage) * idealDuty(input, v) }))
      .reduce((a, b) => (b.voltSeconds > a.voltSeconds * (1 + 1e-12) ? b : a));
  }

  function inductor(input: SizingInput): SizedValue {
    const { brief } = input;
    const base = largestMean(input);
    const { line, voltSeconds } = worstLine(input);
    const on = print(d.on(line, brief.output.voltage), 'V');
    return inductorValue(partsOf(input).L1, {
      title: 'inductance for the ripple share',
      formula: d.words.inductance,
      numbers: `${on} × ${idealDuty(input, line).toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${brief.rippleShare} × ${print(base, 'A')})  — ripple is largest at a line of ${print(line, 'V')}`,
      value: voltSeconds / (brief.frequency * brief.rippleShare * base),
      unit: 'H',
      source: `${ERICKSON}, ch. 2`,
      leavesOut: 'voltage across the resistances; fall of the inductance with current',
    }, input.series);
  }

  function outputCapacitor(input: SizingInput, inductance: number): SizedValue {
    const { brief, crossover, allowed } = input;
    const { C2 } = partsOf(input);
    const swing = worstLine(input).voltSeconds / (brief.frequency * inductance);
    const ripple =
      d.feeds === 'always'
        ? rippleFedAlways(C2, swing, brief.frequency, allowed.ripple)
        : rippleFedInPulses(C2, brief.load.max, idealDuty(input, brief.line.min), largestMean(input) + swing / 2, brief.frequency, allowed.ripple);
    return capacitorValue(C2, [ripple, holdsStep(C2, brief.loadStep, crossover, allowed.deviation)]);
  }

  function inputCapacitor(input: SizingInput, inductance: number): SizedValue {
    const { brief } = input;
    const { C1 } = partsOf(input);
    if (d.draws === 'always') return capacitorValue(C1, [lineDrawnAlways(worstLine(input).voltSeconds / (brief.frequency * inductance), brief.frequency, brief.lineRipple)]);
    // I D (1 − D) is largest at a duty of one half, or at an end of the duty range, for a fixed current.
    const worst = Array.from({ length: 65 }, (_, k) => brief.line.min + ((brief.line.max - brief.line.min) * k) / 64)
      .map((line) => ({ duty: idealDuty(input, line), current: inductorMean(brief.load.max, idealDuty(input, line)) }))
      .reduce((a, b) => (b.current * b.duty * (1 - b.duty) > a.current * a.duty * (1 - a.duty) ? b : a));
    return capacitorValue(C1, [lineDrawnInPulses(worst.current, worst.duty, brief.frequency, brief.lineRipple)]);
  }

  const size = (input: SizingInput): Sizing => {
    const { line, output } = input.brief;
    const L1 = inductor(input);
    const values = { L1, C1: inputCapacitor(input, L1.taken), C2: outputCapacitor(input, L1.taken) };
    const most = d.blocks(line.max, output.voltage);
    return { duty: dutyRange(input, dutyWorking(input)), values, blocking: ratings(input, { Q1: most, [rectifier]: most, C1: line.max, C2: output.voltage }), inductorCurrent: largestMean(input) };
  };

  function stage(f: Fragment): void {
    f.switch('Q1', ...d.wiring.Q1, 'high');
    if (d.rectifier === 'switch') f.switch('Q2', ...d.wiring.rectifier, 'low');
    else f.diode('D1', ...d.wiring.rectifier);
    f.inductor('L1', ...d.wiring.L1);
    f.capacitor('C2', ...d.wiring.output);
    f.aside('C1', { beside: 'line' });
    f.output(...d.wiring.output);
    f.duty('high', d.rectifier === 'switch' ? 'low' : undefined);
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Switch node', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
    { id: `${rectifier}Current`, title: `${rectifier} current`, unit: 'A', of: { current: rectifier } },
    { id: 'C2Current', title: 'C2 current', unit: 'A', of: { current: 'C2' } },
  ];

  function landmarks(input: SizingInput, sizing: Sizing, point: OperatingPoint): Landmark[] {
    const [L, C] = [sizing.values.L1!.taken, sizing.values.C2!.taken];
    const { C2 } = partsOf(input);
    const { duty, mode } = forecast(input, sizing, point);
    const out = input.brief.output.voltage;
    const right = rightHalfPlaneZero(input, sizing, point);
    return [
      mode === 'continuous' ? doublePole(d.feeds === 'always' ? 1 : 1 - duty, L, C, 'damping by load and resistances, which moves it by less than a percent here') : loadPole(out / point.load, C),
      capacitorZero((C2.esr * C2.capacitance) / C, C),
      ...(right === undefined ? [] : [rightZero(duty, d.on(point.line, out) + d.off(point.line, out, 0), L, inductorMean(point.load, duty), right)]),
    ];
  }

  /** Where more duty first takes current away from the output before it gives any: none in discontinuous conduction to speak of. */
  function rightHalfPlaneZero(input: SizingInput, sizing: Sizing, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined {
    if (d.feeds === 'always') return undefined;
    const { duty, mode } = forecast(input, sizing, point);
    if (mode === 'discontinuous') return undefined;
    const out = input.brief.output.voltage;
    return ((1 - duty) * (d.on(point.line, out) + d.off(point.line, out, 0))) / (2 * Math.PI * sizing.values.L1!.taken * inductorMean(point.load, duty));
  }

  return {
    id: d.id,
    title: d.title,
    ...(d.wiring.output[0] === '0' ? { inverts: true as const } : {}),
    slots: [
      { id: 'Q1', kind: 'switch', title: d.titles.Q1, purpose: d.purposes.Q1 },
      { id: rectifier, kind: d.rectifier, title: d.titles.rectifier, purpose: d.purposes.rectifier },
      { id: 'L1', kind: 'inductor', title: d.titles.L1, purpose: d.purposes.L1 },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: d.purposes.C1 },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: d.purposes.C2 },
    ],
    refuses: d.refuses,
    size,
    forecast,
    rightHalfPlaneZero,
    crossoverLimit: (input, sizing, point) => (rightHalfPlaneZero(input, sizing, point) ?? Infinity) / 4,
    stage,
    currentControl: { sensed: 'Q1', fall: (input, { values }, { line }) => d.off(line, input.brief.output.voltage, dropOf(input)) / values.L1!.taken },
    duty: (input, sizing, point) => dutyNear(forecast(input, sizing, point).duty),
    start(input, sizing, point) {
      const { mode, parts } = forecast(input, sizing, point);
      return { C2: input.brief.output.voltage, L1: mode === 'continuous' ? parts.L1!.peak - parts.L1!.peakToPeak : 0 };
    },
    signals,
    landmarks,
    drawing: d.drawing,
  };
}

