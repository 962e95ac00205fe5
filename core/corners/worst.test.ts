import { bareDemo, change, must, openDemo } from '../../demo/open';
import { evaluate } from '../evaluation';
import { holdCorners } from './corners';
import { cureOf, movesOf, turnable } from './moves';
import { requirementNamed, standings } from './requirements';
import { worstInRegion } from './worst';

const rail = bareDemo('cabin-lighting-rail');

describe('the whole region', () => {
  const found = worstInRegion(rail);
  test('is nowhere better than its corners, names the failing requirement at its point, and says from how many points', () => {
    const corners = holdCorners(rail);
    for (const w of corners.worst) expect(found.worst.find((x) => x.id === w.id)!.room).toBeLessThanOrEqual(w.room + 1e-12);
    expect(found.holds).toBe(false);
    expect(found.worst[0]).toMatchObject({ id: 'deviation', holds: false });
    expect(found.points).toBeGreaterThan(17);
    expect(found.points).toBeLessThan(120);
    // What is said of a point is what the point has.
    for (const w of found.worst) expect(standings(rail, must(evaluate(rail, w.at))).find((s) => s.id === w.id)!.value).toBeCloseTo(w.value, 9);
  });
  test('a finer grid finds nothing worse than it says', () => {
    const { line, load, air } = rail.brief;
    for (let i = 0; i <= 7; i++)
      for (let j = 0; j <= 7; j++) {
        const at = { line: line.min + ((line.max - line.min) * i) / 7, load: load.min + ((load.max - load.min) * j) / 7, air: air.max };
        for (const s of standings(rail, must(evaluate(rail, at)))) {
          const w = found.worst.find((x) => x.id === s.id)!;
          const slack = 0.02 * Math.abs(s.limit);
          if (requirementNamed(s.id).direction === 'at most') expect([s.id, s.value <= w.nowhere + slack]).toEqual([s.id, true]);
          else expect([s.id, s.value >= w.nowhere - slack]).toEqual([s.id, true]);
        }
      }
  });
  test('a worst point inside is found: ripple of an inverting stage between its modes is no less than a grid of fifteen by fifteen has', () => {
    const d = openDemo('sensor-supply');
    const verdict = worstInRegion(d);
    const { line, load, air } = d.brief;
    let most = 0;
    for (let i = 0; i < 8; i++) for (let j = 0; j < 8; j++) most = Math.max(most, must(evaluate(d, { line: line.min + ((line.max - line.min) * i) / 7, load: load.min + ((load.max - load.min) * j) / 7, air: air.max })).cycle.outputRipple);
    expect(verdict.worst.find((w) => w.id === 'ripple')!.nowhere).toBeGreaterThanOrEqual(most * (1 - 0.02));
  });
  test('stopped it gives what there is; where there are no figures it does not hold and says where', () => {
    expect(worstInRegion(rail, (n) => n >= 5).points).toBe(5);
    const hot = worstInRegion(change(rail, { 'sink.thermalResistance': 400 }));
    expect(hot.holds).toBe(false);
    expect(hot.missing[0]!.problem.message.length).toBeGreaterThan(10);
  });
});

describe('what moves a requirement', () => {
  const { at } = worstInRegion(rail).worst[0]!;
  const moved = movesOf(rail, 'deviation', at)!;
  test('each by what the design then has, the strongest first; nothing that is only a rating', () => {
    expect(moved.moves.length).toBeGreaterThan(8);
    for (const m of moved.moves.slice(0, 4)) {
      const then = must(evaluate(change(rail, { [m.path]: m.value * 1.01 }), at)).loop!.deviation;
      expect(m.by / (then - moved.standing.value)).toBeCloseTo(1, 6);
    }
    expect(moved.moves.every((m, k) => k === 0 || Math.abs(m.room) <= Math.abs(moved.moves[k - 1]!.room))).toBe(true);
    expect(turnable(rail).map((t) => t.path).filter((p) => /maxJunction|count|rated/.test(p))).toEqual([]);
  });
  test('the cure, tried, lifts it; stopped it gives what there is', () => {
    const cure = cureOf(rail, moved, at)!;
    const cured = change(rail, { [cure.move.path]: cure.value });
    const then = standings(cured, must(evaluate(cured, at))).find((s) => s.id === 'deviation')!;
    expect(then).toEqual(cure.standing);
    expect(then.holds).toBe(true);
    expect(movesOf(rail, 'deviation', at, (tried) => tried >= 3)!.tried).toBe(3);
    expect(movesOf(rail, 'pinned', at)).toBeUndefined();
  });
});
