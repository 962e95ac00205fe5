import fc from 'fast-check';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { evaluate } from '../evaluation';
import type { Design } from '../design';
import { automaticDesign } from '../testing/automatic';
import { TOPOLOGIES, type OperatingPoint } from '../topology';
import { answerOf, eventInWords, recording, type Recording } from '../recording';
import { beginRun, readSchedule, movesAt, recordRun, recordStretch, scheduleProblem, startUp, usualSchedules, wavesOf, type Ending, type Running, type Schedule } from '.';

/** A converter run through what happens to it over time. */

const rail = bareDemo('cabin-lighting-rail');
const point: OperatingPoint = { line: 48, load: 2, air: 25 };
const named = (d: Design, at: OperatingPoint, name: string): Schedule => usualSchedules(d, at).find((s) => s.name === name)!;
/** A whole run, in so many stretches where that is said. */
function run(d: Design, at: OperatingPoint, s: Schedule, stretches?: number, traces?: string[]): { record: Recording; end: Ending; output: number; ready: Running } {
  const ready = must(beginRun(d, at, s, traces));
  const output = ready.traces.findIndex((t) => t.id === 'output');
  if (stretches === undefined) return { ...must(recordRun(ready, s)), output, ready };
  const record = recording(ready.traces.length);
  let end = ready.begin;
  for (let k = 1; k <= stretches; k++) {
    const part = must(recordStretch(ready, end, (s.lasts * k) / stretches));
    record.add(part);
    ({ end } = part);
  }
  return { record, end, output, ready };
}

test('settled, and nothing happens: the output stays within the cycle’s own least and most', () => {
  const { record, output } = run(rail, point, { name: 'still', begins: 'settled', lasts: 2e-4, steps: [] });
  const { output: o } = must(evaluate(rail, point)).cycle.signals;
  const read = record.read(output)!;
  expect(Math.abs(read.least - o!.min)).toBeLessThan(2e-3);
  expect(Math.abs(read.most - o!.max)).toBeLessThan(2e-3);
  // Straight between 24 points of a period and its events.
  expect(Math.abs(read.mean / o!.mean - 1)).toBeLessThan(1e-4);
});

test.each(['cabin-lighting-rail', 'door-motor', 'sensor-supply'])('%s: after the load step it goes as far as the figure of the loop says, and back after it', (name) => {
  const d = openDemo(name);
  const at = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max - d.brief.loadStep, air: 25 };
  const s = named(d, at, 'load step');
  const { record, output } = run(d, at, s);
  const { cycle, loop } = must(evaluate(d, at));
  const first = record.read(output, s.steps[0]!.at, s.steps[1]!.at)!;
  // Parts are a few degrees warmer there, and the figure is without the ripple that stands on it: half of that either way.
  expect(Math.abs(cycle.signals.output!.mean - first.least - loop!.deviation)).toBeLessThan(0.03 * loop!.deviation + cycle.outputRipple);
  expect(record.read(output, s.lasts * 0.95)!.mean).toBeCloseTo(d.brief.output.voltage, 1);
});

test('in stretches it is the run that never stopped', () => {
  for (const name of ['start-up', 'load step', 'line step']) {
    const s = named(rail, point, name);
    const [whole, parts] = [run(rail, point, s, 1), run(rail, point, s, 8)];
    whole.end.state.z.forEach((v, i) => expect(Math.abs(parts.end.state.z[i]! - v)).toBeLessThan(1e-9 * Math.max(1, Math.abs(v))));
    const [a, b] = [whole, parts].map((r) => r.record.read(r.output)!);
    for (const key of ['least', 'most', 'first', 'last'] as const) expect(Math.abs(a![key] - b![key])).toBeLessThan(1e-9);
    expect(Math.abs(a!.mostAt - b!.mostAt)).toBeLessThan(1e-12);
  }
});

test('a start is the one that the Loop stage shows', () => {
  const d = change(rail, { 'control.softStart': 1e-3 });
  const s = named(d, point, 'start-up');
  const { record, output } = run(d, { ...point, load: 6 }, s);
  const own = must(startUp(d, { ...point, load: 6 }));
  expect(record.read(output)!.most / 24 - 1).toBeCloseTo(own.overshoot, 6);
  // And in figures of a step: up to 24 V, by the soft start.
  const answer = answerOf(record, output, 0, s.lasts, 0.02 * 24)!;
  expect(answer.to).toBeCloseTo(24, 1);
  expect(answer.rise / 0.8e-3).toBeCloseTo(1, 1);
});

