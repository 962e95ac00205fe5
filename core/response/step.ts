import { apply, dot } from '../linear/dense';
import { exponentialStep } from '../linear/exponential';
import { buildStepTable } from '../linear/stepTable';
import { extremesAlong } from '../orbit/measure';
import type { LinearSystem } from './system';

const PIECES = 128;
const POINTS = 257;

/** What y does after a disturbance, less where it stood. */
export interface StepFigures {
  time: number[];
  value: number[];
  /** Largest |y|; infinite where the loop is not stable */
  deviation: number;
  /** s until |y| stays within a tenth of that */
  recovery: number;
}

/**
 * Deviation of y after a step on one input of a closed loop, which takes `rise` to come: largest |y| (extremes located
 * on the exact response, not on the drawing points) and the time until |y| stays within a tenth of it.
 *
 * @param amount size of the step in the input's unit
 * @param stable false: there is nothing to measure, the deviation is infinite
 * @param crossover Hz, sets how long to look: forty radians of it
 * @param rise s that the input takes, at a constant rate; 0 for a step at once
 */
export function stepFigures(closed: LinearSystem, input: number, amount: number, stable: boolean, crossover: number, rise = 0): StepFigures {
  const size = closed.n + 2;
  const [u, one] = [closed.n, closed.n + 1];
  const row = new Float64Array(size);
  row.set(closed.c);
  row[u] = closed.d[input]!;
  /** States x, then the input, then a one that its rate stands beside */
  const system = (rate: number): Float64Array => {
    const F = new Float64Array(size * size);
    for (let i = 0; i < closed.n; i++) {
      for (let j = 0; j < closed.n; j++) F[i * size + j] = closed.A[i * closed.n + j]!;
      F[i * size + u] = closed.b[input]![i]!;
    }
    F[u * size + one] = rate;
    return F;
  };
  const duration = 40 / (2 * Math.PI * crossover) + rise;
  const time: number[] = [];
  const value: number[] = [];
  let most = 0;
  let z = new Float64Array(size);
  z[one] = 1;
  const follow = (rate: number, from: number, seconds: number): void => {
    const F = system(rate);
    const points = Math.max(2, Math.ceil((POINTS * seconds) / duration));
    if (stable) {
      const { min, max } = extremesAlong(buildStepTable(F, seconds / PIECES, size), row, z, seconds);
      most = Math.max(most, Math.abs(min), Math.abs(max));
    }
    const { phi } = exponentialStep(F, seconds / (points - 1), size);
    for (let k = 0; k < points; k++) {
      time.push(from + (k * seconds) / (points - 1));
      value.push(dot(row, z, size));
      if (k === points - 1) break;
      const next = new Float64Array(size);
      apply(phi, z, next, size);
      z = next;
    }
  };
  if (rise > 0) follow(amount / rise, 0, rise);
  else z[u] = amount;
  follow(0, rise, duration - rise);
  if (!stable) return { time, value, deviation: Infinity, recovery: Infinity };
  const outside = value.findLastIndex((v) => Math.abs(v) > most / 10);
  return { time, value, deviation: most, recovery: outside < 0 ? 0 : outside === value.length - 1 ? Infinity : time[outside]! };
}
