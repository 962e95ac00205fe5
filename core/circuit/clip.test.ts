import { readFileSync } from 'node:fs';
import { change, must, openDemo } from '../../demo/open';
import { editDesign } from '../design';
import { evaluate } from '../evaluation';
import { climb } from '../linear/stepTable';
import { dot } from '../linear/dense';
import { march } from '../orbit/march';
import { machineOf } from '../testing/circuits';
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
test('below as above', () => {
  const found = outputs(integrator({ low: -1.5, high: 0.5, tracking: 20 }), [3e-3, 9e-3]);
  [0.5, -1.5].forEach((v, k) => expect(found[k]).toBeCloseTo(v, 9));
});
test('a low that is not below the high is refused by its name', () => {
  const c = integrator({ low: 1, high: 1 });
  expect(() => machineOf(c)).toThrow(/C: its lowest output is not below its highest/);
});

describe('the amplifier of a design', () => {
  const rail = openDemo('cabin-lighting-rail');
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
  test('limits that are the wrong way round are refused', () => expect(editDesign(rail, { 'control.clipsLow': 1, 'control.clipsHigh': 0.5 })).toMatchObject({ ok: false, problem: { where: 'control.clipsLow' } }));
});

test('the schema of circuits knows them', () => expect(readFileSync('docs/circuit-file.md', 'utf8')).toContain('tracking'));
