import { expect, test, type Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';

/** A design from nothing: the brief typed, what can serve it seen, and made. */

const field = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });

test('12 V to 5 V at 3 A: from nothing to a verdict in a few actions, by keyboard alone', async ({ page }) => {
  await page.goto('/brief');
  await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
  let actions = 0;
  const press = async (key: string): Promise<void> => {
    actions++;
    await page.keyboard.press(key);
  };
  const type = async (text: string): Promise<void> => {
    actions++;
    await page.keyboard.type(text);
  };
  await press('Control+k');
  await type('new design');
  await press('Enter');
  await expect(field(page, 'line')).toBeFocused();
  await type('12 V');
  await press('Tab');
  await type('5');
  await press('Tab');
  await type('0-3');
  const looks = page.getByTestId('looks');
  await expect(looks.getByRole('button').first()).toContainText('Buck, synchronous');
  await expect(page.getByTestId('proposal')).toContainText('holds at');
  await press('Enter');
  await expect(page.getByTestId('corner-count')).toHaveText('9 of 9 corners meet the brief');
  expect(actions).toBeLessThanOrEqual(15);
  await expect(page.getByTestId('brief-line')).toContainText('From 10.8–13.2 V make 5 V at 0–3 A');
  // No part of the demo's has stayed: a 12 V line wants no 80 V switch.
  await expect(page.getByRole('button', { name: /12 V to 5 V, 3 A ▾/ })).toBeVisible();
});

test('what is wrong is said in its field while the rest stands; what can not serve says why; Escape goes back', async ({ page }) => {
  await page.goto('/brief');
  await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
  await page.getByRole('button', { name: 'New design' }).click();
  await field(page, 'line').fill('400 V fixed');
  await field(page, 'output voltage').fill('850 V');
  await field(page, 'load').fill('5 H');
  await expect(page.getByText('"5 H" is an inductance, and this is a current')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Make this design' })).toBeDisabled();
  await field(page, 'load').fill('0.1–1 A');
  await expect(page.getByText('"5 H"')).toHaveCount(0);
  await expect(page.getByTestId('looks').getByRole('button').first()).toContainText('Boost');
  await page.getByRole('button', { name: 'why' }).click();
  await expect(page.getByText('a buck only steps down', { exact: false }).first()).toBeVisible();
  await expect(page.getByTestId('proposal')).toContainText('holds at');
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]!.html}`)).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('brief-line')).toContainText('From 36–60 V make 24 V');
});

test('the brief edited in an awkward order: what contradicts changes with it, what this topology can not others can', async ({ page }) => {
  await page.goto('/brief');
  await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
  const line = page.getByTestId('brief-line');
  const type = async (label: RegExp, text: string): Promise<void> => {
    await line.getByRole('button', { name: label }).click();
    await page.keyboard.type(text);
  };
  // A full load below the load step: both are said before Enter, and both are done by it.
  await type(/^load range/, '0-3 A');
  await expect(page.getByText('load step 4 A → 3 A')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(line).toContainText('at 0–3 A');
  // One step of undo for both.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(line).toContainText('at 0.4–8 A');
  // A buck can not make 90 V: who can is named, and one click takes it.
  await type(/^output voltage/, '90 V');
  await page.keyboard.press('Enter');
  const told = page.getByRole('alert').filter({ hasText: 'a buck only steps down' });
  await expect(told).toHaveCount(1);
  await told.getByRole('button', { name: 'Take Boost, synchronous' }).click();
  await expect(line).toContainText('make 90 V');
  await expect(page.getByTestId('corner-count')).toContainText('corners meet');
  await expect(page.locator('.MuiAlert-root')).toHaveCount(0);
  // A fixed line: three corners are all there are.
  await type(/^line range/, '48 V');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('corner-count')).toContainText('of 3');
  // The battery's 80 V switches stand on for another brief: one that wants a tenth names them, and all are chosen anew.
  await type(/^output voltage/, '5 V');
  await page.keyboard.press('Enter');
  await page.getByRole('alert').getByRole('button', { name: 'Take Buck, synchronous' }).click();
  await expect(line).toContainText('make 5 V');
  await type(/^line range/, '12 V');
  await page.keyboard.press('Enter');
  await page.keyboard.press('2');
  const anew = page.getByTestId('choose-anew');
  await expect(anew).toContainText('is far more than this brief wants');
  await anew.getByRole('button', { name: 'all by loss' }).click();
  await expect(anew).not.toContainText('far more');
});
