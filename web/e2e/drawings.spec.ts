import { expect, test, type Page } from '@playwright/test';
import { change, openDemo } from '../../demo/open';
import { chooseTopology, hangBranch } from '../../core/choice';
import { topologyOf, type Design } from '../../core/design';
import { TOPOLOGIES, type Topology } from '../../core/topology';
import { SHELF } from '../../shelf';
import { open } from './bench';

/** The power path of every topology, as the browser draws it: no label stands on another, nor on a symbol that is not its own. */

/** A design of each topology: of the demo whose brief it serves. */
function designs(topologies: readonly Topology[]): { name: string; design: Design }[] {
  const rail = openDemo('cabin-lighting-rail');
  const briefs = [
    rail,
    openDemo('gate-supplies'),
    openDemo('station-charger'),
    openDemo('door-motor'),
    openDemo('radio'),
    openDemo('brake-magnet'),
    change(rail, { 'brief.loadInductance': 1e-2 }),
  ];
  return topologies.map((t) => {
    for (const d of briefs) {
      const chosen = chooseTopology(d, t.id, SHELF);
      if (chosen.ok) return { name: t.title, design: chosen.value };
    }
    throw new Error(`no demo brief for ${t.title}`);
  });
}

interface Box {
  what: string;
  part: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Boxes of the labels and of the symbols, in pixels. */
const boxes = (page: Page): Promise<{ labels: Box[]; symbols: Box[]; paper: Box }> =>
  page.getByRole('region', { name: 'Power path' }).evaluate((section) => {
    const box = (e: Element, part: string, what: string) => {
      const { x, y, width, height } = e.getBoundingClientRect();
      return { what, part, x, y, width, height };
    };
    const parts = [...section.querySelectorAll('[data-part]')];
    const nameOf = (e: Element): string => e.getAttribute('data-part')!;
    return {
      paper: box(section, '', 'paper'),
      labels: parts.flatMap((g) => [...g.querySelectorAll('text')].filter((t) => t.textContent!.trim() !== '').map((t) => box(t, nameOf(g), t.textContent!))),
      symbols: parts.map((g) => box(g.querySelector('g[transform]')!, nameOf(g), 'symbol')),
    };
  });

/** How far two boxes reach into one another, in pixels; letters do not fill their boxes. */
const depth = (a: Box, b: Box): number => Math.min(Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x), Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y));
const SLACK = 3.5;
/** px of a line of text that is 11 px high */
const SMALLEST = 11;

async function overlaps(page: Page): Promise<string[]> {
  const { labels, symbols, paper } = await boxes(page);
  const found: string[] = labels.filter((a) => a.x < paper.x || a.x + a.width > paper.x + paper.width || a.height < SMALLEST).map((a) => `"${a.what}" of ${a.part} is cut off, or too small`);
  labels.forEach((a, i) => {
    for (const b of labels.slice(i + 1)) if (depth(a, b) > SLACK) found.push(`"${a.what}" of ${a.part} on "${b.what}" of ${b.part}`);
    for (const s of symbols) if (s.part !== a.part && depth(a, s) > SLACK) found.push(`"${a.what}" of ${a.part} on the symbol of ${s.part}`);
  });
  return found;
}

async function show(page: Page, d: Design, name: string): Promise<void> {
  const called = { ...d, name: name.slice(0, 60) };
  await page.getByTestId('open-file').setInputFiles({ name: 'design.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(called)) });
  await expect(page.getByRole('button', { name: /▾/ }).first()).toContainText(called.name);
  await expect(page.getByTestId('reed-losses')).toContainText('%');
  for (const { id } of topologyOf(d)!.slots) await expect(page.locator(`[data-part="${id}"]`)).toBeAttached();
}

/** Labels that stand on others, in every way the path is painted. */
async function bad(page: Page, list: readonly { name: string; design: Design }[]): Promise<string[]> {
  // Nobody looks at the map of each, so none is made.
  await page.addInitScript(() => Object.defineProperty(document, 'hidden', { get: () => true }));
  await open(page);
  const found: string[] = [];
  for (const { name, design } of list) {
    await show(page, design, name);
    for (const paint of ['amps', 'heat', 'stress']) {
      await page.getByRole('button', { name: paint, exact: true }).click();
      found.push(...(await overlaps(page)).map((o) => `${name}, ${paint}: ${o}`));
    }
  }
  return found;
}

/** The lighting rail with a branch of each kind. */
function branched(): { name: string; design: Design }[] {
  const rail = openDemo('cabin-lighting-rail');
  return ([['damping', undefined], ['filter', undefined], ['bead', undefined], ['regulator', undefined], ['line-filter', undefined], ['snubber', 'Q1'], ['snubber', 'Q2'], ['clamp', 'Q1'], ['clamp', 'Q2']] as const).map(([kind, at]) => {
    const hung = hangBranch(rail, kind, SHELF, { ...(at ? { at } : {}) });
    if (!hung.ok) throw new Error(hung.problem.message);
    return { name: `rail with a ${kind} at ${at ?? 'the output'}`, design: hung.value };
  });
}

for (const half of [0, 1])
  test(`no label of the power path stands on another: ${half === 0 ? 'half of the topologies' : 'the others, and branches'}`, async ({ page }) => {
    expect(await bad(page, [...designs(TOPOLOGIES.filter((_, k) => k % 2 === half)), ...(half === 0 ? [] : branched())])).toEqual([]);
  });
