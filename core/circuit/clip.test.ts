import { readFileSync } from 'node:fs';
import { bareDemo, change, must } from '../../demo/open';
import { editDesign } from '../design';
import { evaluate } from '../evaluation';
import { climb } from '../linear/stepTable';
import { dot } from '../linear/dense';
import { march } from '../orbit/march';
import { machineOf } from '../testing/circuits';
import { canonical } from './transfer';
import { startUp } from '../schedule';
import { Circuit } from './elements';
import { restState, type Prepared } from './machine';

/** Blocks that clip: what they put out, and how they come back. */

/** An integrator of 1000/s, driven by 1 V for 5 ms and by −1 V from then on. */
const integrator = (more: { low?: number; high?: number; tracking?: number }): Circuit =>
  Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'in', a: 'in', b: '0', value: { shape: 'step', from: 1, to: -1, at: 5e-3 } },
      { kind: 'transfer', id: 'C', a: 'out', b: '0', plus: 'in', minus: '0', numerator: [1000], denominator: [0, 1], ...more },
      { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 1e3 },
    ],
    period: 1e-3,
  });
/** V at its output at some moments. */
function outputs(c: Circuit, at: readonly number[]): number[] {
  const m = machineOf(c);
  let state = restState(m);
  return at.map((t) => {
    let last = NaN;
    state = must(march(m, state, t, { each: (s) => void (last = dot(s.pattern.voltage('out'), climb((s.pattern as Prepared).stepTable, s.z0, s.duration), s.pattern.size)) }));
    return last;
  });
}

test('without limits it goes on, by hand: 5 V after 5 ms and back', () => {
  [1, 5, 3].forEach((v, k) => expect(outputs(integrator({}), [1e-3, 5e-3, 7e-3])[k]).toBeCloseTo(v, 9));
});
test('clipped it stays at its limit; wound up it leaves as late as it was beyond, 3 ms', () => {
  const found = outputs(integrator({ high: 2 }), [1e-3, 3e-3, 5e-3, 7.9e-3, 9e-3]);
  [1, 2, 2, 2, 1].forEach((v, k) => expect(found[k]).toBeCloseTo(v, 9));
});
test('tracking, it is beyond by 1/tracking volts at most, and comes back within ln 2 of its time, 1/(tracking 1000)', () => {
  const found = outputs(integrator({ high: 2, tracking: 20 }), [5e-3, 5e-3 + Math.LN2 / 20e3 * 0.98, 5e-3 + Math.LN2 / 20e3 + 1e-3]);
  expect(found[0]).toBeCloseTo(2, 9);
  expect(found[1]).toBeCloseTo(2, 9);
  // From its limit on it falls by a volt in a millisecond.
  expect(found[2]).toBeCloseTo(1, 6);
});
test('one that puts through at once as well tracks as a loop around it does: at its end it settles where by hand, and never runs away', () => {
  // A PID of 1 + 1000/s + s/1000 with a pole at 10^5/s, driven by 1 V, clipped at 2 V; with 5 V per V back: x is at rest, and y = 2 + 1/5.
  const a = 1e-5;
  const c = Circuit.parse({
    elements: [
      { kind: 'voltage-source', id: 'in', a: 'in', b: '0', value: { shape: 'step', from: 0, to: 1, at: 1e-4 } },
      { kind: 'transfer', id: 'C', a: 'out', b: '0', plus: 'in', minus: '0', numerator: [1000, 1 + 1000 * a, 1e-3 + a], denominator: [0, 1, a], high: 2, tracking: 5 },
      { kind: 'resistor', id: 'R', a: 'out', b: '0', resistance: 1e3 },
    ],
    period: 1e-3,
  });
  const m = machineOf(c);
  const { z } = must(march(m, restState(m), 40e-3));
  // At rest what comes off its input is what is put on it, tracking (y − 2) = 1, and nothing goes through at once.
  const { c: row } = canonical(c.elements[1] as never);
  expect(row.reduce((s, v, k) => s + v * z[m.layout.column.get(`C.${k}`)!]!, 0)).toBeCloseTo(2.2, 6);
});
test('below as above', () => {
  const found = outputs(integrator({ low: -1.5, high: 0.5, tracking: 20 }), [3e-3, 9e-3]);
  [0.5, -1.5].forEach((v, k) => expect(found[k]).toBeCloseTo(v, 9));
});
test('a low that is not below the high is refused by its name', () => {
  const c = integrator({ low: 1, high: 1 });
  expect(() => machineOf(c)).toThrow(/C: its lowest output is not below its highest/);
});

