import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { cornerPoints } from '../core/corners/corners';
import { lossMapAxes, lossRow } from '../core/corners/lossMap';
import { movesOf } from '../core/corners/moves';
import { worstInRegion } from '../core/corners/worst';
import { editDesign, readDesign, type Design } from '../core/design';
import { underProfile } from '../core/evaluation/profile';
import { warmingOf } from '../core/evaluation/warming';
import { windingStudy } from '../core/evaluation/winding';
import { GOODS } from '../shelf';
import { median, per, print, Rounds, time, type Timing } from './measure';

/** Losses, windings and heat, on the demo design and one thread. */

const must = <T>(r: { ok: true; value: T } | { ok: false; problem: { message: string } }): T => {
  if (!r.ok) throw new Error(r.problem.message);
  return r.value;
};
const design: Design = must(readDesign(readFileSync('demo/cabin-lighting-rail.json', 'utf8')));
const point = { line: 48, load: 8, air: 50 };
let moved = 0;
/** A design of which nothing is remembered. */
const other = (): Design => must(editDesign(design, { 'sink.thermalResistance': 7 * (1 + 1e-7 * ++moved) }));
const hour = { time: Float64Array.from({ length: 3601 }, (_, k) => k), load: Float64Array.from({ length: 3601 }, (_, k) => 4 + 4 * Math.sin(k / 60)) };

print('Losses, windings, heat, one thread', [
  time('a map of 30 × 30 settled points (8 s asked of two threads)', median(() => {
    const d = other();
    const { x, load } = lossMapAxes(d, 'line');
    return load.map((l) => lossRow(d, 'line', l, x, point));
  }, 3, 1), 16_000),
  time('an hour and more of warm-up from the air', median(() => must(warmingOf(other(), point)), 9, 2), 500),
  time('an hour of a load that changes every second', median(() => must(underProfile(other(), point, hour)), 5, 1)),
  time('the best winding of every core of the shelf, and over the turns', median(() => must(windingStudy(other(), 'L1', point, GOODS, cornerPoints(design))), 3, 1), 2000),
]);

/** Draws of a round, of which the first also compiles; and those asked for. */
const [DRAWS, ROUNDS, ASKED] = [40, 3, 1000];

/** A thousand draws at nine corners by two threads, from rounds of some. */
async function drawing(): Promise<Timing> {
  const threads = [0, 1].map(() => new Worker(new URL('./draws.mjs', import.meta.url)));
  const round = (): Promise<unknown> => Promise.all(threads.map((w, k) => new Promise((done) => (w.once('message', done), w.postMessage({ design, from: k * DRAWS, count: DRAWS / 2 })))));
  await round();
  const rounds = new Rounds();
  for (let k = 0; k < ROUNDS; k++) {
    const begin = performance.now();
    await round();
    rounds.add(performance.now() - begin);
  }
  for (const w of threads) void w.terminate();
  return per(rounds.median, DRAWS / ASKED);
}

print('The verdict', [
  time('1,000 draws at nine corners, two threads (from rounds of 40)', await drawing(), 45_000),
  time('the whole region of the cabin rail searched for the worst of every requirement', median(() => worstInRegion(other()), 5, 1), 2000),
  time('what moves the hottest junction: every value turned by a hundredth', median(() => movesOf(other(), 'junction', point), 5, 1), 300),
  time('what moves the load step: every value turned by a hundredth', median(() => movesOf(other(), 'deviation', { line: 36, load: 0.4, air: 50 }), 5, 1), 300),
]);
