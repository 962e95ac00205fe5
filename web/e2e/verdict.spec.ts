import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { freedomsOffered, designAt } from '../../core/corners/freedoms';
import { faultAt, faultsOf, beyondInWords } from '../../core/corners/faults';
import { search } from '../../core/corners/search';
import { drawn, drawnDesign, spreadOf, tolerancesOf, worstOf } from '../../core/corners/spread';
import { pointsOf, worstInRegion } from '../../core/corners/worst';
import { worstCase } from '../../core/corners/worstCase';
import { requirementNamed } from '../../core/corners/requirements';
import { printQuantity as print } from '../../core/quantity';
import { hashOf } from '../../core/report';
import { SHELF } from '../../shelf';
import { design, expectFigures, figures, open, START } from './bench';

const tab = (page: Page, name: string) => page.getByRole('tab', { name, exact: true }).click();

test('a search finds what the core finds from the same seed, shows it while it goes, and what it found is taken and undone', async ({ page }) => {
  await open(page, 'corners');
  await tab(page, 'Search');
  const view = page.getByTestId('search');
  await expect(view.getByText('Free to change')).toBeVisible();
  await view.getByRole('button', { name: 'search', exact: true }).click();
  await expect(view).toContainText('One that holds in the whole region', { timeout: 180_000 });
  const freedoms = freedomsOffered(design(), SHELF).filter((o) => o.usual).map((o) => o.freedom);
  const found = search(design(), { freedoms, aims: [], by: 'front', seed: 1, trials: 240 }, worstInRegion);
  if (!found.ok) throw new Error(found.problem.message);
  const made = designAt(design(), freedoms, found.value.best!.shares);
  if (!made.ok) throw new Error(made.problem.message);
  await view.getByRole('button', { name: 'lay it over the plots' }).click();
  await expect(page.getByTestId('kept-state')).toContainText('A found');
  await view.getByRole('button', { name: 'take it' }).click();
  await expectFigures(page, made.value);
  await expect(page.getByTestId('corner-count')).toContainText('9 of 9');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, design());

  // Nothing free is told, and so is what no freedom can hold.
  await view.getByRole('button', { name: 'leave it, and ask anew' }).click();
  const free = view.getByRole('checkbox', { checked: true });
  for (let k = await free.count(); k > 0; k--) await free.first().uncheck();
  await view.getByRole('button', { name: 'search', exact: true }).click();
  await expect(view.getByRole('alert')).toContainText('nothing that it may change');
});

test('a search goes on where it was when the page is loaded again: what was judged is not judged again', async ({ page }) => {
  await open(page, 'corners');
  const begin = async (): Promise<void> => {
    await tab(page, 'Search');
    await expect(page.getByTestId('search').getByText('Free to change')).toBeVisible();
    await page.getByRole('button', { name: 'loss', exact: true }).click();
    await page.getByTestId('search').getByRole('button', { name: 'search', exact: true }).click();
  };
  await begin();
  const judged = async (): Promise<number> => Number(/(\d+) judged,/.exec(await page.getByTestId('search').innerText())?.[1] ?? 0);
  await expect.poll(judged, { timeout: 120_000 }).toBeGreaterThan(40);
  // Answers are stored every other second while the work goes on.
  await page.waitForTimeout(2500);
  const before = await judged();
  await page.reload();
  await expect(page.getByTestId('corner-count')).toContainText('corners meet the brief');
  const asked = await page.evaluate(() => new Promise<number>((done) => {
    const request = indexedDB.open('jump-reed');
    request.onsuccess = () => {
      const count = request.result.transaction('answers').objectStore('answers').getAllKeys();
      count.onsuccess = () => done(count.result.length);
    };
  }));
  expect(asked).toBeGreaterThan(before / 4);
  await begin();
  // Three quarters of it are there at once, from the store.
  await expect.poll(judged, { timeout: 15_000 }).toBeGreaterThan(0.6 * before);
  await page.getByTestId('search').getByRole('button', { name: 'stop' }).click();
});

test('faults: run from the point in view with what goes first, and one of them looked at as a run', async ({ page }) => {
  await open(page, 'corners');
  await tab(page, 'Faults');
  await page.getByRole('button', { name: 'run all faults' }).click();
  const view = page.getByTestId('faults');
  await expect(view.getByRole('status')).toHaveCount(0, { timeout: 180_000 });
  const fault = faultsOf(design(), START).find((f) => f.id === 'Q1 short')!;
  const { beyond } = faultAt(design(), START, fault);
  await expect(view.getByRole('row', { name: /Q1 shorted/ })).toContainText(beyondInWords(beyond[0]!));
  await view.getByRole('button', { name: 'See Q1 shorted run' }).click();
  await expect(page).toHaveURL(/\/waveforms$/);
  await expect(page.getByTestId('fails-0')).toContainText('Q1');
});

