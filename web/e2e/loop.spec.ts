import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { evaluate } from '../../core/evaluation';
import { printQuantity } from '../../core/quantity';
import { design, expectFigures, open, START, type } from './bench';

/** The Loop stage: cascades, controllers that sample, measured plants. */

test('a cascade: the loop inside is looked at, placed, and the outer follows', async ({ page }) => {
  const changes = { 'control.crossover': 3000, 'control.method': 'average-current', 'control.amplifier': 'pi' };
  await open(page, 'brief');
  await type(page, 'wanted crossover', '3k');
  await page.getByLabel('Control method').selectOption('average-current');
  await page.getByLabel('Error amplifier').selectOption('pi');
  await expectFigures(page, design(changes));
  await page.keyboard.press('4');
  const cascade = page.getByTestId('cascade');
  await expect(cascade.getByRole('button', { name: 'current of L1' })).toBeVisible();
  await cascade.getByRole('button', { name: 'current of L1' }).click();
  // Its corners are on the plot now: those of the inner amplifier.
  await expect(page.locator('[data-corner="innerZero1"]')).toBeVisible();
  await page.getByRole('button', { name: 'crossover of the current loop: override' }).click();
  await page.keyboard.type('15k');
  await page.keyboard.press('Enter');
  await expectFigures(page, design({ ...changes, 'control.innerCrossover': 15e3 }));
  await expect(cascade.getByRole('button', { name: 'current of L1' })).toContainText(/1[4-6]\.\d kHz/);
  await expect(cascade).toContainText(/a factor of \d/);
  await page.locator('[data-corner="innerZero1"]').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('corner-innerZero1')).toContainText('↺');
  await expect(page.getByTestId('modes')).toContainText('current of L1');
});

test('realised sampled: what that costs, its coefficients, a limit cycle mended with a click, and the C file', async ({ page }) => {
  const changes = { 'control.crossover': 12e3, 'control.amplifier': 'pid', 'control.sampled': 'pre-warped' };
  await open(page, 'brief');
  await type(page, 'wanted crossover', '12k');
  await page.getByLabel('Error amplifier').selectOption('pid');
  await page.getByLabel('Realised as').selectOption('pre-warped');
  await expectFigures(page, design(changes));
  await page.keyboard.press('4');
  const sampled = page.getByTestId('sampled');
  await expect(page.getByTestId('sampled-costs')).toContainText('−14.1°');
  await expect(page.getByTestId('limits')).toContainText('sampling, computing and holding');
  await page.getByRole('tab', { name: 'Compensator' }).click();
  await expect(page.getByText('dotted: what it stands for')).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), sampled.getByRole('button', { name: 'C file' }).click()]);
  expect(download.suggestedFilename()).toBe('cabin-lighting-rail-output-voltage.c');
  expect(readFileSync(await download.path(), 'utf8')).toContain('controller_step');
  await sampled.getByRole('button', { name: 'run these integers on the converter' }).click();
  await expect(page.getByTestId('proof')).toContainText(/At rest it wanders by \d+ counts?/);
  await page.keyboard.press('1');
  await type(page, /^step of the modulator/, '20n');
  await page.keyboard.press('4');
  await expect(page.getByTestId('limit-cycle')).toContainText('wants');
  await sampled.getByRole('button', { name: /ns$/ }).click();
  await expect(page.getByTestId('limit-cycle')).toHaveText('none');
  await sampled.getByLabel('Way to sample').selectOption('none');
  await expect(page.getByTestId('sampled')).toHaveCount(0);
});

test('a measured plant: laid over with its columns shown, compared, placed on, fitted, and taken away', async ({ page }) => {
  await open(page, 'loop');
  const menu = page.getByRole('button', { name: /▾/ }).first();
  await menu.click();
  await page.getByRole('menuitem', { name: /Radio/ }).first().click();
  await expect(page.getByTestId('measured')).toContainText('radio-plant');
  // Compared where it was measured.
  await page.getByRole('button', { name: 'go there' }).click();
  await expect(page.getByTestId('misfit')).toContainText('1.1 dB');
  await page.getByRole('button', { name: 'take radio-plant away' }).click();
  await expect(page.getByTestId('measured')).toHaveCount(0);

  await page.getByLabel('Measured file').setInputFiles('demo/measured/radio-plant.csv');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByTestId('columns')).toContainText('frequency (kHz)');
  await expect(dialog.getByTestId('traces')).toContainText('72 points, 200 Hz to 60.0 kHz');
  // Wrongly corrected, it says so; put right, it is taken.
  await dialog.getByLabel('what phase (°) is').selectOption('ignored');
  await expect(dialog.getByRole('button', { name: 'Lay it over' })).toBeDisabled();
  await dialog.getByLabel('what phase (°) is').selectOption('phase °');
  await dialog.getByRole('button', { name: 'Lay it over' }).click();
  await expect(page.getByTestId('misfit')).toContainText('1.1 dB');

  await page.getByLabel('place on it').check();
  await expect(page.getByTestId('measured')).toContainText(/7\.\d+ kHz · (59|60)/);
  await page.getByRole('button', { name: 'fit the design to it' }).click();
  await expect(page.getByTestId('fit')).toContainText('C2 capacitance');
  await page.getByRole('button', { name: 'take these values' }).click();
  await expect(page.getByTestId('misfit')).toContainText(/0\.\d dB/);
});