/** The same as a difference equation, by the backward difference every 10 µs. */
const computed = (range: { low?: number; high?: number }): Circuit => {
  const c = integrator({});
  return Circuit.parse({ ...c, elements: c.elements.map((e) => (e.kind === 'transfer' ? { kind: 'sampled', id: 'C', a: 'out', b: '0', plus: 'in', minus: '0', numerator: [0.01], denominator: [1, -1], period: 1e-5, phase: 0.5, ...range } : e)) });
};
test('one that computes ends at its range, and leaves it with the first sample that says so: what is kept is what went out', () => {
  const at = [1e-3, 4e-3, 5e-3, 6e-3, 9e-3];
  [1, 4, 5, 4, 1].forEach((v, k) => expect(outputs(computed({}), at)[k]).toBeCloseTo(v, 9));
  [1, 2, 2, 1, -1].forEach((v, k) => expect(outputs(computed({ low: -1, high: 2 }), at)[k]).toBeCloseTo(v, 9));
});
test('at its end nothing moves it: its output has no slope over the state there, and all of it within', () => {
  const slopes = [1e-3, 4e-3].map((t) => {
    const m = machineOf(computed({ high: 2 }));
    const held = m.layout.column.get('held C')!;
    const from = must(march(m, restState(m), t));
    const ends = [0, 1e-3].map((more) => {
      const begin = { ...from, z: from.z.slice() };
      begin.z[m.layout.column.get('held C.y1')!]! += more;
      return must(march(m, begin, t + 1e-5)).z[held]!;
    });
    return (ends[1]! - ends[0]!) / 1e-3;
  });
  expect(slopes[0]).toBeCloseTo(1, 9);
  expect(slopes[1]).toBe(0);
});

describe('the amplifier of a design', () => {
  const rail = bareDemo('cabin-lighting-rail');
  const at = { line: 36, load: 8, air: 40 };
  const far = change(rail, { 'brief.loadStep': 7.6, 'control.rounded': false });
  test('settled nothing of it is seen: margins are what they were', () => {
    const [plain, clips] = [rail, change(rail, { 'control.clipsHigh': 0.99 * rail.control.ramp, 'control.clipsLow': 0.01 })].map((d) => must(evaluate(d, at)).loop!);
    expect(clips!.crossover / plain!.crossover).toBeCloseTo(1, 9);
    expect(clips!.phaseMargin).toBeCloseTo(plain!.phaseMargin, 6);
  });
  test('after a step that drives it to its end it comes back sooner than one that winds up', () => {
    const [plain, clips] = [far, change(far, { 'control.clipsHigh': 1.0001 * rail.control.ramp, 'control.clipsLow': 0.001 })].map((d) => must(evaluate(d, { line: 36, load: 0.4, air: 40 })).loop!);
    expect([plain!.answeredBy, clips!.answeredBy]).toEqual(['in time', 'in time']);
    expect(clips!.recovery).toBeLessThanOrEqual(plain!.recovery);
    expect(clips!.deviation).toBeLessThan(1.1 * plain!.deviation);
  });
  test('one that clips below what the cycle wants has no loop there, said by its field; the rest of the figures stand', () => {
    // 24 of 36 V is a duty of two thirds of the ramp.
    const found = must(evaluate(change(rail, { 'control.clipsHigh': 0.6 * rail.control.ramp }), at));
    expect(found.problems.loop).toMatchObject({ code: 'clips', where: 'control.clipsHigh' });
    expect(found.losses.total).toBeGreaterThan(0);
    expect(must(evaluate(change(rail, { 'control.clipsHigh': 0.6 * rail.control.ramp }), { ...at, line: 60 })).loop).toBeDefined();
  });
  test('of a current’s command it is the current’s limit: the peak goes no further in a step', () => {
    const peak = change(rail, { 'control.method': 'peak-current', 'control.amplifier': 'type-two' });
    const low = must(evaluate(change(peak, { 'control.clipsHigh': 0.5 }), at));
    expect(low.problems.loop?.where).toBe('control.clipsHigh');
    expect(must(evaluate(change(peak, { 'control.clipsHigh': 1.2 * rail.control.ramp }), at)).loop!.stable).toBe(true);
  });
  test('a controller that computes ends at what its modulator can, and starts from rest no further beyond than a network that tracks', () => {
    const own = { 'control.amplifier': 'pid', 'control.crossover': 12e3 };
    const [network, sampled] = [{ ...own, 'control.clipsLow': 1e-3, 'control.clipsHigh': rail.control.ramp }, { ...own, 'control.sampled': 'pre-warped' }].map((changes) => must(startUp(change(rail, changes), { line: 48, load: 6, air: 25 })));
    expect(sampled!.overshoot).toBeLessThan(network!.overshoot + 0.02);
    // Within six periods of its crossover.
    for (const { settles } of [network!, sampled!]) expect(settles).toBeLessThan(6 / 12e3);
  });
  test('where it may put out less than the cycle wants that is said by its field', () => {
    const found = must(evaluate(change(rail, { 'control.sampled': 'bilinear', 'control.clipsHigh': 0.6 * rail.control.ramp }), at));
    expect(found.problems.loop).toMatchObject({ code: 'clips', where: 'control.clipsHigh' });
  });
  test.each(['peak-current', 'valley-current', 'voltage-feed-forward', 'average-current'])('%s, sampled: what it can command reaches to every corner', (method) => {
    const d = change(rail, { 'control.method': method, 'control.amplifier': 'pi', 'control.sampled': 'bilinear', 'control.crossover': 3e3 });
    for (const line of [36, 60]) for (const load of [0.4, 8]) expect(must(evaluate(d, { line, load, air: 50 })).problems.loop).toBeUndefined();
  });
  test('limits that are the wrong way round are refused', () => expect(editDesign(rail, { 'control.clipsLow': 1, 'control.clipsHigh': 0.5 })).toMatchObject({ ok: false, problem: { where: 'control.clipsLow' } }));
});

test('the schema of circuits knows them', () => expect(readFileSync('docs/circuit-file.md', 'utf8')).toContain('tracking'));
