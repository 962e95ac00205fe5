import type { Circuit } from '../circuit/elements';
import { buildMachine, type Machine, type Prepared, type State } from '../circuit/machine';
import type { Complex } from '../linear/complex';
import { dot } from '../linear/dense';
import { climb } from '../linear/stepTable';
import { fail, ok, type Result } from '../problem';
import { carryOver } from '../orbit/carry';
import type { Interval } from '../orbit/cycle';
import { march } from '../orbit/march';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { instability, multipliers } from '../orbit/stability';

/**
 * Injection in time, as on a bench: small sines on a source, the run itself, and single bins read over
 * whole periods. It shares nothing with the small-signal response but the exact steps, and so judges it.
 */
export interface Injected {
  /** Response of each output at the tone's frequency, per unit of the source */
  outputs: Complex[];
  /** Hz that was really injected: periods of the tone and of the cycle fit into one window */
  frequency: number;
  amplitude: number;
  /** Second or third harmonic over the tone itself, of the worst output */
  distortion: number;
  /** Largest change when the amplitude is halved: dB and degrees */
  moved: { gain: number; phase: number };
  /** Within 0.1 dB, 1° and 1 % */
  good: boolean;
}

export interface InjectOptions {
  /** Amplitude of each tone to begin with, in the source's unit */
  amplitude: number;
  /** Tones in one run; one when left out */
  tonesAtOnce?: number;
  /** Where the search for the cycle begins: a circuit that is far from it when at rest may not find it */
  near?: State;
  /** Told after each trial how many frequencies are done; true stops, and what is done is handed back */
  progress?: (done: number, of: number) => boolean | void;
}

type Row = (p: Prepared) => Float64Array;

const TRIALS = 8;
const MOST_PERIODS = 40_000;
const MOST_TONES = 16;
/** Turns of the lowest tone in a window, and least periods of the cycle in it */
const TURNS = 12;
const LEAST_PERIODS = 24;

/** Inject one tone of a frequency in Hz; see injectTones. */
export function injectTone(circuit: Circuit, input: string, outputs: readonly Row[], frequency: number, options: InjectOptions): Result<Injected> {
  const all = injectTones(circuit, input, outputs, [frequency], options);
  return all.ok ? ok(all.value[0]!) : all;
}

/**
 * Inject tones and read the outputs. Two amplitudes are tried, the second half the first; where the answer
 * moves by more than 0.1 dB or 1°, or a harmonic is above 1 %, that tone is made smaller and both are run again.
 * Several tones in one run stand on bins that share no harmonics with each other or with the cycle.
 *
 * @param input id of a constant source
 * @param outputs quantities to read
 * @param frequencies Hz; each is moved to the nearest that fits a window of whole periods
 * @returns one answer a frequency, fewer when it was stopped; problems "unstable", "unknown", those of the cycle
 */
export function injectTones(circuit: Circuit, input: string, outputs: readonly Row[], frequencies: readonly number[], options: InjectOptions): Result<Injected[]> {
  const source = circuit.elements.find((e) => e.id === input);
  if (!source || !('value' in source) || typeof source.value !== 'number') return fail('unknown', input, 'only a constant source can be moved', 'name one of this circuit');
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value, options.near ? { near: options.near } : {});
  if (!cycle.ok) return cycle;
  const leaves = instability(cycle.value);
  if (leaves) return { ok: false, problem: { ...leaves, code: 'unstable', where: input } };
  const setting: Setting = { circuit, still: machine.value, cycle: cycle.value, input, value: source.value, outputs };
  const found: Injected[] = [];
  const group = Math.max(1, Math.min(MOST_TONES, options.tonesAtOnce ?? 1));
  // Neighbours go into different runs, so that the tones of one are far from each other.
  const runs = Math.ceil(frequencies.length / group);
  const order = Array.from({ length: runs }, (_, r) => frequencies.filter((__, k) => k % runs === r));
  for (const wanted of order) {
    let stopped = false;
    const answers = judged(setting, wanted, options.amplitude, (share) => (stopped = options.progress?.(found.length + share * wanted.length, frequencies.length) === true));
    if (!answers.ok) return answers;
    if (stopped) break;
    found.push(...answers.value);
  }
  return ok(found.sort((a, b) => a.frequency - b.frequency));
}

/** What all runs of one injection share. */
interface Setting {
  circuit: Circuit;
  still: Machine;
  cycle: SettledCycle;
  input: string;
  /** Of the source */
  value: number;
  outputs: readonly Row[];
}

interface Reading {
  outputs: Complex[];
  distortion: number;
}

/** Some tones at once, with amplitudes that were tried. */
function judged(setting: Setting, wanted: readonly number[], amplitude: number, progress: (share: number) => boolean): Result<Injected[]> {
  const { window, turns } = binsFor(wanted, setting.cycle.period);
  const amplitudes = wanted.map(() => amplitude);
  let best: Injected[] = [];
  for (let trial = 0; trial < TRIALS; trial++) {
    const whole = readTones(setting, window, turns, amplitudes);
    if (!whole.ok) return whole;
    const half = readTones(setting, window, turns, amplitudes.map((a) => a / 2));
    if (!half.ok) return half;
    best = half.value.map((reading, i) => {
      const moved = difference(whole.value[i]!.outputs, reading.outputs);
      const good = moved.gain <= 0.1 && moved.phase <= 1 && reading.distortion <= 0.01;
      return { ...reading, frequency: turns[i]! / (window * setting.cycle.period), amplitude: amplitudes[i]! / 2, moved, good };
    });
    const bad = best.filter((b) => !b.good).length;
    if (progress(1 - bad / best.length) || bad === 0) break;
    best.forEach((b, i) => {
      if (!b.good) amplitudes[i]! /= 5;
    });
  }
  return ok(best);
}

