import fc from 'fast-check';
import { readTable, tableText } from './tableText';

test('a table typed as it is shown is the same table', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 9999 }), fc.integer({ min: -200, max: 200 })), { minLength: 1, maxLength: 12 }), (rows) => {
      const table = rows.map(([f, v]): [number, number] => [f * 100, v / 4]);
      expect(readTable(tableText(table))).toEqual({ table });
    }),
  );
});

test('what is no row is named by its number', () => {
  expect(readTable('100 kHz, 46\n1 MHz; 30')).toEqual({ table: [[1e5, 46], [1e6, 30]] });
  for (const [typed, says] of [['', 'it wants a row at least'], ['100 kHz', 'row 1'], ['100 kHz, 46\n3 V, 2', 'row 2'], ['1 kHz, x', 'row 1'], ['1 kHz, 2, 3', 'row 1']] as const) {
    const found = readTable(typed);
    expect('wrong' in found ? found.wrong : '').toContain(says);
  }
});
