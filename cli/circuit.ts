import { readFileSync } from 'node:fs';
import type { Command } from 'commander';
import { buildMachine, restState, type Machine, type Prepared } from '../core/circuit/machine';
import type { Circuit } from '../core/circuit/elements';
import { readCircuit } from '../core/interchange/circuitFile';
import { readProbe, usualProbes, type Probe } from '../core/interchange/probe';
import { decibels, degrees, phase, size } from '../core/linear/complex';
import { dot } from '../core/linear/dense';
import { advance } from '../core/linear/ladder';
import { march } from '../core/orbit/march';
import { gauge, measure } from '../core/orbit/measure';
import { multipliers, settleCycle } from '../core/orbit/settle';
import { describeProblem, fail, type Problem, type Result } from '../core/problem';
import { parseQuantity, printQuantity as print } from '../core/quantity';
import { SmallSignal } from '../core/response/exact';
import { logSpaced } from '../core/response/system';
import { table } from './table';

interface Options {
  settle?: true;
  run?: string;
  response?: [string, string];
  from: string;
  to: string;
  points: string;
  show?: string[];
  step?: string;
  json?: true;
  csv?: true;
}

const say = (text: string): void => void process.stdout.write(text + '\n');

/** A problem on its way out of the command. */
class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message);
  }
}
const must = <T>(r: Result<T>): T => {
  if (!r.ok) throw new Refusal(r.problem);
  return r.value;
};

/** reed circuit FILE …: any circuit file on the engine. */
export function addCircuitVerb(program: Command, finish: (code: number) => void): void {
  program
    .command('circuit')
    .summary('run any circuit file: settled cycle, transient, small-signal response')
    .description(
      'Run any circuit file (docs/circuit-file.md): settled cycle, transient from rest, exact small-signal response.\n\n' +
        'JSON: settle → period, closure, multipliers[{re,im,size}], signals{name:{mean,rms,min,max,peakToPeak}}; run → time[], signals{name:[]}; response → response[{frequency,gain (dB),phase (degrees)}].',
    )
    .argument('<file>', 'circuit file (JSON)')
    .option('--settle', 'solve the settled cycle (what is done when nothing else is asked)')
    .option('--run <time>', 'run from rest for a time, like 2ms; with --csv or --json every drawing point')
    .option('--step <time>', 'time between drawing points (default: a 400th of the run)')
    .option('--response <names...>', 'small-signal response from a source to a probe, like: duty "v(out)"')
    .option('--from <frequency>', 'lowest frequency', '100')
    .option('--to <frequency>', 'highest frequency (default: half the switching frequency)', '')
    .option('--points <count>', 'how many frequencies', '100')
    .option('--show <probes...>', 'what to show: v(node), v(node,node), i(element)')
    .option('--json', 'print JSON in SI units')
    .option('--csv', 'print CSV')
    .exitOverride()
    .action((file: string, options: Options) => {
      try {
        run(file, options);
        finish(0);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        process.stderr.write(`${file}: ${describeProblem(error.problem)}\n`);
        finish(2);
      }
    });
}

function run(file: string, o: Options): void {
  let text: string;
  try {
    text = readFileSync(file, 'utf8');
  } catch {
    throw new Refusal({ code: 'file', where: '', message: 'the file can not be read', remedy: 'check the path' });
  }
  const circuit = must(readCircuit(text));
  const probes = o.show ? o.show.map((name) => must(readProbe(circuit, name))) : usualProbes(circuit);
  const machine = must(buildMachine(circuit));
  if (o.run !== undefined) transient(machine, probes, must(parseQuantity(o.run, 's', '--run')), o);
  else if (o.response) respond(circuit, machine, o);
  else settled(machine, probes, o);
}

