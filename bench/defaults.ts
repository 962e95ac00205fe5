import { newDesign } from '../core/proposal';
import { cornerPoints, judge } from '../core/corners/corners';
import { sensibleBriefs } from '../core/testing/sensible';
import { TOPOLOGIES } from '../core/topology';
import { SHELF } from '../shelf';

/** One row for each topology that accepts a brief: does the design made for it hold, and if not, what fails most? As JSON lines; scripts/defaults.mjs gathers them. */

const [count, seed, part, parts] = process.argv.slice(2).map(Number) as [number, number, number, number];
sensibleBriefs(count, seed).forEach((asked, brief) => {
  if (brief % parts !== part) return;
  for (const t of TOPOLOGIES) {
    const begun = performance.now();
    const made = newDesign(asked, t.id, SHELF);
    const ms = performance.now() - begun;
    const say = (row: object): void => console.log(JSON.stringify({ brief, topology: t.id, ms, ...row }));
    if (!made.ok) {
      if (made.problem.code !== 'impossible') say({ refused: `${made.problem.code} ${made.problem.where}` });
      continue;
    }
    const { design } = made.value;
    const rooms: Record<string, number> = {};
    for (const point of cornerPoints(design)) {
      const c = judge(design, point);
      if (c.problem) rooms[c.problem.code] = -1;
      for (const r of c.requirements) rooms[r.id] = Math.min(rooms[r.id] ?? 1, r.room);
    }
    const fails = Object.entries(rooms).filter(([, room]) => !(room >= 0)).sort((a, b) => a[1] - b[1]);
    say({ met: fails.length === 0, fails: fails.map(([id]) => id), rooms, asked });
  }
  if (!TOPOLOGIES.length) return;
});
