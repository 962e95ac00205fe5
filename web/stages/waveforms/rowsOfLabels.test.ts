import fc from 'fast-check';
import { rowsOfLabels, widthOf } from './rowsOfLabels';

/** Labels along a timeline. */

test('far apart they share a row; near one another each has its own; at the end it stands before its step', () => {
  expect(rowsOfLabels([{ x: 0, text: 'load' }, { x: 300, text: 'line' }], 900).map((l) => l.row)).toEqual([0, 0]);
  expect(rowsOfLabels([{ x: 0, text: 'load 2 A' }, { x: 5, text: 'line' }, { x: 9, text: 'load' }], 900).map((l) => l.row)).toEqual([0, 1, 2]);
  expect(rowsOfLabels([{ x: 890, text: 'load 2 A' }], 900)).toEqual([{ row: 0, before: true }]);
});

test('wherever steps are, no label lies on another of its row', () => {
  const label = fc.record({ x: fc.integer({ min: 0, max: 800 }), text: fc.string({ minLength: 1, maxLength: 20 }) });
  fc.assert(
    fc.property(fc.array(label, { maxLength: 12 }), (labels) => {
      const placed = rowsOfLabels(labels, 800).map((p, i) => ({ ...p, from: labels[i]!.x - (p.before ? widthOf(labels[i]!.text) : 0), wide: widthOf(labels[i]!.text) }));
      placed.forEach((a, i) => placed.slice(i + 1).forEach((b) => a.row === b.row && expect(a.from + a.wide <= b.from || b.from + b.wide <= a.from).toBe(true)));
      // No row is left empty.
      expect(new Set(placed.map((p) => p.row)).size).toBe(placed.length === 0 ? 0 : Math.max(...placed.map((p) => p.row)) + 1);
    }),
  );
});
