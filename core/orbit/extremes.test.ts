import fc from 'fast-check';
import { buildStepTable, climb, type StepTable } from '../linear/stepTable';
import { dot } from '../linear/dense';
import { extremesAlong } from './measure';

/** Least and largest of a quantity along an interval: never missed, never overstated. */

/** x' = F x with a constant as last state, so that there is something to settle to. */
const table = (rows: number[][], top: number): StepTable => buildStepTable(Float64Array.from(rows.flat()), top, rows.length);
/** An R-L-C driven by a step: current and voltage about their end values, natural frequency w (rad/s), damping ratio d. */
const ring = (w: number, d: number, top: number): StepTable => table([[0, w, 0], [-w, -2 * d * w, 0], [0, 0, 0]], top);
const value = (t: StepTable, row: Float64Array, z0: Float64Array, at: number): number => dot(row, at === 0 ? z0 : climb(t, z0, at), t.size);

test('a swing that dies: the first turn is the largest, exp(−πζ/√(1−ζ²)) of what it began with, half a turn later', () => {
  for (const d of [0.02, 0.1, 0.4, 0.7]) {
    const w = 1e6;
    const t = ring(w, d, 1e-6);
    const found = extremesAlong(t, Float64Array.of(1, 0, 0), Float64Array.of(1, 0, 1), 40e-6);
    expect(found.max).toBeCloseTo(1, 12);
    expect(found.min).toBeCloseTo(-Math.exp((-Math.PI * d) / Math.sqrt(1 - d * d)), 9);
    expect(found.minAt * w * Math.sqrt(1 - d * d)).toBeCloseTo(Math.PI, 5);
  }
});

test('what rings for a hundred thousand turns and hardly dies reaches furthest in its first, up and down', () => {
  for (const duration of [0.1, 1]) {
    const w = 2 * Math.PI * 1e6;
    const t = ring(w, 1e-7, duration / 100);
    const found = extremesAlong(t, Float64Array.of(1, 0, 0), Float64Array.of(0.6, 0.8, 1), duration);
    // Energy: |z| = 1 to the dying of the first turn.
    expect(found.max).toBeCloseTo(1, 6);
    expect(found.min).toBeCloseTo(-1, 6);
    expect(found.maxAt).toBeLessThan(1e-5);
  }
});

test('on what climbs slowly while it rings on, the top is where both are high: near the end', () => {
  // Third state: a ramp that a fourth drives; the quantity is their sum.
  const w = 2 * Math.PI * 1e6;
  const duration = 0.05;
  const t = table([[0, w, 0, 0], [-w, -2e-7 * w, 0, 0], [0, 0, 0, 1], [0, 0, 0, 0]], duration / 100);
  const found = extremesAlong(t, Float64Array.of(1, 0, 1, 0), Float64Array.of(0.1, 0, 0, 100), duration);
  // 100/s for 50 ms is 5, and a tenth of its ring that has died by e^(−ζωt).
  expect(found.max).toBeCloseTo(5 + 0.1 * Math.exp(-1e-7 * w * duration), 3);
  expect(found.maxAt).toBeGreaterThan(0.99 * duration);
  expect(found.min).toBeGreaterThanOrEqual(-0.1);
  expect(found.minAt).toBeLessThan(1e-5);
});

test('of any two rings, whatever their damping and the row: no sample lies beyond, and the extremes are values of it', () => {
  const entry = fc.double({ min: -1, max: 1, noNaN: true });
  const speed = fc.double({ min: 4, max: 7, noNaN: true }).map((e) => 10 ** e);
  const damping = fc.double({ min: -4, max: -0.1, noNaN: true }).map((e) => 10 ** e);
  fc.assert(
    fc.property(speed, damping, speed, damping, fc.array(entry, { minLength: 5, maxLength: 5 }), fc.array(entry, { minLength: 5, maxLength: 5 }), fc.double({ min: 0.1, max: 60, noNaN: true }), (w1, d1, w2, d2, row, z, turns) => {
      const t = table([[0, w1, 0, 0, 0], [-w1, -2 * d1 * w1, 0, 0, 0], [0, 0, 0, w2, 0], [0, 0, -w2, -2 * d2 * w2, 0], [0, 0, 0, 0, 0]], turns / Math.min(w1, w2) / 40);
      const duration = turns / Math.min(w1, w2);
      const [c, z0] = [Float64Array.from(row), Float64Array.from([...z.slice(0, 4), 1])];
      const found = extremesAlong(t, c, z0, duration);
      const scale = c.reduce((s, v, i) => s + Math.abs(v * z0[i]!), 1e-3);
      for (let k = 0; k <= 200; k++) {
        const y = value(t, c, z0, (duration * k) / 200);
        expect(y).toBeLessThan(found.max + 1e-6 * scale);
        expect(y).toBeGreaterThan(found.min - 1e-6 * scale);
      }
      expect(value(t, c, z0, found.maxAt)).toBeCloseTo(found.max, 6);
      expect(value(t, c, z0, found.minAt)).toBeCloseTo(found.min, 6);
    }),
    { numRuns: 60 },
  );
});

test('what stands still is its own least and most', () => {
  const t = table([[0, 0], [0, 0]], 1e-6);
  expect(extremesAlong(t, Float64Array.of(2, 1), Float64Array.of(3, 1), 1)).toMatchObject({ min: 7, max: 7 });
});
