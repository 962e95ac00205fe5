import { type Fragment, esrOf, windingOhms } from '../converter/fragment';
import { onResistance, slopeResistance, turnResistance, windingResistance, type TransformerPart } from '../parts/schema';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { OperatingPoint } from '../surroundings/brief';
import { capacitorValue, dutyNear, dutyRange, ERICKSON, holdsStep, inductorValue, lineDrawnInPulses, ratings, rippleFedAlways } from './common';
import { afterBuck } from './landmarks';
import { capacitorRipple, carried, less, through, type Span } from './pieces';
import { partsAs, type Drawing, type Forecast, type Signal, type SizedValue, type Sizing, type SizingInput, type Topology } from './types';
import { CORE_DAMPING, leakage, LEAKAGE_DAMPING, turnsFor, ungapped, winding } from './windings';

/**
 * Forward converters: while the primary is on the line, D1 passes the secondary's voltage to L1; for the rest of
 * the period D2 carries its current, and the flux of the core goes back to nothing through D3. Behind the
 * secondary this is a buck.
 *
 * One switch: a winding of as many turns as the primary resets the flux, and the leakage, whose energy a snubber
 * has to take, is left out. Two switches: D3 and D4 return flux and leakage to the line; while L1's current
 * passes over to a winding, through the leakage, the secondary stands shorted and the output gets nothing.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6; Mohan, Undeland, Robbins, "Power
 * Electronics", ch. 10.
 */
export interface Forward {
  id: string;
  title: string;
  switches: 1 | 2;
  drawing: Drawing;
}

/** At half the period the flux could not come back; some is left for the loop. */
const LARGEST = 0.42;
const LIMIT = 0.495;
/** Share of the full flux density that the swing takes at rest: what the loop adds in a step stands on it */
const FLUX_SHARE = 0.6;

const partsOf = partsAs<{ Q1: 'switch'; D1: 'diode'; D2: 'diode'; D3: 'diode'; T1: 'transformer'; L1: 'inductor'; C1: 'capacitor'; C2: 'capacitor' }>();

