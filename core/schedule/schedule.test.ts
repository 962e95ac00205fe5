import fc from 'fast-check';
import { change, must, openDemo } from '../../demo/open';
import { evaluate } from '../evaluation';
import type { Design } from '../design';
import type { OperatingPoint } from '../topology';
import { beginRun, joined, middleAt, readSchedule, readTrace, runSlice, scheduleProblem, startUp, usualSchedules, wavesOf, type Schedule, type Slice } from '.';

/** A converter run through what happens to it over time. */

const rail = openDemo('cabin-lighting-rail');
const point: OperatingPoint = { line: 48, load: 2, air: 25 };
const named = (d: Design, at: OperatingPoint, name: string): Schedule => usualSchedules(d, at).find((s) => s.name === name)!;
/** A whole run in so many slices. */
function run(d: Design, at: OperatingPoint, s: Schedule, slices = 1, bins = 400): { whole: NonNullable<ReturnType<typeof joined>>; last: Slice; output: number } {
  const ready = must(beginRun(d, at, s));
  const parts: Slice[] = [];
  let from = ready.begin;
  for (let k = 1; k <= slices; k++) {
    const part = must(runSlice(ready, from, (s.lasts * k) / slices, Math.round(bins / slices)));
    parts.push(part);
    from = part.end;
  }
  return { whole: joined(parts)!, last: parts.at(-1)!, output: ready.traces.findIndex((t) => t.id === 'output') };
}

test('settled, and nothing happens: the output stays within the cycle’s own least and most', () => {
  const { whole, output } = run(rail, point, { name: 'still', begins: 'settled', lasts: 2e-4, steps: [] });
  const { output: o } = must(evaluate(rail, point)).cycle.signals;
  const read = readTrace(whole, output)!;
  expect(Math.abs(read.least - o!.min)).toBeLessThan(2e-3);
  expect(Math.abs(read.most - o!.max)).toBeLessThan(2e-3);
});

test.each(['cabin-lighting-rail', 'door-motor', 'sensor-supply'])('%s: after the load step it goes as far as the figure of the loop says, and back after it', (name) => {
  const d = openDemo(name);
  const at = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max - d.brief.loadStep, air: 25 };
  const s = named(d, at, 'load step');
  const { whole, output } = run(d, at, s, 3);
  const { cycle, loop } = must(evaluate(d, at));
  const first = readTrace(whole, output, s.steps[0]!.at, s.steps[1]!.at)!;
  // Parts are a few degrees warmer there, and the figure is without the ripple that stands on it: half of that either way.
  expect(Math.abs(cycle.signals.output!.mean - first.least - loop!.deviation)).toBeLessThan(0.03 * loop!.deviation + cycle.outputRipple);
  expect(readTrace(whole, output, s.lasts * 0.95)!.last).toBeCloseTo(d.brief.output.voltage, 1);
});

test('in slices it is the run that never stopped', () => {
  for (const name of ['start-up', 'load step', 'line step']) {
    const s = named(rail, point, name);
    const [whole, sliced] = [run(rail, point, s, 1), run(rail, point, s, 8)];
    whole.last.end.z.forEach((v, i) => expect(Math.abs(sliced.last.end.z[i]! - v)).toBeLessThan(1e-9 * Math.max(1, Math.abs(v))));
    expect(sliced.whole.edges).toHaveLength(whole.whole.edges.length);
    const [a, b] = [readTrace(whole.whole, whole.output)!, readTrace(sliced.whole, whole.output)!];
    expect(Math.abs(a.least - b.least)).toBeLessThan(1e-9);
    expect(Math.abs(a.most - b.most)).toBeLessThan(1e-9);
  }
});

test('a start is the one that the Loop stage shows', () => {
  const d = change(rail, { 'control.softStart': 1e-3 });
  const { whole, output } = run(d, { ...point, load: 6 }, named(d, point, 'start-up'));
  const own = must(startUp(d, { ...point, load: 6 }));
  expect(readTrace(whole, output)!.most / 24 - 1).toBeCloseTo(own.overshoot, 6);
});

test('a line that steps, a load that ramps and a reference that moves, at once', () => {
  const s: Schedule = { name: 'all', begins: 'settled', lasts: 1.2e-3, steps: [{ at: 1e-4, what: 'line', to: 55, takes: 0 }, { at: 2e-4, what: 'load', to: 5, takes: 2e-4 }, { at: 6e-4, what: 'reference', to: 20, takes: 1e-4 }] };
  expect(scheduleProblem(s, rail)).toBeUndefined();
  const { whole, output } = run(rail, point, s, 2);
  expect(readTrace(whole, output, 1.1e-3)!.last).toBeCloseTo(20, 1);
  expect(readTrace(whole, output, 0, 0.9e-4)!.last).toBeCloseTo(24, 1);
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
    ['no schedule', 7, 'schedule'],
  ])('%s', (_, raw, where) => {
    const read = readSchedule(raw, rail);
    expect(read.ok ? '' : read.problem.where).toBe(where);
    expect(read.ok ? '' : read.problem.remedy.length).toBeGreaterThan(8);
  });
  test('the mains moves by itself', () => {
    const charger = openDemo('station-charger');
    expect(beginRun(charger, { line: 230, load: 2, air: 25 }, { name: 's', begins: 'settled', lasts: 1e-3, steps: [] })).toMatchObject({ ok: false, problem: { where: 'brief.line.mains' } });
  });
});

test('the middle about a time is of the bin that holds it, beyond the ends of the nearest', () => {
  const seen = { edges: [0, 1, 2, 3], least: [Float64Array.of(0, 2, 8)], most: [Float64Array.of(4, 4, 10)] };
  expect([-1, 0, 0.9, 1, 2.5, 3, 7].map((t) => middleAt(seen, 0, t))).toEqual([2, 2, 2, 3, 9, 9, 9]);
});
