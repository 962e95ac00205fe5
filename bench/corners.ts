import { parentPort } from 'node:worker_threads';
import { cornerPoints, judge } from '../core/corners/corners';
import type { Design } from '../core/design';

/** One thread's share of a region of 9 lines × 5 loads. */
parentPort!.on('message', ({ design, part, of }: { design: Design; part: number; of: number }) => {
  const corners = cornerPoints(design);
  const [lines, loads] = [corners.map((c) => c.line), corners.map((c) => c.load)].map((list) => [Math.min(...list), Math.max(...list)] as const) as [readonly [number, number], readonly [number, number]];
  const points = Array.from({ length: 45 }, (_, k) => ({
    line: lines[0] + ((lines[1] - lines[0]) * (k % 9)) / 8,
    load: loads[0] + ((loads[1] - loads[0]) * Math.floor(k / 9)) / 4,
    air: corners[0]!.air,
  }));
  const held = points.filter((_, k) => k % of === part).map((p) => judge(design, p).holds);
  parentPort!.postMessage(held.length);
});
