import { bareDemo, change, must, openDemo } from '../../demo/open';
import { placeMainsLoop } from '../control/mainsLoop';
import { evaluate, sizeDesign } from '../evaluation';
import { closedDesign } from '../evaluation/closedDesign';
import { thirdOf, tuneMains } from '../evaluation/tuneMains';
import { multipliers } from '../orbit/stability';
import { voltageLoop } from '../response/voltageLoop';
import { mainsQuality } from './mainsQuality';
import { wholeMains } from './onMains';
import { recordRun } from './recorded';
import { beginRun } from './run';

const charger = openDemo('station-charger');
const full = charger.brief.load.max;
const point = { line: 230, load: full, air: 40 };
/** As it is before anybody has tuned it: a slow current loop by itself, a quick voltage loop around it. */
const poor = change(charger, { 'control.crossover': 600, 'control.outerCrossover': 30, 'control.feedForward': null, 'control.notchQuality': null, 'control.carrier': 'trailing' });

test.each([charger.brief.line.min, charger.brief.line.max])('as shipped it draws a sine at full load from %p V: class A, power factor above 0.99', (line) => {
  const q = must(mainsQuality(charger, { ...point, line }));
  expect(q.harmonics.every((h) => h.holds)).toBe(true);
  expect(q.powerFactor).toBeGreaterThan(0.99);
  expect(q.distortion).toBeLessThan(0.05);
});

test('poor gains bend the current and fail the class; tuned in one action it holds, at the same power', () => {
  const before = must(mainsQuality(poor, point));
  expect(before.distortion).toBeGreaterThan(0.5);
  expect(before.powerFactor).toBeLessThan(0.9);
  expect(before.harmonics.some((h) => !h.holds)).toBe(true);
  const tuning = must(tuneMains(poor, point));
  const after = must(mainsQuality(change(poor, tuning.changes), point));
  expect(after.harmonics.every((h) => h.holds)).toBe(true);
  expect(after.powerFactor).toBeGreaterThan(0.99);
  expect(Math.abs(after.power / before.power - 1)).toBeLessThan(0.01);
  // The steps say what the loops are: those of the design it makes.
  const loop = must(evaluate(change(poor, tuning.changes), { line: (charger.brief.line.min + charger.brief.line.max) / 2, load: full, air: 40 })).loop!;
  expect(tuning.steps.find((s) => s.title === 'place its loop')!.figures.map((f) => f.value)).toEqual([loop.crossover, loop.phaseMargin]);
});

test('the third harmonic of a voltage loop that follows is what its gain at twice the mains says', () => {
  // The current loop is fast and fed forward: what is bent is what is asked for. A quarter of the third is the zero crossings'.
  const quick = change(bareDemo('station-charger'), { 'control.outerCrossover': 20, 'control.notchQuality': null });
  const q = must(mainsQuality(quick, point));
  const third = q.harmonics.find((h) => h.order === 3)!.value / q.fundamental;
  const said = thirdOf(quick, sizeDesign(quick).values.C2!.taken, 50);
  expect(said).toBeGreaterThan(0.08);
  expect(Math.abs(third / said - 1)).toBeLessThan(0.25);
});

test('its multipliers have the voltage loop’s poles: e^(sT) of the closed loop as it is seen slowly', () => {
  const d = change(bareDemo('station-charger'), { 'control.notchQuality': null });
  const closed = must(closedDesign(d, point));
  const { cycle } = must(wholeMains(d, point, closed).settled());
  const [slowest] = multipliers(cycle);
  const C = sizeDesign(d).values.C2!.taken;
  const { closed: slow } = voltageLoop(placeMainsLoop(d.control, 50, C), C, 390 / full);
  // s² + a s + b of two states; T is long against them, so the slower pole is what is left of a cycle.
  const [a, b] = [-(slow.A[0]! + slow.A[3]!), slow.A[0]! * slow.A[3]! - slow.A[1]! * slow.A[2]!];
  const root = a * a - 4 * b;
  const size = root < 0 ? Math.exp((-a / 2) * 0.02) : Math.exp(((-a + Math.sqrt(root)) / 2) * 0.02);
  expect(Math.abs(Math.log(slowest!.size) / Math.log(size) - 1)).toBeLessThan(0.1);
});

test.each([['tuned', charger], ['poor', poor]] as const)('%s, against the whole circuit run in time for ten cycles: its last cycle has the same current, harmonic by harmonic', (_, d) => {
  const q = must(mainsQuality(d, point, 'A'));
  const T = 1 / q.frequency;
  const schedule = { name: 'ten cycles', begins: 'settled' as const, lasts: 10 * T, steps: [] };
  const run = must(beginRun(d, point, schedule, ['line.current']));
  const { record } = must(recordRun(run, schedule));
  const figures = record.read(0, 9 * T, 10 * T)!;
  expect(Math.abs(figures.rms / q.current - 1)).toBeLessThan(1e-3);
  // By the trapezoidal rule through every recorded point, between which a current goes nearly straight.
  const points = record.pointsIn(9 * T, 10 * T, 1e6)!;
  const [time, value] = [points.time, points.values[0]!];
  const order = (n: number): number => {
    let [a, b] = [0, 0];
    for (let k = 1; k < time.length; k++) {
      const [t0, t1] = [Math.max(time[k - 1]!, 9 * T), Math.min(time[k]!, 10 * T)];
      if (t1 <= t0) continue;
      const at = (t: number): number => value[k - 1]! + ((value[k]! - value[k - 1]!) * (t - time[k - 1]!)) / (time[k]! - time[k - 1]!);
      for (const [t, w] of [[t0, 0.5], [t1, 0.5]] as const) {
        a += w * (t1 - t0) * at(t) * Math.cos((2 * Math.PI * n * t) / T);
        b += w * (t1 - t0) * at(t) * Math.sin((2 * Math.PI * n * t) / T);
      }
    }
    return (Math.hypot(a, b) * 2) / T / Math.SQRT2;
  };
  for (const h of [{ order: 1, value: q.fundamental }, ...q.harmonics]) expect([h.order, Math.abs(order(h.order) - h.value) / q.fundamental < 3e-3]).toEqual([h.order, true]);
});

test('on a dc line it is told so', () => expect(mainsQuality(openDemo('radio'), { line: 12, load: 1, air: 25 }, 'A')).toMatchObject({ ok: false, problem: { code: 'range' } }));
