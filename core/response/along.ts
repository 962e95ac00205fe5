import { findMinimum } from '../linear/minimum';

/** Share of the logarithm of the frequency to which an extreme is found: its value is off by the square of that */
const WIDTH = 1e-5;

/**
 * The least value of something over the frequency, bracketed on a grid and then found between the neighbours of its least point.
 * @param f Hz, ascending @param samples of it there
 */
export function leastAlong(f: readonly number[], samples: readonly number[], at: (f: number) => number): { at: number; value: number } {
  let k = 0;
  samples.forEach((v, i) => v < samples[k]! && (k = i));
  const [low, high] = [f[Math.max(0, k - 1)]!, f[Math.min(f.length - 1, k + 1)]!];
  const found = findMinimum((x) => at(Math.exp(x)), Math.log(low), Math.log(high), { width: WIDTH });
  return found.value < samples[k]! ? { at: Math.exp(found.at), value: found.value } : { at: f[k]!, value: samples[k]! };
}
