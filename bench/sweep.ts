import { parentPort } from 'node:worker_threads';
import type { Design } from '../core/design';
import { sweepOne, type Axis } from '../core/sweep';
import type { OperatingPoint } from '../core/topology';

/** Some runs of a sweep, one after the other: one at a time as the application asks, or a thread's whole share at once. */
parentPort!.on('message', ({ design, point, axes, ks }: { design: Design; point: OperatingPoint; axes: Axis[]; ks: number[] }) => {
  for (const k of ks) sweepOne(design, point, axes, k);
  parentPort!.postMessage(ks.length);
});
