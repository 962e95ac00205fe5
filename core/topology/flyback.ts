import { type Fragment, esrOf, windingOhms } from '../converter/fragment';
import { onResistance, slopeResistance, turnResistance, type CapacitorPart, type DiodePart, type SwitchPart, type TransformerPart } from '../parts/schema';
import { preferred, printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Brief, OperatingPoint } from './brief';
import { capacitorValue, DUTY_MIN, ERICKSON, holdsStep, lineDrawnInPulses, MOHAN, rippleFedInPulses, stands } from './common';
import { capacitorZero, landmark, loadPole } from './landmarks';
import { capacitorRipple, carried, less, type Piece } from './pieces';
import { shareOut, type Output } from './shareOut';
import type { Drawing, Forecast, Place, Signal, SizedValue, Sizing, Spec, Topology } from './types';
import { CORE_DAMPING, leakage, LEAKAGE_DAMPING, turnsFor, winding } from './windings';

/**
 * Flyback converters: Q1 puts the line on the primary and fills the gap; when it opens, the secondaries empty it
 * through their diodes. What the leakage holds goes through D2 into C3, from where a resistor burns it. With the
 * leakage the current needs time to pass from the primary to the secondaries and back; then both conduct.
 *
 * A second output hangs on a winding of its own; only the first is regulated, and the two share the current by
 * their resistances. Its load goes with that of the first, from its smallest to its largest.
 *
 * Sources: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6; Mohan, Undeland, Robbins, "Power
 * Electronics", ch. 10.
 */
/** Duty at the lowest line: the higher, the more the switch stands, the lower, the more it carries */
const LARGEST = 0.45;
/** Share of the full flux density that the peak current takes */
const FLUX_SHARE = 0.8;
/** Clamp over reflected voltage, at full load and the lowest line; ripple of the clamp as a share of it */
const CLAMP = 2;
const CLAMP_RIPPLE = 0.05;

interface Parts {
  Q1: SwitchPart;
  T1: TransformerPart;
  D1: DiodePart;
  D2: DiodePart;
  D3: DiodePart;
  C1: CapacitorPart;
  C2: CapacitorPart;
  C3: CapacitorPart;
  C4: CapacitorPart;
}
const partsOf = (spec: Spec): Parts => spec.parts as unknown as Parts;

/** What is special about each output: winding, diode, capacitor, voltage and load. */
interface Channel {
  winding: string;
  diode: 'D1' | 'D3';
  capacitor: 'C2' | 'C4';
  node: string;
  share: number;
}

