import { expect, test } from '@playwright/test';
import { holdCorners } from '../../core/corners/corners';
import { parseQuantity, printQuantity } from '../../core/quantity';
import { design, expectFigures, figures, open, pointOf, reed, START, type } from './bench';

test('the demo opens with the figures of the core, and its verdict', async ({ page }) => {
  await open(page);
  await test.step('figures', async () => {
    await expectFigures(page, design());
    const report = holdCorners(design());
    await expect(page.getByTestId('corner-count')).toHaveText(`${report.holding} of 9 corners meet the brief`);
    await expect(page.getByTestId('sizes')).toContainText('27.0 µH');
  });
  await test.step('a requirement is switched off in the brief, and the verdict follows', async () => {
    await page.keyboard.press('1');
    await expect(page).toHaveURL(/\/brief$/);
    await expect(page.getByTestId('corner-count')).toHaveText('6 of 9 corners meet the brief');
    await page.getByRole('checkbox', { name: 'load-step deviation: ask for it' }).click();
    await expect(page.getByTestId('corner-count')).toHaveText('9 of 9 corners meet the brief');
    await expect(page.getByTestId('requirement-deviation')).toContainText('–');
    await page.getByRole('button', { name: 'Undo' }).click();
  });
  await test.step('a click on a corner stands there', async () => {
    await page.keyboard.press('7');
    await expect(page).toHaveURL(/\/corners$/);
    await page.getByTestId('corner-matrix').getByRole('button').first().click();
    await expectFigures(page, design(), { line: 36, load: 8, air: 50 });
    const report = holdCorners(design());
    await expect(page.getByTestId('tightest').locator('tr').first()).toContainText(printQuantity(report.worst[0]!.value, 'V'));
    await expect(page.getByTestId('corner-matrix').locator('[data-holds="false"]')).toHaveCount(9 - report.holding);
  });
});

test('the output voltage is changed in the brief line, and undone', async ({ page }) => {
  await open(page, 'waveforms');
  await type(page, /^output voltage/, '20 V');
  const changed = design({ 'brief.output.voltage': 20 });
  await expectFigures(page, changed);
  await expect(page.getByTestId('duty')).toHaveText(`${(figures(changed).cycle.duty * 100).toFixed(2)} %`);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, design());
  await page.getByRole('button', { name: 'Redo' }).click();
  await expectFigures(page, changed);
});