/**
 * A window of whole periods of the cycle and a number of turns in it for each tone: no tone stands on the
 * second to fifth harmonic of another, nor on one that the cycle mirrors.
 */
function binsFor(wanted: readonly number[], T: number): { window: number; turns: number[] } {
  const lowest = Math.min(...wanted);
  const window = Math.max(1, Math.round(Math.max(TURNS / (lowest * T), LEAST_PERIODS)));
  const taken = new Set<number>();
  const turns = wanted.map((f) => {
    const ideal = Math.max(1, Math.round(f * window * T));
    let n = ideal;
    // Nearest free bin: up, down, further up …
    for (let step = 1; taken.has(n % window) && step < 200; step++) n = Math.max(1, ideal + (step % 2 ? 1 : -1) * Math.ceil(step / 2));
    for (const m of [1, 2, 3, 4, 5]) for (const sign of [1, -1]) taken.add((((sign * m * n) % window) + window) % window);
    return n;
  });
  return { window, turns };
}

function difference(a: readonly Complex[], b: readonly Complex[]): { gain: number; phase: number } {
  let gain = 0;
  let phase = 0;
  a.forEach((x, i) => {
    const y = b[i]!;
    gain = Math.max(gain, Math.abs(20 * Math.log10(Math.hypot(x.re, x.im) / Math.hypot(y.re, y.im))));
    const turn = Math.atan2(x.im * y.re - x.re * y.im, x.re * y.re + x.im * y.im);
    phase = Math.max(phase, Math.abs((turn * 180) / Math.PI));
  });
  return { gain, phase };
}

/** One run with given amplitudes: start on the settled cycle, let the tones' transient die, read a window. */
function readTones({ circuit, still, cycle, input, value, outputs }: Setting, window: number, turns: readonly number[], amplitudes: readonly number[]): Result<Reading[]> {
  const T = cycle.period;
  const tones = turns.map((n, i) => ({ amplitude: amplitudes[i]!, frequency: n / (window * T), phase: 0 }));
  const moving = { ...circuit, elements: circuit.elements.map((e) => (e.id === input ? { ...e, value: { shape: 'tones' as const, offset: value, tones } } : e)) } as Circuit;
  const machine = buildMachine(moving);
  if (!machine.ok) return machine;
  const state = carryOver(still, machine.value, cycle.state);

  // The slowest multiplier says how many periods leave a ten-millionth of the transient.
  const slowest = Math.min(0.9999, Math.max(0.5, multipliers(cycle)[0]?.size ?? 0));
  const waiting = Math.min(MOST_PERIODS, Math.ceil(Math.log(1e-7) / Math.log(slowest) / window) * window);
  const settled = march(machine.value, state, waiting * T);
  if (!settled.ok) return settled;

  const angular = tones.flatMap((t) => [1, 2, 3].map((m) => 2 * Math.PI * t.frequency * m));
  const bins = outputs.map(() => angular.map(() => ({ re: 0, im: 0 })));
  const fastest = Math.max(2 * Math.PI * 2 * Math.max(...tones.map((t) => t.frequency)), 1 / T);
  const run = march(machine.value, settled.value, (waiting + window) * T, {
    each(s) {
      const p = s.pattern as Prepared;
      const rows = outputs.map((o) => o(p));
      readAt(s, p, fastest, (t, weight, z) => {
        const ys = rows.map((row) => dot(row, z, p.size) * weight);
        angular.forEach((w, b) => {
          const [c, d] = [Math.cos(w * t), Math.sin(w * t)];
          ys.forEach((y, k) => {
            bins[k]![b]!.re += y * c;
            bins[k]![b]!.im -= y * d;
          });
        });
      });
    },
  });
  if (!run.ok) return run;
  return ok(
    tones.map(({ amplitude }, i) => {
      // The source is amplitude·sin(ωt) = Re(−j amplitude e^{jωt}): divide the bin by half of −j amplitude.
      const scale = 2 / (window * T * amplitude);
      const own = bins.map((list) => list.slice(3 * i, 3 * i + 3));
      const share = (list: readonly Complex[], m: number): number => Math.hypot(list[m]!.re, list[m]!.im) / (Math.hypot(list[0]!.re, list[0]!.im) || 1);
      return { outputs: own.map(([one]) => ({ re: -one!.im * scale, im: one!.re * scale })), distortion: Math.max(...own.flatMap((list) => [share(list, 1), share(list, 2)])) };
    }),
  );
}

const NODES = [-0.9061798459386640, -0.5384693101056831, 0, 0.5384693101056831, 0.9061798459386640];
const WEIGHTS = [0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665, 0.2369268850561891];

/** Five-point Gauss nodes over an interval, in pieces short against the fastest of interest (rad/s). */
function readAt(s: Interval, p: Prepared, fastest: number, see: (t: number, weight: number, z: Float64Array) => void): void {
  const pieces = Math.max(1, Math.ceil(s.duration * fastest * 4));
  const h = s.duration / pieces;
  let z = s.z0;
  for (let k = 0; k < pieces; k++) {
    let at = 0;
    let inside = z;
    NODES.forEach((x, i) => {
      const t = ((1 + x) / 2) * h;
      inside = climb(p.stepTable, inside, t - at);
      at = t;
      see(s.start + k * h + t, (WEIGHTS[i]! / 2) * h, inside);
    });
    z = climb(p.stepTable, inside, h - at);
  }
}
