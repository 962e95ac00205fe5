import fc from 'fast-check';
import { must } from '../../demo/open';
import { complex, degrees, over, phase, size, times, turn, type Complex } from '../linear/complex';
import { logSpaced } from '../response/system';
import { readMeasured } from './read';
import { measuredAt, misfit, plantBy } from './response';

/** A plant with a double pole, a zero and a delay. */
const plant = (f: number): Complex => times(over(times(complex(48), { re: 1, im: f / 9e4 }), { re: 1 - (f / 1500) ** 2, im: f / 1500 / 2 }), turn(-2 * Math.PI * f * 1e-6));
const frequencies = logSpaced(100, 1e5, 61);
const dB = (f: number): number => 20 * Math.log10(size(plant(f)));
const angle = (f: number): number => degrees(phase(plant(f)));

/** The text of a file that holds the plant, in a manner of writing. */
interface Manner {
  separator: string;
  comma: boolean;
  kHz: boolean;
  radians: boolean;
  ratio: boolean;
  cartesian: boolean;
  titled: boolean;
  /** Frequency behind the others, order of the rows turned round */
  last: boolean;
  down: boolean;
}
function written(m: Manner): string {
  const number = (v: number): string => (m.comma ? v.toPrecision(9).replace('.', ',') : v.toPrecision(9));
  const rows = (m.down ? frequencies.toReversed() : frequencies).map((f) => {
    const p = plant(f);
    const own = m.cartesian ? [p.re, p.im] : [m.ratio ? size(p) : dB(f), m.radians ? phase(p) : angle(f)];
    const first = m.kHz ? f / 1e3 : f;
    return (m.last ? [...own, first] : [first, ...own]).map(number).join(m.separator);
  });
  const own = m.cartesian ? ['real', 'imaginary'] : [m.ratio ? 'magnitude' : 'gain (dB)', m.radians ? 'phase (rad)' : 'phase (°)'];
  const head = m.kHz ? 'frequency (kHz)' : 'frequency (Hz)';
  const titles = (m.last ? [...own, head] : [head, ...own]).join(m.separator === ',' ? ',' : m.separator);
  return [...(m.titled ? ['# a cabin radio on the bench', `date${m.separator}2026-11-20`, titles] : []), ...rows].join('\n');
}
const manner: fc.Arbitrary<Manner> = fc
  .record({ separator: fc.constantFrom(',', ';', '\t', ' '), comma: fc.boolean(), kHz: fc.boolean(), radians: fc.boolean(), ratio: fc.boolean(), cartesian: fc.boolean(), titled: fc.boolean(), last: fc.boolean(), down: fc.boolean() })
  .map((m) => ({ ...m, comma: m.comma && m.separator !== ',', separator: m.titled && m.separator === ' ' ? '\t' : m.separator }));

test('a response is read the same in whatever order, unit and manner of writing its titles say', () => {
  fc.assert(
    fc.property(manner, (asked) => {
      // Without titles nobody can tell kHz, or a real part from a gain; those stand in the order of the trade.
      const m = asked.titled ? asked : { ...asked, kHz: false, cartesian: false, last: false };
      const { traces } = must(readMeasured(written(m)));
      expect(traces).toHaveLength(1);
      for (const f of [150, 1500, 2e4]) {
        const off = over(measuredAt(traces[0]!, f), plant(f));
        expect(size(off)).toBeCloseTo(1, 1);
        expect(Math.abs(degrees(phase(off)))).toBeLessThan(2);
      }
      expect(traces[0]!.frequency[0]! / 100).toBeCloseTo(1, 6);
    }),
  );
});

test('several traces, wrapped phase, frequencies twice and in no order: read, and said', () => {
  const text = ['f/Hz;cold dB;cold phase °;hot dB;hot phase °', ...[300, 100, 200, 200, 400, 500].map((f) => `${f};${-f / 100};${((-100 - f / 2 + 540) % 360) - 180};${-f / 90};-30`)].join('\n');
  const { traces, remarks, columns } = must(readMeasured(text));
  expect(traces.map((t) => t.title)).toEqual(['cold dB', 'hot dB']);
  expect(traces[0]!.frequency).toEqual([100, 200, 300, 400, 500]);
  expect(traces[0]!.phase.map(Math.round)).toEqual([-150, -200, -250, -300, -350]);
  expect(remarks).toEqual([expect.stringContaining('no order'), expect.stringContaining('twice')]);
  expect(columns.map((c) => c.role)).toEqual(['frequency', 'gain dB', 'phase °', 'gain dB', 'phase °']);
  // Corrected: the hot ones are not wanted.
  expect(must(readMeasured(text, ['frequency', 'gain dB', 'phase °', 'ignored', 'ignored'])).traces).toHaveLength(1);
});