test('what is no measured response is refused by its reason, and nothing is lost', async ({ page }) => {
  await open(page, 'loop');
  await page.getByLabel('Measured file').setInputFiles({ name: 'empty.csv', mimeType: 'text/csv', buffer: Buffer.from('\n') });
  await expect(page.getByRole('alert').filter({ hasText: 'there is nothing in it' })).toBeVisible();
  await expectFigures(page, design());
});

test('placed for all corners, and what lifts the worst one: each tried with a click, taken back by undo', async ({ page }) => {
  await open(page, 'loop');
  await page.getByRole('button', { name: 'place for all corners' }).click();
  await expect(page.getByTestId('limited-by')).toContainText('holds at every corner');
  await expectFigures(page, design({ 'control.crossover': 44e3 }));
  await page.keyboard.press('Control+z');
  await expectFigures(page, design());
  await page.getByRole('button', { name: 'lift the worst' }).click();
  const lift = page.getByTestId('lift');
  await expect(lift).toContainText('wanted at');
  await lift.getByRole('button').click();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
});

test('injected in time, point by point, on the very curve; seen in the complex plane as well', async ({ page }) => {
  await open(page, 'loop');
  await page.getByTestId('injection').getByRole('button', { name: 'inject' }).click();
  await expect(page.getByTestId('injection')).toContainText(/[456] injected, at most 0\.0\d dB off/);
  await page.getByRole('button', { name: 'Nyquist' }).click();
  await expect(page.getByTestId('nyquist')).toBeVisible();
  await page.getByRole('button', { name: 'Bode' }).click();
  await expect(page.getByTestId('bode')).toBeVisible();
});

test('the loop broken elsewhere, from the power path: both places beside one another, and why they differ; a step of the reference', async ({ page }) => {
  const changes = { 'control.crossover': 3000, 'control.method': 'average-current', 'control.amplifier': 'pi' };
  await open(page, 'brief');
  await type(page, 'wanted crossover', '3k');
  await page.getByLabel('Control method').selectOption('average-current');
  await page.getByLabel('Error amplifier').selectOption('pi');
  // A mask of the output impedance and a least gain are asked for, and judged.
  await page.getByRole('button', { name: 'not asked' }).click();
  await expect(page.getByTestId('requirement-lowGain')).toContainText('dB');
  await page.keyboard.press('4');
  await expectFigures(page, design(changes));
  await page.locator('[data-place="current"]').click();
  const places = page.getByTestId('places');
  const found = evaluate(design(changes), START, { detail: true, place: 'current' });
  if (!found.ok) throw new Error(found.problem.message);
  const last = found.value.loop!.place!.crossovers.at(-1)!;
  await expect(places).toContainText(`${printQuantity(last.at, 'Hz')} · ${printQuantity(last.margin, '°')}`);
  await expect(page.getByTestId('why-differ')).toContainText('the current loop is closed inside of it');
  await places.getByRole('button', { name: 'command' }).click();
  await expect(page.getByTestId('why-differ')).toContainText('all loops are broken at once');
  await page.locator('[data-place="output"]').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('why-differ')).toHaveCount(0);
  await page.getByLabel('Step', { exact: true }).selectOption('reference');
  await expect(page.getByTestId('deviation')).toContainText('beyond');
  await page.getByRole('tab', { name: 'Z in' }).click();
  await expect(page.getByTestId('bode')).toBeVisible();
  // From rest, and the curve in view at frequencies of one's own.
  await page.getByLabel('Step', { exact: true }).selectOption('start');
  await expect(page.getByTestId('start-up')).toContainText('beyond');
  await page.getByLabel('frequencies to read the curve at').fill('1k, 30 MHz');
  await expect(page.getByTestId('read-at')).toContainText(/1\.00 kHz.*dB.*not on the curve/);
});
