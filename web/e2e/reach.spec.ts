import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { STAGES } from '../stages/list';
import { open } from './bench';

const STAGE = 'section[aria-label="Stage"]';

/** Accessibility rules that a view breaks, with the first places; `within` the part of it that has changed, since the rules are slow. */
async function broken(page: Page, what: string, { rules, within }: { rules?: string[]; within?: string } = {}): Promise<string[]> {
  if (within) await expect(page.locator(within)).toHaveCount(1);
  // There are no frames to gather from, and so no page of its own for that.
  const whole = new AxeBuilder({ page }).setLegacyMode();
  const builder = within ? whole.include(within) : whole;
  const { violations } = await (rules ? builder.withRules(rules) : builder.withTags(['wcag2a', 'wcag2aa'])).analyze();
  return violations.map((v) => `${what}: ${v.id} ${v.nodes.map((n) => `${n.target.join(' ')} ${n.any[0]?.message ?? ''}`).slice(0, 3).join(' | ')}`);
}

/** The screen in its other colours, at once. */
const dark = (page: Page, on: boolean): Promise<void> => page.evaluate((theme) => void (document.documentElement.dataset.theme = theme), on ? 'dark' : 'light');

/** Go from stage to stage as the keyboard does; the figures are there once the stage is. */
async function eachStage(page: Page, look: (id: string) => Promise<void>): Promise<void> {
  await open(page, 'brief');
  for (const [k, { id }] of STAGES.entries()) {
    await page.keyboard.press(String(k + 1));
    await expect(page).toHaveURL(new RegExp(`/${id}$`));
    await expect(page.locator('.stale')).toHaveCount(0);
    await look(id);
  }
}

test('every stage passes the accessibility rules, in the dark its contrasts as well; no figure is "NaN", "undefined" or clipped away', async ({ page }) => {
  // The rules are slow to check, and machines differ.
  await eachStage(page, async (id) => {
    // The frame around the stages stays what it is; the last is looked at whole again.
    const whole = id === STAGES[0]!.id || id === STAGES.at(-1)!.id;
    expect(await broken(page, id, { within: whole ? undefined : STAGE })).toEqual([]);
    await expect(page.locator('body')).not.toContainText(/NaN|undefined|\[object/);
    const wide = await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);
    expect(wide, `${id} is wider than the window`).toBe(false);
    // Nothing but colours differs in the dark, and around the stages nothing from one to the next.
    await dark(page, true);
    expect(await broken(page, `${id} in the dark`, { rules: ['color-contrast'], within: id === STAGES[0]!.id ? undefined : STAGE })).toEqual([]);
    await dark(page, false);
  });
});

test('the keyboard reaches stages, keys and anything by name; at 900 px the part panel folds away', async ({ page }) => {
  await open(page);
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/\/loop$/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Does it hold its output');
  await page.getByRole('tab', { name: 'Keys' }).click();
  await expect(page.getByRole('dialog')).toContainText('move the operating point');
  await page.getByRole('tab', { name: 'Words' }).click();
  await page.getByLabel('Find a word').fill('crossover');
  await expect(page.getByRole('dialog')).toContainText('passes one');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('heat');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/heat$/);
  await page.locator('[data-part="C2"]').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('part-panel')).toContainText('output capacitor');
  // At 900 px the part panel folds away and the rest still fits.
  await page.setViewportSize({ width: 900, height: 700 });
  await page.keyboard.press('Escape');
  await page.keyboard.press('4');
  await expect(page.getByTestId('part-panel')).toBeHidden();
  await expect(page.getByTestId('bode')).toBeVisible();
  // It is a drawer there; tables are gone through by keyboard.
  await page.keyboard.press('2');
  await page.getByTestId('sizes').locator('tbody tr').first().focus();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Q1', exact: true }).click();
  await expect(page.getByTestId('part-panel')).toContainText('Q1 ·');
  await page.getByRole('button', { name: 'close', exact: true }).click();
  await expect(page.getByTestId('part-panel')).toBeHidden();
  const [brief, stage] = await Promise.all([page.getByTestId('brief-line').boundingBox(), page.getByRole('region', { name: 'Stage' }).boundingBox()]);
  expect(brief!.y + brief!.height).toBeLessThanOrEqual(stage!.y);
});

