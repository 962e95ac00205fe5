import { readFileSync } from 'node:fs';
import { csvParse } from 'd3-dsv';
import { XMLParser } from 'fast-xml-parser';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { SHELF } from '../../shelf';
import { candidates } from '../choice';
import { requirementNamed } from '../corners/requirements';
import { drawn, spreadOf, tolerancesOf } from '../corners/spread';
import { pointsOf } from '../corners/worst';
import { faultAt, faultsOf } from '../corners/faults';
import { printQuantity as print } from '../quantity';
import { VERSION } from '../version';
import { billCsv, billLines, cornersCsv, hashOf, knownOf, loopCsv, reportHtml, reportMarkdown, reportOf, SECTIONS, wavesCsv } from '.';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };
const known = must(knownOf(rail, point, SHELF));

/** The text of a page as one reads it. */
const textOf = (html: string): string => html.replace(/<style>.*?<\/style>/s, '').replace(/<[^>]+>/g, ' ').replaceAll('&nbsp;', ' ').replaceAll('\u00a0', ' ').replace(/\s+/g, ' ');

test('every figure of the verdict stands in the page, to the digit, and in Markdown', () => {
  const r = reportOf(known);
  const [page, plain] = [textOf(reportHtml(r)), reportMarkdown(r).replaceAll('\\', '').replaceAll('\u00a0', ' ')];
  for (const w of [...known.corners.worst, ...known.region.worst]) for (const text of [print(w.value, requirementNamed(w.id).unit), print(w.limit, requirementNamed(w.id).unit)]) {
    expect(page).toContain(text);
    expect(plain).toContain(text);
  }
  for (const c of known.corners.corners) for (const s of c.requirements) expect(page).toContain(print(s.value, requirementNamed(s.id).unit));
  expect(r.holds).toBe(false);
  expect(page).toContain('7 of 9 corners meet the brief');
  expect(page).toContain(hashOf(rail));
});

test('the page is well formed, asks for nothing from anywhere, and carries no script', () => {
  const html = reportHtml(reportOf(known));
  expect(html).not.toMatch(/<script|src=|href=|url\(|@import|https?:\/\/(?!www\.w3\.org\/2000\/svg)/);
  // Its pictures are XML by themselves.
  for (const svg of html.match(/<svg.*?<\/svg>/gs) ?? []) expect(() => new XMLParser({ ignoreAttributes: false }).parse(svg)).not.toThrow();
  expect((html.match(/<svg/g) ?? []).length).toBeGreaterThan(5);
  expect(html).not.toContain('NaN');
});

test('a name with marks of HTML, Markdown and CSV stays a name', () => {
  const named = change(rail, { name: '<script>alert(1)</script> | *x* "q", & co' });
  const r = reportOf(must(knownOf(named, point, SHELF)), ['brief']);
  expect(reportHtml(r)).not.toContain('<script');
  expect(reportHtml(r)).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
  expect(reportMarkdown(r)).toContain('\\<script\\>');
});

test('sections: those that are asked for, in their order, and none without anything to say', () => {
  expect(reportOf(known, ['heat', 'brief']).sections.map((s) => s.id)).toEqual(['brief', 'heat']);
  expect(reportOf(known).sections.map((s) => s.id)).toEqual(SECTIONS.map((s) => s.id).filter((id) => id !== 'spread' && id !== 'faults'));
  const tolerances = tolerancesOf(rail);
  const points = pointsOf(known.region.worst);
  const found = spreadOf(tolerances, [0, 1, 2].map((k) => drawn(rail, tolerances, 1, k, points)));
  const whole = reportOf({ ...known, candidates: candidates(rail, SHELF).slice(0, 6), spread: { found, tolerances, seed: 1 }, faults: [faultAt(rail, point, faultsOf(rail, point)[0]!)] });
  expect(whole.sections.map((s) => s.id)).toEqual(SECTIONS.map((s) => s.id));
  const page = textOf(reportHtml(whole));
  expect(page).toContain('Q1 open');
  expect(page).toContain(`${found.holding} of 3 drawn designs hold`);
});

test('the bill and the data as a library reads them', () => {
  const bill = csvParse(billCsv(billLines(rail, SHELF, known.corners)));
  expect(bill.map((l) => l.slot)).toEqual(['Q1', 'Q2', 'L1', 'C1', 'C2']);
  expect(bill.find((l) => l.slot === 'C2')).toMatchObject({ number: '5', part: 'Slate 50-22u' });
  const waves = csvParse(wavesCsv(rail, known.figures));
  expect(waves.columns[0]).toBe('time (s)');
  expect(Number(waves.at(-1)!['time (s)'])).toBeCloseTo(1 / 220e3, 9);
  const loop = csvParse(loopCsv(known.figures));
  expect(loop.length).toBe(known.figures.detail!.bode!.loop.frequency.length);
  expect(Number(loop[0]!['loop gain (dB)'])).toBe(known.figures.detail!.bode!.loop.gain[0]);
  const corners = csvParse(cornersCsv(known.corners));
  expect(corners.filter((c) => c.verdict === 'fails').length).toBe(known.corners.corners.flatMap((c) => c.requirements).filter((r) => !r.holds).length);
});

test('the version is that of the package', () => expect((JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version).toBe(VERSION));

test.each(['door-motor', 'gate-supplies', 'station-charger', 'radio'])('%s: a report of every kind of converter, without NaN', (name) => {
  const d = openDemo(name);
  const r = must(knownOf(d, { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max, air: d.brief.air.max }, SHELF));
  expect(reportHtml(reportOf(r))).not.toMatch(/NaN|undefined|Infinity/);
});
