import type { Circuit } from '../../core/circuit/elements';
import type { Machine } from '../../core/circuit/machine';
import { readProbe } from '../../core/interchange/probe';
import { cycleIntegrals, measure } from '../../core/orbit/measure';
import { instability } from '../../core/orbit/stability';
import { describeProblem } from '../../core/problem';
import { parseQuantity, printQuantity as print } from '../../core/quantity';
import { SmallSignal } from '../../core/response/exact';
import { bode, margins, type Margins } from '../../core/response/margins';
import { injectedLoopGain, loopAt, injectionPointAt } from '../../core/response/injectionPoint';
import { refined, resonancesOf } from '../../core/response/refine';
import { logSpaced } from '../../core/response/system';
import { cycleFrom } from './begin';
import { count, frequencies, must, refuse, responseRow, say, sayResponse, type Options, type ResponseRow } from './say';

/** --response SOURCE PROBE …: exact small-signal response on the settled cycle, of one probe or several. */
export function respond(circuit: Circuit, machine: Machine, o: Options): void {
  const [source, ...names] = o.response!;
  const e = circuit.elements.find((x) => x.id === source);
  if (!e || !('value' in e)) return refuse('--response', `there is no source ${source}`, 'name a voltage or current source of the circuit');
  const probes = (names.length > 0 ? names : ['']).map((name) => must(readProbe(circuit, name)));
  const cycle = cycleFrom(machine, o);
  const f = frequencies(o, cycle.period);
  const values = new SmallSignal(machine, cycle).respond(source!, probes.map((p) => p.row), f);
  const several = probes.length > 1;
  const rows = probes.flatMap((p, k): ResponseRow[] => values[k]!.map((v, i) => ({ ...responseRow(f[i]!, v), ...(several ? { of: p.name } : {}) })));
  sayResponse(rows, o, several ? [{ title: 'of', value: (r) => r.of!, text: (r) => r.of! }] : []);
}

/** --loop PLACE: loop gain by series injection, exactly, with its margins. */
export function respondLoop(circuit: Circuit, machine: Machine, o: Options): void {
  const place = must(injectionPointAt(circuit, o.loop!));
  const cycle = cycleFrom(machine, o);
  const at = loopAt(machine, cycle, place);
  const f = frequencies(o, cycle.period);
  // Margins are read off a grid of their own, from far below to half the cycle's frequency.
  const grid = refined(logSpaced(1e-6 / cycle.period, 0.5 / cycle.period, 300), at, resonancesOf(cycle));
  const found = margins((x) => at([x])[0]!, bode(grid.frequency, grid.response));
  const leaves = instability(cycle);
  sayResponse(at(f).map((v, i) => responseRow(f[i]!, v)), o, [], { margins: plainMargins(found), stable: leaves === undefined });
  if (o.json || o.csv) return;
  const m = found;
  say(
    Number.isNaN(m.crossover)
      ? `\nno crossover: the gain stays ${m.beyond} one from ${print(grid.frequency[0]!, 'Hz')} to ${print(grid.frequency.at(-1)!, 'Hz')}`
      : `\ncrossover ${print(m.crossover, 'Hz', 4)}, phase margin ${print(m.phaseMargin, '°', 4)}, gain margin ${print(m.gainMargin, 'dB', 4)}, delay margin ${print(m.delayMargin, 's', 4)}, closest to −1 ${m.closest.toPrecision(4)}`,
  );
  say(leaves ? describeProblem(leaves) : 'the cycle stays: all multipliers lie inside the unit circle');
}

/** Gain margin null where the phase never crosses −180°; what else does not exist is left out. */
const plainMargins = (m: Margins): object => ({ ...m, gainMargin: Number.isFinite(m.gainMargin) ? m.gainMargin : null });

/** --inject PLACE: the same by injection in time; how far it has come is told on the error stream of a terminal. */
export function injectLoop(circuit: Circuit, machine: Machine, o: Options): void {
  const place = must(injectionPointAt(circuit, o.inject!));
  const cycle = cycleFrom(machine, o);
  const f = frequencies(o, cycle.period);
  const carried = measure(cycleIntegrals(cycle), place.arrives);
  const amplitude = o.amplitude === undefined ? 1e-3 * Math.max(Math.abs(carried.mean), carried.rms, 1e-3) : must(parseQuantity(o.amplitude, 'V', '--amplitude'));
  if (!(amplitude > 0)) refuse('--amplitude', 'that is no amplitude', 'give one above zero');
  const terminal = process.stderr.isTTY;
  const points = must(
    injectedLoopGain(circuit, place, f, {
      amplitude,
      tonesAtOnce: count(o.tones, '--tones', 1, 16),
      progress: (done, of) => void (terminal && process.stderr.write(`\r${Math.floor(done)} of ${of} frequencies`)),
    }),
  );
  if (terminal) process.stderr.write('\r' + ' '.repeat(40) + '\r');
  const rows = points.map((p) => ({ ...responseRow(p.frequency, p.loop), amplitude: p.amplitude, distortion: p.distortion, moved: p.moved, good: p.good }));
  sayResponse(rows, o, [
    { title: 'amplitude (V)', value: (r) => r.amplitude, text: (r) => print(r.amplitude, 'V') },
    { title: 'distortion', value: (r) => r.distortion, text: (r) => `${(100 * r.distortion).toFixed(2)} %` },
    { title: 'moved by half the amplitude', value: (r) => r.moved.gain, text: (r) => `${r.moved.gain.toFixed(3)} dB ${r.moved.phase.toFixed(2)}°` },
    { title: 'quality', value: (r) => (r.good ? 'good' : 'poor'), text: (r) => (r.good ? 'good' : 'poor') },
  ]);
}