test.each([
  ['nothing', '', 'empty', 'file'],
  ['blank lines', '\n \n', 'empty', 'file'],
  ['words only', 'here is\nno number', 'empty', 'file'],
  ['one row', 'f,dB,phase\n100,1,2', 'empty', 'dB'],
  ['a hole in it', '100,1,2\n200,x,3\n300,1,2', 'value', 'line 2'],
  ['a phase of ten thousand turns', 'f,dB,phase °\n100,1,2\n200,1,4e6', 'value', 'phase °'],
  ['no frequency', 'real,imaginary\n-1,2\n-2,3', 'columns', 'file'],
  ['frequency and gain alone', 'f,dB\n100,1\n200,2', 'columns', 'file'],
  ['a frequency of nothing', 'f,dB,phase\n0,1,2\n200,2,3', 'value', 'row 1'],
])('%s: told, and what would do', (_, text, code, where) => {
  const found = readMeasured(text);
  expect(found.ok ? '' : [found.problem.code, found.problem.where]).toEqual([code, where]);
  expect(found.ok ? '' : found.problem.remedy).not.toBe('');
});

test('whatever stands in a file, it is read or refused in bounded time, and nothing that is no number comes of it', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.oneof(fc.double({ noNaN: true, min: -1e6, max: 1e6 }).map(String), fc.constantFrom('', 'x', 'NaN', '1e999', '-', '1,5', '="2"', '"')), { maxLength: 6 }), { maxLength: 12 }), fc.constantFrom(',', ';', '\t', ' '), (rows, separator) => {
      const found = readMeasured(rows.map((r) => r.join(separator)).join('\n'));
      if (!found.ok) return expect(found.problem.message).not.toBe('');
      for (const t of found.value.traces) for (const v of [...t.frequency, ...t.gain, ...t.phase]) expect(Number.isFinite(v)).toBe(true);
    }),
  );
});

test('200 MB are refused before they are looked at', () => {
  const begun = performance.now();
  const found = readMeasured('1,2,3\n'.repeat(9_000_000));
  expect(found.ok ? '' : found.problem.code).toBe('size');
  expect(performance.now() - begun).toBeLessThan(2000);
});

test('a plant by division: of a loop gain, and of a closed loop, by the compensator that was in it', () => {
  const C = (f: number): Complex => over({ re: 1, im: f / 800 }, times({ re: 0, im: f / 50 }, { re: 1, im: f / 3e4 }));
  const traceOf = (y: (f: number) => Complex) => {
    const text = logSpaced(100, 1e5, 400).map((f) => `${f},${20 * Math.log10(size(y(f)))},${degrees(phase(y(f)))}`).join('\n');
    return must(readMeasured(text)).traces[0]!;
  };
  const L = (f: number): Complex => times(plant(f), C(f));
  for (const f of [200, 3e3, 4e4]) {
    for (const [kind, y] of [['loop', L], ['closed', (x: number): Complex => over(L(x), { re: 1 + L(x).re, im: L(x).im })], ['plant', plant]] as const) {
      const off = over(plantBy(kind, traceOf(y), C)(f), plant(f));
      // Dividing by 1 − T makes of what lies between two points as much more as the loop has gain.
      expect(Math.abs(size(off) - 1)).toBeLessThan(0.01);
      expect(Math.abs(degrees(phase(off)))).toBeLessThan(1);
    }
  }
});

test('a misfit is what was added: 0.5 dB and 3° everywhere, as rms and where it is largest', () => {
  const text = frequencies.map((f) => `${f},${dB(f) + 0.5},${angle(f) + 3}`).join('\n');
  const m = misfit(must(readMeasured(text)).traces[0]!, plant)!;
  expect([m.gain, m.phase]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(3, 6)]);
  expect(m.points).toBe(frequencies.length);
  expect(misfit(must(readMeasured(text)).traces[0]!, plant, 1e6)).toBeUndefined();
});
