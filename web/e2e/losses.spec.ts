import { expect, test } from '@playwright/test';
import { lossRow } from '../../core/corners/lossMap';
import { printQuantity as print } from '../../core/quantity';
import { design, open, START } from './bench';

/** The Losses stage besides the point in view. */

test('losses over the load, and the efficiency map: made, stopped, a cell taken, a kept one taken away from it', async ({ page }) => {
  await open(page, 'losses');
  await page.getByRole('button', { name: 'over load' }).click();
  const over = page.getByTestId('over-load');
  const full = lossRow(design(), 'line', 8, [START.line], START)[0]!.figures!;
  const overlap = full.parts.reduce((sum, p) => sum + (p.mechanisms.overlap ?? 0), 0);
  await expect(over).toContainText(`overlap ${print(overlap, 'W', 3)}`);
  await page.getByRole('button', { name: 'percent of the input' }).click();
  await expect(over).toContainText(`overlap ${print(overlap / (full.output + full.total), '%', 3)}`);

  await page.getByRole('button', { name: 'map', exact: true }).click();
  await page.getByRole('button', { name: 'make the map' }).click();
  await expect(page.getByRole('status').filter({ hasText: '% of the map' })).toBeVisible();
  await page.getByRole('button', { name: 'stop', exact: true }).last().click();
  await expect(page.getByRole('status').filter({ hasText: '% of the map' })).toHaveCount(0);
  await page.getByRole('button', { name: /make (the map|it again)/ }).click();
  await expect(page.getByTestId('map-best')).toContainText('900 settled points');
  // A cell says what it is, and is gone to.
  const map = page.getByTestId('loss-map');
  const cell = map.locator('rect').nth(29);
  const { efficiency, total } = lossRow(design(), 'line', 0.4, [60], START)[0]!.figures!;
  await expect(cell.locator('title')).toHaveText(`${print(efficiency, '%', 4)}, ${print(total, 'W')} lost at ${print(60, 'V')}, ${print(0.4, 'A')}`);
  await cell.click();
  await expect(page.getByTestId('point')).toHaveText(`${print(60, 'V')} · ${print(0.4, 'A')}`);
  // Of a changed design it is one of before.
  await page.keyboard.press('k');
  await page.getByRole('button', { name: 'output × load' }).click();
  await expect(page.getByRole('button', { name: 'make the map' })).toBeVisible();
});
