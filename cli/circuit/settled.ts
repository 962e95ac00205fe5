import { restState, type Machine, type State } from '../../core/circuit/machine';
import type { Probe } from '../../core/interchange/probe';
import { march } from '../../core/orbit/march';
import { cycleIntegrals, measure } from '../../core/orbit/measure';
import { harmonics, type Harmonic } from '../../core/orbit/spectrum';
import { drawEnvelope } from '../../core/orbit/record';
import { powersOf, type Powers } from '../../core/orbit/power';
import { roundingOf } from '../../core/orbit/rounding';
import { settleCycle } from '../../core/orbit/settle';
import { doubt, instability, multipliers } from '../../core/orbit/stability';
import { describeProblem } from '../../core/problem';
import { printQuantity as print, quoted } from '../../core/quantity';
import { table } from '../table';
import { beginning } from './begin';
import { eventsOf, sayEvents } from './events';
import { count, csvLine, jsonText, must, Refusal, refuse, say, type Options } from './say';

const cell = (v: number, unit: 'V' | 'A'): string => print(Math.abs(v) < 1e-9 ? 0 : v, unit, 4);

/** --settle: the settled cycle; where there is none, why, and what the marched waveform does. */
export function settled(machine: Machine, probes: Probe[], o: Options, near?: State): void {
  const begin = o.begin === undefined || o.begin === 'settled' ? near : o.begin === 'rest' ? undefined : beginning(machine, o.begin);
  const found = settleCycle(machine, begin ? { near: begin } : {});
  if (!found.ok) {
    if (!o.json && !o.csv && ['no-cycle', 'subharmonic', 'work'].includes(found.problem.code)) marched(machine, probes, describeProblem(found.problem));
    throw new Refusal(found.problem);
  }
  const cycle = found.value;
  if (o.events) return sayEvents(eventsOf(cycle.trace), o);
  const g = cycleIntegrals(cycle);
  const orders = o.harmonics === undefined ? 0 : count(o.harmonics, '--harmonics', 1, 2000);
  const inDegrees = (h: Harmonic): Harmonic => ({ ...h, phase: (h.phase * 180) / Math.PI });
  const within = roundingOf(cycle);
  const signals = Object.fromEntries(probes.map((p) => [p.name, { ...measure(g, p.row), within: within(p.row), ...(orders > 0 ? { harmonics: harmonics(g, p.row, orders).map(inDegrees) } : {}) }]));
  const eigen = multipliers(cycle);
  const leaves = instability(cycle);
  const power = powersOf(machine.circuit, g);
  const output = outputOf(power, o);
  const efficiency = output === undefined ? undefined : output / power.given;
  if (o.json)
    return say(jsonText({ period: cycle.period, closure: cycle.closure, doubt: doubt(cycle), multipliers: eigen, leaves: leaves ?? null, work: cycle.work, power: { elements: power.elements, given: power.given, residual: power.residual, output, losses: output === undefined ? undefined : power.given - output, efficiency }, signals }));
  if (o.csv) {
    say(csvLine(['quantity', 'mean', 'rms', 'least', 'most', 'peak to peak', 'least at (s)', 'most at (s)', ...Array.from({ length: orders }, (_, k) => `harmonic ${k + 1} (peak)`)]));
    for (const p of probes) {
      const m = signals[p.name]!;
      say(csvLine([`${p.name} (${p.unit})`, m.mean, m.rms, m.min, m.max, m.peakToPeak, m.minAt, m.maxAt, ...((m as { harmonics?: Harmonic[] }).harmonics ?? []).slice(1).map((h) => h.amplitude)]));
    }
    return;
  }
  say(`settled cycle of ${print(cycle.period, 's')}, closes to ${cycle.closure.toExponential(1)}; largest multiplier ${eigen[0]?.size.toFixed(4) ?? '–'}`);
  if (doubt(cycle) > SURE) say(`something is held so loosely that a period brings it back by next to nothing: figures that depend on it are good to ${doubt(cycle).toExponential(0)} only`);
  for (const p of probes) {
    const of = signals[p.name]!;
    const largest = Math.max(...probes.filter((x) => x.unit === p.unit).flatMap((x) => [Math.abs(signals[x.name]!.min), Math.abs(signals[x.name]!.max)]));
    if (of.within > SURE * largest) say(`${p.name} is good to ${print(of.within, p.unit, 1)} only: rounding leaves no more of it`);
  }
  say(leaves ? `${describeProblem(leaves)}\n` : '');
  say(table(['quantity', 'mean', 'rms', 'least', 'most', 'peak to peak', 'least at', 'most at'], probes.map((p) => {
    const m = signals[p.name]!;
    return [p.name, ...[m.mean, m.rms, m.min, m.max, m.peakToPeak].map((v) => cell(v, p.unit)), print(m.minAt, 's', 4), print(m.maxAt, 's', 4)];
  })));
  if (!o.show) {
    say(`\npower: ${print(power.given, 'W', 5)} given, balance to ${Math.abs(power.residual).toExponential(0)}${output === undefined ? '' : `; ${print(output, 'W', 5)} out, ${print(power.given - output, 'W', 4)} lost, efficiency ${print(efficiency!, '%', 5)}`}\n`);
    say(table(['element', 'takes'], Object.entries(power.elements).filter(([, w]) => Math.abs(w) > 1e-12 * power.given).map(([id, w]) => [id, print(w, 'W', 4)])));
  }
  if (orders === 0) return;
  say(`\nharmonics of ${print(1 / cycle.period, 'Hz', 4)}, peak\n`);
  const shown = probes.map((p) => (signals[p.name] as { harmonics: Harmonic[] }).harmonics);
  say(table(['order', 'frequency', ...probes.map((p) => p.name)], Array.from({ length: orders }, (_, k) => [String(k + 1), print((k + 1) / cycle.period, 'Hz', 4), ...probes.map((p, i) => cell(shown[i]![k + 1]!.amplitude, p.unit))])));
}

/** Share of the largest of its kind that a figure is good to, unless it is said otherwise. */
const SURE = 1e-8;

/** W into the elements that --output names. */
function outputOf(power: Powers, o: Options): number | undefined {
  if (!o.output) return undefined;
  return o.output.reduce((sum, id) => {
    if (!Object.hasOwn(power.elements, id)) refuse('--output', `no element ${quoted(id)} takes power`, `name some of ${Object.keys(power.elements).join(', ')}`);
    return sum + power.elements[id]!;
  }, 0);
}

/** Periods run from rest at most, events they may have, and of those periods the last that are shown, where no cycle was found. */
const [PERIODS, EVENTS, SHOWN] = [2000, 400_000, 16];

function marched(machine: Machine, probes: Probe[], why: string): void {
  const T = machine.period;
  const before = machine.work.events;
  must(march(machine, restState(machine), SHOWN * T));
  const periods = Math.max(SHOWN, Math.min(PERIODS, Math.floor((SHOWN * EVENTS) / Math.max(1, machine.work.events - before))));
  const end = periods * T;
  const { envelope, each } = drawEnvelope(probes.map((p) => p.row), end - SHOWN * T, end, 1);
  must(march(machine, restState(machine), end, { each }));
  say(`no settled cycle: ${why}\nmarched from rest, over the last ${SHOWN} of ${periods} periods:\n`);
  say(table(['quantity', 'least', 'most'], probes.map((p, k) => [p.name, cell(envelope.least[k]![0]!, p.unit), cell(envelope.most[k]![0]!, p.unit)])));
}
