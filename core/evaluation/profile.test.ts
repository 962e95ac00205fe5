import { bareDemo, must } from '../../demo/open';
import { evaluate } from '.';
import { readProfile, underProfile } from './profile';
import { warmingOf } from './warming';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 54, air: 40 };

test('a load that stands warms up as a warm-up does, and ends where it settles', () => {
  const time = Float64Array.from({ length: 400 }, (_, k) => 30 * k);
  const { temperatures, nodes, hottest, time: moments } = must(underProfile(rail, point, { time, load: time.map(() => 6) }));
  const { rungs } = must(evaluate(rail, { ...point, load: 6 })).heat;
  const warming = must(warmingOf(rail, { ...point, load: 6 }));
  nodes.forEach((n, i) => {
    expect(temperatures[i]!.at(-1)!).toBeCloseTo(rungs[i]!.temperature, 1);
    expect(hottest[i]!.temperature).toBeCloseTo(rungs[i]!.temperature, 1);
    // Between two moments of the one the other goes straight enough.
    const k = warming.time.findIndex((t) => t > 600);
    const at = temperatures[i]![moments.findIndex((t) => t >= warming.time[k]!)]!;
    expect(Math.abs(at - warming.temperatures[i]![k]!)).toBeLessThan(0.6);
    expect(n.id).toBe(rungs[i]!.id);
  });
});

test('a load that comes and goes: as many cycles as it does, no hotter than where it settles', () => {
  const [period, times] = [1200, 30];
  const time = Float64Array.from({ length: 2 * times + 1 }, (_, k) => (k * period) / 2);
  const { cycles, hottest, nodes } = must(underProfile(rail, point, { time, load: time.map((_, k) => (k % 2 === 0 ? 8 : 0.4)) }));
  const junction = nodes.findIndex((n) => n.id === 'Q1 junction');
  const settled = must(evaluate(rail, { ...point, load: 8 })).heat.rungs[junction]!.temperature;
  expect(hottest[junction]!.temperature).toBeLessThan(settled);
  expect(hottest[junction]!.temperature).toBeGreaterThan(settled - 6);
  const count = cycles[junction]!.reduce((sum, c) => sum + c.count, 0);
  expect(count).toBeGreaterThan(times - 1);
  expect(count).toBeLessThan(times + 1);
});

test('a long profile is read and gone through in bounded time; what is none is refused by its line', () => {
  const rows = 200_000;
  const text = `time (s),load (A)\n${Array.from({ length: rows }, (_, k) => `${k},${(4 + 4 * Math.sin(k / 50)).toFixed(3)}`).join('\n')}`;
  const profile = must(readProfile(text));
  expect(profile.time.length).toBe(rows);
  const { time, cycles, nodes } = must(underProfile(rail, point, profile));
  expect(time.length).toBeLessThanOrEqual(4001);
  const count = cycles[nodes.findIndex((n) => n.id === 'Q1 junction')]!.reduce((sum, c) => sum + c.count, 0);
  expect(Math.abs(count / (rows / (100 * Math.PI)) - 1)).toBeLessThan(0.02);
  expect(must(readProfile('s;A\n0;1,5\n60;2,5')).load).toEqual(Float64Array.of(1.5, 2.5));
  expect(readProfile('0,1\n60,x')).toMatchObject({ ok: false, problem: { code: 'number', where: 'line 2' } });
  expect(readProfile('0,1\n60,2\n30,1')).toMatchObject({ ok: false, problem: { code: 'order', where: 'line 3' } });
  expect(readProfile('0,1\n60,-2')).toMatchObject({ ok: false, problem: { code: 'range', where: 'line 2' } });
  expect(readProfile('nothing here')).toMatchObject({ ok: false, problem: { code: 'empty' } });
});