test('a compensator zero is dragged: the loop follows, in one step of undo', async ({ page }) => {
  await open(page, 'loop');
  await expectFigures(page, design());
  const handle = page.locator('[data-corner="zero1"]');
  const box = (await handle.boundingBox())!;
  const [x, y] = [box.x + 12, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 20, y, { steps: 4 });
  await page.mouse.move(x - 45, y, { steps: 4 });
  await page.mouse.up();
  const corner = page.getByTestId('corner-zero1');
  await expect(corner).toContainText('↺');
  const shown = await corner.getByRole('button').first().innerText();
  const zero = parseQuantity(shown, 'Hz');
  if (!zero.ok) throw new Error(zero.problem.message);
  expect(zero.value).toBeLessThan(2500);
  const changed = design({ 'control.zero1': zero.value });
  await expectFigures(page, changed);
  const f = figures(changed);
  await expect(page.getByTestId('margin-phaseMargin')).toContainText(f.loop!.phaseMargin.toPrecision(3));
  await page.keyboard.press('Control+z');
  await expectFigures(page, design());
  await expect(corner).not.toContainText('↺');
  // Keys that come faster than figures: none is lost.
  const placed = figures(design()).loop!.wanted.zero1!;
  await handle.focus();
  for (let k = 0; k < 4; k++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(corner).toContainText('↺');
  const stepped = parseQuantity(await corner.getByRole('button').first().innerText(), 'Hz');
  if (!stepped.ok) throw new Error(stepped.problem.message);
  // Each step is kept to three digits.
  expect(Math.abs((stepped.value * 1.1 ** 4) / placed - 1)).toBeLessThan(0.01);
});

test('a state is kept, survives a reload beside the changed design, and undo still goes back', async ({ page }) => {
  await open(page, 'waveforms');
  await page.keyboard.press('k');
  await expect(page.getByTestId('kept-state')).toHaveCount(1);
  await page.getByRole('button', { name: 'L1 inductance: override' }).click();
  await page.keyboard.type('81u');
  await page.keyboard.press('Enter');
  const changed = design({ 'parts.L1.inductance': 81e-6 });
  await expectFigures(page, changed);
  const difference = figures(changed).cycle.signals.output!.peakToPeak - figures(design()).cycle.signals.output!.peakToPeak;
  await expect(page.getByTestId('differences')).toContainText(`ripple ${printQuantity(difference, 'V', 2)}`);
  // As a table: figures of either, and what was set.
  await page.getByRole('button', { name: 'table', exact: true }).click();
  const table = page.getByTestId('kept-table');
  await expect(table.getByRole('row', { name: /output ripple/ })).toContainText(printQuantity(figures(changed).cycle.outputRipple, 'V'));
  await expect(table.getByRole('row', { name: /L1 inductance/ })).toContainText(/as sized.*81 µH/);
  await page.getByRole('button', { name: 'close the table' }).click();
  // The path folds to a strip, on which a part is chosen as well.
  await page.keyboard.press('f');
  await expect(page.locator('[data-part]')).toHaveCount(0);
  await page.getByRole('button', { name: 'C2, open' }).click();
  await expect(page.getByTestId('part-panel')).toContainText('C2 ·');
  await page.getByRole('button', { name: 'Unfold the power path' }).click();
  await expect(page.locator('[data-part="C2"]')).toBeVisible();
  expect(await page.locator('[data-part="C2"] text').evaluateAll((all) => Math.min(...all.map((t) => t.getBoundingClientRect().height)))).toBeGreaterThan(11);
  await page.waitForTimeout(300); // the write to the browser's store is under way
  await page.reload();
  await expectFigures(page, changed);
  await expect(page.getByTestId('kept-state')).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, design());
  // Undo goes back over the design; what was kept stays until it is let go.
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await expect(page.getByTestId('kept-state')).toHaveCount(1);
});

test('losses: the dot is dragged, a working opened, a part taken from the shelf', async ({ page }) => {
  await open(page, 'losses');
  await test.step('the working of a figure opens where it is asked for, with the figure itself', async () => {
    await page.locator('[data-part="Q1"]').click();
    await page.getByTestId('part-panel').getByRole('button', { name: 'overlap' }).click();
    const watts = figures(design(), START).losses.parts.find((p) => p.id === 'Q1')!.mechanisms.overlap!;
    await expect(page.getByTestId('part-panel')).toContainText(`= ${(watts * 1000).toPrecision(4)} mW`);
    await expect(page.getByTestId('part-panel')).toContainText('½ V I t f');
  });
  await test.step('a part from the shelf changes the losses', async () => {
    await page.locator('[data-part="Q1"]').click();
    await page.getByLabel('Q1 part', { exact: true }).selectOption('Rime 100-6');
    await expect(page.getByTestId('part-panel')).toContainText('100 V');
    await expect(reed(page, 'losses')).not.toHaveText(`${printQuantity(figures(design()).losses.efficiency, '%')} · ${printQuantity(figures(design()).losses.total, 'W')}`);
    await page.keyboard.press('Control+z');
    await expectFigures(page, design());
  });
  await test.step('the dot on the pad is dragged: every figure is at that point', async () => {
    const pad = page.getByTestId('pad');
    const box = (await pad.boundingBox())!;
    await page.mouse.move(box.x + 120, box.y + 60);
    await page.mouse.down();
    await page.mouse.move(box.x + 70, box.y + 110, { steps: 8 });
    await page.mouse.up();
    const point = await pointOf(page);
    expect(point.line).not.toBe(START.line);
    await expectFigures(page, design(), point);
    await expect(page.getByTestId('total-loss')).toHaveText(printQuantity(figures(design(), point).losses.total, 'W'));
    await pad.focus();
    await page.keyboard.press('Shift+ArrowRight');
    const moved = await pointOf(page);
    expect(moved.line - point.line).toBeCloseTo(2.4, 6);
    await expectFigures(page, design(), moved);
  });
});
