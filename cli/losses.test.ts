import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { cornerPoints } from '../core/corners/corners';
import { bestOf, lossRow } from '../core/corners/lossMap';
import { evaluate } from '../core/evaluation';
import { warmingOf } from '../core/evaluation/warming';
import { transformerStudy } from '../core/evaluation/transformer';
import { windingStudy } from '../core/evaluation/winding';
import { must, openDemo } from '../demo/open';
import { GOODS } from '../shelf';
import { caught as reed } from './caught';

const demo = 'demo/cabin-lighting-rail.json';
const rail = openDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };

test('a map: a line a cell with watts by mechanism, the best of it, and what is no map is refused', () => {
  const csv = reed('map', demo, '--cells', '3', '--csv').out.trim().split('\n').map((l) => l.split(','));
  expect(csv).toHaveLength(10);
  const cell = lossRow(rail, 'line', 0.4, [36], point)[0]!;
  const at = (title: string): number => Number(csv[1]![csv[0]!.indexOf(title)]);
  expect([at('line (V)'), at('load (A)')]).toEqual([36, 0.4]);
  expect(at('efficiency')).toBeCloseTo(cell.figures!.efficiency, 12);
  expect(at('copper (W)')).toBeCloseTo(cell.figures!.parts.reduce((sum, p) => sum + (p.mechanisms.copper ?? 0), 0), 12);
  const said = JSON.parse(reed('map', demo, '--cells', '2', '--across', 'output', '--json').out) as { x: number[]; rows: Parameters<typeof bestOf>[0]; best: unknown };
  expect(said.x).toEqual([12, 30]);
  expect(said.best).toEqual(bestOf(said.rows));
  expect(reed('map', demo, '--cells', '4').out).toMatch(/best 9\d\.\d+ % at/);
  for (const wrong of [['--across', 'moon'], ['--cells', '1'], ['--cells', 'x']]) expect(reed('map', demo, ...wrong)).toMatchObject({ code: 2, out: '' });
});

test('heat: where it settles as figures have it, and the warm-up to there', () => {
  const said = JSON.parse(reed('heat', demo, '--json').out) as { nodes: { id: string; temperature: number; within: number }[]; warmUp: { time: number[]; temperatures: number[][] } };
  const { rungs } = must(evaluate(rail, point)).heat;
  expect(said.nodes.map((n) => [n.id, n.temperature])).toEqual(rungs.map((r) => [r.id, r.temperature]));
  expect(said.nodes.map((n) => n.within)).toEqual(must(warmingOf(rail, point)).within);
  const csv = reed('heat', demo, '--csv').out.trim().split('\n');
  expect(csv).toHaveLength(said.warmUp.time.length + 1);
  expect(csv[1]).toMatch(/^0,50,50/);
  expect(reed('heat', demo).out).toMatch(/Q1 junction.*°C.*min/);
});

test('heat under a load profile: at most, and how many cycles; a profile that is none is refused by its line', () => {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'reed-heat-')), 'profile.csv');
  writeFileSync(file, `s,A\n${Array.from({ length: 21 }, (_, k) => `${k * 600},${k % 2 === 0 ? 8 : 1}`).join('\n')}`);
  const said = JSON.parse(reed('heat', demo, '--profile', file, '--json').out) as { nodes: { id: string; hottest: { temperature: number }; cycles: { count: number }[] }[]; time: number[] };
  expect([said.time[0], said.time.at(-1)]).toEqual([0, 12_000]);
  expect(said.nodes[0]!.cycles.reduce((sum, c) => sum + c.count, 0)).toBeGreaterThan(9);
  expect(reed('heat', demo, '--profile', file).out).toMatch(/Q1 junction.*°C.*×/);
  writeFileSync(file, '0,1\n1,moon');
  expect(reed('heat', demo, '--profile', file)).toMatchObject({ code: 2, out: '' });
  expect(reed('heat', demo, '--profile', file).err).toContain('line 2');
});

test('wind: the cores that serve, and what is no inductor is refused', () => {
  const study = must(windingStudy(rail, 'L1', point, GOODS, cornerPoints(rail)));
  const said = JSON.parse(reed('wind', demo, '--json').out) as { part: string; peak: number; cores: { turns: number }[]; now?: unknown };
  expect([said.part, said.peak, said.cores.map((c) => c.turns), said.now]).toEqual(['L1', study.duty.peak, study.cores.map((c) => c.turns), JSON.parse(JSON.stringify(study.now))]);
  const { out } = reed('wind', demo);
  expect(out).toContain(`${study.cores[0]!.core.part} `);
  expect(out).toContain('Pawl 29, 11 turns');
  expect(reed('wind', demo, '--part', 'Q1')).toMatchObject({ code: 2 });
  // Of a transformer the windings, with what the study of the core says.
  const gates = openDemo('gate-supplies');
  const { line, load } = gates.brief;
  const windings = must(transformerStudy(gates, 'T1', { line: (line.min + line.max) / 2, load: load.max, air: gates.brief.air.max }));
  const told = JSON.parse(reed('wind', 'demo/gate-supplies.json', '--json').out) as { part: string; windings: { title: string; ac: number }[] };
  expect(told.windings.map((w) => w.title)).toEqual(['primary', 'secondary', 'third']);
  told.windings.forEach((w, i) => expect(w.ac / windings.windings[i]!.ac).toBeCloseTo(1, 9));
  expect(reed('wind', 'demo/gate-supplies.json').out).toMatch(/third\s+12/);
});
