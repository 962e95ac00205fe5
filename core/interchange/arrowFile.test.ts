import fc from 'fast-check';
import { arrowColumns, arrowFile } from './arrowFile';

test('what is written is read back to the last bit, names and all', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ noNaN: true }), { maxLength: 200 }), (list) => {
      const columns = { 'time (s)': Float64Array.from(list, (_, k) => k * 1e-7), 'Output (V)': Float64Array.from(list) };
      expect(arrowColumns(arrowFile(columns))).toEqual(columns);
    }),
  );
});
test('it is a file of the format: its magic at both ends', () => {
  const file = arrowFile({ x: Float64Array.of(1, 2, 3) });
  const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
  expect([text(file.slice(0, 6)), text(file.slice(-6))]).toEqual(['ARROW1', 'ARROW1']);
});
