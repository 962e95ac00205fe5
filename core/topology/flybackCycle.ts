import { esrOf, windingOhms } from '../converter/fragment';
import { onResistance, slopeResistance, turnResistance } from '../parts/schema';
import { loadsAt } from '../surroundings/loads';
import type { Brief, OperatingPoint } from '../surroundings/brief';
import { capacitorRipple, carried, less, type Piece } from './pieces';
import { shareOut, type Output } from './shareOut';
import { partsAs, type Forecast, type Sizing, type SizingInput } from './types';
import { leakage } from './windings';

/** Duty at the lowest line: the higher, the more the switch stands, the lower, the more it carries */
export const LARGEST = 0.45;
/** Share by which currents may still move from round to round: rounding */
const STILL = 1e-15;
/** Clamp over reflected voltage, at full load and the lowest line */
export const CLAMP = 2;

/** The parts of a flyback by slot, of the kinds that stand there. */
export const partsOf = partsAs<{ Q1: 'switch'; T1: 'transformer'; D1: 'diode'; D2: 'diode'; D3: 'diode'; C1: 'capacitor'; C2: 'capacitor'; C3: 'capacitor'; C4: 'capacitor' }>();

/** What is special about each output: winding, diode, capacitor, voltage and load. */
export interface Channel {
  winding: string;
  diode: 'D1' | 'D3';
  capacitor: 'C2' | 'C4';
  node: string;
  share: number;
}

/**
 * The cycle of a flyback converter by hand: what the gap gives, how outputs share it, what the clamp takes and how long
 * the current needs to pass from winding to winding. Volts, amps, seconds; amps of the magnetising current are those of
 * the primary. Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 6.
 */
