import { bareDemo, change, must } from '../../demo/open';
import { evaluate } from '.';
import { deratingOf } from './derating';

const rail = bareDemo('cabin-lighting-rail');

test('at every load that is allowed all is below its limit, and with a fiftieth more the one that is named is above', () => {
  const { points, line } = deratingOf(rail, 60);
  const limits = { junction: rail.requirements.junction.limit, winding: rail.requirements.winding.limit };
  const seen = points.filter((p) => p.load > 0);
  expect(seen.length).toBeGreaterThan(8);
  for (const { air, load, by } of seen) {
    const over = (at: number): string[] => must(evaluate(rail, { line, load: at, air })).heat.rungs.filter((r) => r.limit !== undefined && r.temperature > Math.min(r.limit, limits[r.spot as keyof typeof limits])).map((r) => r.title);
    expect(over(load)).toEqual([]);
    if (by !== undefined) expect(over(1.02 * load)).toContain(by);
  }
});

test('a requirement that is not asked for stops nothing: the rating does', () => {
  const d = change(rail, { 'requirements.winding.on': false, 'requirements.junction.on': false });
  const [asked, rated] = [rail, d].map((x) => deratingOf(x, 60).points.find((p) => p.load < 7)!);
  expect(rated!.air).toBeGreaterThan(asked!.air);
});

test('hotter air allows no more', () => {
  const { points } = deratingOf(rail, 36);
  points.forEach((p, k) => k > 0 && expect(p.load).toBeLessThanOrEqual(points[k - 1]!.load + 1e-9));
  expect(points.at(-1)!.load).toBeLessThan(points[0]!.load);
});

test('runaway: with a straight resistance it is of the sink and not of the air; it is named, and no load stands', () => {
  expect(deratingOf(rail, 48).runaway).toBeUndefined();
  const d = change(rail, { 'sink.thermalResistance': 400 });
  const { runaway, points } = deratingOf(d, 48);
  expect(runaway).toBe(rail.brief.air.min);
  expect(must(evaluate(d, { line: 48, load: 8, air: runaway! })).problems.heat?.code).toBe('runaway');
  expect(Math.max(...points.map((p) => p.load))).toBeLessThan(8);
});

test('linear runaway: a resistance that rises by α, at a constant current, has no end where I² R₂₅ α Rth is one', () => {
  // One rung of Rth: T − Ta = Rth I² R₂₅ (1 + α (T − 25)) has a solution while Rth I² R₂₅ α < 1. The winding with nothing else that is lost.
  const d = change(rail, { 'parts.L1.steinmetz': { k: 0, alpha: 1.4, beta: 2.5 }, 'parts.L1.resistance': 0.02 });
  const copper = (rth: number): boolean => must(evaluate(change(d, { 'parts.L1.thermalResistance': rth }), { line: 48, load: 8, air: 25 })).problems.heat === undefined;
  const rms = must(evaluate(d, { line: 48, load: 8, air: 25 })).duties.L1!.rms;
  const edge = 1 / (rms ** 2 * 0.02 * 0.00385);
  // Nearer than that the duty has to make up for what the copper drops.
  expect(copper(0.7 * edge)).toBe(true);
  expect(copper(1.05 * edge)).toBe(false);
});
