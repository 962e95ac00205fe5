import demo from '../../demo/cabin-lighting-rail.json';
import { chooseTopology, hangBranch } from '../../core/choice';
import { readDesignValue, type Design } from '../../core/design';
import { evaluate } from '../../core/evaluation';
import { SHELF } from '../../shelf';
import type { StoredDesign } from './storage';
import { actions, useStore, type State } from './store';

const design = (): Design => {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const stored = (): StoredDesign => ({ id: 'one', name: 'Rail', updated: 0, design: design(), kept: [], past: [], future: [], point: { line: 54, load: 6, air: 50 } });
const now = (): State => useStore.getState();

beforeEach(() => actions.load(stored()));

describe('editing', () => {
  test('an edit changes the design, marks what is on screen as stale, and can be undone and redone', () => {
    expect(actions.edit({ 'brief.output.voltage': 20 })).toBeUndefined();
    expect(now().design.brief.output.voltage).toBe(20);
    expect(now().answers.fresh).toBe(false);
    expect(now().answers.cornersFresh).toBe(false);
    actions.undo();
    expect(now().design).toEqual(design());
    actions.redo();
    expect(now().design.brief.output.voltage).toBe(20);
    actions.redo(); // nothing to redo: nothing happens
    expect(now().design.brief.output.voltage).toBe(20);
  });

  test('a refused edit leaves everything as it is and says why', () => {
    const before = now().design;
    const problem = actions.edit({ 'brief.line.max': 20 });
    expect(problem?.where).toBe('brief.line.min');
    expect(now().design).toBe(before);
    expect(now().past).toEqual([]);
    expect(now().refusal).toBe(problem);
    actions.dismiss();
    expect(now().refusal).toBeUndefined();
  });

  test('a change of two fields that only make sense together is one edit', () => {
    expect(actions.edit({ 'brief.line.min': 70, 'brief.line.max': 75 })).toBeUndefined();
    expect(now().design.brief.line).toEqual({ min: 70, max: 75 });
    // The point in view moves into the new region.
    expect(now().point.line).toBe(70);
  });

  test('a new edit forgets what was undone', () => {
    actions.edit({ 'brief.output.voltage': 20 });
    actions.undo();
    actions.edit({ 'brief.output.voltage': 22 });
    expect(now().future).toEqual([]);
  });

  test('a drag is one step of undo, two drags are two', () => {
    for (const f of [3000, 2800, 2500]) actions.edit({ 'control.zero1': f }, 'zero1 1');
    actions.endGesture();
    for (const f of [2400, 2200]) actions.edit({ 'control.zero1': f }, 'zero1 1');
    expect(now().past).toHaveLength(2);
    actions.undo();
    expect(now().design.control.zero1).toBe(2500);
    actions.undo();
    expect(now().design.control.zero1).toBeNull();
  });

  test('history is long but not endless', () => {
    for (let k = 0; k < 130; k++) actions.edit({ 'sink.thermalResistance': 1 + k / 10 });
    expect(now().past).toHaveLength(100);
  });
});

describe('the point in view', () => {
  test('stays within the region, and moving it is not an edit', () => {
    actions.movePoint({ line: 1000, load: -3 });
    expect(now().point).toEqual({ line: 60, load: 0.4, air: 50 });
    expect(now().past).toEqual([]);
    expect(now().answers.fresh).toBe(false);
  });
});

describe('kept states', () => {
  test('letters in order, hidden and let go; undo brings back what was let go, and takes none away', () => {
    actions.keep();
    actions.edit({ 'parts.L1.inductance': 47e-6 });
    actions.keep();
    expect(now().kept.map((k) => k.label)).toEqual(['A', 'B']);
    expect(now().kept[0]!.design.parts.L1).toMatchObject({ inductance: null });
    actions.showKept(now().kept[0]!.id, false);
    expect(now().kept[0]!.visible).toBe(false);
    actions.dropKept(now().kept[0]!.id);
    expect(now().kept.map((k) => k.label)).toEqual(['B']);
    actions.keep();
    expect(now().kept.map((k) => k.label)).toEqual(['B', 'C']);
    actions.undo();
    expect(now().kept.map((k) => k.label)).toEqual(['A', 'B', 'C']);
    actions.undo();
    expect(now().design).toEqual(design());
    expect(now().kept.map((k) => k.label)).toEqual(['A', 'B', 'C']);
  });

  test('a kept state is taken back as the design in work, and undo returns', () => {
    actions.keep();
    actions.edit({ 'brief.output.voltage': 20 });
    actions.take(now().kept[0]!.design);
    expect(now().design.brief.output.voltage).toBe(24);
    actions.undo();
    expect(now().design.brief.output.voltage).toBe(20);
  });

  test('keeping does not make the figures on screen stale: the design is the same', () => {
    actions.answer({ fresh: true, cornersFresh: true });
    actions.keep();
    expect([now().answers.fresh, now().answers.cornersFresh]).toEqual([true, true]);
  });
});

test('loading another design starts with nothing of the one before', () => {
  actions.keep();
  actions.answer({ mapProgress: 0.5, fresh: true });
  actions.load({ ...stored(), id: 'two' });
  expect(now()).toMatchObject({ id: 'two', kept: [], past: [], answers: { fresh: false, kept: {} } });
  expect(now().answers.mapProgress).toBeUndefined();
});

describe('another topology', () => {
  const taken = (): Design => {
    const chosen = chooseTopology(design(), 'buck-diode', SHELF);
    if (!chosen.ok) throw new Error(chosen.problem.message);
    return chosen.value;
  };

  test('answers that speak of parts that are gone leave the screen, and the selection moves to one that is there; undo as well', () => {
    const found = evaluate(design(), { line: 54, load: 6, air: 50 });
    if (!found.ok) throw new Error(found.problem.message);
    actions.answer({ figures: found.value, fresh: true });
    actions.select('Q2');
    actions.take(taken());
    expect(now().answers.figures).toBeUndefined();
    expect(now().selected).toBe('L1');
    actions.select('D1');
    actions.undo();
    expect(now().design.topology).toBe('buck-synchronous');
    expect(now().selected).toBe('L1');
  });

  test('a change within one topology keeps what is on screen, marked as stale', () => {
    const found = evaluate(design(), { line: 54, load: 6, air: 50 });
    if (!found.ok) throw new Error(found.problem.message);
    actions.answer({ figures: found.value, fresh: true });
    actions.edit({ 'parts.L1.inductance': 33e-6 });
    expect([now().answers.figures, now().answers.fresh]).toEqual([found.value, false]);
  });
});

describe('what a change leaves on screen', () => {
  const answered = (): void => actions.answer({ figures: { mark: 1 } as never, fresh: true, cornersFresh: true, map: { rows: [] }, mapRows: [[]] });
  test('a branch more: the figures stay, stale, and rows of a map of before do not', () => {
    answered();
    const hung = hangBranch(now().design, 'damping', SHELF);
    if (!hung.ok) throw new Error(hung.problem.message);
    actions.take(hung.value);
    expect([now().answers.figures, now().answers.fresh, now().answers.cornersFresh, now().answers.mapRows]).toEqual([{ mark: 1 }, false, false, undefined]);
  });
  test('another topology: they speak of parts that are gone', () => {
    answered();
    const other = chooseTopology(now().design, 'buck-diode', SHELF);
    if (!other.ok) throw new Error(other.problem.message);
    actions.take(other.value);
    expect([now().answers.figures, now().answers.map]).toEqual([undefined, undefined]);
  });
  test('the path folds and unfolds, which is no step of undo', () => {
    const { past } = now();
    actions.foldPath();
    expect(now().folded).toBe(true);
    actions.foldPath();
    expect([now().folded, now().past]).toEqual([false, past]);
  });
});
