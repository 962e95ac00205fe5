import { MOST_CAPTURED } from './types';

/**
 * So much of a capture as a design carries: all of it where it is short, else of equal stretches their least and their most in
 * the order they come, so that no spike is lost.
 */
export function carried(time: Float64Array, value: Float64Array, most = MOST_CAPTURED): { time: number[]; value: number[] } {
  const n = time.length;
  if (n <= most) return { time: [...time], value: [...value] };
  const bins = Math.floor(most / 2);
  const out: { time: number[]; value: number[] } = { time: [], value: [] };
  for (let k = 0; k < bins; k++) {
    const [a, b] = [Math.floor((k * n) / bins), Math.floor(((k + 1) * n) / bins)];
    let [low, high] = [a, a];
    for (let i = a; i < b; i++) {
      if (value[i]! < value[low]!) low = i;
      if (value[i]! > value[high]!) high = i;
    }
    for (const i of low < high ? [low, high] : [high, low]) {
      out.time.push(time[i]!);
      out.value.push(value[i]!);
    }
  }
  return out;
}
