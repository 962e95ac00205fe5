import { windingOhms } from '../converter/fragment';
import fc from 'fast-check';
import { turnResistance } from '../parts/schema';
import { TRANSFORMER } from '../testing/briefs';
import type { Working } from '../working';
import { leakage, turnsFor, ungapped } from './windings';

const ratio = (value: number): Working => ({ title: '', formula: '', numbers: '', value, unit: '', source: '', leavesOut: '' });
const wanted = fc.record({ ratio: fc.double({ min: 0.02, max: 20, noNaN: true }), voltSeconds: fc.double({ min: 1e-6, max: 1e-3, noNaN: true }), swing: fc.double({ min: 0.05, max: 0.4, noNaN: true }) });
const flux = (voltSeconds: number, turns: number): number => voltSeconds / (turns * TRANSFORMER.coreArea);

test('turns keep the flux within its swing and the ratio at or above what is wanted, with the fewest on the secondary', () => {
  fc.assert(
    fc.property(wanted, (w) => {
      const { primary, secondary } = turnsFor(TRANSFORMER, { ...w, ratio: ratio(w.ratio), where: '' });
      fc.pre(secondary.taken < 9000);
      expect([primary.taken, secondary.taken].every(Number.isInteger)).toBe(true);
      expect(flux(w.voltSeconds, primary.taken)).toBeLessThanOrEqual(w.swing * (1 + 1e-6));
      expect(secondary.taken / primary.taken).toBeGreaterThanOrEqual(w.ratio * (1 - 1e-6));
      // One turn less on the secondary leaves too few on the primary.
      if (secondary.taken > 1) expect(flux(w.voltSeconds, Math.max(1e-9, Math.floor((secondary.taken - 1) / w.ratio - 1e-6)))).toBeGreaterThan(w.swing * (1 - 1e-6));
    }),
    { numRuns: 300 },
  );
});
test('what is typed stands, and the other winding follows', () => {
  const w = { ratio: ratio(0.4), voltSeconds: 1e-4, where: '', swing: 0.2 };
  const free = turnsFor(TRANSFORMER, w);
  expect([free.primary.overridden, free.secondary.overridden]).toEqual([false, false]);
  const first = turnsFor({ ...TRANSFORMER, primaryTurns: 31 }, w);
  expect([first.primary.taken, first.secondary.taken, first.primary.overridden]).toEqual([31, 13, true]);
  const second = turnsFor({ ...TRANSFORMER, secondaryTurns: 7 }, w);
  expect([second.primary.taken, second.secondary.taken, second.secondary.overridden]).toEqual([17, 7, true]);
});
test('inductance and leakage go with the square of the turns', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 200 }), (n) => {
    expect(ungapped(TRANSFORMER, 2 * n).taken / ungapped(TRANSFORMER, n).taken).toBeCloseTo(4, 9);
    expect(leakage(TRANSFORMER, 2 * n) / leakage(TRANSFORMER, n)).toBeCloseTo(4, 9);
  }));
  expect(ungapped({ ...TRANSFORMER, inductance: 1e-3 }, 20)).toMatchObject({ taken: 1e-3, overridden: true });
});
test('copper: a winding of N turns in half a window has 2 N² times the resistance of one turn that fills it', () => {
  const one = turnResistance(TRANSFORMER, 25);
  // ρ l / A, with 30 % of 1 cm² copper and 5 cm a turn.
  expect(one).toBeCloseTo((1.76e-8 * 0.05) / (0.3 * 1e-4), 12);
  expect(windingOhms(one, 10, 0.5)).toBeCloseTo(200 * one, 12);
  expect(turnResistance(TRANSFORMER, 125) / one).toBeCloseTo(1.385, 6);
});
