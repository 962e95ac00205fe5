import fc from 'fast-check';
import { parseQuantity, parseRange, preferred, printQuantity, printRange, printTyped, SERIES, UNITS, type UnitName } from '.';

const value = (text: string, unit: UnitName): number => {
  const read = parseQuantity(text, unit);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const code = (text: string, unit: UnitName): string => {
  const read = parseQuantity(text, unit);
  return read.ok ? 'ok' : read.problem.code;
};

describe('typed quantities', () => {
  test.each([
    ['22 µH', 'H', 22e-6],
    ['22u', 'H', 22e-6],
    ['22 uH', 'H', 22e-6],
    ['4u7', 'F', 4.7e-6],
    ['9m4', 'Ω', 9.4e-3],
    ['4R7', 'Ω', 4.7],
    ['100k', 'Hz', 1e5],
    ['220 kHz', 'Hz', 220e3],
    ['2.2e-6', 'H', 2.2e-6],
    ['24', 'V', 24],
    ['24V', 'V', 24],
    ['−10', '°C', -10],
    ['50 °C', '°C', 50],
    ['50C', '°C', 50],
    ['35 %', '%', 0.35],
    ['35', '%', 0.35],
    ['1 M', 'Ω', 1e6],
    ['1 m', 'Ω', 1e-3],
    ['45 deg', '°', 45],
    ['10 dB', 'dB', 10],
  ] as [string, UnitName, number][])('%s as %s', (text, unit, expected) => {
    expect(value(text, unit)).toBe(expected);
  });

  test.each([
    ['8 A', 'V', 'dimension'],
    ['24 V', 'A', 'dimension'],
    ['', 'V', 'empty'],
    ['many', 'V', 'number'],
    ['12 parsecs', 'V', 'unit'],
    ['1,5', 'V', 'number'],
    ['1.000,5 V', 'V', 'number'],
    ['5 k', '°C', 'unit'],
    ['9'.repeat(400), 'V', 'number'],
  ] as [string, UnitName, string][])('%s refused as %s: %s', (text, unit, expected) => {
    expect(code(text, unit)).toBe(expected);
  });

  test('a refusal names the dimension that is wanted and shows how it is written', () => {
    const read = parseQuantity('8 V', 'A', 'brief.load.max');
    expect(read.ok ? undefined : read.problem).toEqual({
      code: 'dimension',
      where: 'brief.load.max',
      message: '"8 V" is a voltage, and this is a current',
      remedy: 'write it like 8 A',
    });
  });

  test('no text at all makes it throw or return something that is not finite', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), fc.constantFrom(...(Object.keys(UNITS) as UnitName[])), (text, unit) => {
        const read = parseQuantity(text, unit);
        expect(read.ok ? Number.isFinite(read.value) : read.problem.remedy.length > 0).toBe(true);
      }),
    );
  });

  test('what is printed reads back as itself, to the digits printed', () => {
    const amount = fc.double({ min: 1e-12, max: 1e9, noNaN: true });
    fc.assert(
      fc.property(amount, fc.constantFrom('V', 'A', 'Ω', 'H', 'F', 'Hz', 's', 'W') as fc.Arbitrary<UnitName>, (v, unit) => {
        expect(Math.abs(value(printQuantity(v, unit, 6), unit) / v - 1)).toBeLessThan(1e-5);
        expect(Math.abs(value(printTyped(v, unit, 9), unit) / v - 1)).toBeLessThan(1e-8);
      }),
    );
  });

  test('engineering notation carries into the next prefix when rounding does', () => {
    expect(printQuantity(999.96e-3, 'V')).toBe('1.00 V');
    expect(printQuantity(0.0004, 'A')).toBe('400 µA');
    expect(printQuantity(-2.5, 'A')).toBe('−2.50 A');
    expect(printQuantity(0, 'V')).toBe('0 V');
    expect(printQuantity(NaN, 'V')).toBe('–');
    expect(printQuantity(Infinity, 'dB')).toBe('∞ dB');
    expect(printTyped(22e-6, 'H')).toBe('22 µH');
  });

  test('ranges', () => {
    expect(parseRange('36–60 V', 'V')).toEqual({ ok: true, value: { min: 36, max: 60 } });
    expect(parseRange('36-60', 'V')).toEqual({ ok: true, value: { min: 36, max: 60 } });
    expect(parseRange('400 mA to 8 A', 'A')).toEqual({ ok: true, value: { min: 0.4, max: 8 } });
    expect(parseRange('180–220 kHz', 'Hz')).toEqual({ ok: true, value: { min: 180e3, max: 220e3 } });
    expect(parseRange('−10 to 50 °C', '°C')).toEqual({ ok: true, value: { min: -10, max: 50 } });
    expect(parseRange('60–36 V', 'V').ok).toBe(false);
    expect(parseRange('36', 'V').ok).toBe(false);
    for (const range of [{ min: 0.4, max: 8 }, { min: 36, max: 60 }, { min: -10, max: 50 }])
      expect(parseRange(printRange(range, range.min < 0 ? '°C' : 'A'), range.min < 0 ? '°C' : 'A')).toEqual({ ok: true, value: range });
  });
});