test('a line that steps, a load that ramps and a reference that moves, at once', () => {
  const s: Schedule = { name: 'all', begins: 'settled', lasts: 1.2e-3, steps: [{ at: 1e-4, what: 'line', to: 55, takes: 0 }, { at: 2e-4, what: 'load', to: 5, takes: 2e-4 }, { at: 6e-4, what: 'reference', to: 20, takes: 1e-4 }] };
  expect(scheduleProblem(s, rail)).toBeUndefined();
  const { record, output } = run(rail, point, s, 2);
  expect(record.read(output, 1.1e-3)!.mean).toBeCloseTo(20, 1);
  expect(record.read(output, 0, 0.9e-4)!.mean).toBeCloseTo(24, 1);
});

test('gates that are let go: the output falls by its load; let in again it comes back', () => {
  const s: Schedule = { name: 'off', begins: 'settled', lasts: 2e-3, steps: [{ at: 1e-4, what: 'enable', to: 0, takes: 0 }, { at: 2e-4, what: 'enable', to: 1, takes: 0 }] };
  const { record, output, ready } = run(rail, point, s);
  // What the coil still carries finds its way through the body diodes: nothing lies beyond the line by more than one of them.
  const node = record.read(ready.traces.findIndex((t) => t.id === 'switchNode'))!;
  expect(node.least).toBeGreaterThan(-2);
  expect(node.most).toBeLessThan(50);
  expect(record.read(output, 1e-4, 2e-4)!.least).toBeLessThan(22);
  expect(record.read(output, 1.9e-3)!.mean).toBeCloseTo(24, 1);
  expect(readSchedule({ ...s, steps: [{ at: 0, what: 'enable', to: 3 }] }, rail)).toMatchObject({ ok: false, problem: { where: 'steps.0' } });
});

test('gates that are let go for long: what is nothing but rounding is not looked through for its extremes, and little is drawn where little moves', () => {
  for (const [name, periods] of [['cabin-lighting-rail', 4400], ['brake-magnet', 2400]] as const) {
    const d = openDemo(name);
    const lasts = periods / d.brief.frequency;
    const s: Schedule = { name: 'off', begins: 'settled', lasts, steps: [{ at: lasts / 200, what: 'enable', to: 0, takes: 0 }] };
    const { record, output } = run(d, { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max / 2, air: 25 }, s);
    // A clock a period, and hardly more.
    expect(record.size().points).toBeLessThan(3 * periods);
    expect(record.read(output, 0.9 * lasts)!.most).toBeLessThan(0.01 * d.brief.output.voltage);
  }
});

describe('parts that fail', () => {
  const failed = (part: string, how: 'open' | 'short' | 'leaky', more: object = {}): Schedule => ({ name: 'f', begins: 'settled', lasts: 4e-4, steps: [], fails: [{ at: 1e-4, part, how, resistance: 5, ...more }] });
  test('before it nothing is seen of it; a switch that opens lets the output fall', () => {
    const { record, output } = run(rail, point, failed('Q1', 'open'));
    const whole = run(rail, point, { ...failed('Q1', 'open'), fails: [] });
    // But for what body diodes leak.
    for (const key of ['least', 'most', 'mean'] as const) expect(record.read(output, 0, 0.99e-4)![key]).toBeCloseTo(whole.record.read(output, 0, 0.99e-4)![key], 4);
    expect(record.read(output, 3.9e-4)!.last).toBeLessThan(20);
    expect(record.read(run(rail, point, failed('Q1', 'open')).ready.traces.findIndex((t) => t.id === 'switchNode'))!.least).toBeGreaterThan(-2);
  });
  test('a high side that shorts puts the line on the output; its current runs away', () => {
    const { record, output } = run(rail, point, failed('Q1', 'short'), undefined, ['output', 'L1.current']);
    expect(record.read(output)!.most).toBeGreaterThan(30);
    expect(record.read(1)!.most).toBeGreaterThan(20);
  });
  test('one that leaks takes what its resistance takes: by hand, 24 V over 5 Ω', () => {
    const { record } = run(rail, point, { ...failed('C2', 'leaky'), lasts: 2e-3 }, undefined, ['L1.current']);
    expect(record.read(0, 1.9e-3)!.mean - record.read(0, 0, 0.9e-4)!.mean).toBeCloseTo(24 / 5, 1);
  });
  test.each(TOPOLOGIES.filter((t) => !t.mains).map((t) => [t.title] as const))('%s: gates let go leave no coil without a way, whichever way its switches block', (title) => {
    const d = automaticDesign(TOPOLOGIES.find((t) => t.title === title)!, 0)!;
    const at = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max, air: 25 };
    const s: Schedule = { name: 'off', begins: 'settled', lasts: 20 / d.brief.frequency, steps: [{ at: 3.3 / d.brief.frequency, what: 'enable', to: 0, takes: 0 }] };
    const ready = must(beginRun(d, at, s));
    const found = must(recordRun(ready, s));
    const still = must(recordRun(ready, { lasts: 3 / d.brief.frequency }));
    ready.traces.forEach((t, i) => {
      const [before, all] = [still.record.read(i)!, found.record.read(i)!];
      // Ringing of what is left doubles a voltage at most; a coil without a way would make millions of them.
      if (t.unit === 'V') expect(Math.max(Math.abs(all.least), Math.abs(all.most))).toBeLessThan(3 * Math.max(Math.abs(before.least), Math.abs(before.most)) + 2 * d.brief.line.max);
    });
  });
  test.each([['L1', 'open'], ['T9', 'short'], ['line', 'leaky']] as const)('%s can not go %s, and that is said', (part, how) => expect(beginRun(rail, point, failed(part, how))).toMatchObject({ ok: false, problem: { where: `part ${part}` } }));
  test('one that fails after the run is refused', () => expect(readSchedule(failed('Q1', 'open', { at: 1 }), rail)).toMatchObject({ ok: false, problem: { where: 'fails.0' } }));
});

