import type { Circuit } from '../../core/circuit/elements';
import type { Machine } from '../../core/circuit/machine';
import { readProbe } from '../../core/interchange/probe';
import { gauge, measure } from '../../core/orbit/measure';
import { settleCycle } from '../../core/orbit/settle';
import { parseQuantity, printQuantity as print } from '../../core/quantity';
import { SmallSignal } from '../../core/response/exact';
import { injectedLoopGain, loopGain, placeAt } from '../../core/response/place';
import { count, frequencies, must, refuse, responseRow, sayResponse, type Options } from './say';

/** --response SOURCE PROBE: exact small-signal response on the settled cycle. */
export function respond(circuit: Circuit, machine: Machine, o: Options): void {
  const [source, name] = o.response!;
  const e = circuit.elements.find((x) => x.id === source);
  if (!e || !('value' in e)) return refuse('--response', `there is no source ${source}`, 'name a voltage or current source of the circuit');
  const probe = must(readProbe(circuit, name ?? ''));
  const cycle = must(settleCycle(machine));
  const f = frequencies(o, cycle.period);
  const [values] = new SmallSignal(machine, cycle).respond(source, [probe.row], f);
  sayResponse(values!.map((v, i) => responseRow(f[i]!, v)), o);
}

/** --loop PLACE: loop gain by series injection, exactly. */
export function respondLoop(circuit: Circuit, machine: Machine, o: Options): void {
  const place = must(placeAt(circuit, o.loop!));
  const cycle = must(settleCycle(machine));
  const f = frequencies(o, cycle.period);
  sayResponse(loopGain(machine, cycle, place, f).map((v, i) => responseRow(f[i]!, v)), o);
}

/** --inject PLACE: the same by injection in time; how far it has come is told on the error stream of a terminal. */
export function injectLoop(circuit: Circuit, machine: Machine, o: Options): void {
  const place = must(placeAt(circuit, o.inject!));
  const cycle = must(settleCycle(machine));
  const f = frequencies(o, cycle.period);
  const carried = measure(gauge(cycle), place.arrives);
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
