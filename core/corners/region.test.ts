import { bareDemo, change, must } from '../../demo/open';
import { holdCorners } from './corners';
import { liftWorst, placeForRegion, tightInWords } from './region';

test('the rail placed for its whole region: all of what is asked of its loop holds at every corner, and a tenth higher it does not', () => {
  const rail = change(bareDemo('cabin-lighting-rail'), { 'requirements.gainMargin.limit': 15, 'requirements.deviation.on': false });
  const found = must(placeForRegion(rail));
  expect(found.holds).toBe(true);
  const failing = (crossover: number): string[] => holdCorners(change(rail, { ...found.changes, 'control.crossover': crossover })).worst.filter((w) => ['phaseMargin', 'gainMargin', 'deviation'].includes(w.id) && !w.holds).map((w) => w.id);
  expect(failing(found.crossover)).toEqual([]);
  expect(failing(found.crossover * 1.15)).toContain(found.limit!.id);
  expect(tightInWords(found.limit!)).toMatch(/wanted at (least|most) .* at \d/);
  // With less asked, no higher than a fifth of the switching frequency is looked at.
  expect(must(placeForRegion(bareDemo('cabin-lighting-rail')))).toMatchObject({ highest: true, crossover: 44e3 });
  expect(found.tried).toBeLessThan(14);
});

test('where nothing is asked that is told; a stop is heard', () => {
  const rail = bareDemo('cabin-lighting-rail');
  const nothing = placeForRegion(change(rail, { 'requirements.phaseMargin.on': false, 'requirements.gainMargin.on': false, 'requirements.deviation.on': false }));
  expect(nothing.ok ? '' : nothing.problem.code).toBe('asked');
  let tried = 0;
  const stopped = placeForRegion(change(rail, { 'requirements.phaseMargin.limit': 80 }), () => ++tried >= 2);
  expect(stopped.ok ? '' : stopped.problem.code).toBe('stopped');
  expect(tried).toBe(2);
});

test('the corner that hurts: the change that is offered lifts it by as much as it says', () => {
  const slow = change(bareDemo('cabin-lighting-rail'), { 'control.crossover': 12e3 });
  const lift = liftWorst(slow)!;
  expect(lift.after.room).toBeGreaterThan(lift.before.room);
  const worst = (d: typeof slow): number => Math.min(...holdCorners(d).worst.filter((w) => ['phaseMargin', 'gainMargin', 'deviation'].includes(w.id)).map((w) => w.room));
  // Middles of line and load are no ends: they are never worse here.
  expect(worst(slow)).toBeCloseTo(lift.before.room, 6);
  expect(worst(change(slow, lift.changes))).toBeCloseTo(lift.after.room, 6);
});