export function flyback(outputs: 1 | 2, drawing: Drawing): Topology {
  const channels: Channel[] = [
    { winding: 'T1 secondary', diode: 'D1', capacitor: 'C2', node: 'out', share: outputs === 1 ? 0.5 : 0.3 },
    { winding: 'T1 third', diode: 'D3', capacitor: 'C4', node: 'out 2', share: 0.2 },
  ].slice(0, outputs) as Channel[];
  const windings = [winding('T1', 'primary', 0.5), ...channels.map((c) => winding('T1', c.winding.replace('T1 ', ''), c.share))];

  const voltageOf = (brief: Brief, k: number): number => (k === 0 ? brief.output.voltage : brief.further![k - 1]!.voltage);
  /** A of output k while the first carries `load`. */
  function loadOf(brief: Brief, k: number, load: number): number {
    if (k === 0) return load;
    const { min, max } = brief.further![k - 1]!.load;
    const along = (load - brief.load.min) / (brief.load.max - brief.load.min);
    return min + (max - min) * Math.min(1, Math.max(0, along));
  }
  const powerOf = (brief: Brief, load: number): number => channels.reduce((sum, _, k) => sum + voltageOf(brief, k) * loadOf(brief, k, load), 0);

  const ratio = (spec: Spec): Working => {
    const { brief } = spec;
    const drop = partsOf(spec).D1.drop;
    return {
      title: 'turns ratio', formula: 'Ns / Np ≥ (Vout + Vf) (1 − Dmax) / (Dmax Vline)', numbers: `(${print(brief.output.voltage, 'V')} + ${print(drop, 'V')}) × ${1 - LARGEST} / (${LARGEST} × ${print(brief.line.min, 'V')})`,
      value: ((brief.output.voltage + drop) * (1 - LARGEST)) / (LARGEST * brief.line.min), unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'resistances; a larger duty spares the diode and strains the switch',
    };
  };

  /** A of the magnetising current, its mean at full load and the lowest line, as seen from the primary. */
  const largestMean = (spec: Spec): number => powerOf(spec.brief, spec.brief.load.max) / (spec.brief.line.min * LARGEST);

  /** Volts on the primary while the secondary empties it. */
  const reflected = (spec: Spec, n: number): number => (spec.brief.output.voltage + partsOf(spec).D1.drop) / n;

  function inductance(spec: Spec): SizedValue {
    const { brief } = spec;
    const { T1 } = partsOf(spec);
    const over = reflected(spec, ratio(spec).value);
    const duty = over / (brief.line.max + over);
    const base = largestMean(spec);
    const value = (brief.line.max * duty) / (brief.frequency * brief.rippleShare * base);
    const suggested = preferred(value, spec.series ?? 'E24', 'up');
    return {
      title: 'inductance of the primary', unit: 'H', wanted: value, suggested, taken: T1.inductance ?? suggested, overridden: T1.inductance !== null, how: T1.inductance === null ? `next in ${spec.series ?? 'E24'}, by the gap` : 'your value',
      workings: [{
        title: 'inductance for the ripple share', formula: 'L ≥ Vline D / (f · r · I),  I = Pout / (Vline D) at the lowest line', numbers: `${print(brief.line.max, 'V')} × ${duty.toFixed(3)} / (${print(brief.frequency, 'Hz')} × ${brief.rippleShare} × ${print(base, 'A')})`,
        value, unit: 'H', source: `${ERICKSON}, ch. 6`, leavesOut: 'voltage across the resistances; leakage',
      }],
    };
  }

  interface Numbers {
    n: number[];
    Lm: number;
    Lk: number;
    primary: number;
    /** Ω of diode and winding, by output */
    out: number[];
    clamp: number;
  }
  function numbers(spec: Spec, values: Sizing['values']): Numbers {
    const p = partsOf(spec);
    const Np = values['T1 primary']!.taken;
    const turn = turnResistance(p.T1, 25);
    const ns = channels.map((c) => values[c.winding]!.taken);
    return {
      n: ns.map((N) => N / Np), Lm: values.T1!.taken, Lk: leakage(p.T1, Np), primary: onResistance(p.Q1, 25) + windingOhms(turn, Np, 0.5),
      out: channels.map((c, k) => slopeResistance(p[c.diode]) + windingOhms(turn, ns[k]!, c.share)), clamp: clampResistance(spec, values),
    };
  }

  /** Ω of the resistor that burns what the clamp takes, for a clamp of so many times the reflected voltage in the worst case. */
  function clampResistance(spec: Spec, values: Sizing['values']): number {
    const { T1 } = partsOf(spec);
    const Np = values['T1 primary']!.taken;
    const over = reflected(spec, values['T1 secondary']!.taken / Np);
    const { peak } = atWorst(spec, values.T1!.taken);
    const power = 0.5 * leakage(T1, Np) * peak ** 2 * spec.brief.frequency * (CLAMP / (CLAMP - 1));
    return Math.min(1e7, (CLAMP * over) ** 2 / power);
  }
  function atWorst(spec: Spec, L: number): { mean: number; peak: number } {
    const mean = largestMean(spec);
    return { mean, peak: mean + (spec.brief.line.min * LARGEST) / (spec.brief.frequency * L) / 2 };
  }

  interface Solved {
    mode: Forecast['mode'];
    border: number;
    duty: number;
    /** s: current passing to the primary, primary alone, passing to the secondaries, secondaries alone, nothing */
    t: [number, number, number, number, number];
    /** A of the magnetising current at the end of the first and of the second of these, V of the clamp and reflected */
    low: number;
    high: number;
    clamp: number;
    over: number;
  }
  function solveWith(spec: Spec, values: Sizing['values'], line: number, loads: readonly number[]): Solved {
    const load = loads[0]!;
    const k = numbers(spec, values);
    const p = partsOf(spec);
    const { brief } = spec;
    const T = 1 / brief.frequency;
    const LL = k.Lm + k.Lk;
    const [n, r] = [k.n[0]!, k.out[0]!];
    const esr = esrOf(p.C2, values.C2!.taken);
    /** A·s that the gap has to give in a period, and the part of it that is the first output's */
    const wanted = channels.reduce((sum, _, c) => sum + k.n[c]! * loads[c]!, 0) * T;
    const first = (n * load * T) / wanted;
    const { drop } = p.D2;
    const clampAt = (over: number, peak: number): number => (over - drop + Math.sqrt((over - drop) ** 2 + 2 * k.Lk * peak ** 2 * brief.frequency * k.clamp)) / 2;
    /** s in which the clamp takes the leakage's current away */
    const handOver = (amps: number, clamp: number, over: number): number => (k.Lk > 0 ? (k.Lk * amps) / (clamp + drop - over) : 0);
    /** V reflected: the first output's, with its drops at the mean of what its diode carries */
    const overAt = (mean: number, off: number): number => (brief.output.voltage + p.D1.drop + ((first * mean) / n) * (r + esr) - esr * load * (off / T)) / n;

    const ideal = reflected(spec, n);
    let [low, high, on] = [0, 0, (T * ideal) / (ideal + line)];
    const mean = wanted / (T - on);
    low = high = mean;
    let [over, clamp, t1, t3] = [ideal, CLAMP * ideal, 0, 0];
    for (let round = 0; round < 60; round++) {
      over = overAt((low + high) / 2, T - on);
      const rise = (line - ((low + high) / 2) * k.primary) / LL;
      const fall = over / k.Lm;
      on = (T * fall) / (rise + fall);
      clamp = clampAt(over, high);
      t1 = (k.Lk * low) / (line + over);
      t3 = handOver(high, clamp, over);
      const centre = (wanted + (high * t3 + low * t1) / 2) / (T - on);
      low = centre - (rise * on) / 2;
      high = centre + (rise * on) / 2;
    }
    const continuous = { duty: (on + t1) / T, t: [t1, on, t3, T - on - t1 - t3, 0] as Solved['t'], low, high, clamp, over };

    // Discontinuous: the gap is filled from nothing.
    let peak = Math.sqrt((2 * wanted * ideal) / k.Lm);
    let w = { on: 0, over: ideal, clamp: CLAMP * ideal, t3: 0, fall: 0 };
    for (let round = 0; round < 60; round++) {
      const fall = (peak * k.Lm) / w.over;
      const over2 = overAt(peak / 2, fall);
      const clamp2 = clampAt(over2, peak);
      peak = Math.sqrt((2 * wanted) / Math.max(1e-30, k.Lm / over2 - handOver(1, clamp2, over2)));
      w = { on: (peak * LL) / (line - (peak / 2) * k.primary), over: over2, clamp: clamp2, t3: handOver(peak, clamp2, over2), fall: (peak * k.Lm) / over2 };
    }
    const broken = { duty: w.on / T, t: [0, w.on, w.t3, w.fall - w.t3, Math.max(0, T - w.on - w.fall)] as Solved['t'], low: 0, high: peak, clamp: w.clamp, over: w.over };
    const isContinuous = continuous.duty <= broken.duty;
    return { mode: isContinuous ? 'continuous' : 'discontinuous', border: continuous.duty / broken.duty - 1, ...(isContinuous ? continuous : broken) };
  }

  const list = (spec: Spec, values: Sizing['values'], k: Numbers, loads: readonly number[]): Output[] =>
    channels.map((c, i) => {
      const part = partsOf(spec)[c.capacitor];
      const C = values[c.capacitor]!.taken;
      return { ratio: k.n[i]!, drop: partsOf(spec)[c.diode].drop, resistance: k.out[i]!, capacitance: C, esr: esrOf(part, C), load: loads[i]! };
    });

  /** What the secondaries carry together, in amps of the primary, from the moment Q1 opens. */
  function given(s: Solved, Lm: number): { pieces: Piece[]; bottom: number } {
    const [t1, on, t3, off, rest] = s.t;
    const fall = s.over / Lm;
    const bottom = s.mode === 'continuous' ? s.low + fall * t1 : 0;
    const after = s.high - fall * t3;
    return { bottom, pieces: [{ seconds: t3, from: 0, to: after }, { seconds: off, from: after, to: bottom }, { seconds: rest, from: 0, to: 0 }, { seconds: t1, from: bottom, to: 0 }, { seconds: on, from: 0, to: 0 }] };
  }

  /** What the outputs carry if the second's voltage were by turns and drops alone. */
  function loadsByTurns(spec: Spec, k: Numbers, load: number): number[] {
    const { brief } = spec;
    const p = partsOf(spec);
    if (outputs === 1) return [load];
    return [load, (loadOf(brief, 1, load) * ((k.n[1]! / k.n[0]!) * (brief.output.voltage + p.D1.drop) - p.D3.drop)) / voltageOf(brief, 1)];
  }

  /** The cycle by these loads: near enough to size by, without walking how the outputs share the current. */
  const nearly = (spec: Spec, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Solved => solveWith(spec, values, line, loadsByTurns(spec, numbers(spec, values), load));

  /** The cycle with what the second output really carries: it is not regulated, and its load is a resistance. */
  function solve(spec: Spec, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Solved & { loads: number[]; shared: ReturnType<typeof shareOut> } {
    const { brief } = spec;
    const k = numbers(spec, values);
    const nominal = channels.map((_, i) => loadOf(brief, i, load));
    let loads = loadsByTurns(spec, k, load);
    for (let round = 0; ; round++) {
      const s = solveWith(spec, values, line, loads);
      const shared = shareOut(list(spec, values, k, loads), given(s, k.Lm).pieces, brief.output.voltage);
      if (outputs === 1 || round === 3) return { ...s, loads, shared };
      loads = [load, Math.max(0.05 * nominal[1]!, (nominal[1]! * shared.volts[1]!) / voltageOf(brief, 1))];
    }
  }

  function forecast(spec: Spec, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { values } = sizing;
    const s = solve(spec, values, point);
    const [t1, on, t3, off, rest] = s.t;
    const none = (seconds: number): Piece => ({ seconds, from: 0, to: 0 });
    const Q1 = carried([{ seconds: t1, from: 0, to: s.low }, { seconds: on, from: s.low, to: s.high }, none(t3), none(off + rest)]);
    const D2 = carried([none(t1 + on), { seconds: t3, from: s.high, to: 0 }, none(off + rest)]);
    const primary = carried([{ seconds: t1, from: 0, to: s.low }, { seconds: on, from: s.low, to: s.high }, { seconds: t3, from: s.high, to: 0 }, none(off + rest)]);
    const { bottom } = given(s, values.T1!.taken);
    const flux = carried([{ seconds: t1, from: bottom, to: s.low }, { seconds: on, from: s.low, to: s.high }, { seconds: t3 + off, from: s.high, to: bottom }, none(rest)]);
    const { currents: secondaries, volts } = s.shared;
    const of = list(spec, values, numbers(spec, values), s.loads);
    const fed = channels.map((_, i) => less(secondaries[i]!, s.loads[i]!));
    const clampCurrent = D2.mean;
    // Where the clamp stands hardly above what is reflected, its own ripple bends what it takes.
    const bent = (s.high * t3) / (2 * values.C3!.taken) > 0.1 * (s.clamp - s.over) ? true : undefined;
    const parts: Record<string, Forecast['parts'][string]> = {
      Q1, D2: { ...D2, estimate: bent }, T1: { ...primary, peak: flux.peak, peakToPeak: flux.peakToPeak }, 'T1 primary': primary,
      C1: { ...carried(less([{ seconds: t1, from: 0, to: s.low }, { seconds: on, from: s.low, to: s.high }, none(t3 + off + rest)], Q1.mean)), estimate: true },
      C3: { estimate: bent, ...carried([{ seconds: t1 + on + off + rest, from: -clampCurrent, to: -clampCurrent }, { seconds: t3, from: s.high - clampCurrent, to: -clampCurrent }]) },
    };
    channels.forEach((c, i) => {
      const own = carried(secondaries[i]!);
      // How two outputs share the current is walked with their capacitors, but not with what the leakages between them do.
      parts[c.diode] = outputs === 2 ? { ...own, estimate: own.rms < 0.05 * Math.hypot(...secondaries.map((x) => carried(x).rms)) ? true : undefined } : own;
      parts[c.capacitor] = carried(fed[i]!);
      parts[c.winding] = own;
    });
    return { mode: s.mode, border: s.border, duty: s.duty, outputRipple: capacitorRipple(fed[0]!, of[0]!.capacitance, of[0]!.esr), parts, outputs: volts };
  }

  function size(spec: Spec): Sizing {
    const { brief, allowed, crossover } = spec;
    const p = partsOf(spec);
    const { frequency } = brief;
    const T1 = inductance(spec);
    const worst = atWorst(spec, T1.taken);
    const turns = turnsFor(p.T1, { ratio: ratio(spec), voltSeconds: T1.taken * worst.peak, where: `= ${print(T1.taken, 'H')} × ${print(worst.peak, 'A')} at full load and the lowest line`, swing: FLUX_SHARE * p.T1.maxFluxDensity });
    const n = turns.secondary.taken / turns.primary.taken;
    const values: Record<string, SizedValue> = { T1, 'T1 primary': turns.primary, 'T1 secondary': turns.secondary };
    if (outputs === 2) {
      const wanted = (turns.secondary.taken * (voltageOf(brief, 1) + p.D3.drop)) / (brief.output.voltage + p.D1.drop);
      const suggested = Math.max(1, Math.round(wanted));
      values['T1 third'] = {
        title: 'turns of the third winding', unit: '', wanted, suggested, taken: p.T1.thirdTurns ?? suggested, overridden: p.T1.thirdTurns !== null, how: p.T1.thirdTurns === null ? 'nearest whole turn' : 'your value',
        workings: [{ title: 'turns of the third winding', formula: 'N3 = Ns (Vout2 + Vf) / (Vout + Vf)', numbers: `${turns.secondary.taken} × (${print(voltageOf(brief, 1), 'V')} + ${print(p.D3.drop, 'V')}) / (${print(brief.output.voltage, 'V')} + ${print(p.D1.drop, 'V')})`, value: wanted, unit: '', source: `${ERICKSON}, ch. 6`, leavesOut: 'resistances: the second output sags with its load; whole turns set its voltage' }],
      };
    }
    channels.forEach((c, i) => {
      const load = loadOf(brief, i, brief.load.max);
      // A secondary that gets its share of the charge in the same time has its load over 1 − D, and the ripple on top.
      const peak = (load / (1 - LARGEST)) * (worst.peak / worst.mean);
      const ripple = rippleFedInPulses(p[c.capacitor], load, LARGEST, peak, frequency, (allowed.ripple * voltageOf(brief, i)) / brief.output.voltage);
      values[c.capacitor] = capacitorValue(p[c.capacitor], i === 0 ? [ripple, holdsStep(p.C2, brief.loadStep, crossover, allowed.deviation)] : [ripple]);
    });
    values.C1 = capacitorValue(p.C1, [lineDrawnInPulses(worst.mean, LARGEST, frequency, brief.lineRipple)]);
    const R = clampResistance(spec, values);
    const over = reflected(spec, n);
    values.C3 = capacitorValue(p.C3, [{
      title: `capacitance for a ripple of ${CLAMP_RIPPLE * 100} % of the clamp`, formula: 'C ≥ 1 / (0.05 f R),  R = Vc² / P,  P = ½ Lk Ipeak² f Vc / (Vc − Vor)',
      numbers: `R = ${print(R, 'Ω')} for ${print(CLAMP * over, 'V')} with ${print(over, 'V')} reflected, Lk = ${print(leakage(p.T1, turns.primary.taken), 'H')}, ${print(worst.peak, 'A')}`,
      value: 1 / (CLAMP_RIPPLE * frequency * R), unit: 'F', source: `${MOHAN}, ch. 10`, leavesOut: 'capacitance of the switch, which takes some of the energy',
    }]);
    const stand = (volts: number): { most: number; wanted: number } => stands(volts, allowed.stress);
    const clampMost = Math.max(...[brief.line.min, brief.line.max].map((line) => nearly(spec, values, { line, load: brief.load.max }).clamp)) * (1 + CLAMP_RIPPLE);
    const duty = (title: string, at: Pick<OperatingPoint, 'line' | 'load'>): Working => ({
      title, formula: 'D = Vor / (Vline + Vor),  Vor = (Vout + Vf + I R) Np / Ns, and the time the leakage takes', numbers: `at ${print(at.line, 'V')} and ${print(at.load, 'A')}, Ns / Np = ${turns.secondary.taken}/${turns.primary.taken}`,
      value: nearly(spec, values, at).duty, unit: '%', source: `${ERICKSON}, ch. 6`, leavesOut: 'dead time; resistances are taken at 25 °C',
    });
    const workings = [duty('smallest duty', { line: brief.line.max, load: brief.load.min }), duty('largest duty', { line: brief.line.min, load: brief.load.max })];
    const blocking: Record<string, { most: number; wanted: number }> = { Q1: stand(brief.line.max + clampMost + p.D2.drop), D2: stand(brief.line.max + clampMost), C1: stand(brief.line.max), C3: stand(clampMost) };
    channels.forEach((c, i) => {
      blocking[c.diode] = stand((values[c.winding]!.taken / turns.primary.taken) * brief.line.max + voltageOf(brief, i));
      blocking[c.capacitor] = stand(voltageOf(brief, i));
    });
    return { duty: { min: workings[0]!.value, max: workings[1]!.value, workings }, values, blocking, inductorCurrent: worst.mean };
  }

  function stage(f: Fragment, spec: Spec, { values }: Sizing): void {
    const level = spec.brief.line.max / atWorst(spec, values.T1!.taken).mean;
    f.core('T1', 'pk', 'pw', CORE_DAMPING * level);
    f.leakage('T1', 'line', 'pk', leakage(partsOf(spec).T1, values['T1 primary']!.taken), LEAKAGE_DAMPING * level);
    f.copper('T1', windings[0]!, 'pw', 'sw');
    f.turns('T1', [['pk', 'pw', 'T1 primary'], ...channels.map((c, i): [string, string, string] => ['0', `s${i + 1}`, c.winding])]);
    f.switch('Q1', 'sw', '0', 'high');
    f.diode('D2', 'sw', 'clamp');
    f.capacitor('C3', 'clamp', 'line', { across: { id: 'clamp resistor', ohms: clampResistance(spec, values) } });
    channels.forEach((c, i) => {
      f.copper('T1', windings[i + 1]!, `s${i + 1}`, `w${i + 1}`);
      f.diode(c.diode, `w${i + 1}`, c.node);
      f.capacitor(c.capacitor, c.node, '0');
      f.output(c.node, '0');
    });
    f.aside('C1', { beside: 'line' });
    f.duty('high');
  }

  function rightHalfPlaneZero(spec: Spec, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): number | undefined {
    const s = nearly(spec, sizing.values, point);
    if (s.mode === 'discontinuous') return undefined;
    return ((1 - s.duty) * (point.line + s.over)) / (2 * Math.PI * sizing.values.T1!.taken * ((s.low + s.high) / 2));
  }

  const signals: Signal[] = [
    { id: 'switchNode', title: 'Q1 voltage', unit: 'V', of: { voltage: ['sw'] }, lane: 'whole' },
    { id: 'Q1Current', title: 'Q1 current', unit: 'A', of: { current: 'Q1' }, lane: 'whole' },
    { id: 'output', title: 'Output ripple', unit: 'V', of: { output: 0 }, lane: 'ripple' },
    { id: 'D1Current', title: 'D1 current', unit: 'A', of: { current: 'D1' }, lane: 'whole' },
    ...(outputs === 2 ? [{ id: 'output2', title: 'Second output', unit: 'V', of: { output: 1 }, lane: 'ripple' } satisfies Signal, { id: 'D3Current', title: 'D3 current', unit: 'A', of: { current: 'D3' } } satisfies Signal] : []),
    { id: 'T1Current', title: 'T1 magnetising current', unit: 'A', of: { current: 'T1' } },
    { id: 'C3Current', title: 'C3 current', unit: 'A', of: { current: 'C3' } },
  ];

  const second: Place[] = [
    { id: 'D3', kind: 'diode', title: 'diode of the second output', purpose: 'passes its share of the gap’s energy to the second output' },
    { id: 'C4', kind: 'capacitor', title: 'second output capacitor', purpose: 'feeds the second load while Q1 conducts' },
  ];
  return {
    id: outputs === 1 ? 'flyback' : 'flyback-two-outputs',
    title: outputs === 1 ? 'Flyback' : 'Flyback, two outputs',
    outputs,
    isolated: true,
    places: [
      { id: 'Q1', kind: 'switch', title: 'switch', purpose: 'puts the line on the primary for D of the period', partner: 'D1' },
      { id: 'T1', kind: 'transformer', leaks: true, title: 'transformer', purpose: 'stores in its gap what the line gives and the output takes' },
      { id: 'D1', kind: 'diode', title: 'diode', purpose: 'passes the current of the secondary while Q1 is open' },
      { id: 'D2', kind: 'diode', title: 'clamp diode', purpose: 'leads the current of the leakage away from Q1' },
      { id: 'C3', kind: 'capacitor', title: 'clamp capacitor', purpose: 'holds the clamp’s voltage; the resistor beside it burns the energy of the leakage' },
      { id: 'C1', kind: 'capacitor', title: 'input capacitor', purpose: 'carries the pulses that the line shall not see' },
      { id: 'C2', kind: 'capacitor', title: 'output capacitor', purpose: 'feeds the load while Q1 conducts' },
      ...(outputs === 2 ? second : []),
    ],
    refuses: () => undefined,
    size,
    forecast,
    rightHalfPlaneZero,
    crossoverLimit: (spec, sizing, point) => (rightHalfPlaneZero(spec, sizing, point) ?? Infinity) / 4,
    stage,
    duty: (spec, sizing, point) => ({ min: DUTY_MIN, max: 0.9, guess: Math.min(0.85, Math.max(2 * DUTY_MIN, forecast(spec, sizing, point).duty)) }),
    start(spec, sizing, point) {
      const s = solve(spec, sizing.values, point);
      const { brief } = spec;
      return { C2: brief.output.voltage, ...(outputs === 2 ? { C4: forecast(spec, sizing, point).outputs![1]! } : {}), C3: s.clamp, T1: s.mode === 'continuous' ? s.low + (s.over / sizing.values.T1!.taken) * s.t[0] : 0 };
    },
    signals,
    windings: { T1: windings },
    landmarks(spec, sizing, point) {
      const { values } = sizing;
      const p = partsOf(spec);
      const s = solve(spec, values, point);
      const n = values['T1 secondary']!.taken / values['T1 primary']!.taken;
      const [L, C] = [n ** 2 * values.T1!.taken, values.C2!.taken];
      const first = s.mode === 'continuous'
        ? landmark('double pole of T1 and C2', 'f₀ = (1 − D) / (2π √(n² L C))', `${(1 - s.duty).toFixed(3)} / (2π √(${print(L, 'H')} × ${print(C, 'F')}))`, (1 - s.duty) / (2 * Math.PI * Math.sqrt(L * C)), 'damping by load, clamp and resistances')
        : loadPole(spec.brief.output.voltage / point.load, C);
      const right = rightHalfPlaneZero(spec, sizing, point);
      return [
        first, capacitorZero(esrOf(p.C2, C), C),
        ...(right === undefined ? [] : [landmark('right-half-plane zero', 'f = (1 − D) (Vline + Vor) / (2π L I)', `1 − D = ${(1 - s.duty).toFixed(3)}, ${print(point.line + s.over, 'V')}, L = ${print(values.T1!.taken, 'H')}, I = ${print((s.low + s.high) / 2, 'A')}`, right, 'resistances; leakage')]),
      ];
    },
    drawing,
  };
}
