import fc from 'fast-check';
import { times, type Complex } from '../linear/complex';
import { bandOf, bode, margins } from './margins';
import { refined } from './refine';
import { logSpaced } from './system';

const over = (re: number, im: number): Complex => ({ re: re / (re * re + im * im), im: -im / (re * re + im * im) });
/** A second-order resonance at f0 with quality Q, one at dc. */
const resonance = (f: number, f0: number, Q: number): Complex => over(1 - (f / f0) ** 2, f / f0 / Q);

test('a narrow resonance does not slip through a grid of 200 points: its peak within half a dB, where it is known', () => {
  fc.assert(
    fc.property(fc.double({ min: 300, max: 30_000, noNaN: true }), fc.double({ min: 20, max: 2000, noNaN: true }), (f0, Q) => {
      const at = (list: readonly number[]): Complex[] => list.map((f) => resonance(f, f0, Q));
      const { response } = refined(logSpaced(10, 1e6, 200), at, [f0]);
      const peak = Math.max(...response.map((v) => Math.hypot(v.re, v.im)));
      expect(Math.abs(20 * Math.log10(peak / Q))).toBeLessThan(0.5);
    }),
  );
});

test('crossings that a resonance adds are found, and with them the margin that is least', () => {
  // An integrator that crosses at 1 kHz, and a resonance far above that lifts it through one again.
  const loop = (f: number): Complex => times(over(0, f / 1000), resonance(f, 20_000, 200));
  const { frequency, response } = refined(logSpaced(10, 1e6, 60), (list) => list.map(loop), [20_000]);
  const found = margins(loop, bode(frequency, response));
  expect(found.dip!.marginAt).toBeGreaterThan(15_000);
  expect(found.crossover).toBeLessThan(1100);
  expect(found.phaseMargin).toBeLessThan(0);
});

test('a smooth response gets no more points than it was given', () => {
  const { frequency } = refined(logSpaced(10, 1e6, 200), (list) => list.map((f) => over(1, f / 1000)));
  expect(frequency).toHaveLength(200);
});

test('no crossover on the grid is said, with the side that the gain stays on', () => {
  const flat = (gain: number) => (): Complex => ({ re: gain, im: 0 });
  const grid = logSpaced(10, 1000, 20);
  for (const [gain, side] of [[0.1, 'below'], [10, 'above']] as const) expect(margins(flat(gain), bode(grid, grid.map(flat(gain)))).beyond).toBe(side);
});

test('a band over curves whose points differ: each read between its own, none beyond its end', () => {
  const curve = (n: number, from: number, gain: number) => bode(logSpaced(from, 1e5, n), logSpaced(from, 1e5, n).map((f) => over(0, f / gain)));
  const band = bandOf([curve(50, 10, 1000), curve(77, 10, 4000), curve(33, 1000, 100)])!;
  band.frequency.forEach((f, i) => {
    // At the ends rounding decides which curves are there.
    if (f > 0.999e5 || Math.abs(f / 1000 - 1) < 0.01) return;
    expect(band.gain[i]![1]).toBeCloseTo(20 * Math.log10(4000 / f), 6);
    expect(band.gain[i]![0]).toBeCloseTo(20 * Math.log10((f < 1000 ? 1000 : 100) / f), 6);
    expect(band.phase[i]![0]).toBeCloseTo(-90, 6);
  });
});