test('the keyboard goes through every table, and a window of 1920 px is used', async ({ page }) => {
  await page.setViewportSize({ width: 1920, height: 1080 });
  await open(page, 'power-stage');
  /** The second row of a table, chosen by keyboard alone. */
  const choose = async (row: ReturnType<Page['locator']>, key: 'Enter' | 'Space'): Promise<void> => {
    await row.focus();
    await expect(row).toBeFocused();
    await page.keyboard.press(key);
  };
  const second = (within: string) => page.locator(`${within} tbody tr[tabindex="0"]`).nth(1);
  await choose(second('[data-testid=sizes]'), 'Enter');
  await expect(second('[data-testid=sizes]')).toHaveAttribute('aria-selected', 'true');
  const show = page.getByRole('group', { name: 'Show' });
  await show.getByRole('button', { name: 'shelf' }).press('Enter');
  await choose(second('[data-testid=shelf]'), 'Space');
  await expect(second('[data-testid=shelf]')).toHaveAttribute('aria-selected', 'true');
  for (const kind of ['sinks', 'wires', 'materials']) {
    await page.getByRole('button', { name: kind, exact: true }).press('Enter');
    await choose(second('[data-testid=shelf]'), 'Enter');
    await expect(second('[data-testid=shelf]')).toHaveAttribute('aria-selected', 'true');
  }
  await show.getByRole('button', { name: 'topologies' }).press('Enter');
  // A topology is taken by the button of its row.
  await expect(page.getByRole('button', { name: /^Take / }).first()).toBeVisible();
  await page.getByRole('button', { name: /^Take / }).first().focus();
  await page.keyboard.press('7');
  const worst = page.locator('section[aria-label="Stage"] tbody tr[tabindex="0"]').first();
  const before = await page.getByTestId('pad').getAttribute('data-line');
  await choose(worst, 'Enter');
  await expect(page.getByTestId('pad')).not.toHaveAttribute('data-line', before!);
  // The room of a large window goes to the drawing and the plots.
  await page.keyboard.press('4');
  const [stage, path, bode] = await Promise.all([page.getByRole('region', { name: 'Stage' }).boundingBox(), page.getByRole('region', { name: 'Power path' }).boundingBox(), page.getByTestId('bode').boundingBox()]);
  expect(stage!.width).toBeGreaterThan(1300);
  expect(bode!.width).toBeGreaterThan(1000);
  expect(bode!.height).toBeGreaterThan(500);
  expect(path!.width).toBeGreaterThan(1300);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1920);
});

test('the further views of the power stage and the mains pass the accessibility rules as well', async ({ page }) => {
  await open(page, 'power-stage');
  const hold = async (what: string): Promise<void> => {
    expect(await broken(page, what, { within: STAGE })).toEqual([]);
    await expect(page.locator('body')).not.toContainText(/NaN|undefined|\[object/);
  };
  const show = page.getByRole('group', { name: 'Show' });
  await show.getByRole('button', { name: 'frequency' }).click();
  await expect(page.getByRole('button', { name: 'Take 660 kHz' })).toBeVisible();
  await hold('frequency');
  await show.getByRole('button', { name: 'shelf' }).click();
  // Tables of one kind, and what is no part.
  for (const kind of ['capacitors', 'materials']) {
    await page.getByRole('button', { name: kind, exact: true }).click();
    await hold(kind);
  }
  await page.locator('[data-part="L1"]').click();
  await show.getByRole('button', { name: 'winding' }).click();
  await expect(page.getByTestId('wound')).toBeVisible();
  await hold('winding');
  await show.getByRole('button', { name: 'edges' }).click();
  await expect(page.getByTestId('edge-plot')).toBeVisible();
  await hold('edges');
  await page.keyboard.press('5');
  await page.getByRole('button', { name: 'over', exact: true }).click();
  await expect(page.getByTestId('over-load')).toBeVisible();
  await hold('losses over the load');
  await page.getByRole('button', { name: 'choices', exact: true }).click();
  await expect(page.getByTestId('trade')).toBeVisible();
  await hold('choices');
  await page.getByRole('button', { name: 'map', exact: true }).click();
  await page.getByRole('button', { name: 'make the map' }).click();
  await page.getByRole('button', { name: 'stop', exact: true }).last().click();
  await hold('a map that was stopped');
  await page.keyboard.press('6');
  for (const [view, seen] of [['warm-up', 'warm-up'], ['pulses', 'impedance'], ['profile', 'profile'], ['derating', 'derating']] as const) {
    await page.getByRole('button', { name: view, exact: true }).click();
    await expect(page.getByTestId(seen)).toBeVisible();
    if (view === 'derating') await expect(page.getByTestId(seen)).toContainText('full load');
    await expect(page.locator('.stale')).toHaveCount(0);
    await hold(view);
  }
  await page.keyboard.press('7');
  await expect(page.getByTestId('moves')).toBeVisible();
  await hold('corners, what moves');
  await page.getByRole('tab', { name: 'Spread' }).click();
  await page.getByRole('button', { name: 'draw', exact: true }).click();
  await expect(page.getByTestId('spread')).toContainText('hold');
  await page.getByTestId('spread').getByRole('button', { name: 'stop' }).click();
  await hold('spread');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
  for (const stage of ['3', '8']) {
    await page.keyboard.press(stage);
    await expect(page.getByTestId('corner-count')).toContainText('9 of 9');
    await hold(`charger, stage ${stage}`);
  }
});

test('mains, noise, filter and branches pass the accessibility rules, in the dark too', async ({ page }) => {
  await open(page, 'loop');
  const hold = async (what: string): Promise<void> => {
    expect(await broken(page, what, { within: STAGE })).toEqual([]);
    await dark(page, true);
    expect(await broken(page, `${what}, dark`, { within: STAGE, rules: ['color-contrast'] })).toEqual([]);
    await dark(page, false);
    await expect(page.locator('body')).not.toContainText(/NaN|undefined|\[object|∞ H/);
  };
  await page.getByRole('tab', { name: 'Filter' }).click();
  await expect(page.getByTestId('front-figures')).toBeVisible();
  await hold('filter');
  await page.getByRole('button', { name: 'by itself' }).click();
  await hold('filter by itself');
  await page.keyboard.press('2');
  await page.getByTestId('branches').getByRole('button', { name: 'hang a ferrite bead' }).click();
  await expect(page.getByTestId('stage-offer').getByRole('row')).toHaveCount(4);
  await hold('a bead offered');
  await page.getByRole('button', { name: 'Hang it fed back before it' }).click();
  await expect(page.getByTestId('branch-B1')).toBeVisible();
  await page.getByRole('button', { name: 'its impedance over the frequency' }).click();
  await hold('a bead');
  await page.getByTestId('branches').getByRole('button', { name: 'hang a second L-C stage' }).click();
  await expect(page.getByTestId('stage-offer').getByRole('row')).toHaveCount(5);
  await hold('a second stage offered');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'Noise', exact: true }).click();
  await expect(page.getByTestId('noise')).toBeVisible();
  await hold('noise');
  await page.getByRole('button', { name: 'Mains', exact: true }).click();
  await expect(page.getByTestId('quality')).toBeVisible({ timeout: 120_000 });
  await hold('mains');
});