function settled(machine: Machine, probes: Probe[], o: Options): void {
  const cycle = must(settleCycle(machine));
  const g = gauge(cycle);
  const signals = Object.fromEntries(probes.map((p) => [p.name, measure(g, p.row)]));
  const eigen = multipliers(cycle);
  if (o.json) return say(JSON.stringify({ period: cycle.period, closure: cycle.closure, multipliers: eigen, signals }, null, 2));
  say(`settled cycle of ${print(cycle.period, 's')}, closes to ${cycle.closure.toExponential(1)}; largest multiplier ${eigen[0]?.size.toFixed(4) ?? '–'}\n`);
  const cell = (v: number, unit: 'V' | 'A'): string => print(Math.abs(v) < 1e-9 ? 0 : v, unit, 4);
  say(table(['quantity', 'mean', 'rms', 'least', 'most', 'peak to peak'], probes.map((p) => {
    const m = signals[p.name]!;
    return [p.name, ...[m.mean, m.rms, m.min, m.max, m.peakToPeak].map((v) => cell(v, p.unit))];
  })));
}

function transient(machine: Machine, probes: Probe[], until: number, o: Options): void {
  const step = o.step === undefined ? until / 400 : must(parseQuantity(o.step, 's', '--step'));
  if (!(until > 0) || !(step > 0) || until / step > 5e6) throw new Refusal(fail('range', '--run', 'that many drawing points make no sense', 'choose a run above zero and a step of at least a five-millionth of it').problem);
  const time: number[] = [];
  const values = probes.map((): number[] => []);
  const draw = (t: number, p: Prepared, z: Float64Array): void => {
    time.push(t);
    probes.forEach((probe, k) => values[k]!.push(dot(probe.row(p), z, p.size)));
  };
  let next = 0;
  must(
    march(machine, restState(machine), until, {
      each(s) {
        const p = s.pattern as Prepared;
        for (; next <= s.start + s.duration; next += step) if (next >= s.start) draw(next, p, advance(p.ladder, s.z0, next - s.start));
      },
    }),
  );
  if (o.json) return say(JSON.stringify({ time, signals: Object.fromEntries(probes.map((p, k) => [p.name, values[k]])) }));
  if (o.csv) {
    say(['time (s)', ...probes.map((p) => `${p.name.includes(',') ? `"${p.name}"` : p.name} (${p.unit})`)].join(','));
    time.forEach((t, i) => say([t, ...values.map((v) => v[i])].join(',')));
    return;
  }
  say(`after ${print(until, 's')} from rest\n`);
  say(table(['quantity', 'at the end', 'least', 'most'], probes.map((p, k) => [p.name, print(values[k]!.at(-1)!, p.unit, 4), print(Math.min(...values[k]!), p.unit, 4), print(Math.max(...values[k]!), p.unit, 4)])));
}

function respond(circuit: Circuit, machine: Machine, o: Options): void {
  const [source, name] = o.response!;
  const e = circuit.elements.find((x) => x.id === source);
  if (!e || !('value' in e)) throw new Refusal(fail('source', '--response', `there is no source ${source}`, 'name a voltage or current source of the circuit').problem);
  const probe = must(readProbe(circuit, name ?? ''));
  const cycle = must(settleCycle(machine));
  const low = must(parseQuantity(o.from, 'Hz', '--from'));
  const high = o.to === '' ? 0.5 / cycle.period : must(parseQuantity(o.to, 'Hz', '--to'));
  const points = Number(o.points);
  if (!(low > 0) || !(high > low) || !(points >= 2 && points <= 100_000)) throw new Refusal(fail('range', '--from', 'these frequencies make no range', 'give a lowest above zero, a highest above it, and 2 points or more').problem);
  const f = logSpaced(low, high, points);
  const [values] = new SmallSignal(machine, cycle).respond(source, [probe.row], f);
  const rows = values!.map((v, i) => ({ frequency: f[i]!, gain: decibels(size(v)), phase: degrees(phase(v)) }));
  if (o.json) return say(JSON.stringify({ response: rows }, null, 2));
  if (o.csv) {
    say('frequency (Hz),gain (dB),phase (°)');
    rows.forEach((r) => say(`${r.frequency},${r.gain},${r.phase}`));
    return;
  }
  say(table(['frequency', 'gain', 'phase'], rows.map((r) => [print(r.frequency, 'Hz', 4), print(r.gain, 'dB', 4), print(r.phase, '°', 4)])));
}
