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
