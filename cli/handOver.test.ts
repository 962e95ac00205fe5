import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { csvParse } from 'd3-dsv';
import { openDemo } from '../demo/open';
import { allFaults, beyondInWords } from '../core/corners/faults';
import { holdCorners } from '../core/corners/corners';
import { worstCase } from '../core/corners/worstCase';
import { tolerancesOf } from '../core/corners/spread';
import { worstInRegion } from '../core/corners/worst';
import { readDesign } from '../core/design';
import { printQuantity as print } from '../core/quantity';
import { hashOf } from '../core/report';
import { caught as reed } from './caught';

/** What is found, broken and handed over from the command line. */

const demo = 'demo/cabin-lighting-rail.json';
const rail = openDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };
const folder = mkdtempSync(path.join(tmpdir(), 'reed-hand-over-'));
const file = (name: string): string => path.join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('search: what it writes passes check, says what it changed, and is the same from the same seed', () => {
  const args = ['search', demo, '--free', 'control.crossover=15k..40k', '--free', 'parts.C2.count=3..9', '--seed', '3', '--trials', '48'];
  const out = file('found.json');
  const found = reed(...args, '--write', out);
  expect(found.code).toBe(0);
  expect(found.out).toMatch(/holds in the whole region/);
  expect(found.out).toMatch(/control\.crossover +20 kHz/);
  expect(reed('check', out).code).toBe(0);
  const written = readDesign(readFileSync(out, 'utf8'));
  const again = JSON.parse(reed(...args, '--json').out) as { design: unknown; everywhere: boolean; seed: number };
  expect(again).toMatchObject({ everywhere: true, seed: 3 });
  expect(written.ok && written.value).toEqual(again.design);
});

test.each([
  [['--free', 'name'], /no such value can be free/],
  [['--free', 'control.crossover=40k..10k'], /its bounds are none/],
  [['--aim', 'beauty'], /nothing to aim at/],
  [['--by', 'luck'], /no way to weigh/],
  [['--seed', 'x'], /no whole number/],
  [['--trials', '3'], /no number of designs/],
  [['--aim', 'loss', '--weights', '1,2'], /wants a weight/],
  [['--topologies', 'ladder'], /not a topology/],
])('search %j is refused', (args, message) => {
  const found = reed('search', demo, ...args);
  expect([found.code, message.test(found.err)]).toEqual([2, true]);
});

test('faults: in the order and words of the core, and as numbers', () => {
  const all = allFaults(rail, point);
  const { code, out } = reed('faults', demo);
  expect(code).toBe(0);
  const rows = out.trim().split('\n').slice(1);
  expect(rows.length).toBe(all.length);
  all.forEach((f, k) => {
    expect(rows[k]).toContain(f.title);
    if (f.beyond[0]) expect(rows[k]).toContain(beyondInWords(f.beyond[0]));
  });
  const { faults } = JSON.parse(reed('faults', demo, '--json').out) as { faults: { id: string; beyond?: { value: number }[] }[] };
  expect(faults.map((f) => f.id)).toEqual(all.map((f) => f.id));
  expect(faults[0]!.beyond![0]!.value).toBe(all[0]!.beyond[0]!.value);
});

test('report: a page of the figures that check prints, data for a spreadsheet, and refusals', () => {
  const page = reed('report', demo, '--sections', 'brief,verdict');
  const worst = holdCorners(rail).worst[0]!;
  expect(page.code).toBe(1);
  expect(page.out).toContain(print(worst.value, 'V'));
  expect(page.out).toContain(hashOf(rail));
  expect(page.out).not.toContain('id="bill"');
  expect(reed('report', demo, '--as', 'markdown', '--sections', 'verdict').out).toContain('## Verdict');
  expect(csvParse(reed('report', demo, '--as', 'bill').out).map((l) => l.slot)).toEqual(['Q1', 'Q2', 'L1', 'C1', 'C2', 'L14', 'C14', 'C24']);
  for (const form of ['waveforms', 'loop', 'corners']) expect(csvParse(reed('report', demo, '--as', form).out).length).toBeGreaterThan(20);
  for (const wrong of [['--as', 'pdf'], ['--sections', 'weather'], ['--draws', '-1'], ['--line', '3 apples']]) expect(reed('report', demo, ...wrong).code).toBe(2);
});

test('netlist: written for a point, run by circuit to the same current; refused on the mains and where it is none', () => {
  const text = reed('netlist', demo, '--line', '60');
  expect(text.code).toBe(0);
  writeFileSync(file('rail.cir'), text.out);
  const { signals } = JSON.parse(reed('circuit', file('rail.cir'), '--json').out) as { signals: Record<string, { mean: number }> };
  // Behind the filter: less what its winding takes of some three amperes.
  expect(60 - signals['v(line)']!.mean).toBeGreaterThan(0);
  expect(60 - signals['v(line)']!.mean).toBeLessThan(0.03);
  // Eight amperes of the load, less what the divider would take, which is no part of the circuit.
  expect(signals['i(L_L1)']!.mean).toBeCloseTo(8, 3);
  expect(reed('circuit', file('rail.cir'), '--run', '50us', '--csv').out.split('\n').length).toBeGreaterThan(300);
  expect(reed('netlist', 'demo/station-charger.json')).toMatchObject({ code: 2, err: expect.stringMatching(/mains/) as string });
  writeFileSync(file('bad.cir'), 'title\nR1 a 0 1k\nQ1 a b c NPN\n.end\n');
  expect(reed('circuit', file('bad.cir'))).toMatchObject({ code: 2, err: expect.stringMatching(/line 3: Q1 is of a kind/) as string });
});

test('spread with its worst case: the figures of the core', () => {
  const [first] = worstInRegion(rail).worst;
  const found = worstCase(rail, tolerancesOf(rail), first!.id, first!.at)!;
  const { worstCases, tolerances } = JSON.parse(reed('spread', demo, '--draws', '2', '--worst-case', '--json').out) as { worstCases: { id: string; vertex: number; nominal: number }[]; tolerances: { path: string }[] };
  expect(worstCases.find((w) => w.id === first!.id)).toMatchObject({ vertex: found.vertex, nominal: found.nominal });
  expect(tolerances.map((t) => t.path)).toContain('network.R1');
  expect(reed('spread', demo, '--draws', '10000000').code).toBe(2);
});

test('mains: on a dc line and of a class that is none it is refused', () => {
  expect(reed('mains', demo)).toMatchObject({ code: 2, err: expect.stringMatching(/dc/) as string });
  expect(reed('mains', 'demo/station-charger.json', '--class', 'E')).toMatchObject({ code: 2, err: expect.stringMatching(/no class/) as string });
});
