import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { plantFigures, readPlant, type PlantDocument } from '../../core/plant';
import { printQuantity as print } from '../../core/quantity';
import { open, type } from './bench';

/** A loop on a measured plant alone: no power stage, the Loop stage all the same. */

/** What the core says of a document that was saved. */
function figuresOf(text: string): { document: PlantDocument; reed: string } {
  const read = readPlant(text);
  if (!read.ok) throw new Error(read.problem.message);
  const found = plantFigures(read.value);
  if (!found.ok) throw new Error(found.problem.message);
  const { margins } = found.value.loops.find((l) => l.title === found.value.on)!;
  return { document: read.value, reed: `${print(margins.crossover, 'Hz')} · ${Math.round(margins.phaseMargin)}°` };
}

test('measured, placed, dragged, sampled, measured again hot; undone, kept over a reload, saved and deleted', async ({ page }) => {
  await open(page);
  const menu = page.getByRole('button', { name: /▾/ }).first();
  await page.getByLabel('Measured plant').setInputFiles('demo/measured/radio-plant.csv');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByTestId('traces')).toContainText('72 points, 200 Hz to 60.0 kHz');
  await dialog.getByRole('button', { name: 'Place a loop on it' }).click();
  await expect(page.getByTestId('plant-line')).toContainText('A loop on a measured plant');

  await type(page, 'wanted crossover', '7.2k');
  const reed = page.getByTestId('reed-loop');
  await expect(reed).toContainText('kHz');
  // What is on screen is what the core says of the very document.
  const saved = async (): Promise<ReturnType<typeof figuresOf>> => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Control+s')]);
    return figuresOf(readFileSync(await download.path(), 'utf8'));
  };
  await expect(reed).toHaveText((await saved()).reed);

  // A zero moved by key; taken back by undo.
  await page.locator('[data-corner="zero1"]').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('corner-zero1')).toContainText('↺');
  const moved = await saved();
  expect(moved.document.control.zero1).toBeGreaterThan(100);
  await expect(reed).toHaveText(moved.reed);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('corner-zero1')).not.toContainText('↺');

  await page.getByLabel('Error amplifier').selectOption('pid');
  await page.getByLabel('Realised as').selectOption('pre-warped');
  await expect(page.getByTestId('sampled-costs')).toContainText('−');
  await expect(reed).toHaveText((await saved()).reed);

  // The same plant once more, in another condition: a fan.
  const hot = readFileSync('demo/measured/radio-plant.csv', 'utf8').split('\n').map((line) => line.replace(/^([\d,]+;)(-?[\d,]+)/, (_, f: string, g: string) => `${f}${String(Number(g.replace(',', '.')) - 3).replace('.', ',')}`)).join('\n');
  await page.getByLabel('Measured file').setInputFiles({ name: 'hot.csv', mimeType: 'text/csv', buffer: Buffer.from(hot) });
  await dialog.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByTestId('measured-hot')).toContainText('72 points');
  await expect(page.getByTestId('margin-phaseMargin')).toContainText('/');

  // A crossover that was not measured: said, the rest stands, and a change takes it back.
  await type(page, 'wanted crossover', '59.9k');
  await type(page, /^switching frequency/, '150k');
  await type(page, 'wanted crossover', '70k');
  await expect(page.getByRole('alert').filter({ hasText: 'lies outside of what was measured' })).toBeVisible();
  await type(page, 'wanted crossover', '7.2k');
  await expect(page.getByRole('alert').filter({ hasText: 'lies outside' })).toHaveCount(0);

  const before = await reed.textContent();
  await page.reload();
  await expect(page.getByTestId('plant-line')).toBeVisible();
  await expect(reed).toHaveText(before!);

  await menu.click();
  await page.getByRole('menuitem', { name: /^Delete/ }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByTestId('corner-count')).toContainText('corners meet the brief');
});
