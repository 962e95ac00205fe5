import fc from 'fast-check';
import { bareDemo, change, must } from '../../demo/open';
import { editDesign, type Design } from '../design';
import { compensatorsOf } from './compensator';

/** What is remembered of placements is what would be placed anew: whatever was asked before. */

const rail = bareDemo('cabin-lighting-rail');
const cascade = change(rail, { 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 4e3 });
/** The same asked of a module that has never been asked. */
function afresh(d: Design): ReturnType<typeof compensatorsOf> {
  let found: ReturnType<typeof compensatorsOf> | undefined;
  jest.isolateModules(() => {
    // Loaded anew, with nothing remembered.
    // eslint-disable-next-line @typescript-eslint/no-require-imports
    found = (require('./compensator') as { compensatorsOf: typeof compensatorsOf }).compensatorsOf(d);
  });
  return found!;
}

const EDITS: Record<string, unknown>[] = [
  { 'control.zero1': 2500 }, { 'control.zero1': null }, { 'control.pole1': 90e3 }, { 'control.integrator': 900 }, { 'control.crossover': 9e3 }, { 'control.phaseMargin': 50 }, { 'control.rounded': false },
  { 'control.delay': 4e-7 }, { 'control.ramp': 1.5 }, { 'parts.L1.inductance': 47e-6 }, { 'parts.C2.count': 9 }, { 'brief.frequency': 180e3 }, { 'brief.line.max': 58 }, { 'brief.load.max': 7 }, { 'control.inputResistor': 33e3 },
  { 'requirements.ripple.limit': 0.04 }, { 'requirements.deviation.limit': 0.3 }, { 'requirements.efficiency.limit': 0.5 }, { 'sink.thermalResistance': 9 }, { name: 'Another' }, { 'control.innerZero1': 3e3 }, { 'control.innerCrossover': 18e3 }, { 'control.openLoopGain': 70 },
];

test.each([['one loop', rail], ['a cascade', cascade]])('%s, edited in any order', (_, from) => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom(...EDITS), { minLength: 1, maxLength: 6 }), (edits) => {
      let d = from;
      for (const e of edits) {
        const edited = editDesign(d, e);
        if (edited.ok) d = edited.value;
        const found = compensatorsOf(d);
        if (found.ok) expect(found.value.every((c) => Object.values(c.built).every(Number.isFinite))).toBe(true);
      }
      const [kept, fresh] = [compensatorsOf(d), afresh(d)];
      expect(kept.ok).toBe(fresh.ok);
      if (kept.ok && fresh.ok) expect(kept.value.map((c) => [c.placed, c.wanted, c.built])).toEqual(fresh.value.map((c) => [c.placed, c.wanted, c.built]));
    }),
    { numRuns: 12, endOnFailure: true },
  );
});

test('a corner that is dragged moves no other: what is placed stays what it was', () => {
  const before = must(compensatorsOf(rail)).at(-1)!;
  const after = must(compensatorsOf(change(rail, { 'control.zero1': 1.2 * before.wanted.zero1! }))).at(-1)!;
  expect(after.placed).toEqual(before.placed);
  expect(after.wanted.zero1).toBeCloseTo(1.2 * before.wanted.zero1!, 6);
});
