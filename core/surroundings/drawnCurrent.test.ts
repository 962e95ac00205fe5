import fc from 'fast-check';
import { harmonicLimit, qualityOf } from './drawnCurrent';

/** Harmonics of a wave given over a period (0 to 2π), by the trapezoidal rule on many points: peaks, phases as of a sine. */
function harmonicsOf(wave: (t: number) => number, points = 40_000): { order: number; amplitude: number; phase: number }[] {
  return Array.from({ length: 41 }, (_, order) => {
    let [a, b] = [0, 0];
    for (let k = 0; k < points; k++) {
      const t = (2 * Math.PI * (k + 0.5)) / points;
      a += (2 / points) * wave(t) * Math.sin(order * t);
      b += (2 / points) * wave(t) * Math.cos(order * t);
    }
    return { order, amplitude: Math.hypot(a, b), phase: Math.atan2(b, a) };
  });
}
const rmsOf = (wave: (t: number) => number, points = 40_000): number => Math.sqrt(Array.from({ length: points }, (_, k) => wave((2 * Math.PI * (k + 0.5)) / points) ** 2).reduce((a, b) => a + b, 0) / points);
const mains = { amplitude: 230 * Math.SQRT2, phase: 0 };
const quality = (wave: (t: number) => number) => qualityOf(mains, harmonicsOf(wave), rmsOf(wave), 1, 'A');

test('a sine in step is all power; one that lags is so by its cosine alone', () => {
  expect(quality((t) => Math.sin(t))).toMatchObject({ powerFactor: expect.closeTo(1, 9), displacement: expect.closeTo(1, 9), distortion: expect.closeTo(0, 9), power: expect.closeTo(230 / Math.SQRT2, 6) });
  const lagging = quality((t) => Math.sin(t - Math.PI / 3));
  expect([lagging.powerFactor, lagging.displacement]).toEqual([expect.closeTo(0.5, 9), expect.closeTo(0.5, 9)]);
});

test('a square current: power factor 2√2/π, distortion √(π²/8 − 1), less what lies above the fortieth', () => {
  const { powerFactor, displacement, distortion } = quality((t) => Math.sign(Math.sin(t)));
  expect(powerFactor).toBeCloseTo((2 * Math.SQRT2) / Math.PI, 5);
  expect(displacement).toBeCloseTo(1, 9);
  let above = 0;
  for (let n = 41; n < 200_001; n += 2) above += 1 / n ** 2;
  expect(distortion).toBeCloseTo(Math.sqrt(Math.PI ** 2 / 8 - 1 - above), 4);
});

test('pulses of a sixth of the half period about the crest, as a rectifier with a capacitor draws: each harmonic by its closed form', () => {
  const half = Math.PI / 6;
  const wave = (t: number): number => (Math.abs(((t + 2 * Math.PI) % Math.PI) - Math.PI / 2) < half / 2 ? Math.sign(Math.sin(t)) : 0);
  const { harmonics, fundamental, powerFactor } = quality(wave);
  const peak = (n: number): number => (4 / (n * Math.PI)) * Math.abs(Math.sin((n * half) / 2));
  expect(fundamental).toBeCloseTo(peak(1) / Math.SQRT2, 3);
  for (const n of [3, 5, 7, 9, 11]) expect(harmonics.find((h) => h.order === n)!.value).toBeCloseTo(peak(n) / Math.SQRT2, 3);
  // rms of pulses is the root of their share; the fundamental alone gives power.
  expect(powerFactor).toBeCloseTo(peak(1) / Math.SQRT2 / Math.sqrt(half / Math.PI), 3);
});

test('limits as the standard tabulates them: a line of each table', () => {
  const drawn = { power: 100, powerFactor: 0.95, fundamental: 0.5 };
  const of = (c: 'A' | 'B' | 'C' | 'D', n: number): number => harmonicLimit(c, n, drawn);
  expect([of('A', 2), of('A', 3), of('A', 8), of('A', 13), of('A', 15), of('A', 39), of('A', 40)]).toEqual([1.08, 2.3, expect.closeTo(0.23, 12), 0.21, expect.closeTo(0.15, 12), expect.closeTo(0.15 * 15 / 39, 12), expect.closeTo(0.046, 12)]);
  expect([of('B', 3), of('B', 2)]).toEqual([expect.closeTo(3.45, 12), expect.closeTo(1.62, 12)]);
  expect([of('C', 2), of('C', 3), of('C', 5), of('C', 11), of('C', 39), of('C', 4)]).toEqual([0.01, expect.closeTo(0.3 * 0.95 * 0.5, 12), 0.05, 0.015, 0.015, Infinity]);
  expect([of('D', 3), of('D', 11), of('D', 13), of('D', 4)]).toEqual([expect.closeTo(0.34, 12), expect.closeTo(0.035, 12), expect.closeTo(0.385 / 13, 12), Infinity]);
  // What is drawn in class D is limited absolutely as well.
  expect(harmonicLimit('D', 3, { ...drawn, power: 600 })).toBeCloseTo(2.04, 12);
  expect(harmonicLimit('D', 3, { ...drawn, power: 5000 })).toBe(2.3);
  expect([of('A', 1), of('A', 41)]).toEqual([Infinity, Infinity]);
});

test('whatever is drawn: the power factor is the displacement over √(1 + distortion²), where nothing lies above', () => {
  fc.assert(fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 5, maxLength: 30 }), fc.double({ min: -1.5, max: 1.5, noNaN: true }), (sizes, angle) => {
    const all = [{ order: 0, amplitude: 0, phase: 0 }, { order: 1, amplitude: 2, phase: angle }, ...sizes.map((amplitude, k) => ({ order: k + 2, amplitude, phase: k }))];
    const rms = Math.sqrt(all.reduce((sum, h) => sum + h.amplitude ** 2 / 2, 0));
    const q = qualityOf(mains, all, rms, 2, 'D');
    expect(q.powerFactor).toBeCloseTo(q.displacement / Math.sqrt(1 + q.distortion ** 2), 9);
    if (q.tightest) for (const h of q.harmonics) expect(h.value / h.limit).toBeLessThanOrEqual(q.tightest.value / q.tightest.limit);
  }));
});
