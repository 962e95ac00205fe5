import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { converterFigures } from '../../core/converter/converter';
import { editElement } from '../../core/interchange/circuitEdit';
import { readConverter } from '../../core/interchange/circuitFile';
import { printQuantity as print } from '../../core/quantity';
import { open, reed } from './bench';

const FILE = 'demo/circuits/buck-closed-loop.json';
const text = readFileSync(FILE, 'utf8');

/** The accessibility rules hold on what is in view. */
async function expectReachable(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).setLegacyMode().withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations.map((v) => `${v.id} ${v.nodes.map((n) => n.target.join(' ')).slice(0, 3).join(' | ')}`)).toEqual([]);
}

/** The figures on the reeds are those that the core reads of the text. */
async function expectCircuit(page: Page, of: string): Promise<void> {
  const read = readConverter(of);
  if (!read.ok) throw new Error(read.problem.message);
  const f = converterFigures(read.value);
  if (!f.ok) throw new Error(f.problem.message);
  const { outputs, loops, losses } = f.value;
  await expect(reed(page, 'waveforms')).toHaveText(`${print(outputs[0]!.voltage.peakToPeak, 'V')} pp`);
  await expect(reed(page, 'loop')).toHaveText(`${print(loops[0]!.crossover, 'Hz')} · ${Math.round(loops[0]!.phaseMargin)}°`);
  await expect(reed(page, 'losses')).toHaveText(`${print(losses.efficiency, '%')} · ${print(losses.total, 'W')}`);
}

test('a circuit with roles: opened from its file, seen in Waveforms, Loop and Losses, a value changed, undone, kept over a reload', async ({ page }) => {
  await open(page);
  await page.getByTestId('open-file').setInputFiles(FILE);
  await expect(page.getByTestId('circuit-line')).toContainText('17 elements');
  await expectCircuit(page, text);
  await expect(page.getByTestId('circuit-verdict')).toContainText('Holds');
  // The list of elements, the place of the loop marked in it.
  await expect(page.getByTestId('element-table').getByRole('row').filter({ hasText: 'loop “output voltage” can be broken here' })).toContainText('inject');

  await expectReachable(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('save the circuit as a file');
  await page.keyboard.press('Escape');
  await page.keyboard.press('3');
  await expect(page.locator('[data-element="inject"]')).toHaveAttribute('data-loop', 'true');
  await expect(page.locator('[data-lane="L1, current"]')).toBeVisible();
  await page.locator('[data-element="Q2"]').click();
  await expect(page.locator('[data-lane="Q2, voltage"]')).toBeVisible();
  await expect(page.getByTestId('element-panel')).toContainText('stands for Q2');

  await expectReachable(page);
  await page.keyboard.press('4');
  await expect(page.getByTestId('bode')).toBeVisible();
  await expect(page.getByTestId('loop-figures')).toContainText('/ 10.0 kHz');
  await page.keyboard.press('5');
  await expect(page.getByTestId('circuit-efficiency')).toContainText('%');

  // A fifth of the output capacitance: the loop crosses higher, and stands for less.
  await page.keyboard.press('Control+k');
  await page.keyboard.type('C2 ·');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^C2 capacitance/ }).click();
  await page.getByRole('textbox', { name: 'C2 capacitance' }).fill('much');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('element-panel').getByRole('alert')).toBeVisible();
  await page.getByRole('textbox', { name: 'C2 capacitance' }).fill('14 µF');
  await page.keyboard.press('Enter');
  const changed = editElement(text, 'C2', 'capacitance', '14 µF');
  if (!changed.ok) throw new Error(changed.problem.message);
  await expectCircuit(page, changed.value);
  await page.keyboard.press('Control+z');
  await expectCircuit(page, text);
  await page.keyboard.press('Control+Shift+z');
  await expectCircuit(page, changed.value);
  await page.reload();
  await expectCircuit(page, changed.value);

  // What can not be read is refused and changes nothing; a design from the menu is there again.
  await page.getByTestId('open-file').setInputFiles({ name: 'bare.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify({ ...(JSON.parse(text) as object), roles: undefined })) });
  await expect(page.getByText('give it roles')).toBeVisible();
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Cabin lighting rail', exact: true }).click();
  await expect(page.getByTestId('brief-line')).toContainText('make 24 V');
});
