import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { bareDemo, must, openDemo } from '../demo/open';
import { evaluate } from '../core/evaluation';
import { filterAlone } from '../core/evaluation/filterAlone';
import { conductedNoise } from '../core/evaluation/noise';
import { mainsQuality } from '../core/schedule/mainsQuality';
import { caught as reed } from './caught';

/** What is said of a line from the command line, held against the core. */

const json = <T>(...args: string[]): { said: T; code: number } => {
  const { out, code } = reed(...args, '--json');
  return { said: JSON.parse(out) as T, code };
};
const CHARGER = 'demo/station-charger.json';
const RAIL = 'demo/cabin-lighting-rail.json';

test('reed mains: power factor and harmonics with their limits; a class that is none and a dc line are refused', () => {
  const { said, code } = json<{ powerFactor: number; distortion: number; holds: boolean; harmonics: { order: number; value: number; limit: number | null; holds: boolean }[] }>('mains', CHARGER, '--line', '230 V');
  const q = must(mainsQuality(openDemo('station-charger'), { line: 230, load: 2.6, air: 45 }));
  expect(code).toBe(0);
  expect(said.powerFactor).toBeCloseTo(q.powerFactor, 9);
  expect(said.distortion).toBeCloseTo(q.distortion, 9);
  expect(said.harmonics).toHaveLength(39);
  expect(said.harmonics.find((h) => h.order === 3)!.limit).toBe(2.3);
  expect(reed('mains', CHARGER, '--class', 'E').code).toBe(2);
  expect(reed('mains', RAIL).code).toBe(2);
});

test('reed filter: every corner with its margin, curves at a point, and what has no filter', () => {
  const { said, code } = json<{ limit: number; holds: boolean; corners: { point: { line: number; load: number; air: number }; margin: number; circles: boolean }[]; alone: { attenuation: number; overshoot: number; settles: number } }>('filter', RAIL);
  expect([code, said.holds, said.limit, said.corners.length]).toEqual([0, true, 6, 9]);
  for (const c of said.corners) expect(c.margin).toBeCloseTo(must(evaluate(openDemo('cabin-lighting-rail'), c.point)).loop!.front!.margin, 9);
  const alone = must(filterAlone(openDemo('cabin-lighting-rail')));
  expect(said.alone).toMatchObject({ attenuation: alone.attenuation, overshoot: alone.step.overshoot, settles: alone.step.settles });
  expect(reed('filter', RAIL, '--csv').out.split('\n').length).toBeGreaterThan(100);
  const bare = path.join(mkdtempSync(path.join(os.tmpdir(), 'jump-reed-')), 'bare.json');
  writeFileSync(bare, JSON.stringify(bareDemo('cabin-lighting-rail')));
  expect(reed('filter', bare)).toMatchObject({ code: 2, err: expect.stringContaining('the line is stiff') });
});

test('reed noise: readings against limits, another standard, and one that is none', () => {
  const { said, code } = json<{ holds: boolean; nearest: { quasiPeak: { room: number } }; readings: unknown[] }>('noise', CHARGER, '--line', '230 V');
  const study = must(conductedNoise(openDemo('station-charger'), { line: 230, load: 2.6, air: 45 }));
  expect(code).toBe(1);
  expect(said.nearest.quasiPeak.room).toBeCloseTo(study.nearest.quasiPeak!.room, 9);
  expect(said.readings).toHaveLength(study.readings.length);
  expect(reed('noise', RAIL, '--standard', 'cispr-25-1').out).toContain('CISPR 25 class 1');
  expect(reed('noise', RAIL, '--standard', 'none').code).toBe(2);
  expect(reed('noise', RAIL, '--csv').out.split('\n')[0]).toContain('peak (dBµV)');
});