test('worst cases beside the spread, tolerances stated, drawn with progress and stopped, the worst draw laid over as a design', async ({ page }) => {
  await open(page, 'corners');
  await tab(page, 'Worst case');
  const { worst } = worstInRegion(design());
  const found = worstCase(design(), tolerancesOf(design()), worst[0]!.id, worst[0]!.at)!;
  const row = page.getByTestId('worst-case').getByRole('row', { name: new RegExp(requirementNamed(worst[0]!.id).title) });
  for (const v of [found.nominal, found.rootSquare, found.extreme, found.vertex]) await expect(row).toContainText(print(v, 'V'));
  await tab(page, 'Spread');
  await page.getByRole('button', { name: /^\d+ tolerances$/ }).click();
  const share = page.getByLabel('L1 inductance, tolerance');
  await share.fill('5 %');
  await share.blur();
  await page.getByLabel('Q1 and Q2 of one lot').check();
  const stated = design({ tolerances: { values: { L1: { inductance: { share: 0.05, shape: 'uniform' } } }, matched: [['Q1', 'Q2']], aged: false } });
  const spread = page.getByTestId('spread');
  const count = page.getByLabel('How many are drawn');
  const draw = spread.getByRole('button', { name: 'draw', exact: true });
  await count.fill('10000000');
  await expect(spread).toContainText('give 2 to 20,000');
  await expect(draw).toBeDisabled();
  await count.fill('1000');
  await draw.click();
  await expect(spread.getByRole('status')).toContainText('of 1000');
  await spread.getByRole('button', { name: 'stop' }).click();
  await expect(spread.getByRole('status')).toHaveCount(0);
  await count.fill('60');
  await draw.click();
  await expect(spread).toContainText('of 60; 95 times of 100', { timeout: 180_000 });
  const tolerances = tolerancesOf(stated);
  const points = pointsOf(worstInRegion(stated).worst);
  const draws = Array.from({ length: 60 }, (_, k) => drawn(stated, tolerances, 1, k, points));
  await expect(spread).toContainText(spreadOf(tolerances, draws).matters[0]!.title);
  await expect(spread).toContainText(`${draws.filter((d) => d.holds).length} of 60`);
  const first = worstOf(draws)!;
  // By keyboard: the draw of least margin.
  const cloud = page.getByTestId('cloud');
  await cloud.press('ArrowRight');
  const slowest = draws.reduce((a, b) => (b.loop!.phaseMargin < a.loop!.phaseMargin ? b : a));
  await expect(cloud).toHaveAttribute('aria-label', new RegExp(`^Draw ${slowest.index + 1}: .*${print(slowest.loop!.phaseMargin, '°')}`));
  await page.getByRole('button', { name: 'Lay the worst of them over the plots' }).click();
  await expect(page.getByTestId('kept-state')).toContainText(`A draw ${first.index + 1}`);
  await page.getByRole('button', { name: /^Take A draw/ }).click();
  const alone = drawnDesign(stated, tolerances, first.off);
  if (!alone.ok) throw new Error(alone.problem.message);
  await expectFigures(page, alone.value);
});

test('the report: sections chosen, a file that opens with no network and says what the core says', async ({ page, context }) => {
  await open(page, 'report');
  const paper = page.getByTestId('report');
  await expect(paper).toContainText('6 of 9 corners meet the brief');
  for (const w of worstInRegion(design()).worst) await expect(paper).toContainText(print(w.value, requirementNamed(w.id).unit));
  await page.getByRole('group', { name: 'Sections' }).getByRole('button', { name: 'Workings' }).click();
  const saved = async (name: string): Promise<string> => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('group', { name: 'Hand it over' }).getByRole('button', { name }).click()]);
    return download.path();
  };
  const file = await saved('HTML');
  const html = readFileSync(file, 'utf8');
  expect(html).toContain(hashOf(design()));
  expect(html).not.toContain('id="workings"');
  expect(readFileSync(await saved('Bill, CSV'), 'utf8')).toContain('C2,output capacitor,Slate 50-22u');
  expect(readFileSync(await saved('Netlist'), 'utf8')).toMatch(/^\* Cabin lighting rail[\s\S]*\.end\n$/);
  expect(readFileSync(await saved('Markdown'), 'utf8')).toMatch(/^# Cabin lighting rail/);
  await context.setOffline(true);
  const reader = await context.newPage();
  const asked: string[] = [];
  reader.on('request', (r) => asked.push(r.url()));
  await reader.setContent(html);
  await expect(reader.getByRole('heading', { name: 'Verdict' })).toBeVisible();
  await expect(reader.locator('svg').first()).toBeVisible();
  expect(asked.filter((u) => !u.startsWith('about:'))).toEqual([]);
  await context.setOffline(false);
});