export function flybackCycle(outputs: 1 | 2) {
  const channels: Channel[] = [
    { winding: 'T1 secondary', diode: 'D1', capacitor: 'C2', node: 'out', share: outputs === 1 ? 0.5 : 0.3 },
    { winding: 'T1 third', diode: 'D3', capacitor: 'C4', node: 'out 2', share: 0.2 },
  ].slice(0, outputs) as Channel[];
  const voltageOf = (brief: Brief, k: number): number => (k === 0 ? brief.output.voltage : brief.further![k - 1]!.voltage);
  /** A of output k while the first carries `load`. */
  const loadOf = (brief: Brief, k: number, load: number): number => loadsAt(brief, load)[k]!.amps;
  const powerOf = (brief: Brief, load: number): number => channels.reduce((sum, _, k) => sum + voltageOf(brief, k) * loadOf(brief, k, load), 0);

  /** A of the magnetising current, its mean at full load and the lowest line, as seen from the primary. */
  const largestMean = (input: SizingInput): number => powerOf(input.brief, input.brief.load.max) / (input.brief.line.min * LARGEST);

  /** Volts on the primary while the secondary empties it. */
  const reflected = (input: SizingInput, n: number): number => (input.brief.output.voltage + partsOf(input).D1.drop) / n;

  interface Numbers {
    n: number[];
    Lm: number;
    Lk: number;
    primary: number;
    /** Ω of diode and winding, by output */
    out: number[];
    clamp: number;
  }
  function numbers(input: SizingInput, values: Sizing['values']): Numbers {
    const p = partsOf(input);
    const Np = values['T1 primary']!.taken;
    const turn = turnResistance(p.T1, 25);
    const ns = channels.map((c) => values[c.winding]!.taken);
    return {
      n: ns.map((N) => N / Np), Lm: values.T1!.taken, Lk: leakage(p.T1, Np), primary: onResistance(p.Q1, 25) + windingOhms(turn, Np, 0.5),
      out: channels.map((c, k) => slopeResistance(p[c.diode]) + windingOhms(turn, ns[k]!, c.share)), clamp: clampResistance(input, values),
    };
  }

  /** Ω of the resistor that burns what the clamp takes, for a clamp of so many times the reflected voltage in the worst case. */
  function clampResistance(input: SizingInput, values: Sizing['values']): number {
    const { T1 } = partsOf(input);
    const Np = values['T1 primary']!.taken;
    const over = reflected(input, values['T1 secondary']!.taken / Np);
    const { peak } = atWorst(input, values.T1!.taken);
    const power = 0.5 * leakage(T1, Np) * peak ** 2 * input.brief.frequency * (CLAMP / (CLAMP - 1));
    return Math.min(1e7, (CLAMP * over) ** 2 / power);
  }
  function atWorst(input: SizingInput, L: number): { mean: number; peak: number } {
    const mean = largestMean(input);
    return { mean, peak: mean + (input.brief.line.min * LARGEST) / (input.brief.frequency * L) / 2 };
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
  function solveWith(input: SizingInput, values: Sizing['values'], line: number, loads: readonly number[]): Solved {
    const load = loads[0]!;
    const k = numbers(input, values);
    const p = partsOf(input);
    const { brief } = input;
    const T = 1 / brief.frequency;
    const LL = k.Lm + k.Lk;
    const [n, r] = [k.n[0]!, k.out[0]!];
    const esr = esrOf(p.C2, values.C2!.taken);
    /** A·s that the gap has to give in a period, and the part of it that is the first output's */
    const wanted = channels.reduce((sum, _, c) => sum + k.n[c]! * loads[c]!, 0) * T;
    const first = (n * load * T) / wanted;
    const { drop } = p.D2;
    const clampAt = (over: number, peak: number): number => (over - drop + Math.sqrt((over - drop) ** 2 + 2 * k.Lk * peak ** 2 * brief.frequency * k.clamp)) / 2;
    /**
     * A·s that the clamp takes in a period: what its resistor lets go of. It is half of that current times the s in which the leakage's goes away, told
     * so because that time is nothing over nothing where little is carried and the clamp stands at what is reflected, a further output then.
     */
    const takenAt = (clamp: number): number => (T * clamp) / k.clamp;
    /** V reflected: the first output's, with its drops at the mean of what its diode carries */
    const overAt = (mean: number, off: number): number => (brief.output.voltage + p.D1.drop + ((first * mean) / n) * (r + esr) - esr * load * (off / T)) / n;

    const ideal = reflected(input, n);
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
      const taken = takenAt(clamp);
      t3 = (2 * taken) / high;
      const centre = (wanted + taken + (low * t1) / 2) / (T - on);
      const moved = Math.abs(high - (centre + (rise * on) / 2)) + Math.abs(low - (centre - (rise * on) / 2));
      low = centre - (rise * on) / 2;
      high = centre + (rise * on) / 2;
      if (moved <= STILL * Math.abs(high)) break;
    }
    const continuous = { duty: (on + t1) / T, t: [t1, on, t3, T - on - t1 - t3, 0] as Solved['t'], low, high, clamp, over };

    // Discontinuous: the gap is filled from nothing.
    let peak = Math.sqrt((2 * wanted * ideal) / k.Lm);
    let w = { on: 0, over: ideal, clamp: CLAMP * ideal, t3: 0, fall: 0 };
    for (let round = 0; round < 60; round++) {
      const fall = (peak * k.Lm) / w.over;
      const over2 = overAt(peak / 2, fall);
      const clamp2 = clampAt(over2, peak);
      const before = peak;
      const taken = takenAt(clamp2);
      peak = Math.sqrt((2 * (wanted + taken) * over2) / k.Lm);
      w = { on: (peak * LL) / (line - (peak / 2) * k.primary), over: over2, clamp: clamp2, t3: (2 * taken) / peak, fall: (peak * k.Lm) / over2 };
      if (Math.abs(peak - before) <= STILL * peak) break;
    }
    const broken = { duty: w.on / T, t: [0, w.on, w.t3, w.fall - w.t3, Math.max(0, T - w.on - w.fall)] as Solved['t'], low: 0, high: peak, clamp: w.clamp, over: w.over };
    const isContinuous = continuous.duty <= broken.duty;
    return { mode: isContinuous ? 'continuous' : 'discontinuous', border: continuous.duty / broken.duty - 1, ...(isContinuous ? continuous : broken) };
  }

  const list = (input: SizingInput, values: Sizing['values'], k: Numbers, loads: readonly number[]): Output[] =>
    channels.map((c, i) => {
      const part = partsOf(input)[c.capacitor];
      const C = values[c.capacitor]!.taken;
      return { ratio: k.n[i]!, drop: partsOf(input)[c.diode].drop, resistance: k.out[i]!, capacitance: C, esr: esrOf(part, C), load: loads[i]! };
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
  function loadsByTurns(input: SizingInput, k: Numbers, load: number): number[] {
    const { brief } = input;
    const p = partsOf(input);
    if (outputs === 1) return [load];
    return [load, (loadOf(brief, 1, load) * ((k.n[1]! / k.n[0]!) * (brief.output.voltage + p.D1.drop) - p.D3.drop)) / voltageOf(brief, 1)];
  }

  /** The cycle by these loads: near enough to size by, without walking how the outputs share the current. */
  const nearly = (input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Solved => solveWith(input, values, line, loadsByTurns(input, numbers(input, values), load));

  type Shared = Solved & { loads: number[]; shared: ReturnType<typeof shareOut> };
  /** The latest one: duty, beginning and landmarks of a point are asked for one after the other */
  let latest: { input: SizingInput; values: Sizing['values']; line: number; load: number; found: Shared } | undefined;

  /** The cycle with what the second output really carries: it is not regulated, and its load is a resistance. */
  function solve(input: SizingInput, values: Sizing['values'], { line, load }: Pick<OperatingPoint, 'line' | 'load'>): Shared {
    if (latest?.input !== input || latest.values !== values || latest.line !== line || latest.load !== load) latest = { input, values, line, load, found: walk(input, values, line, load) };
    return latest.found;
  }

  function walk(input: SizingInput, values: Sizing['values'], line: number, load: number): Shared {
    const { brief } = input;
    const k = numbers(input, values);
    const nominal = channels.map((_, i) => loadOf(brief, i, load));
    let loads = loadsByTurns(input, k, load);
    for (let round = 0; ; round++) {
      const s = solveWith(input, values, line, loads);
      const shared = shareOut(list(input, values, k, loads), given(s, k.Lm).pieces, brief.output.voltage);
      if (outputs === 1 || round === 3) return { ...s, loads, shared };
      loads = [load, Math.max(0.05 * nominal[1]!, (nominal[1]! * shared.volts[1]!) / voltageOf(brief, 1))];
    }
  }

  function forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: Pick<OperatingPoint, 'line' | 'load'>): Forecast {
    const { values } = sizing;
    const s = solve(input, values, point);
    const [t1, on, t3, off, rest] = s.t;
    const none = (seconds: number): Piece => ({ seconds, from: 0, to: 0 });
    const Q1 = carried([{ seconds: t1, from: 0, to: s.low }, { seconds: on, from: s.low, to: s.high }, none(t3), none(off + rest)]);
    const D2 = carried([none(t1 + on), { seconds: t3, from: s.high, to: 0 }, none(off + rest)]);
    const primary = carried([{ seconds: t1, from: 0, to: s.low }, { seconds: on, from: s.low, to: s.high }, { seconds: t3, from: s.high, to: 0 }, none(off + rest)]);
    const { bottom } = given(s, values.T1!.taken);
    const flux = carried([{ seconds: t1, from: bottom, to: s.low }, { seconds: on, from: s.low, to: s.high }, { seconds: t3 + off, from: s.high, to: bottom }, none(rest)]);
    const { currents: secondaries, volts } = s.shared;
    const of = list(input, values, numbers(input, values), s.loads);
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

  return { channels, voltageOf, loadOf, largestMean, reflected, clampResistance, atWorst, nearly, solve, forecast };
}