test('a run in time, and a loop on a measured plant, pass the accessibility rules as well', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'In time' }).click();
  await page.getByRole('button', { name: 'make it your own' }).click();
  await expect(page.getByTestId('schedule')).toBeVisible();
  await expect(page.getByTestId('run-state')).toContainText('switched, exact');
  await expect(page.locator('.stale')).toHaveCount(0);
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  await page.getByRole('button', { name: 'spectrum' }).click();
  await page.getByRole('button', { name: 'require this …' }).click();
  await expect(page.getByTestId('spectrum')).toBeVisible();
  expect(await broken(page, 'in time, readings')).toEqual([]);
  await dark(page, true);
  expect(await broken(page, 'in time, dark', { rules: ['color-contrast'] })).toEqual([]);
  await dark(page, false);
  await page.getByRole('button', { name: 'Sweep', exact: true }).click();
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.locator('[data-curve] circle')).toHaveCount(5);
  await page.locator('[data-curve] circle').first().press('Enter');
  expect(await broken(page, 'sweep', { within: STAGE })).toEqual([]);
  await page.getByLabel('Measured plant').setInputFiles('demo/measured/radio-plant.csv');
  await page.getByRole('dialog').getByRole('button', { name: 'Place a loop on it' }).click();
  await expect(page.getByTestId('plant-line')).toContainText('A loop on a measured plant');
  for (const on of [false, true]) {
    await dark(page, on);
    expect(await broken(page, on ? 'plant, dark' : 'plant', on ? { rules: ['color-contrast'] } : {})).toEqual([]);
  }
});

test('every dialog passes the accessibility rules, in the dark too, and goes at Escape', async ({ page }) => {
  await open(page, 'loop');
  const dialog = page.getByRole('dialog');
  const hold = async (what: string): Promise<void> => {
    await expect(dialog).toBeVisible();
    expect(await broken(page, what, { within: '[role=dialog]' })).toEqual([]);
    await dark(page, true);
    expect(await broken(page, `${what} in the dark`, { within: '[role=dialog]', rules: ['color-contrast'] })).toEqual([]);
    await dark(page, false);
    await page.keyboard.press('Escape');
    await expect(dialog).toHaveCount(0);
  };
  await page.keyboard.press('?');
  await hold('help');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: /in folders/ }).click();
  await hold('all designs');
  await page.keyboard.press('7');
  for (const view of ['Map', 'Spread', 'Worst case', 'Search', 'Faults']) {
    await page.getByRole('tab', { name: view, exact: true }).click();
    expect(await broken(page, view, { within: STAGE })).toEqual([]);
    await dark(page, true);
    expect(await broken(page, `${view} in the dark`, { within: STAGE, rules: ['color-contrast'] })).toEqual([]);
    await dark(page, false);
  }
  await page.keyboard.press('4');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('loop');
  await hold('find');
  await page.getByLabel('Measured file').setInputFiles('demo/measured/radio-plant.csv');
  await expect(dialog.getByTestId('columns')).toBeVisible();
  await hold('a measured file');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: /^Rename/ }).click();
  await hold('a name');
});
