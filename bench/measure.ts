import { apply } from '../core/linear/dense';

/** Timing for the bench: medians, since machines are noisy. */

/** Median milliseconds of one call, after warming up; calls are batched until a batch takes 5 ms. */
export function median(work: () => unknown, rounds = 25, warmUp = 5): number {
  for (let k = 0; k < warmUp; k++) work();
  let batch = 1;
  for (;;) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    if (performance.now() - start > 5 || batch > 1e6) break;
    batch *= 2;
  }
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    times.push((performance.now() - start) / batch);
  }
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)]!;
}

/** How fast this machine is just now: an 8×8 product in ns. Targets are for machines that take 120 to 180. */
export function machineSpeed(): number {
  const a = Float64Array.from({ length: 64 }, (_, i) => Math.sin(i) / 8);
  let x: Float64Array = new Float64Array(8).fill(1);
  let y: Float64Array = new Float64Array(8);
  const turns = 20_000;
  const taken = median(() => {
    x.fill(1);
    for (let k = 0; k < turns; k++) {
      apply(a, x, y, 8);
      const spare = x;
      x = y;
      y = spare;
    }
  }, 9);
  return (taken / turns) * 1e6;
}

export interface Line {
  what: string;
  found: string;
  target: string;
  met: boolean | undefined;
}

export function print(title: string, lines: readonly Line[]): void {
  console.log(`\n${title}`);
  const width = (key: 'what' | 'found' | 'target'): number => Math.max(...lines.map((l) => l[key].length));
  for (const l of lines)
    console.log(`  ${l.what.padEnd(width('what'))}  ${l.found.padStart(width('found'))}   target ${l.target.padEnd(width('target'))}  ${l.met === undefined ? '' : l.met ? 'met' : 'NOT MET'}`);
}
