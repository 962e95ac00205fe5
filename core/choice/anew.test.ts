import { bareDemo, change, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { editDesign } from '../design';
import { sizeDesign } from '../evaluation';
import { estimateOf } from './candidates';
import { chosenAnew, misfits, overrides, withoutOverrides } from './anew';

/** Parts chosen anew for a brief that has moved on. */

const rail = bareDemo('cabin-lighting-rail');
const at12 = must(editDesign(rail, { 'brief.line.min': 10.8, 'brief.line.max': 13.2, 'brief.output.voltage': 5, 'brief.load.max': 3, 'brief.load.min': 0.1, 'brief.loadStep': 1.5 }));

test('what stands for another brief is named: far above what is wanted, or too weak', () => {
  expect(misfits(rail, SHELF)).toEqual([]);
  expect(misfits(at12, SHELF).map((m) => [m.slot, m.fails])).toEqual(expect.arrayContaining([['Q1', false], ['Q2', false]]));
  const at90 = must(editDesign(rail, { 'brief.line.min': 60, 'brief.line.max': 90 }));
  expect(misfits(at90, SHELF).filter((m) => m.fails).map((m) => m.slot)).toEqual(expect.arrayContaining(['Q1', 'Q2']));
});

test('chosen anew all parts are of this brief, by loss or by size, and nothing is left behind', () => {
  const [byLoss, bySize] = (['loss', 'size'] as const).map((by) => must(chosenAnew(at12, SHELF, by)));
  for (const d of [byLoss!, bySize!]) {
    expect(misfits(d, SHELF).filter((m) => m.fails)).toEqual([]);
    expect(d.parts.Q1).toMatchObject({ kind: 'switch' });
    expect((d.parts.Q1 as { part: string }).part).not.toBe((rail.parts.Q1 as { part: string }).part);
  }
  const wattsOf = (d: typeof rail): number => estimateOf(d).losses.reduce((sum, l) => sum + l.watts, 0);
  expect(wattsOf(byLoss!)).toBeLessThan(wattsOf(bySize!));
  const coreOf = (d: typeof rail): number => (d.parts.L1 as { coreVolume: number }).coreVolume;
  expect(coreOf(byLoss!)).toBeGreaterThanOrEqual(coreOf(bySize!));
});

test('by cost: each part costs no more than those chosen otherwise, copies in parallel counted; what has no class is the last', () => {
  const costOf = (d: typeof rail, slot: string): number => {
    const part = d.parts[slot]!;
    const pieces = part.kind === 'capacitor' ? sizeDesign(d).values[slot]!.count! * part.series : part.kind === 'switch' || part.kind === 'diode' ? part.count : 1;
    return pieces * 1.5 ** part.costClass!;
  };
  for (const slot of ['Q1', 'Q2', 'L1', 'C2']) {
    const [cost, loss, size] = (['cost', 'loss', 'size'] as const).map((by) => costOf(must(chosenAnew(at12, SHELF, by, slot)), slot));
    expect(cost).toBeLessThanOrEqual(Math.min(loss!, size!));
  }
  const unknown = SHELF.map((p) => (p.kind === 'inductor' && p.costClass! < 12 ? { ...p, costClass: undefined } : p));
  expect(must(chosenAnew(at12, unknown, 'cost', 'L1')).parts.L1!.costClass).toBeGreaterThanOrEqual(12);
});

test('one slot alone: the others stay', () => {
  const one = must(chosenAnew(at12, SHELF, 'loss', 'Q1'));
  expect(one.parts.Q2).toEqual(at12.parts.Q2);
  expect(one.parts.Q1!.part).not.toBe(at12.parts.Q1!.part);
});

test('values set by hand are known by their paths, and dropped together', () => {
  const d = change(rail, { 'parts.L1.inductance': 47e-6, 'parts.C2.count': 9 });
  expect(overrides(d).map((o) => o.path)).toEqual(expect.arrayContaining(['parts.L1.inductance', 'parts.C2.count']));
  expect(overrides(must(withoutOverrides(d)))).toEqual([]);
});
