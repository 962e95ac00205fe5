import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { evaluate } from '../core/evaluation';
import { arrowColumns } from '../core/interchange/arrowFile';
import { must, openDemo } from '../demo/open';
import { caught as reed } from './caught';

const demo = 'demo/cabin-lighting-rail.json';
const folder = mkdtempSync(path.join(tmpdir(), 'reed-run-'));
const schedule = (name: string, raw: unknown): string => {
  const file = path.join(folder, name);
  writeFileSync(file, typeof raw === 'string' ? raw : JSON.stringify(raw));
  return file;
};

test('the load step of the brief: as far down as the loop says, in words, as JSON and as CSV', () => {
  const at = ['--load', '4', '--air', '25', '--schedule', 'load-step'];
  const said = JSON.parse(reed('run', demo, ...at, '--json').out) as { edges: number[]; traces: { id: string; least: number; leastIn: number[] }[] };
  const output = said.traces.find((t) => t.id === 'output')!;
  const { loop, cycle } = must(evaluate(openDemo('cabin-lighting-rail'), { line: 48, load: 4, air: 25 }));
  expect(Math.abs(24 - output.least - loop!.deviation)).toBeLessThan(0.03 * loop!.deviation + cycle.outputRipple);
  expect(output.leastIn).toHaveLength(said.edges.length - 1);
  expect(Math.min(...output.leastIn)).toBe(output.least);
  const points = reed('run', demo, ...at, '--csv', '--points', '--traces', 'output;L1.power').out.trim().split('\n');
  expect(points[0]).toBe('time (s),Output (V),L1 power (W)');
  expect(points.length).toBeGreaterThan(2000);
  expect(Math.min(...points.slice(1).map((l) => Number(l.split(',')[1])))).toBeCloseTo(output.least, 9);
  expect(reed('run', demo, ...at).out).toContain('load step: ');
  const csv = reed('run', demo, ...at, '--csv', '--bins', '50').out.trim().split('\n');
  expect(csv).toHaveLength(51);
  expect(csv[0]).toMatch(/^from \(s\),to \(s\),/);
});
test('one of a file, from rest', () => {
  const file = schedule('own.json', { name: 'own', begins: 'rest', lasts: 1e-3, steps: [{ at: 5e-4, what: 'line', to: 55 }] });
  expect(JSON.parse(reed('run', demo, '--schedule', file, '--json', '--bins', '20').out)).toMatchObject({ schedule: { name: 'own' } });
});
test.each([
  ['a name that is none', 'tea-break', /choose start-up, load-step, line-step/],
  ['a file that is not there', 'nowhere.json', /no such file/],
  ['one that ends before it begins', schedule('a.json', { name: 'a', begins: 'rest', lasts: 1e-4, steps: [{ at: 2e-4, what: 'load', to: 1 }] }), /after the run/],
  ['a part that can not fail', schedule('c.json', { name: 'c', begins: 'rest', lasts: 1e-4, steps: [], fails: [{ at: 1e-5, part: 'L1', how: 'open' }] }), /L1/],
  ['one of something else', schedule('b.json', '[1, 2'), /./],
])('%s is refused in a line', (_, asked, said) => {
  const { code, err } = reed('run', demo, '--schedule', asked);
  expect([code, err.trim().split('\n').length]).toEqual([2, 1]);
  expect(err).toMatch(said);
});

test('a sweep: a row a run, with the figures of every requirement; refused where it can not be', () => {
  const csv = reed('sweep', demo, '--over', 'L1.inductance=10u..47u/5', '--over', 'brief.frequency=150k,220k', '--csv').out.trim().split('\n');
  expect(csv).toHaveLength(11);
  expect(csv[0]).toMatch(/inductance \(H\),.*frequency \(Hz\),.*ripple \(V\)/);
  expect(csv[1]!.split(',').slice(0, 2).map(Number)).toEqual([1e-5, 150e3]);
  const said = JSON.parse(reed('sweep', demo, '--over', 'load=2,4', '--json', '--corners').out) as { runs: { holds: boolean }[] };
  expect(said.runs).toHaveLength(2);
  expect(reed('sweep', demo, '--over', 'line=40,50').out).toContain('phase margin');
  expect(reed('sweep', demo, '--over', 'moon=1')).toMatchObject({ code: 2 });
});

test('a run as columns: what is written is what the CSV says, to the last bit', () => {
  const file = path.join(folder, 'run.arrow');
  const at = ['--schedule', 'load-step', '--traces', 'output;L1.current'];
  expect(reed('run', demo, ...at, '--arrow', file).out).toContain('points of 2 traces');
  const columns = arrowColumns(readFileSync(file));
  const csv = reed('run', demo, ...at, '--csv', '--points').out.trim().split('\n').slice(1).map((l) => l.split(',').map(Number));
  expect(Object.keys(columns)).toEqual(['time (s)', 'Output (V)', 'L1 current (A)']);
  expect([...columns['L1 current (A)']!]).toEqual(csv.map((r) => r[2]));
  expect(reed('run', demo, ...at, '--arrow', '/nowhere/run.arrow')).toMatchObject({ code: 2 });
});
