import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { holdCorners } from '../core/corners/corners';
import { worstInRegion } from '../core/corners/worst';
import { junitOf } from '../core/corners/junit';
import { change, openDemo } from '../demo/open';
import { caught as reed } from './caught';

/** The verdict from the command line: over the region, against another design, and for continuous integration. */

const demo = 'demo/cabin-lighting-rail.json';
const rail = openDemo('cabin-lighting-rail');
const folder = mkdtempSync(path.join(tmpdir(), 'reed-verdict-'));

test('region: the worst point of every requirement, the exit code by the verdict, and what moves the tightest', () => {
  const verdict = worstInRegion(rail);
  const { code, out } = reed('region', demo, '--moves', '--json');
  const said = JSON.parse(out) as { holds: boolean; points: number; worst: { id: string; value: number; nowhere: number }[]; moves: { path: string }[]; cure: { standing: { holds: boolean } } };
  expect([code, said.holds, said.points]).toEqual([1, false, verdict.points]);
  expect(said.worst.map((w) => w.id)).toEqual(verdict.worst.map((w) => w.id));
  said.worst.forEach((w, k) => expect(w.value / verdict.worst[k]!.value).toBeCloseTo(1, 9));
  expect(said.cure.standing.holds).toBe(true);
  expect(reed('region', demo).out).toContain('FAILS in the whole region');
  expect(reed('region', 'nothing.json')).toMatchObject({ code: 2 });
});

test('diff: what is set differently and what it does; worse is an exit code of its own', () => {
  const changed = path.join(folder, 'changed.json');
  writeFileSync(changed, JSON.stringify(change(rail, { 'parts.C2.count': 6 })));
  const { code, out } = reed('diff', demo, changed, '--json');
  const said = JSON.parse(out) as { set: { path: string; values: string[] }[]; holding: number[]; worse: string[]; requirements: { id: string; holds: boolean[] }[] };
  expect([code, said.holding, said.worse]).toEqual([0, [6, 9], []]);
  expect(said.set.map((d) => d.path)).toEqual(['parts.C2.count']);
  expect(said.requirements.find((r) => r.id === 'deviation')!.holds).toEqual([false, true]);
  const back = reed('diff', changed, demo);
  expect([back.code, back.out.includes('load-step deviation')]).toEqual([1, true]);
  expect(back.out).toMatch(/FAILS/);
  expect(reed('diff', demo, demo).out).toContain('nothing is set differently');
  expect(reed('diff', demo, 'nothing.json').code).toBe(2);
});

test('check --junit: the same verdict as XML, and its exit code', () => {
  const { code, out } = reed('check', demo, '--junit');
  expect([code, out]).toEqual([1, `${junitOf(rail, holdCorners(rail))}\n`]);
});

test('spread: of a seed, the same each time; what is no number of draws is refused', () => {
  const said = (seed: string): { holding: number; draws: number; yield: { low: number; high: number }; tightest: string } => JSON.parse(reed('spread', demo, '--draws', '12', '--seed', seed, '--json').out) as ReturnType<typeof said>;
  const first = said('3');
  expect(first).toEqual(said('3'));
  expect([first.draws, first.tightest]).toEqual([12, 'deviation']);
  expect(first.yield.low).toBeLessThan(first.yield.high);
  expect(reed('spread', demo, '--draws', '12').out).toContain('of 12 drawn hold');
  for (const wrong of ['1', 'many', '1e9']) expect(reed('spread', demo, '--draws', wrong)).toMatchObject({ code: 2, out: '' });
});

test('a check that may take no time says how far it came, and is no verdict', () => {
  const found = reed('check', 'demo/cabin-lighting-rail.json', '--within', '1us');
  expect(found.code).toBe(2);
  expect(found.err).toMatch(/\d of 9 corners were judged/);
  expect(reed('check', 'demo/cabin-lighting-rail.json', '--within', '5 apples').code).toBe(2);
  expect(reed('check', 'demo/radio.json', '--within', '1000s').code).toBe(0);
});
