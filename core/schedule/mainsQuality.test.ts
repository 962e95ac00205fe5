import { change, must, openDemo } from '../../demo/open';
import { mainsQuality } from './mainsQuality';
import { recordBounded } from './recorded';
import { beginRun } from './run';

const charger = openDemo('station-charger');
const point = { line: 230, load: charger.brief.load.max, air: 40 };

test('a current loop that follows draws what the standard allows; one that is slow does not', () => {
  const good = must(mainsQuality(charger, point, 'A'));
  expect(good.harmonics.every((h) => h.holds)).toBe(true);
  expect(good.powerFactor).toBeGreaterThan(0.98);
  const poor = must(mainsQuality(change(charger, { 'control.crossover': 300 }), point, 'A'));
  expect(poor.distortion).toBeGreaterThan(1);
  expect(poor.powerFactor).toBeLessThan(0.7);
  expect(poor.harmonics.find((h) => h.order === 3)!.holds).toBe(false);
  // Both feed the same load.
  expect(Math.abs(poor.power / good.power - 1)).toBeLessThan(0.01);
});

test('against the whole circuit run in time for ten cycles: its last cycle has the same current, harmonic by harmonic', () => {
  const q = must(mainsQuality(charger, point, 'A'));
  const T = 1 / q.frequency;
  const schedule = { name: 'ten cycles', begins: 'settled' as const, lasts: 10 * T, steps: [] };
  const run = must(beginRun(charger, point, schedule, ['line.current']));
  const { record } = must(recordBounded(run, schedule));
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
