import { solveStiff } from './stiff';

/** The tests' own solver of stiff equations: closed forms, and an error that goes with the tolerance asked. */

const one = Float64Array.of(1, 1);

test.each([1e-4, 1e-6, 1e-8, 1e-10])('an oscillation over twenty periods, to %s a step', (tolerance) => {
  const w = 2 * Math.PI;
  const { y, steps } = solveStiff(Float64Array.of(0, w, -w, 0), Float64Array.of(1, 0), 20.25, one, tolerance);
  // After a whole number of periods and a quarter: all of it is in the other state.
  expect(Math.hypot(y[0]!, y[1]! + 1)).toBeLessThan(2 * steps * tolerance);
});

test('eleven decades of time constants: the fast one is gone, the slow one is exact', () => {
  // ẏ0 = −y0 + y1, ẏ1 = −1e11 y1: y0 = e^−t + (e^−t − e^−1e11 t)/(1e11 − 1)
  const { y, steps } = solveStiff(Float64Array.of(-1, 1, 0, -1e11), Float64Array.of(1, 1), 2, one, 1e-11);
  expect(Math.abs(y[0]! - Math.exp(-2) * (1 + 1e-11))).toBeLessThan(steps * 1e-11);
  expect(Math.abs(y[1]!)).toBeLessThan(1e-10);
  expect(steps).toBeLessThan(2000);
});
