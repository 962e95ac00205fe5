import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { design, expectFigures, open, type } from './bench';

const text = readFileSync('demo/cabin-lighting-rail.json', 'utf8');
const choose = (page: Page, name: string, content: string) =>
  page.getByTestId('open-file').setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(content) });

test('what can not be is refused where it is said, with what would help, and nothing changes', async ({ page }) => {
  await open(page);

  await test.step('a figure of another unit, where it is typed', async () => {
    await page.getByRole('button', { name: /^output voltage/ }).first().click();
    await page.keyboard.type('8 A');
    await expect(page.getByText('"8 A" is a current, and this is a voltage')).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('textbox', { name: 'output voltage' })).toHaveValue('8 A');
    await page.keyboard.press('Escape');
    await expectFigures(page, design());
  });

  await test.step('an impossible brief, at its field', async () => {
    await type(page, /^line range/, '12–18 V');
    await expect(page.getByText('a buck only steps down').first()).toBeVisible();
    await page.keyboard.press('Escape');
    await expectFigures(page, design());
    await expect(page.getByTestId('brief-line')).toContainText('36–60 V');
  });

  await test.step('a point without figures', async () => {
    await page.keyboard.press('6');
    await expect(page).toHaveURL(/\/heat$/);
    await type(page, /^sink to air/, '900');
    await expect(page.getByRole('main').getByRole('alert')).toContainText('drive each other up');
    await page.getByRole('button', { name: 'Undo' }).click();
    await expectFigures(page, design());
  });

  await test.step('a file that is none', async () => {
    await type(page, /^output voltage/, '22');
    for (const [name, content, said] of [
      ['notes.json', 'hello', 'is not JSON'],
      ['recipe.json', '{"kind":"recipe"}', 'of another kind'],
      ['odd.json', text.replace('"loadStep": 4,', '"loadStep": 4, "colour": 3,'), 'no such field'],
      ['neg.json', text.replace('"inductance": null', '"inductance": -1e-6'), 'parts.L1.inductance'],
      ['volts.json', text.replace('"max": 8 }', '"max": "8 V" }'), '"8 V" is a voltage'],
    ] as const) {
      await choose(page, name, content);
      await expect(page.locator('.MuiAlert-root')).toContainText(said);
      await expectFigures(page, design({ 'brief.output.voltage': 22 }));
    }
    await page.getByRole('button', { name: 'Undo' }).click();
    await expectFigures(page, design());
  });

  await test.step('and one that went out comes back the same', async () => {
    await type(page, /^switching at|^switching frequency/, '300k');
    const changed = design({ 'brief.frequency': 300e3 });
    await expectFigures(page, changed);
    const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Control+s')]);
    expect(download.suggestedFilename()).toBe('cabin-lighting-rail.json');
    const saved = readFileSync(await download.path(), 'utf8');
    expect(JSON.parse(saved)).toEqual(changed);
    await page.getByRole('button', { name: 'Undo' }).click();
    await choose(page, 'again.json', saved);
    await expectFigures(page, changed);
  });
});
