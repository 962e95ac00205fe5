import { type Fragment, esrOf, windingOhms } from '../converter/fragment';
import { onResistance, slopeResistance, turnResistance, windingResistance, type DiodePart, type SwitchPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { CENTRE_TAPPED, centreTapped, drawnAround, placesBehind, RECTIFIER, type Rectifier } from './centreTap';
import { capacitorValue, DUTY_MIN, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnInPulses, ratings, MOHAN, rippleFedAlways } from './common';
import { afterBuck } from './landmarks';
import { capacitorRipple, carried, less, through, type Span } from './pieces';
import { root } from './root';
import { partsAs, type Forecast, type Signal, type Sizing, type SizingInput, type Topology } from './types';
import { CORE_DAMPING, turnsFor, ungapped } from './windings';

/**
 * Half bridge: two capacitors halve the line; Q1 and Q2, each for D of the period and half a period apart, put the
 * halves on the primary in turn. A centre-tapped secondary feeds L1 twice a period; between, both of its halves
 * carry the current of L1, less or more by what magnetises the core.
 *
 * At light load that current falls to the magnetising one; then a single diode is left to carry both, through L1
 * and the core in series, and the flux itself runs down until the next pulse.
 *
 * Where switches rectify, each is open while the other half of the secondary feeds L1 and closed for the rest: the
 * current of L1 may run backwards at light load, and conduction is continuous at every one.
 *
 * The leakage is left out: its energy goes back to the other half of the line.
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6; Mohan, Undeland, Robbins, "Power
 * Electronics", ch. 10. The discontinuous cycle is worked out here.
 */
/** Of the whole period, of which each switch has half */
const DUTY_LEAST = DUTY_MIN / 2;
/** Each switch has half of the period, less what a driver needs between them; and what the turns are made for, so that the loop has some left */
const LIMIT = 0.495;
const LARGEST = 0.42;
/** Share of the full flux density that the swing takes at rest: what the loop adds in a step stands on it */
const FLUX_SHARE = 0.5;
/** Ripple of the halved line, as a share of it */
const HALVES_RIPPLE = 0.02;

/** Gates of what rectifies the other half of the secondary */
const AGAINST = RECTIFIER.switch.elements.toReversed();

/** Where the straight pieces begin that a pulse is drawn with */
const PULSE = [0, 0.25, 0.5, 0.75];

/** What is special about one of them. */
export interface HalfBridge {
  id: string;
  title: string;
  rectifier: Rectifier;
}

const partsOf = partsAs<{ Q1: 'switch'; T1: 'transformer'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor'; C3: 'capacitor' }>();

interface Cycle {
  mode: Forecast['mode'];
  /** How far from it; none where switches rectify */
  border: number | undefined;
  duty: number;
  /** s of half a period: pulse, both halves carrying, one carrying */
  on: number;
  both: number;
  one: number;
  /** A of L1 at the beginning of the pulse, its end, and where a single diode is left */
  low: number;
  high: number;
  locked: number;
  /** A that magnetise, as seen from the secondary: before a pulse (against it) and after */
  before: number;
  after: number;
  /** A that L1's current stands above a straight line in the middle of a pulse: the halves of the line sag meanwhile */
  bump: number;
}

/** A half bridge, with diodes or with switches behind the transformer: the file’s head says how it works. */
export function halfBridge(d: HalfBridge): Topology {
  const D = RECTIFIER[d.rectifier].slot;
  const rectifierDrop = (input: SizingInput): number => (input.parts[D]!.kind === 'diode' ? (input.parts[D] as DiodePart).drop : 0);
  const rectifierOhms = (input: SizingInput): number => {
    const part = input.parts[D] as DiodePart | SwitchPart;
    return part.kind === 'diode' ? slopeResistance(part) : onResistance(part, 25);
  };

  const ratio = (input: SizingInput): Working => {
    const { brief } = input;
    const drop = rectifierDrop(input);
    return {
      title: 'turns ratio', formula: 'Ns / Np ≥ 1.03 (Vout + Vf) / (Dmax Vline)', numbers: `1.03 × (${print(brief.output.voltage, 'V')} + ${print(drop, 'V')}) / (${LARGEST} × ${print(brief.line.min, 'V')}),  two pulses of Vline / 2 a period`,
      value: (1.03 * (brief.output.voltage + drop)) / (LARGEST * brief.line.min), unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'three percent are left for resistances',
    };
  };

  function cycleAt(input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Cycle {
    const p = partsOf(input);
    const [Np, Ns] = [values['T1 primary']!.taken, values['T1 secondary']!.taken];
    const n = Ns / Np;
    const L = values.L1!.taken;
    const M = n ** 2 * values.T1!.taken;
    const T = 1 / input.brief.frequency;
    const turn = turnResistance(p.T1, 25);
    const first = onResistance(p.Q1, 25) + windingOhms(turn, Np, 0.4);
    const second = rectifierOhms(input) + windingOhms(turn, Ns, 0.3);
    const coil = windingResistance(p.L1, 25);
    const drop = rectifierDrop(input);
    const out = input.brief.output.voltage;
    const volts = (i: number): { on: number; off: number; single: number; across: number } => {
      const across = line / 2 - n * i * first;
      return { across, on: n * across - drop - i * (second + coil) - out, off: out + drop + i * (second / 2 + coil), single: out + drop };
    };
    const v = volts(load);
    const D = (0.5 * v.off) / (v.on + v.off);
    const swing = (v.on * D * T) / L;
    const flux = (v.across * D * T * n) / M / 2;
    const low = load - swing / 2;
    // What bends the current within a pulse, and between two: the halves of the line sag by I t / 2C, and resistances
    // take the more of the voltage the more current there is. Both lift or sink the middle, and with it the ends.
    const esr = esrOf(p.C2, values.C2!.taken);
    const off = T / 2 - D * T;
    const sag = (n ** 2 * load * D * T) / (2 * values.C3!.taken) + swing * (n ** 2 * first + second + coil + esr);
    const bump = (sag * D * T) / (8 * L);
    const dip = (swing * (second / 2 + coil + esr) * off) / (8 * L);
    const sunk = (2 / 3) * (bump * 2 * D - dip * (1 - 2 * D));
    if (d.rectifier === 'switch' || low - sunk >= flux)
      return { mode: 'continuous', border: d.rectifier === 'switch' ? undefined : (low - sunk - flux) / swing, duty: D, on: D * T, both: T / 2 - D * T, one: 0, low: low - sunk, high: load + swing / 2 - sunk, locked: low - sunk, before: flux, after: flux, bump };

    // One diode is left before the next pulse comes.
    const at = (duty: number): Cycle & { mean: number } => {
      const on = duty * T;
      let [before, high, after, both] = [0, 0, 0, 0];
      let sags = 0;
      let w = v;
      for (let k = 0; k < 60; k++) {
        w = volts(high / 2);
        // The middle of the line goes from as much above to as much below its mean, by the charge of the pulse.
        sags = (n ** 2 * ((before + high) / 2) * on) / (2 * values.C3!.taken);
        high = before + ((w.on + sags / 6) * on) / L;
        after = (w.across * on * n) / M - before;
        both = Math.max(0, ((high - after) * L) / w.off);
        const left = T / 2 - on - both;
        before = (before + Math.max(0, after - (w.single * left) / (L + M))) / 2;
      }
      const one = Math.min(T / 2 - on - both, (after * (L + M)) / w.single);
      const bump = ((sags + high * (n ** 2 * first + second + coil + esr)) * on) / (8 * L);
      const dip = ((high - after) * (second / 2 + coil + esr) * both) / (8 * L);
      const mean = (((before + high) / 2 + (2 / 3) * bump) * on + ((high + after) / 2 - (2 / 3) * dip) * both + ((after + before) / 2) * one) / (T / 2);
      return { mode: 'discontinuous', border: (low - sunk - flux) / swing, duty, on, both, one, low: before, high, locked: after, before, after, bump, mean };
    };
    return at(root((duty) => at(duty).mean - load, 1e-6 * D, D, 1e-12 * load));
  }

  function forecast(input: SizingInput, { values }: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const c = cycleAt(input, values, point);
    const n = values['T1 secondary']!.taken / values['T1 primary']!.taken;
    const rest = Math.max(0, 1 / input.brief.frequency / 2 - c.on - c.both - c.one);
    const [b, a] = [c.before, c.after];
    const half = (own: boolean): Span[] => [
      ...PULSE.map((x): Span => {
        const coil = [x, x + 1 / PULSE.length].map((y) => c.low + (c.high - c.low) * y + 4 * c.bump * y * (1 - y)) as [number, number];
        const flux = [x, x + 1 / PULSE.length].map((y) => n * (-b + (a + b) * y)) as [number, number];
        return { seconds: c.on / PULSE.length, at: { L1: coil, ...(own ? { Q1: [n * coil[0] + flux[0], n * coil[1] + flux[1]], [D]: coil } : {}), flux: own ? flux : [-flux[0], -flux[1]] } };
      }),
      { seconds: c.both, at: { L1: [c.high, c.locked], [D]: own ? [(c.high - a) / 2, (c.locked - a) / 2] : [(c.high + a) / 2, (c.locked + a) / 2] } },
      { seconds: c.one, at: { L1: [c.locked, c.low], ...(own ? {} : { [D]: [c.locked, c.low] }) } },
      { seconds: rest, at: {} },
    ];
    const all = [...half(true), ...half(false)];
    const other = [...half(false), ...half(true)];
    const Q1 = carried(through(all, 'Q1'));
    const primary = carried([...through(half(true), 'Q1'), ...through(half(true), 'Q1').map((p) => ({ seconds: p.seconds, from: -p.from, to: -p.to }))]);
    const flux = carried(through(all, 'flux'));
    const C = values.C2!.taken;
    const fed = less(through(all, 'L1'), point.load);
    const rectified = carried(through(other, D));
    return {
      mode: c.mode, border: c.border, duty: c.duty, outputRipple: capacitorRipple(fed, C, esrOf(partsOf(input).C2, C)),
      parts: {
        Q1, [D]: rectified, L1: carried(through(all, 'L1')), C2: carried(fed), T1: { ...primary, peak: flux.peak, peakToPeak: flux.peakToPeak }, 'T1 primary': primary, 'T1 secondary': rectified, 'T1 secondary 2': rectified,
        // Each of the two takes half of what the primary carries; the line, beside C1, gives its mean.
        C3: { ...primary, rms: primary.rms / 2, peak: primary.peak / 2, peakToPeak: primary.peakToPeak / 2 },
        C1: { ...carried(less([...through(half(true), 'Q1'), ...through(half(true), 'Q1')].map((q) => ({ seconds: q.seconds, from: q.from / 2, to: q.to / 2 })), Q1.mean)), estimate: true },
      },
    };
  }

  function size(input: SizingInput): Sizing {
    const { brief, allowed, crossover } = input;
    const p = partsOf(input);
    const { frequency, output, line, load } = brief;
    const turns = turnsFor(p.T1, { ratio: ratio(input), voltSeconds: ((line.min / 2) * LARGEST) / frequency, where: 'in a pulse of the largest duty', swing: 2 * FLUX_SHARE * p.T1.maxFluxDensity });
    const n = turns.secondary.taken / turns.primary.taken;
    const off = output.voltage + rectifierDrop(input);
    const smallest = off / (n * line.max);
    const L1 = inductorValue(p.L1, {
      title: 'inductance for the ripple share', formula: 'L ≥ (Vout + Vf) (1/2 − D) / (f · r · Iout)', numbers: `${print(off, 'V')} × ${(0.5 - smallest).toFixed(3)} / (${print(frequency, 'Hz')} × ${brief.rippleShare} × ${print(load.max, 'A')})  — ripple is largest at a line of ${print(line.max, 'V')}`,
      value: (off * (0.5 - smallest)) / (frequency * brief.rippleShare * load.max), unit: 'H', source: `${ERICKSON}, ch. 2`, leavesOut: 'voltage across the resistances; fall of the inductance with current',
    }, input.series);
    const swing = (off * (0.5 - smallest)) / (frequency * L1.taken);
    const largest = Math.min(0.48, off / (n * line.min));
    const values: Sizing['values'] = {
      T1: ungapped(p.T1, turns.primary.taken), 'T1 primary': turns.primary, 'T1 secondary': turns.secondary, L1,
      C1: capacitorValue(p.C1, [lineDrawnInPulses((n * load.max) / 2, 2 * largest, 2 * frequency, brief.lineRipple)]),
      C2: capacitorValue(p.C2, [rippleFedAlways(p.C2, swing, 2 * frequency, allowed.ripple), holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)]),
      C3: capacitorValue(p.C3, [{
        title: `capacitance for a ripple of ${HALVES_RIPPLE * 100} % of half the line`, formula: 'C ≥ n Iout D / (2 f ΔV),  each of two', numbers: `${print(n * load.max, 'A')} × ${largest.toFixed(3)} / (2 × ${print(frequency, 'Hz')} × ${print((HALVES_RIPPLE * line.min) / 2, 'V')})`,
        value: (n * load.max * largest) / (2 * frequency * ((HALVES_RIPPLE * line.min) / 2)), unit: 'F', source: MOHAN, leavesOut: 'magnetising current',
      }]),
    };
    const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
      title, formula: 'D = ½ (Vout + Vf + I R) / (n Vline / 2 − I R), of each switch', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, n = ${turns.secondary.taken}/${turns.primary.taken}`,
      value: cycleAt(input, values, at).duty, unit: '%', source: `${ERICKSON}, ch. 6`, leavesOut: 'dead time; leakage; resistances are taken at 25 °C',
    });
    return {
      duty: dutyRange(input, duty), values, inductorCurrent: load.max,
      blocking: ratings(input, { Q1: line.max, [D]: n * line.max, C1: line.max, C2: output.voltage, C3: (line.max / 2) * (1 + HALVES_RIPPLE) }),
    };
  }

  function stage(f: Fragment, input: SizingInput, { values }: Sizing): void {
    f.switch('Q1', 'line', 'a', 'Q1');
    f.switch('Q1', 'a', '0', 'Q2', 'Q2');
    // Both switches are off between the pulses: what the core still carries goes back into the line through their body diodes.
    f.body('Q1', 'a', 'line');
    f.body('Q1', '0', 'a', 'Q2');
    f.capacitor('C3', 'line', 'middle');
    f.capacitor('C3', 'middle', '0', { id: 'C3 2' });
    f.core('T1', 'a', 'pw', (CORE_DAMPING * input.brief.line.max * values['T1 primary']!.taken) / (values['T1 secondary']!.taken * input.brief.load.max));
    centreTapped(f, ['a', 'pw'], 'middle', d.rectifier);
    // What rectifies the other half of the secondary is open meanwhile.
    ['Q1', 'Q2'].forEach((gate, k) => f.duty(gate, d.rectifier === 'switch' ? AGAINST[k] : undefined, { id: `modulator ${gate}`, phase: k / 2 }));
    // One diode alone carries what the core holds; both together the current of the inductor.
    f.conducts('Q1', 'Q2', 'Q1 body', 'Q2 body', [...RECTIFIER[d.rectifier].elements]);
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Primary', unit: 'V', of: { voltage: ['a', 'middle'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: `${D}Current`, title: `${D} current`, unit: 'A', of: { current: D }, lane: 'whole' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' } },
    { id: 'T1Current', title: 'T1 magnetising current', unit: 'A', of: { current: 'T1' } },
    { id: 'middle', title: 'Middle of the halved line', unit: 'V', of: { voltage: ['middle', '0'] } },
  ];

  return {
    id: d.id,
    title: d.title,
    isolated: true,
    slots: [
      { id: 'Q1', kind: 'switch', title: 'switches', purpose: 'put the halves of the line on the primary in turn, each for D of the period', copies: 2 },
      { id: 'C3', kind: 'capacitor', title: 'halving capacitors', purpose: 'halve the line, and keep dc away from the primary', copies: 2 },
      { id: 'T1', kind: 'transformer', title: 'transformer', purpose: 'brings half the line to what the output wants, and parts the two' },
      ...placesBehind(d.rectifier),
    ],
    refuses: () => undefined,
    size,
    forecast,
    rightHalfPlaneZero: () => undefined,
    crossoverLimit: () => Infinity,
    stage,
    duty: (input, sizing, point) => dutyNear(cycleAt(input, sizing.values, point).duty, LIMIT, DUTY_LEAST),
    start(input, { values }, point) {
      const c = cycleAt(input, values, point);
      const half = point.line / 2;
      // Before the first pulse the lower capacitor has just been charged by the last of the other.
      return { C2: input.brief.output.voltage, L1: c.low, T1: (-values['T1 secondary']!.taken / values['T1 primary']!.taken) * c.before, C3: half, 'C3 2': half };
    },
    signals,
    windings: { T1: CENTRE_TAPPED },
    landmarks: (input, sizing, point) => afterBuck(input, sizing, point, cycleAt(input, sizing.values, point).mode),
    drawing: drawnAround(480, d.rectifier, {
      symbols: [
        { id: 'C3', symbol: 'capacitor', x: 215, y: 50, turn: 0, label: 'right' },
        { id: 'C3 2', slot: 'C3', symbol: 'capacitor', x: 215, y: 140, turn: 0, label: 'none' },
        { id: 'Q1', symbol: 'switch', x: 325, y: 50, turn: 0, label: 'right' },
        { id: 'Q2', slot: 'Q1', symbol: 'switch', x: 325, y: 140, turn: 0, label: 'right' },
      ],
      wires: [
        { points: [[215, 5], [215, 180]], carries: 'C3' },
        { points: [[325, 5], [325, 180]], carries: 'Q1' },
        { points: [[325, 95], [440, 95], [440, 63], [460, 63]], carries: 'Q1' },
        { points: [[215, 95], [285, 95], [285, 172], [440, 172], [440, 127], [460, 127]], carries: 'T1' },
      ],
      dots: [[215, 5], [215, 180], [215, 95], [325, 95]],
    }),
  };
}
