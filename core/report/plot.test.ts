import { XMLParser } from 'fast-xml-parser';
import fc from 'fast-check';
import type { Block } from './blocks';
import { barsSvg, plotSvg } from './plot';

type Plot = Extract<Block, { kind: 'plot' }>;
const plot = (more: Partial<Plot> = {}): Plot => ({ kind: 'plot', title: 'a < b', x: { title: 'time', unit: 's' }, y: { title: '', unit: 'V' }, lines: [{ title: 'one', x: [0, 1e-6, 2e-6], y: [0, 5, 0] }], ...more });
const parsed = (svg: string): { svg: Record<string, unknown> } => new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' }).parse(svg) as { svg: Record<string, unknown> };
const texts = (svg: string): string[] => [...svg.matchAll(/<text[^>]*>([^<]*)<\/text>/g)].map((m) => m[1]!);

test('a plot is XML with its title escaped, ticks in the units of its axes', () => {
  const svg = plotSvg(plot());
  expect(parsed(svg).svg.title).toBe('a < b');
  expect(texts(svg)).toEqual(expect.arrayContaining(['0 s', '1 µs', '5 V', 'time']));
});

test('a logarithmic axis has its decades, angles quarters of a right angle', () => {
  const svg = plotSvg(plot({ x: { title: 'frequency', unit: 'Hz', log: true }, y: { title: 'phase', unit: '°' }, lines: [{ title: 'loop', x: [100, 1e3, 1e4, 1e5], y: [-90, -100, -130, -200] }] }));
  expect(texts(svg)).toEqual(expect.arrayContaining(['100 Hz', '1 kHz', '10 kHz', '100 kHz', '−90°', '−135°', '−180°']));
});

test('a limit outside of what is drawn widens it; a mark and several names stand where they are', () => {
  const svg = plotSvg(plot({ levels: [{ at: 20, title: 'limit' }], marks: [{ at: 1e-6, title: 'here' }], lines: [{ title: 'one', x: [0, 2e-6], y: [0, 5] }, { title: 'two', x: [0, 2e-6], y: [5, 0] }] }));
  expect(texts(svg)).toEqual(expect.arrayContaining(['limit', 'here', 'one', 'two', '20 V']));
  expect(svg.match(/stroke-dasharray="6 3"/g)).toHaveLength(1);
});

test('long lines are thinned, their ends kept; nothing that is no number is drawn', () => {
  const n = 50_000;
  const x = Float64Array.from({ length: n }, (_, k) => k);
  const svg = plotSvg(plot({ lines: [{ title: 'long', x, y: x.map((v) => Math.sin(v / 1e3)) }] }));
  expect(svg.length).toBeLessThan(60_000);
  // Two that differ by the last numbers there are.
  expect(plotSvg(plot({ lines: [{ title: 'least', x: [0, 1], y: [1e-323, 5e-324] }] }))).not.toMatch(/NaN/);
  fc.assert(fc.property(fc.array(fc.oneof(fc.double(), fc.constant(NaN), fc.constant(Infinity), fc.constant(3)), { minLength: 1, maxLength: 12 }), (values) => {
    const tame = values.map((v) => (Math.abs(v) > 1e100 ? NaN : v));
    const drawn = plotSvg(plot({ lines: [{ title: 'any', x: tame.map((_, k) => k * 1e-6), y: tame }] }));
    expect(drawn).not.toMatch(/NaN|Infinity|undefined/);
    expect(() => parsed(drawn)).not.toThrow();
  }));
});

test('bars: each as long as its watts beside the longest, pieces named', () => {
  const svg = barsSvg({ kind: 'bars', title: 'losses', unit: 'W', bars: [{ title: 'Q1', parts: [{ title: 'conduction', value: 2 }, { title: 'overlap', value: 1 }] }, { title: 'L1', parts: [{ title: 'copper', value: 1.5 }] }] });
  const widths = [...svg.matchAll(/<rect[^>]*width="([\d.]+)"/g)].map((m) => Number(m[1]));
  expect(widths[0]! / widths[1]!).toBeCloseTo(2, 1);
  expect((widths[0]! + widths[1]!) / widths[2]!).toBeCloseTo(2, 1);
  expect(texts(svg)).toEqual(['Q1', '3 W', 'L1', '1.5 W']);
  expect(svg).toContain('<title>conduction: 2 W</title>');
});