/** A forward converter with one switch and a reset winding, or with two switches: the file’s head says how it works. */
export function forward(d: Forward): Topology {
  const two = d.switches === 2;
  const windings = two ? [winding('T1', 'primary', 0.5), winding('T1', 'secondary', 0.5)] : [winding('T1', 'primary', 0.45), winding('T1', 'secondary', 0.45), winding('T1', 'reset', 0.1)];
  const [primaryShare, secondaryShare] = [windings[0]!.share, windings[1]!.share];

  /** Ratio that the lowest line and the largest duty want. */
  function ratio(input: SizingInput): Working {
    const { brief } = input;
    const { D1 } = partsOf(input);
    return {
      title: 'turns ratio', formula: 'Ns / Np ≥ 1.03 (Vout + Vf) / (Dmax Vline)',
      numbers: `1.03 × (${print(brief.output.voltage, 'V')} + ${print(D1.drop, 'V')}) / (${LARGEST} × ${print(brief.line.min, 'V')})`,
      value: (1.03 * (brief.output.voltage + D1.drop)) / (LARGEST * brief.line.min), unit: '', source: `${ERICKSON}, ch. 6`,
      leavesOut: 'three percent are left for resistances and leakage',
    };
  }

  interface Numbers {
    n: number;
    /** Turns of the reset winding over the primary's: one where the switches are two */
    r: number;
    Lm: number;
    Lk: number;
    L: number;
    /** Ω of the primary's path, of the secondary's */
    primary: number;
    secondary: number;
  }
  function numbers(input: SizingInput, values: Sizing['values']): Numbers {
    const p = partsOf(input);
    const [Np, Ns] = [values['T1 primary']!.taken, values['T1 secondary']!.taken];
    const turn = turnResistance(p.T1, 25);
    return {
      n: Ns / Np, r: two ? 1 : values['T1 reset']!.taken / Np, Lm: values.T1!.taken, Lk: two ? leakage(p.T1, Np) : 0, L: values.L1!.taken,
      primary: d.switches * onResistance(p.Q1, 25) + windingOhms(turn, Np, primaryShare),
      secondary: slopeResistance(p.D1) + windingOhms(turn, Ns, secondaryShare),
    };
  }

  /** V across L1 in either part, at its mean current in that part, and the volts of the primary that magnetise. */
  function volts(input: SizingInput, k: Numbers, line: number, current: number): { on: number; off: number; across: number } {
    const p = partsOf(input);
    const coil = windingResistance(p.L1, 25);
    const across = (line - k.n * current * k.primary) / (1 + k.Lk / k.Lm);
    return {
      across,
      on: k.n * across - p.D1.drop - current * (k.secondary + coil) - input.brief.output.voltage,
      off: input.brief.output.voltage + p.D2.drop + current * (slopeResistance(p.D2) + coil),
    };
  }

  interface Solved {
    mode: Forecast['mode'];
    border: number;
    duty: number;
    /** s: taking over, feeding, handing over, freewheeling */
    t: [number, number, number, number];
    /** A of L1 at the beginning of each, and at the end of the last */
    i: [number, number, number, number, number];
    /** A that magnetise at most, and s until they are gone */
    flux: number;
    reset: number;
  }
  function solve(input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Solved {
    const k = numbers(input, values);
    const { D3 } = partsOf(input);
    const T = 1 / input.brief.frequency;
    const up = k.L + k.n ** 2 * k.Lk;
    /** V across the primary while the flux goes back */
    const back = (line + d.switches * D3.drop) / k.r;
    const take = (i: number): number => (k.Lk * k.n * i) / line;
    const hand = (i: number): number => (k.Lk * k.n * i) / back;

    // Continuous: volt-seconds of L1, with the time that the leakage takes away.
    const v = volts(input, k, line, load);
    const share = v.off / ((v.on * k.L) / up + v.off);
    const swing = (v.on * share * T) / up;
    const duty = share + take(load - swing / 2) / T;

    // Discontinuous: the charge of a triangle from nothing.
    let peak = 2 * load;
    let w = v;
    for (let round = 0; round < 8; round++) {
      w = volts(input, k, line, peak / 2);
      peak = Math.sqrt((2 * load * T) / (up / w.on + k.L / w.off));
    }
    const broken = (peak * up) / (w.on * T);
    const isContinuous = duty <= broken;
    const t1 = isContinuous ? take(load - swing / 2) : 0;
    const feed = isContinuous ? share * T : broken * T;
    const top = isContinuous ? load + swing / 2 : peak;
    const t2 = hand(top);
    const fall = (isContinuous ? v.off : w.off) / k.L;
    const rest = isContinuous ? T - t1 - feed - t2 : top / fall - t2;
    const bottom = isContinuous ? load - swing / 2 : 0;
    const side = isContinuous ? v : w;
    // What the leakage takes of the line while the current of L1 rises through it does not magnetise.
    const flux = ((side.across - (k.Lk * k.n * side.on) / up) * feed) / k.Lm;
    return {
      mode: isContinuous ? 'continuous' : 'discontinuous', border: duty / broken - 1, duty: isContinuous ? duty : broken,
      t: [t1, feed, t2, rest], i: [bottom + fall * t1, bottom, top, top - fall * t2, isContinuous ? bottom + fall * t1 : 0],
      flux, reset: (flux * (k.Lm + k.Lk)) / back,
    };
  }

  function forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { values } = sizing;
    const { n, r } = numbers(input, values);
    const s = solve(input, values, point);
    const T = 1 / input.brief.frequency;
    const [t1, t2, t3, t4] = s.t;
    const [a0, a1, a2, a3, a4] = s.i;
    const coil: Span[] = [
      { seconds: t1, at: { L1: [a0, a1], Q1: [0, n * a1], D1: [0, a1], D2: [a0, 0] } },
      { seconds: t2, at: { L1: [a1, a2], Q1: [n * a1, n * a2 + s.flux], D1: [a1, a2], flux: [0, s.flux] } },
      { seconds: t3, at: { L1: [a2, a3], D1: [a2, 0], D2: [0, a3], D3: [(n * a2 + s.flux) / r, s.flux / r], flux: [s.flux, s.flux] } },
      { seconds: t4, at: { L1: [a3, a4], D2: [a3, a4] } },
      { seconds: Math.max(0, T - t1 - t2 - t3 - t4), at: {} },
    ];
    // The reset of the flux runs beside all that.
    const reset: Span[] = [
      { seconds: t1 + t2 + t3, at: {} },
      { seconds: s.reset, at: { D3: [s.flux / r, 0] } },
      { seconds: Math.max(0, T - t1 - t2 - t3 - s.reset), at: {} },
    ];
    const D3 = squareSum(carried(through(coil, 'D3')), carried(through(reset, 'D3')));
    const Q1 = carried(through(coil, 'Q1'));
    const fed = less(through(coil, 'L1'), point.load);
    const primary = two ? squareSum(Q1, D3) : Q1;
    const C2 = values.C2!.taken;
    return {
      mode: s.mode, border: s.border, duty: s.duty, outputRipple: capacitorRipple(fed, C2, esrOf(partsOf(input).C2, C2)),
      parts: {
        Q1, D3: { ...D3, estimate: D3.peak < 0.02 * Q1.peak ? true : undefined }, D1: carried(through(coil, 'D1')), D2: carried(through(coil, 'D2')), L1: carried(through(coil, 'L1')), C2: carried(fed),
        C1: { ...carried(less(through(coil, 'Q1'), Q1.mean)), estimate: true },
        T1: { ...primary, peak: s.flux, peakToPeak: s.flux },
        'T1 primary': primary, 'T1 secondary': carried(through(coil, 'D1')), 'T1 reset': D3,
      },
    };
  }

  function size(input: SizingInput): Sizing {
    const { brief, allowed, crossover } = input;
    const p = partsOf(input);
    const { frequency, output, line, load } = brief;
    const wants = ratio(input);
    const turns = turnsFor(p.T1, { ratio: wants, voltSeconds: (line.min * LARGEST) / frequency, where: 'in the largest duty', swing: FLUX_SHARE * p.T1.maxFluxDensity });
    const n = turns.secondary.taken / turns.primary.taken;
    const r = two ? 1 : resetTurns(p.T1, turns.primary.taken).taken / turns.primary.taken;
    // The voltage while off is that of the output: the longer it lasts, the larger the ripple.
    const off = output.voltage + p.D2.drop;
    const smallest = off / (n * line.max);
    const L1 = inductorValue(p.L1, {
      title: 'inductance for the ripple share', formula: 'L ≥ (Vout + Vf) (1 − D) / (f · r · Iout)',
      numbers: `${print(off, 'V')} × ${(1 - smallest).toFixed(3)} / (${print(frequency, 'Hz')} × ${brief.rippleShare} × ${print(load.max, 'A')})  — ripple is largest at a line of ${print(line.max, 'V')}`,
      value: (off * (1 - smallest)) / (frequency * brief.rippleShare * load.max), unit: 'H', source: `${ERICKSON}, ch. 2`, leavesOut: 'voltage across the resistances; leakage; fall of the inductance with current',
    }, input.series);
    const swing = (off * (1 - smallest)) / (frequency * L1.taken);
    const largest = off / (n * line.min);
    const values: Sizing['values'] = {
      T1: ungapped(p.T1, turns.primary.taken), 'T1 primary': turns.primary, 'T1 secondary': turns.secondary, ...(two ? {} : { 'T1 reset': resetTurns(p.T1, turns.primary.taken) }), L1,
      C1: capacitorValue(p.C1, [lineDrawnInPulses(n * load.max, largest, frequency, brief.lineRipple)]),
      C2: capacitorValue(p.C2, [rippleFedAlways(p.C2, swing, frequency, allowed.ripple), holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)]),
    };
    const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
      title, formula: 'D = (Vout + Vf + I R) / (n Vline − I R) + Lk n I f / Vline', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, n = ${turns.secondary.taken}/${turns.primary.taken}`,
      value: solve(input, values, at).duty, unit: '%', source: `${ERICKSON}, ch. 6`, leavesOut: 'dead time; resistances are taken at 25 °C',
    });
    return {
      duty: dutyRange(input, duty), values, inductorCurrent: load.max,
      blocking: ratings(input, {
        Q1: two ? line.max + p.D3.drop : line.max + (line.max + p.D3.drop) / r, D3: two ? line.max : (1 + r) * line.max, D1: (n * (line.max + d.switches * p.D3.drop)) / r, D2: n * line.max,
        C1: line.max, C2: output.voltage,
      }),
    };
  }

  function stage(f: Fragment, input: SizingInput, { values }: Sizing): void {
    const level = (input.brief.line.max * values['T1 primary']!.taken) / (values['T1 secondary']!.taken * input.brief.load.max);
    const [primary, secondary, reset] = windings;
    if (two) {
      f.switch('Q1', 'line', 'p1', 'high');
      f.switch('Q1', 'p2', '0', 'high', 'Q2');
      f.diode('D3', '0', 'p1');
      f.diode('D3', 'p2', 'line', 'D4');
      f.leakage('T1', 'p1', 'pk', leakage(partsOf(input).T1, values['T1 primary']!.taken), LEAKAGE_DAMPING * level);
      f.core('T1', 'pk', 'pw', CORE_DAMPING * level);
      f.copper('T1', primary!, 'pw', 'p2');
      f.turns('T1', [['pk', 'pw', 'T1 primary'], ['s', '0', 'T1 secondary']]);
    } else {
      f.core('T1', 'line', 'pw', CORE_DAMPING * level);
      f.copper('T1', primary!, 'pw', 'p2');
      f.switch('Q1', 'p2', '0', 'high');
      f.diode('D3', '0', 'r0');
      f.copper('T1', reset!, 'r0', 'r');
      f.turns('T1', [['line', 'pw', 'T1 primary'], ['s', '0', 'T1 secondary'], ['r', 'line', 'T1 reset']]);
    }
    f.copper('T1', secondary!, 's', 's1');
    f.diode('D1', 's1', 'x');
    f.diode('D2', '0', 'x');
    f.inductor('L1', 'x', 'out');
    f.capacitor('C2', 'out', '0');
    f.aside('C1', { beside: 'line' });
    f.output('out', '0');
    f.duty('high');
    f.conducts('D1', 'D2');
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Primary', unit: 'V', of: { voltage: two ? ['p1', 'p2'] : ['line', 'p2'] }, lane: 'whole' },
    { id: 'inductorCurrent', title: 'L1 current', unit: 'A', of: { current: 'L1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
    { id: 'T1Current', title: 'T1 magnetising current', unit: 'A', of: { current: 'T1' } },
    { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' } },
    { id: 'D2Current', title: 'D2 current', unit: 'A', of: { current: 'D2' } },
  ];

  return {
    id: d.id,
    title: d.title,
    isolated: true,
    slots: [
      { id: 'Q1', kind: 'switch', title: two ? 'switches' : 'switch', purpose: 'puts the line across the primary for D of the period', copies: d.switches },
      { id: 'D3', kind: 'diode', title: two ? 'clamp diodes' : 'reset diode', purpose: 'leads the flux of the core back to nothing, into the line', copies: d.switches },
      { id: 'T1', kind: 'transformer', ...(two ? { leaks: true as const } : {}), title: 'transformer', purpose: 'brings the line to what the output wants, and parts the two' },
      { id: 'D1', kind: 'diode', title: 'forward diode', purpose: 'feeds L1 from the secondary' },
      { id: 'D2', kind: 'diode', title: 'freewheeling diode', purpose: 'carries the current of L1 for the rest' },
      { id: 'L1', kind: 'inductor', title: 'output inductor', purpose: 'holds the current ripple at full load' },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'takes the ripple and the first of a load step' },
    ],
    refuses: () => undefined,
    size,
    forecast,
    rightHalfPlaneZero: () => undefined,
    crossoverLimit: () => Infinity,
    stage,
    // Beyond this share the flux does not come back before the next pulse.
    currentControl: { sensed: 'Q1', fall: (input, { values }) => ((input.brief.output.voltage + partsOf(input).D2.drop) * values['T1 secondary']!.taken) / (values['T1 primary']!.taken * values.L1!.taken) },
    duty: (input, sizing, point) => dutyNear(forecast(input, sizing, point).duty, LIMIT * Math.min(1, 2 / (1 + numbers(input, sizing.values).r))),
    start: (input, sizing, point) => ({ C2: input.brief.output.voltage, L1: solve(input, sizing.values, point).i[0] }),
    signals,
    windings: { T1: windings },
    landmarks: (input, sizing, point) => afterBuck(input, sizing, point, forecast(input, sizing, point).mode),
    drawing: d.drawing,
  };
}

/** Turns of the reset winding: as many as the primary, or those chosen. */
function resetTurns(part: TransformerPart, primary: number): SizedValue {
  const own = part.thirdTurns;
  return {
    slot: 'T1', path: 'parts.T1.thirdTurns', title: 'turns of the reset winding', unit: '', wanted: primary, suggested: primary, taken: own ?? primary, overridden: own !== null, how: own === null ? 'as many as the primary' : 'your value',
    workings: [{ title: 'turns of the reset winding', formula: 'Nr = Np', numbers: `${primary}`, value: primary, unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'fewer turns bring the flux back sooner and stand the switch higher: Vline (1 + Np/Nr)' }],
  };
}

/** Two currents that never flow at once, as one. */
const squareSum = (a: ReturnType<typeof carried>, b: ReturnType<typeof carried>): ReturnType<typeof carried> => ({
  mean: a.mean + b.mean, rms: Math.hypot(a.rms, b.rms), peak: Math.max(a.peak, b.peak), peakToPeak: Math.max(a.peakToPeak, b.peakToPeak),
});