describe('preferred numbers', () => {
  test('the series have their length and stand in IEC 60063', () => {
    for (const [name, series] of Object.entries(SERIES)) expect(series).toHaveLength(Number(name.slice(1)));
    expect(SERIES.E6).toEqual([1, 1.5, 2.2, 3.3, 4.7, 6.8]);
    expect(SERIES.E96.slice(0, 5)).toEqual([1, 1.02, 1.05, 1.07, 1.1]);
    expect(SERIES.E192).toContain(9.2);
  });

  test('rounding up, down and to the nearest', () => {
    expect(preferred(23.4e-6, 'E12', 'up')).toBe(27e-6);
    expect(preferred(23.4e-6, 'E12', 'down')).toBe(22e-6);
    expect(preferred(23.4e-6, 'E12')).toBe(22e-6);
    expect(preferred(22e-6, 'E12', 'up')).toBe(22e-6);
    expect(preferred(9.9, 'E12', 'up')).toBe(10);
  });

  test('a preferred number is its own neighbour, and up is never below', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-9, max: 1e6, noNaN: true }), fc.constantFrom('E12', 'E24', 'E96'), (v, series) => {
        const up = preferred(v, series as 'E12', 'up');
        expect(up).toBeGreaterThanOrEqual(v * (1 - 1e-9));
        expect(preferred(up, series as 'E12', 'up')).toBe(up);
        expect(preferred(v, series as 'E12', 'down')).toBeLessThanOrEqual(v * (1 + 1e-9));
      }),
    );
  });
});

describe('areas and volumes, which take no prefix but have scales of their own', () => {
  test.each([
    [9.8e-5, 'm²', '98.0 mm²'],
    [2.4e-3, 'm²', '24.0 cm²'],
    [4.31e-6, 'm³', '4.31 cm³'],
    [4e-8, 'm³', '40.0 mm³'],
    [0, 'm²', '0 mm²'],
  ] as const)('%p in %s is printed as %s', (value, unit, text) => expect(printQuantity(value, unit)).toBe(text));
  test.each([
    ['98 mm²', 'm²', 9.8e-5],
    ['98mm2', 'm²', 9.8e-5],
    ['0.98 cm2', 'm²', 9.8e-5],
    ['9.8e-5 m²', 'm²', 9.8e-5],
    ['4.31 cm³', 'm³', 4.31e-6],
    ['4310 mm3', 'm³', 4.31e-6],
  ] as const)('%s is read', (text, unit, value) => {
    const read = parseQuantity(text, unit);
    expect(read.ok && read.value).toBeCloseTo(value, 12);
  });
  test('what is printed is read as the same, of every size', () => {
    fc.assert(fc.property(fc.double({ min: 1e-9, max: 0.05, noNaN: true }), fc.constantFrom('m²' as const, 'm³' as const), (v, unit) => {
      const read = parseQuantity(printQuantity(v, unit, 9), unit);
      expect(read.ok && Math.abs(read.value / v - 1)).toBeLessThan(1e-6);
    }));
  });
  test('a volume is no area', () => expect(parseQuantity('3 cm³', 'm²')).toMatchObject({ ok: false }));
});
