import { parentPort } from 'node:worker_threads';
import { cornerPoints } from '../core/corners/corners';
import { drawn, tolerancesOf } from '../core/corners/spread';
import type { Design } from '../core/design';

/** One thread's share of draws at the nine corners. */
parentPort!.on('message', ({ design, from, count }: { design: Design; from: number; count: number }) => {
  const [tolerances, points] = [tolerancesOf(design), cornerPoints(design)];
  let holding = 0;
  for (let k = 0; k < count; k++) holding += Number(drawn(design, tolerances, 1, from + k, points).holds);
  parentPort!.postMessage(holding);
});
