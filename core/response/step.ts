import { buildLadder } from '../linear/ladder';
import { extremesAlong } from '../orbit/measure';
import { stepResponse, type LinearSystem } from './system';

const PIECES = 128;
const POINTS = 257;

/**
 * Deviation of y after a step on one input of a closed loop: largest |y| (extremes located on the
 * exact response, not on the drawing points) and the time until |y| stays within a tenth of it.
 *
 * @param amount size of the step in the input's unit
 * @param stable false: there is nothing to measure, the deviation is infinite
 * @param crossover Hz, sets how long to look: forty radians of it
 */
export function loadStepFigures(
  closed: LinearSystem,
  input: number,
  amount: number,
  stable: boolean,
  crossover: number,
): { time: number[]; value: number[]; deviation: number; recovery: number } {
  const duration = 40 / (2 * Math.PI * crossover);
  const drawn = stepResponse(closed, input, duration, POINTS);
  const value = drawn.value.map((v) => v * amount);
  if (!stable) return { time: drawn.time, value, deviation: Infinity, recovery: Infinity };

  const size = closed.n + 1;
  const F = new Float64Array(size * size);
  for (let i = 0; i < closed.n; i++) {
    for (let j = 0; j < closed.n; j++) F[i * size + j] = closed.A[i * closed.n + j]!;
    F[i * size + closed.n] = closed.b[input]![i]! * amount;
  }
  const row = new Float64Array(size);
  row.set(closed.c);
  row[closed.n] = closed.d[input]! * amount;
  const z0 = new Float64Array(size);
  z0[closed.n] = 1;
  const { min, max } = extremesAlong(buildLadder(F, duration / PIECES, size), row, z0, duration);
  const deviation = Math.max(Math.abs(min), Math.abs(max));
  const outside = value.findLastIndex((v) => Math.abs(v) > deviation / 10);
  return { time: drawn.time, value, deviation, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : drawn.time[outside]! };
}
