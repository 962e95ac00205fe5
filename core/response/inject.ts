import type { Circuit } from '../circuit/elements';
import { buildMachine, restState, type Machine, type Prepared, type State } from '../circuit/machine';
import type { Complex } from '../linear/complex';
import { dot } from '../linear/dense';
import { advance } from '../linear/ladder';
import { fail, ok, type Result } from '../problem';
import type { Stretch } from '../orbit/cycle';
import { march } from '../orbit/march';
import { multipliers, settleCycle, type SettledCycle } from '../orbit/settle';

/**
 * Injection in time, as on a bench: a small sine on a source, the run itself, and one bin read over
 * whole periods. It shares nothing with the small-signal response but the exact steps, and so judges it.
 */
export interface Injected {
  /** Response of each output at the tone's frequency, per unit of the source */
  outputs: Complex[];
  /** Hz that was really injected: periods of the tone and of the cycle fit into one window */
  frequency: number;
  amplitude: number;
  /** Second harmonic over the tone itself, of the worst output */
  distortion: number;
  /** Largest change when the amplitude is halved: dB and degrees */
  moved: { gain: number; phase: number };
  /** Both within 0.1 dB, 1° and 1 % */
  good: boolean;
}

export interface InjectOptions {
  /** Amplitude to begin with, in the source's unit */
  amplitude: number;
  /** Told after each trial; true stops */
  progress?: (trial: number) => boolean | void;
}

const TRIALS = 8;
const MOST_PERIODS = 40_000;

/**
 * Inject one tone and read the outputs. Two amplitudes are tried, the second half the first; where the
 * answer moves by more than 0.1 dB or 1°, or the second harmonic is above 1 %, both are made smaller.
 *
 * @param input id of a constant source
 * @param outputs quantities to read
 * @param frequency Hz; moved to the nearest that fits a window of whole periods
 */
export function injectTone(circuit: Circuit, input: string, outputs: readonly ((p: Prepared) => Float64Array)[], frequency: number, options: InjectOptions): Result<Injected> {
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value);
  if (!cycle.ok) return cycle;
  const worst = multipliers(cycle.value)[0]?.size ?? 0;
  if (worst >= 1) return fail('unstable', input, `the cycle does not stay where it is: a multiplier is ${worst.toFixed(3)}`, 'lower the gain or add slope before injecting');
  const source = circuit.elements.find((e) => e.id === input);
  if (!source || !('value' in source) || typeof source.value !== 'number') return fail('unknown', input, 'only a constant source can be moved', 'name one of this circuit');

  let amplitude = options.amplitude;
  let best: Injected | undefined;
  for (let trial = 0; trial < TRIALS; trial++) {
    const whole = readTone(circuit, machine.value, cycle.value, input, outputs, frequency, amplitude);
    if (!whole.ok) return whole;
    const half = readTone(circuit, machine.value, cycle.value, input, outputs, frequency, amplitude / 2);
    if (!half.ok) return half;
    const moved = difference(whole.value.outputs, half.value.outputs);
    const distortion = half.value.distortion;
    const good = moved.gain <= 0.1 && moved.phase <= 1 && distortion <= 0.01;
    best = { ...half.value, amplitude: amplitude / 2, moved, distortion, good };
    if (good || options.progress?.(trial)) break;
    amplitude /= 5;
  }
  return ok(best!);
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

/** One run with one amplitude: start on the settled cycle, let the tone's transient die, read a window. */
function readTone(
  circuit: Circuit, still: Machine, cycle: SettledCycle, input: string, outputs: readonly ((p: Prepared) => Float64Array)[], wanted: number, amplitude: number,
): Result<{ outputs: Complex[]; frequency: number; distortion: number }> {
  const T = cycle.period;
  // Whole periods of the tone in whole periods of the cycle: about twelve of the tone, or more of the cycle.
  const window = Math.max(1, Math.round(Math.max(12 / (wanted * T), 24)));
  const turns = Math.max(1, Math.round(wanted * window * T));
  const frequency = turns / (window * T);
  const base = circuit.elements.find((e) => e.id === input) as { value: number };
  const moving = {
    ...circuit,
    elements: circuit.elements.map((e) => (e.id === input ? { ...e, value: { shape: 'sine' as const, offset: base.value, amplitude, frequency, phase: 0 } } : e)),
  } as Circuit;
  const machine = buildMachine(moving);
  if (!machine.ok) return machine;
  const state = carryOver(still, machine.value, cycle.state);

  // The slowest multiplier says how many periods leave a millionth of the transient.
  const slowest = Math.min(0.9999, Math.max(0.5, multipliers(cycle)[0]?.size ?? 0));
  const waiting = Math.min(MOST_PERIODS, Math.ceil(Math.log(1e-7) / Math.log(slowest) / window) * window);
  const settled = march(machine.value, state, waiting * T);
  if (!settled.ok) return settled;

  const w = 2 * Math.PI * frequency;
  const bins = outputs.map(() => [{ re: 0, im: 0 }, { re: 0, im: 0 }]);
  const run = march(machine.value, settled.value, (waiting + window) * T, {
    each(s) {
      const p = s.pattern as Prepared;
      const rows = outputs.map((o) => o(p));
      eachNode(s, p, Math.max(w * 2, 1 / T), (t, weight, z) => {
        rows.forEach((row, k) => {
          const y = dot(row, z, p.size) * weight;
          [1, 2].forEach((harmonic, h) => {
            bins[k]![h]!.re += y * Math.cos(harmonic * w * t);
            bins[k]![h]!.im -= y * Math.sin(harmonic * w * t);
          });
        });
      });
    },
  });
  if (!run.ok) return run;
  // The source is amplitude·sin(ωt) = Re(−j amplitude e^{jωt}): divide the bin by half of −j amplitude.
  const scale = 2 / (window * T * amplitude);
  const result = bins.map(([one]): Complex => ({ re: -one!.im * scale, im: one!.re * scale }));
  const distortion = Math.max(...bins.map(([one, two]) => Math.hypot(two!.re, two!.im) / (Math.hypot(one!.re, one!.im) || 1)));
  return ok({ outputs: result, frequency, distortion });
}

/** The state of one machine told in the layout of another that differs by how a source moves. */
function carryOver(from: Machine, to: Machine, state: State): State {
  const fresh = restState(to);
  const z = fresh.z.slice();
  for (const [name, i] of to.layout.column) {
    const old = from.layout.column.get(name);
    if (old !== undefined && (i < to.layout.n || name.startsWith('held '))) z[i] = state.z[old]!;
  }
  return { ...state, z, segments: state.segments.slice(), memory: state.memory.map((m, i) => (i < to.agents.length ? [...m] : m)) };
}

const NODES = [-0.9061798459386640, -0.5384693101056831, 0, 0.5384693101056831, 0.9061798459386640];
const WEIGHTS = [0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665, 0.2369268850561891];

/** Five-point Gauss nodes over a stretch, in pieces short against the fastest of interest (rad/s). */
function eachNode(s: Stretch, p: Prepared, fastest: number, see: (t: number, weight: number, z: Float64Array) => void): void {
  const pieces = Math.max(1, Math.ceil(s.duration * fastest * 4));
  const h = s.duration / pieces;
  let z = s.z0;
  for (let k = 0; k < pieces; k++) {
    let at = 0;
    let inside = z;
    NODES.forEach((x, i) => {
      const t = ((1 + x) / 2) * h;
      inside = advance(p.ladder, inside, t - at);
      at = t;
      see(s.start + k * h + t, (WEIGHTS[i]! / 2) * h, inside);
    });
    z = advance(p.ladder, inside, h - at);
  }
}
