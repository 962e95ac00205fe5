import { bareDemo, change, must } from '../../demo/open';
import { evaluate } from '../evaluation';
import { asBuilt, bestOf, byMechanism, byMechanismOfInput, lossMap, lossMapAxes, lossRow } from './lossMap';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 6, air: 50 };

test('every cell is what the point has by itself; the best is the best of them', () => {
  const map = lossMap(rail, 'line', point, 5);
  expect(map.rows.map((r) => r.length)).toEqual([5, 5, 5, 5, 5]);
  for (const cell of [map.rows[0]![0]!, map.rows[2]![4]!, map.rows[4]![1]!]) {
    const alone = must(evaluate(rail, { line: cell.x, load: cell.load, air: 50 })).losses;
    expect(cell.figures!.efficiency).toBeCloseTo(alone.efficiency, 9);
    expect(cell.figures!.total).toBeCloseTo(alone.total, 6);
    expect(Object.values(byMechanism(cell.figures!)).reduce((a, b) => a + b, 0)).toBeCloseTo(alone.total, 9);
  }
  const shares = byMechanismOfInput(map.rows[0]![0]!.figures!);
  expect(Object.values(shares).reduce((a, b) => a + b, 0)).toBeCloseTo(1 - map.rows[0]![0]!.figures!.efficiency, 12);
  const all = map.rows.flat().map((c) => c.figures!.efficiency);
  expect(bestOf(map.rows)!.figures!.efficiency).toBe(Math.max(...all));
});

test('over the output the hardware is the same: what the brief would want then is not built', () => {
  const built = must(asBuilt(rail));
  expect(Object.values(built.parts).every((p) => !('inductance' in p) || p.inductance !== null)).toBe(true);
  expect(must(evaluate(built, point)).losses.total).toBeCloseTo(must(evaluate(rail, point)).losses.total, 9);
  const { x } = lossMapAxes(rail, 'output', 4);
  expect([x[0], x.at(-1)]).toEqual([12, 30]);
  const row = lossRow(rail, 'output', 6, [18, 24], point);
  // The lower resistor of the divider is what the voltage wants here, and a preferred number in the design.
  expect(row[1]!.figures!.efficiency).toBeCloseTo(must(evaluate(rail, point)).losses.efficiency, 6);
  // The same current at a lower voltage: about the same losses of a smaller output.
  expect(row[0]!.figures!.output).toBeCloseTo(18 * 6, 0);
  expect(row[0]!.figures!.efficiency).toBeLessThan(row[1]!.figures!.efficiency);
});

test('over the frequency the hardware is the same too: what switching loses goes with it, what the ripple loses against it', () => {
  const { x } = lossMapAxes(rail, 'frequency', 3);
  expect(x).toEqual([110e3, 275e3, 440e3]);
  const row = lossRow(rail, 'frequency', 6, [110e3, 220e3, 440e3], point).map((c) => byMechanism(c.figures!));
  expect(row[1]!.overlap!).toBeCloseTo(byMechanism(must(evaluate(rail, point)).losses).overlap!, 6);
  expect(row[2]!.gate! / row[1]!.gate!).toBeCloseTo(2, 6);
  expect(row[0]!.core!).toBeGreaterThan(row[2]!.core!);
});

test('where there are no figures the reason stands in the cell, and the rest of the map is there', () => {
  const row = lossRow(rail, 'output', 6, [24, 47.9], point);
  expect(row[0]!.figures).toBeDefined();
  expect(row[1]!.problem?.code).toBe('impossible');
  const hot = lossRow(change(rail, { 'sink.thermalResistance': 500 }), 'line', 8, [36], point);
  expect(hot[0]!.figures).toBeUndefined();
  expect(hot[0]!.problem!.message.length).toBeGreaterThan(10);
  expect(bestOf([hot])).toBeUndefined();
});
