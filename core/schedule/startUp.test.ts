import { bareDemo, change, must, openDemo } from '../../demo/open';
import { evaluate } from '../evaluation';
import { startUp } from '.';

/** From rest: line and load there, the reference rising. */

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 6, air: 25 };
const run = (changes: Record<string, unknown>) => must(startUp(change(rail, changes), point));

test('it ends where the settled cycle is', () => {
  const { least, most } = run({ 'control.softStart': 1e-3 });
  const { signals } = must(evaluate(rail, point)).cycle;
  expect(Math.abs(least.at(-1)! - signals.output!.min)).toBeLessThan(0.02);
  expect(Math.abs(most.at(-1)! - signals.output!.max)).toBeLessThan(0.02);
});
test('without a soft start it goes beyond, and its inductor far beyond what it ever carries; the longer one, the less', () => {
  const found = [null, 0.3e-3, 3e-3].map((softStart) => run({ 'control.softStart': softStart }));
  expect(found[0]!.overshoot).toBeGreaterThan(found[1]!.overshoot);
  // Of ripple there is always a little.
  expect(found[2]!.overshoot).toBeLessThan(0.002);
  expect(found[0]!.peak).toBeGreaterThan(found[2]!.peak);
  // Slow enough it charges what is at the output besides the load: 24 V in 3 ms at some tens of microfarads.
  expect(found[2]!.peak).toBeLessThan(1.2 * must(evaluate(rail, point)).duties.L1!.peak);
});
test('with a slow one the output follows its reference', () => {
  const { time, most, settles } = run({ 'control.softStart': 4e-3 });
  for (const t of [1e-3, 2e-3, 3e-3]) {
    const k = time.findIndex((x) => x >= t);
    expect(most[k]! / (24 * (time[k]! / 4e-3))).toBeCloseTo(1, 1);
  }
  // Within a tenth of its end from nine tenths on.
  expect(settles / 3.6e-3).toBeCloseTo(1, 1);
});
test('a current’s command that clips limits it from the first period on', () => {
  const peak = { 'control.method': 'peak-current', 'control.amplifier': 'type-two', 'control.softStart': null };
  const [free, limited] = [run(peak), run({ ...peak, 'control.clipsHigh': 1.05 * rail.control.ramp })];
  expect(limited.peak).toBeLessThan(free.peak);
});
test.each(['sensor-supply', 'door-motor', 'gate-supplies', 'radio'])('%s starts', (name) => {
  const d = change(openDemo(name), { 'control.softStart': 1e-3 });
  const found = must(startUp(d, { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max, air: 25 }));
  expect(found.most.every((v) => Number.isFinite(v))).toBe(true);
  expect(found.most.at(-1)! / d.brief.output.voltage).toBeGreaterThan(0.92);
  expect(found.most.at(-1)! / d.brief.output.voltage).toBeLessThan(1.05);
});
test('on the mains it is not run, and that is said', () => expect(startUp(bareDemo('station-charger'), { line: 230, load: 2, air: 25 })).toMatchObject({ ok: false, problem: { where: 'brief.line.mains' } }));