describe('what is looked at', () => {
  const still: Schedule = { name: 'still', begins: 'settled', lasts: 5 / rail.brief.frequency, steps: [] };
  const { cycle } = must(evaluate(rail, point));
  test('voltages, currents, instant power and flux density of any part; energy in is energy out', () => {
    const ids = ['line.current', 'Q1.power', 'Q2.power', 'L1.power', 'C2.power', 'L1.flux', 'L1.current', 'command'];
    const { record, ready } = run(rail, point, still, undefined, ids);
    expect(ready.traces.map((t) => t.unit)).toEqual(['A', 'W', 'W', 'W', 'W', 'T', 'A', 'V']);
    const mean = (id: string): number => record.read(ids.indexOf(id))!.mean;
    // What the line gives less what parts take is what the load has; straight between points, to a few thousandths.
    const taken = ['Q1', 'Q2', 'L1', 'C2'].reduce((sum, p) => sum + mean(`${p}.power`), 0);
    expect(taken).toBeGreaterThan(0);
    expect(taken).toBeLessThan(0.05 * 48 * mean('line.current'));
    // B = L I / (N A), by the part's own figures.
    expect(record.read(5)!.most / record.read(6)!.most).toBeCloseTo(record.read(5)!.least / record.read(6)!.least, 9);
    expect(mean('command') / rail.control.ramp).toBeCloseTo(cycle.duty, 1);
  });
  test('energy is what power has summed up to, gone on with from stretch to stretch', () => {
    const s: Schedule = { ...still, lasts: 900 / rail.brief.frequency };
    const { record } = run(rail, point, s, undefined, ['Q1.power', 'Q1.energy']);
    const whole = record.read(0)!.mean * s.lasts;
    expect(record.read(1)!.last / whole).toBeCloseTo(1, 6);
    expect(record.at(1, s.lasts / 2) / whole).toBeCloseTo(0.5, 2);
  });
  test('two nodes of the circuit; a trace that is none is refused with those there are', () => {
    const { record } = run(rail, point, still, undefined, ['voltage:line,0']);
    expect(record.read(0)!.mean).toBeCloseTo(48, 0);
    for (const ids of [['Q7.current'], ['voltage:line,moon'], []]) expect(beginRun(rail, point, still, ids)).toMatchObject({ ok: false });
    const refused = beginRun(rail, point, still, ['Q7.current']);
    expect(refused.ok ? '' : refused.problem.remedy).toContain('L1.current');
  });
  test('events are of parts, in words', () => {
    const { record, ready } = run(rail, point, still);
    const said = new Set<string>();
    for (let e = record.event(-1, 1); e; e = record.event(e.t, 1)) for (const w of e.what) said.add(eventInWords(ready.devices[w.device]!, w.segment));
    expect([...said].toSorted()).toEqual(['Q1 closes: its gate comes', 'Q1 opens: its gate goes', 'Q2 closes: its gate comes', 'Q2 opens: its gate goes']);
  });
});

