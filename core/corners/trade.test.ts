import { bareDemo, change, must } from '../../demo/open';
import { evaluate } from '../evaluation';
import { SHELF } from '../../shelf';
import { choicesOf, tradeOf, type Choice } from './trade';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 54, load: 6, air: 50 };

test.each<[string, Choice]>([['parallel', { of: 'parallel', slot: 'Q1' }], ['gate', { of: 'gate' }], ['core', { of: 'core', slot: 'L1' }]])('%s: every point is what the design with it loses; the present one is among them', (_, choice) => {
  const { points, now, limit } = must(tradeOf(rail, choice, point, SHELF));
  expect(points.length).toBeGreaterThan(4);
  expect(points.every((p, k) => k === 0 || p.x > points[k - 1]!.x)).toBe(true);
  for (const p of [points[0]!, points.at(-1)!]) {
    const f = must(evaluate(change(rail, p.changes), point));
    expect(p.total).toBeCloseTo(f.losses.total, 6);
    if (choice.of !== 'gate') expect(p.own).toBeCloseTo(f.losses.parts.find((x) => x.id === choice.slot)!.total, 6);
  }
  if (choice.of !== 'gate') expect(now).toBeGreaterThanOrEqual(0);
  expect(limit).toBe(choice.of === 'core' ? 105 : 125);
});

test('more gate resistance loses more and warms; more in parallel conducts better and switches worse; what a part has no choice of is not offered', () => {
  const gate = must(tradeOf(rail, { of: 'gate' }, point, SHELF)).points;
  expect(gate.every((p, k) => k === 0 || (p.total > gate[k - 1]!.total && p.temperature > gate[k - 1]!.temperature))).toBe(true);
  const many = must(tradeOf(rail, { of: 'parallel', slot: 'Q1' }, { ...point, load: 0.5 }, SHELF)).points;
  expect(many.at(-1)!.total).toBeGreaterThan(many[0]!.total);
  expect(choicesOf(rail, 'Q1').map((c) => c.choice.of)).toEqual(['parallel', 'gate']);
  expect(choicesOf(rail, 'L1').map((c) => c.choice.of)).toEqual(['core', 'gate']);
  expect(tradeOf(rail, { of: 'core', slot: 'L1' }, point, SHELF.filter((p) => p.kind !== 'inductor')).ok).toBe(false);
});