test('designs in folders, copied, compared, found; a design in a link opens elsewhere, a damaged one is refused', async ({ page, context }) => {
  await open(page);
  const all = async (): Promise<void> => {
    await page.getByRole('button', { name: /▾/ }).first().click();
    await page.getByRole('menuitem', { name: /in folders/ }).click();
  };
  await all();
  const list = page.getByTestId('projects');
  await list.getByRole('button', { name: 'Copy Cabin lighting rail' }).click();
  await list.getByRole('button', { name: 'Move Cabin lighting rail, copy to a folder' }).click();
  await page.getByRole('dialog').last().getByRole('textbox').fill('Cabin 7');
  await page.getByRole('dialog').last().getByRole('button', { name: 'Move' }).click();
  await expect(list.getByRole('heading', { name: 'Cabin 7' })).toBeVisible();
  await list.getByLabel('Find a design').fill('cabin 7');
  await expect(list.getByRole('row')).toHaveCount(1);
  await list.getByRole('button', { name: 'Compare with Cabin lighting rail, copy' }).click();
  await expect(page.getByTestId('kept-state')).toContainText('A Cabin lighting rail');
  await all();
  await list.getByRole('button', { name: 'Delete Cabin lighting rail, copy' }).click();
  await page.getByRole('dialog').last().getByRole('button', { name: 'Delete' }).click();
  await expect(list.getByRole('button', { name: /copy$/ })).toHaveCount(0);
  await page.keyboard.press('Escape');

  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Copy a link to it' }).click();
  await expect(page.getByText('The link is copied')).toBeVisible();
  const link = await page.evaluate(() => navigator.clipboard.readText());
  const other = await context.browser()!.newContext();
  const there = await other.newPage();
  await there.goto(link);
  await expect(there.getByText('opened from a link')).toBeVisible();
  await expectFigures(there, design());
  expect(there.url()).not.toContain('#');
  await there.goto('about:blank');
  await there.goto(link.slice(0, -60));
  await expect(there.getByText(/link is damaged/).first()).toBeVisible();
  await other.close();
});

test('a map of any measure over two ranges, read and gone to; stopped', async ({ page }) => {
  await open(page, 'corners');
  await tab(page, 'Map');
  const map = page.getByTestId('map');
  await page.getByLabel('Measure', { exact: true }).selectOption('crossover');
  await page.getByLabel('Ranges').selectOption('load,air');
  await expect(map.getByRole('status')).toHaveCount(0, { timeout: 120_000 });
  const { load, air } = design().brief;
  const all = [load.min, load.max].flatMap((l) => [air.min, air.max].map((a) => figures(design(), { line: START.line, load: l, air: a }).loop!.crossover));
  // Its extremes are at its ends or between: the plot says at least what its corners are.
  const [, low, high] = /: (\S+ kHz) to (\S+ kHz)/.exec((await page.getByTestId('map-reads').textContent())!)!;
  expect(parseFloat(low!)).toBeLessThanOrEqual(Math.min(...all) / 1e3 + 0.05);
  expect(parseFloat(high!)).toBeGreaterThanOrEqual(Math.max(...all) / 1e3 - 0.05);
  const box = (await map.getByRole('img').boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByTestId('pad')).not.toHaveAttribute('data-load', String(START.load));
});

test('the tour goes from stage to stage, and is offered once', async ({ page }) => {
  await open(page);
  await page.getByRole('button', { name: 'Take a tour of two minutes' }).click();
  const card = page.getByTestId('tour');
  await expect(card).toContainText('The brief is a sentence');
  for (let k = 1; k < 7; k++) await card.getByRole('button', { name: 'Next' }).click();
  await expect(page).toHaveURL(/\/report$/);
  await card.getByRole('button', { name: 'Done' }).click();
  await expect(card).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('corner-count')).toContainText('corners meet the brief');
  await expect(page.getByTestId('tour-offer')).toHaveCount(0);
});

test('a kept state: a choice taken from it, and a branch of its own', async ({ page }) => {
  await open(page);
  await page.keyboard.press('k');
  await page.locator('[data-part="Q1"]').click();
  await page.getByLabel('Q1 part', { exact: true }).selectOption('Rime 100-6');
  await page.getByRole('button', { name: 'table', exact: true }).click();
  await page.getByRole('button', { name: /^Take Q1 .* from A$/ }).click();
  await expectFigures(page, design());
  await page.getByRole('button', { name: /^Branch from A/ }).click();
  await expect(page.getByRole('button', { name: /Cabin lighting rail, from A ▾/ })).toBeVisible();
  await expectFigures(page, design());
});