describe('going on', () => {
  test('after its end it is the same as one that is longer', () => {
    const s = named(rail, point, 'load step');
    const first = run(rail, point, s);
    const on = must(recordStretch(first.ready, first.end, 1.5 * s.lasts));
    const long = run(rail, point, { ...s, lasts: 1.5 * s.lasts });
    long.end.state.z.forEach((v, i) => expect(Math.abs(on.end.state.z[i]! - v)).toBeLessThan(1e-9 * Math.max(1, Math.abs(v))));
  });
  test('it is settled when no state moves any more, and stands where the settled cycle does', () => {
    const s: Schedule = { name: 's', begins: 'rest', lasts: 1e-4, steps: [] };
    const ready = must(beginRun(rail, point, s));
    let { end } = must(recordRun(ready, s));
    expect(must(movesAt(ready, s, end))).toMatchObject({ settled: false });
    for (let k = 0; k < 100 && !must(movesAt(ready, s, end)).settled; k++) ({ end } = must(recordStretch(ready, end, end.t + 1e-4)));
    const last = must(recordStretch(ready, end, end.t + 1 / rail.brief.frequency));
    const record = recording(ready.traces.length);
    record.add(last);
    // Parts are at the air's temperature here.
    expect(record.read(ready.traces.findIndex((t) => t.id === 'output'))!.mean).toBeCloseTo(24, 3);
  });
  test('it is not while something is still to come, however still it stands before', () => {
    const s: Schedule = { name: 's', begins: 'settled', lasts: 1e-3, steps: [{ at: 5e-4, what: 'load', to: 6, takes: 0 }] };
    const ready = must(beginRun(rail, point, s));
    const early = must(movesAt(ready, s, must(recordStretch(ready, ready.begin, 1e-4)).end));
    expect(early.share).toBeLessThan(1e-5);
    expect(early.settled).toBe(false);
  });
});

describe('what something does over a schedule', () => {
  const s = (steps: Schedule['steps']): Schedule => ({ name: 's', begins: 'settled', lasts: 1, steps });
  test('stands, steps, goes straight, in whatever order it is said', () => {
    expect(wavesOf(s([]), 'load', 2)).toBeUndefined();
    expect(wavesOf(s([{ at: 0.5, what: 'load', to: 1, takes: 0 }, { at: 0.2, what: 'load', to: 4, takes: 0.1 }]), 'load', 2)).toEqual({ shape: 'points', points: [[0, 2], [0.2, 2], [0.2 + 0.1, 4], [0.5, 4], [0.5, 1], [1, 1]] });
    expect(wavesOf(s([{ at: 0.5, what: 'line', to: 1, takes: 0 }]), 'load', 2)).toBeUndefined();
  });
  test('its times never go back, whatever is asked', () => {
    const time = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.record({ at: time, what: fc.constant('load' as const), to: time, takes: time }), { minLength: 1, maxLength: 8 }), (steps) => {
        const wave = wavesOf(s(steps), 'load', 0.5) as { points: [number, number][] };
        wave.points.forEach(([t], k) => k > 0 && expect(t).toBeGreaterThanOrEqual(wave.points[k - 1]![0]));
      }),
    );
  });
});

describe('what can not be run is refused by its step', () => {
  const bad = (steps: unknown[], more: object = {}): unknown => ({ name: 's', begins: 'settled', lasts: 1e-3, steps, ...more });
  test.each<[string, unknown, string]>([
    ['a step that ends after the run', bad([{ at: 9e-4, what: 'load', to: 1, takes: 2e-4 }]), 'steps.0'],
    ['a load below nothing', bad([{ at: 0, what: 'load', to: -1 }]), 'steps.0'],
    ['a line of nothing', bad([{ at: 0, what: 'load', to: 1 }, { at: 0, what: 'line', to: 0 }]), 'steps.1'],
    ['something else', bad([{ at: 0, what: 'weather', to: 1 }]), 'steps.0.what'],
    ['a run of no length', bad([], { lasts: 0 }), 'lasts'],
    ['a run of 10⁹ periods', bad([], { lasts: 1e9 / 220e3 }), 'lasts'],
    ['no schedule', 7, 'schedule'],
  ])('%s', (_, raw, where) => {
    const read = readSchedule(raw, rail);
    expect(read.ok ? '' : read.problem.where).toBe(where);
    expect(read.ok ? '' : read.problem.remedy.length).toBeGreaterThan(8);
  });
});
