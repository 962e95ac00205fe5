import { writeFileSync } from 'node:fs';
import type { Machine, State } from '../../core/circuit/machine';
import type { Probe } from '../../core/interchange/probe';
import { writeState } from '../../core/interchange/stateFile';
import { emptyTrace, march } from '../../core/orbit/march';
import { drawEnvelope, drawPoints } from '../../core/orbit/record';
import { parseQuantity, printQuantity as print, quoted } from '../../core/quantity';
import { table } from '../table';
import { beginning } from './begin';
import { eventsOf, sayEvents } from './events';
import { count, csvLine, must, refuse, say, type Options } from './say';

/** Most points that are gathered for --json; --csv streams and has no such limit. */
const MOST_POINTS = 5_000_000;

/** --run: a transient from rest, from the settled cycle, or from where an earlier run ended. */
export function transient(machine: Machine, probes: Probe[], o: Options, begins?: State): void {
  const length = must(parseQuantity(o.run!, 's', '--run'));
  const step = o.step === undefined ? length / 400 : must(parseQuantity(o.step, 's', '--step'));
  if (!(length > 0) || !(step > 0)) refuse('--run', 'that is no length of time', 'give a run and a step above zero');
  if (o.json && !o.thin && length / step > MOST_POINTS) refuse('--step', 'that many points do not fit into one JSON document', 'take a longer step, --thin, or --csv, which streams');
  const begin = o.begin ?? 'rest';
  const from = o.begin === undefined && begins ? begins : beginning(machine, begin);
  const until = from.t + length;
  const rows = probes.map((p) => p.row);
  const keep = (end: State): void => {
    if (o.keep === undefined) return;
    try {
      writeFileSync(o.keep, writeState(machine, end));
    } catch (error) {
      refuse('--keep', `${quoted(o.keep)} can not be written (${(error as NodeJS.ErrnoException).code})`, 'name a file in a folder that is there');
    }
  };

  if (o.events) {
    const trace = emptyTrace();
    const end = must(march(machine, from, until, { trace }));
    keep(end);
    return sayEvents(eventsOf(trace), o);
  }
  if (o.csv && !o.thin) {
    say(csvLine(['time (s)', ...probes.map((p) => `${p.name} (${p.unit})`)]));
    return keep(must(march(machine, from, until, { each: drawPoints(rows, step, (t, values) => say(csvLine([t, ...values]))) })));
  }
  if (o.json && !o.thin) {
    const time: number[] = [];
    const signals = probes.map((): number[] => []);
    const end = must(march(machine, from, until, { each: drawPoints(rows, step, (t, values) => {
      time.push(t);
      values.forEach((v, k) => signals[k]!.push(v));
    }) }));
    say(JSON.stringify({ time, signals: Object.fromEntries(probes.map((p, k) => [p.name, signals[k]])) }));
    return keep(end);
  }
  const bins = o.thin === undefined ? 1 : count(o.thin, '--thin', 1, 100_000);
  const { envelope, each } = drawEnvelope(rows, from.t, until, bins);
  const end = must(march(machine, from, until, { each }));
  keep(end);
  if (o.json) return say(JSON.stringify({ edges: envelope.edges, signals: Object.fromEntries(probes.map((p, k) => [p.name, { least: [...envelope.least[k]!], most: [...envelope.most[k]!] }])) }));
  if (o.csv) {
    say(csvLine(['from (s)', 'to (s)', ...probes.flatMap((p) => [`${p.name} least (${p.unit})`, `${p.name} most (${p.unit})`])]));
    for (let k = 0; k < bins; k++) say(csvLine([envelope.edges[k]!, envelope.edges[k + 1]!, ...probes.flatMap((_, i) => [envelope.least[i]![k]!, envelope.most[i]![k]!])]));
    return;
  }
  const last = machine.prepare(end.segments);
  say(`after ${print(length, 's')} from ${begin === 'rest' || begin === 'settled' ? begin : print(from.t, 's')}\n`);
  say(table(['quantity', 'at the end', 'least', 'most'], probes.map((p, k) => {
    const value = p.row(last).reduce((sum, v, i) => sum + v * end.z[i]!, 0);
    return [p.name, ...[value, Math.min(...envelope.least[k]!), Math.max(...envelope.most[k]!)].map((v) => print(v, p.unit, 4))];
  })));
}
