import { bareDemo, must } from '../../demo/open';
import { editDesign } from '../design';
import { evaluate } from '.';
import { billOf, changedBill } from './bill';

/** A bill is frozen: what is changed in it changes nothing else that was sized. */

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 25 };
const own = must(evaluate(rail, point));

test('as it was sized it gives the figures of the design', () => {
  expect(must(evaluate(rail, point, { bill: billOf(rail) }))).toEqual(own);
  expect(must(evaluate(rail, point, { bill: changedBill(billOf(rail), {}) }))).toEqual(own);
});

test('a tenth less capacitance: the ripple it holds rises with it, and nothing is sized or placed anew', () => {
  const bill = billOf(rail);
  const less = 0.9 * bill.sizing.values.C2!.taken;
  const f = must(evaluate(rail, point, { bill: changedBill(bill, { C2: less }) }));
  for (const [key, v] of Object.entries(own.sizing.values)) {
    expect(f.sizing.values[key]!.count).toBe(v.count);
    expect(f.sizing.values[key]!.taken).toBe(key === 'C2' ? less : v.taken);
  }
  expect(f.loop!.built).toEqual(own.loop!.built);
  expect(f.loop!.network).toEqual(own.loop!.network);
  // ΔV = ΔI / (8 f C), and the series resistance adds its own: between the two.
  const rise = f.cycle.outputRipple / own.cycle.outputRipple;
  expect(rise).toBeGreaterThan(1.05);
  expect(rise).toBeLessThan(1 / 0.9 + 1e-3);
  // The bill itself is what it was.
  expect(bill.sizing.values.C2!.taken).toBe(own.sizing.values.C2!.taken);
});

test('an inductor a fifth below: in the design the capacitors follow what it now lets through, in the bill they stay', () => {
  const L = 0.8 * own.sizing.values.L1!.taken;
  const edited = must(evaluate(must(editDesign(rail, { 'parts.L1.inductance': L, 'parts.C2.count': null })), point));
  const changed = must(evaluate(rail, point, { bill: changedBill(billOf(rail), { L1: L }) }));
  expect(changed.sizing.values.L1!.taken).toBe(edited.sizing.values.L1!.taken);
  expect(changed.duties.L1!.peakToPeak / own.duties.L1!.peakToPeak).toBeCloseTo(1 / 0.8, 2);
  expect(changed.sizing.values.C2!.count).toBe(own.sizing.values.C2!.count);
  expect(edited.sizing.values.C2!.count).not.toBe(changed.sizing.values.C2!.count);
});

test('a part that has aged: twice the resistance of a switch, warmer and less efficient by what that burns', () => {
  const { onResistance } = rail.parts.Q1 as { onResistance: number };
  const f = must(evaluate(rail, point, { bill: changedBill(billOf(rail), {}, { Q1: { onResistance: 2 * onResistance } }) }));
  const of = (x: typeof f): number => x.losses.parts.find((p) => p.id === 'Q1')!.mechanisms.conduction!;
  // More than twice: it is warmer too.
  expect(of(f) / of(own)).toBeGreaterThan(2);
  expect(of(f) / of(own)).toBeLessThan(2.3);
  expect(f.losses.efficiency).toBeLessThan(own.losses.efficiency);
});
