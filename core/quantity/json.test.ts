import fc from 'fast-check';
import { readCircuit } from '../interchange/circuitFile';
import { implausible, parseQuantity, quoted, UNITS, type UnitName } from '.';
import { parseJson } from './json';

const code = (text: string): string => {
  const read = parseJson(text, 1e6, 'a file');
  return read.ok ? '' : read.problem.code;
};

describe('text of a file that nobody has made by hand', () => {
  test('a byte order mark is passed over', () => expect(parseJson('\uFEFF{"a":1}', 100, 'a file')).toEqual({ ok: true, value: { a: 1 } }));
  test('nesting of 20,000 is refused, in strings it does not count', () => {
    expect(code('['.repeat(20_000) + ']'.repeat(20_000))).toBe('json');
    expect(code('{"a":'.repeat(20_000))).toBe('json');
    expect(code(JSON.stringify({ a: '['.repeat(1000) }))).toBe('');
  });
  test.each(['{"__proto__": {"x": 1}}', '{"a": {"constructor": 1}}', '[{"prototype": []}]'])('keys of the language itself: %s', (text) => expect(code(text)).toBe('unknown-field'));
  test('what is said back is short and has no control characters', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary', maxLength: 3000 }), (text) => {
      const said = quoted(text);
      expect(said.length).toBeLessThanOrEqual(201);
      // eslint-disable-next-line no-control-regex
      expect(/[\u0000-\u001f\u007f-\u009f]/.test(said)).toBe(false);
    }));
  });
  test('names that the language has taken are names like others, or refused', () => {
    const named = (key: string, id: string) => readCircuit(`{"kind":"jump-reed circuit","version":1,"name":"x","period":1e-5,"elements":[{"kind":"resistor","id":"${id}","a":"a","b":"0","${key}":1}]}`);
    for (const word of ['toString', 'constructor', 'valueOf', 'hasOwnProperty', '__proto__']) {
      expect(named(word, 'R').ok).toBe(false);
      expect(named('resistance', word).ok).toBe(word !== '__proto__');
    }
  });
  test('any text at all: a circuit or a problem with a remedy', () => {
    fc.assert(fc.property(fc.oneof(fc.string(), fc.json(), fc.json().map((t) => `{"kind":"jump-reed circuit","elements":${t}}`)), (text) => {
      const read = readCircuit(text);
      if (!read.ok) expect(read.problem.remedy.length).toBeGreaterThan(5);
    }));
  });
});

describe('values that can not be meant', () => {
  test.each([[1e300, 'Ω'], [-500, '%'], [1e12, '°C'], [-300, '°C'], [-1, 'H'], [1e-300, 'F'], [Infinity, 'V'], [NaN, 'A']] as [number, UnitName][])('%p %s', (value, unit) => expect(implausible(value, unit)).toBeDefined());
  test('what is printed of anything that can be meant is read back as such', () => {
    fc.assert(fc.property(fc.constantFrom(...(Object.keys(UNITS) as UnitName[])), fc.double({ min: 0, max: 1, noNaN: true }), (unit, share) => {
      const { finest, highest } = UNITS[unit];
      const value = share * highest;
      expect(implausible(value === 0 || value >= finest ? value : finest, unit)).toBeUndefined();
    }));
  });
  test('siemens are read as such', () => {
    const read = parseQuantity('100 nS', 'S');
    expect(read.ok && read.value).toBeCloseTo(1e-7, 15);
  });
});
