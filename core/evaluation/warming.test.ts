import { bareDemo, change, must, openDemo } from '../../demo/open';
import { evaluate } from '.';
import { warmingOf } from './warming';

const DEMOS = ['cabin-lighting-rail', 'gate-supplies', 'brake-magnet', 'sensor-supply', 'radio', 'door-motor', 'station-charger'];

test.each(DEMOS)('%s: from the air to where it settles, and never beyond', (name) => {
  const d = openDemo(name);
  const point = { line: d.brief.line.max, load: d.brief.load.max, air: d.brief.air.max };
  const { rungs } = must(evaluate(d, point)).heat;
  const { nodes, temperatures, ends, within, time } = must(warmingOf(d, point));
  expect(nodes.map((n) => n.id)).toEqual(rungs.map((r) => r.id));
  expect(ends).toEqual(rungs.map((r) => r.temperature));
  temperatures.forEach((list, i) => {
    expect(list[0]).toBe(point.air);
    // Twelve of its slowest time constants on.
    expect(Math.abs(list.at(-1)! - ends[i]!)).toBeLessThan(0.01);
    list.forEach((v, k) => k > 0 && expect(v).toBeGreaterThanOrEqual(list[k - 1]! - 1e-6));
    expect(within[i]).toBeLessThanOrEqual(time.at(-1)!);
  });
});

test('a heavier sink takes as much longer and ends where it did', () => {
  const rail = bareDemo('cabin-lighting-rail');
  const point = { line: 54, load: 6, air: 40 };
  const [light, heavy] = [100, 400].map((heatCapacity) => must(warmingOf(change(rail, { 'sink.heatCapacity': heatCapacity }), point)));
  const sink = light!.nodes.findIndex((n) => n.id === 'sink');
  expect(heavy!.within[sink]! / light!.within[sink]!).toBeGreaterThan(3.3);
  expect(heavy!.within[sink]! / light!.within[sink]!).toBeLessThan(4.5);
  expect(heavy!.ends).toEqual(light!.ends);
});

test.each(DEMOS)('%s: perturbed, the settled solution comes back: it is a stable fixed point', (name) => {
  const d = openDemo(name);
  const point = { line: d.brief.line.min, load: d.brief.load.max, air: d.brief.air.max };
  // Colder than the air, and hotter than all of it ends.
  for (const from of [point.air - 40, 160]) {
    const { temperatures, ends } = must(warmingOf(d, point, from));
    temperatures.forEach((list, i) => expect(Math.abs(list.at(-1)! - ends[i]!)).toBeLessThan(0.01));
  }
});

test('heat that runs away has no end, and says so', () => {
  const found = warmingOf(change(bareDemo('cabin-lighting-rail'), { 'sink.thermalResistance': 400 }), { line: 48, load: 8, air: 50 });
  expect(found.ok ? '' : found.problem.code).toBe('runaway');
});
