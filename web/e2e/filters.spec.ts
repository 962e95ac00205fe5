import { expect, test, type Page } from '@playwright/test';
import { openDemo } from '../../demo/open';
import { methodChanges } from '../../core/choice';
import { BRANCHES } from '../../core/branches';
import { editDesign, withoutLineFilter, type Design } from '../../core/design';
import { evaluate } from '../../core/evaluation';
import { conductedNoise } from '../../core/evaluation/noise';
import { printQuantity as print } from '../../core/quantity';
import { mainsQuality } from '../../core/schedule/mainsQuality';
import { design, expectFigures, open, pointOf, START, type } from './bench';

/** Mains front ends and filters on screen, each figure held against the core. */

const must = <T>(r: { ok: true; value: T } | { ok: false; problem: { message: string } }): T => {
  if (!r.ok) throw new Error(r.problem.message);
  return r.value;
};

async function openNamed(page: Page, stage: string, name: string): Promise<void> {
  await open(page, stage);
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: `${name}, as shipped` }).click();
  await expect(page.getByTestId('brief-line')).not.toContainText('36–60');
}

test('the mains from poor to good: distortion and failing harmonics, tuned in one action, both states laid over', async ({ page }) => {
  await openNamed(page, 'brief', 'Station charger');
  // As nobody has tuned it: a slow current loop by itself.
  await type(page, 'wanted crossover', '600');
  await page.getByRole('button', { name: /^crossover of the voltage loop: / }).click();
  await type(page, 'crossover of the voltage loop', '30');
  await page.getByRole('button', { name: /^duty fed forward/ }).first().click();
  await page.keyboard.press('Control+A');
  await page.keyboard.type('10 %');
  await page.keyboard.press('Enter');
  await page.getByLabel('Carrier').selectOption('trailing');
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'Mains', exact: true }).click();
  const quality = page.getByTestId('quality');
  await expect(quality).toBeVisible({ timeout: 120_000 });
  await expect(page.getByTestId('mains-state')).toContainText('1,400 periods');
  await expect(page.getByTestId('class-verdict')).toContainText('fails at the');
  const factor = quality.getByRole('row', { name: /power factor/ }).getByRole('cell').nth(1);
  const poor = Number(await factor.textContent());
  expect(poor).toBeLessThan(0.95);
  await page.getByTestId('tuning').getByRole('button', { name: 'tune the cascade' }).click();
  await expect(page.getByTestId('tuning')).toContainText('place the loop around it', { timeout: 120_000 });
  await expect(page.getByTestId('class-verdict')).toContainText('holds', { timeout: 120_000 });
  await expect.poll(async () => Number(await factor.textContent()), { timeout: 120_000 }).toBeGreaterThan(0.99);
  // The state before is kept and laid over, with its own column.
  await expect(quality.getByRole('row', { name: /power factor/ }).getByRole('cell').nth(2)).toHaveText(poor.toFixed(4));
  await expect(page.getByTestId('mains-cycle')).toContainText('A - -');
  // One undo takes all of it back.
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('class-verdict')).toContainText('fails at the', { timeout: 120_000 });
});

test('as shipped the charger draws what the core says, and its harmonics are asked for by a click', async ({ page }) => {
  await openNamed(page, 'waveforms', 'Station charger');
  await page.getByRole('button', { name: 'Mains', exact: true }).click();
  const charger = openDemo('station-charger');
  const { line, load, air } = charger.brief;
  const q = must(mainsQuality(charger, { line: line.min + 0.75 * (line.max - line.min), load: 0.75 * load.max, air: air.max }));
  const quality = page.getByTestId('quality');
  await expect(quality.getByRole('row', { name: /power factor/ })).toContainText(q.powerFactor.toFixed(4), { timeout: 120_000 });
  await expect(quality.getByRole('row', { name: /^distortion/ })).toContainText(print(q.distortion, '%', 3));
  await quality.getByRole('button', { name: /ask hold-up time/ }).click();
  await page.keyboard.press('1');
  await expect(page.getByTestId('requirement-holdUp')).toContainText('s');
});

test('a line filter: its damping taken away the margin goes, and comes back with it; the loop says the same', async ({ page }) => {
  await open(page, 'loop');
  await page.getByRole('tab', { name: 'Filter' }).click();
  const at = (d: Design) => must(evaluate(d, START)).loop!.front!;
  const shown = page.getByTestId('front-figures');
  await expect(shown).toContainText(print(at(design()).margin, 'dB', 3));
  await expect(page.getByTestId('front-verdict')).toContainText('stable together for certain');
  await page.getByLabel('Damping of L14, C14').selectOption('');
  const bare = must(editDesign(design(), { branches: { B4: { ...design().branches!.B4!, damped: undefined } }, parts: Object.fromEntries(Object.entries(design().parts).filter(([slot]) => slot !== 'C24')) }));
  await expect(shown).toContainText(print(at(bare).margin, 'dB', 3));
  await expect(page.getByTestId('corner-count')).toHaveText('0 of 9 corners meet the brief');
  await page.getByLabel('Damping of L14, C14').selectOption('parallel');
  await expect(page.getByTestId('front-verdict')).toContainText('stable together for certain');
  // The line stiff again, and a filter hung anew.
  await page.getByRole('button', { name: 'Take the filter L14, C14 away' }).click();
  await expect(page.getByTestId('front')).toContainText('The line is stiff');
  await page.getByRole('button', { name: 'hang a line filter' }).click();
  await expect(page.getByTestId('front-figures')).toBeVisible();
  expect(withoutLineFilter(design()).parts.L14).toBeUndefined();
});

test('noise against a limit: nearest reading as the core has it, the standard changed, limits of one’s own refused and taken', async ({ page }) => {
  await openNamed(page, 'waveforms', 'Station charger');
  await page.getByRole('button', { name: 'Noise', exact: true }).click();
  const charger = openDemo('station-charger');
  const { line, load, air } = charger.brief;
  const study = must(conductedNoise(charger, { line: line.min + 0.75 * (line.max - line.min), load: 0.75 * load.max, air: air.max }));
  const said = page.getByTestId('noise-figures');
  await expect(said).toContainText(`${study.nearest.quasiPeak!.level.toFixed(1)} of ${study.nearest.quasiPeak!.limit.toFixed(1)} dBµV`, { timeout: 120_000 });
  await page.getByLabel('Standard').selectOption('cispr-32-A');
  await expect(said).toContainText('of 79.0 dBµV');
  await said.getByRole('button', { name: 'limits of your own' }).click();
  await said.locator('textarea').fill('150 kHz, 90\n30 MHz, 80\n1 MHz, 70');
  await expect(said).toContainText('row 3 goes back in frequency');
  await expect(said.getByRole('button', { name: 'take it' })).toBeDisabled();
  await said.locator('textarea').fill('150 kHz, 90\n30 MHz, 90');
  await said.getByRole('button', { name: 'take it' }).click();
  await expect(said).toContainText('of 90.0 dBµV');
  // What the filter misses is a click away.
  await page.getByLabel('Standard').selectOption('cispr-32-B');
  await said.getByRole('button', { name: /^give the filter/ }).click();
  await expect(said).not.toContainText('give the filter', { timeout: 120_000 });
});

test('a second stage says what it costs before it is hung; a post-regulator is added, burns what it must and fails without room', async ({ page }) => {
  await open(page);
  const branches = page.getByTestId('branches');
  await branches.getByRole('button', { name: `hang a ${BRANCHES.filter.title}` }).click();
  const offer = page.getByTestId('stage-offer');
  await expect(offer.getByRole('row', { name: /not damped/ })).toContainText('unstable');
  await offer.getByRole('button', { name: 'Hang it damped, fed back behind it' }).click();
  await expect(offer).toBeHidden();
  await expect(branches).toContainText('second L-C stage, C11');
  await branches.getByRole('button', { name: `hang a ${BRANCHES.regulator.title}` }).click();
  const card = page.getByTestId('branch-B2');
  await expect(card).toContainText('headroom over its dropout');
  await type(page, 'made by the post-regulator', '23');
  // (24 V − 23 V) · 6 A, and its own current.
  await expect(card).toContainText('6.00 W');
  await page.keyboard.press('1');
  await expect(page.getByTestId('requirement-headroom')).toContainText('V');
  // One that wants more than there is is refused with its field.
  await page.keyboard.press('2');
  await branches.getByRole('button', { name: /linear post-regulator/ }).first().click();
  await type(page, 'made by the post-regulator', '24');
  await expect(page.getByText(/does not reach it/).first()).toBeVisible();
});

test('a front end whose current follows by itself: its duty held over the mains by a loop slower than that, and what there is to say of it', async ({ page }) => {
  await openNamed(page, 'brief', 'Station charger');
  await page.getByLabel('Control method').selectOption({ label: 'the duty, held over the mains' });
  // Crossover, corners and inductance were for the other way, and go along.
  const charger = openDemo('station-charger');
  const d = must(editDesign(charger, methodChanges(charger, 'held-duty')));
  const point = { ...(await pointOf(page)), air: charger.brief.air.max };
  await expectFigures(page, d, point);
  await page.keyboard.press('4');
  await expect(page.getByText('a mean over the mains')).toBeVisible();
  await expect(page.getByTestId('margin-crossover')).toContainText(print(must(evaluate(d, point)).loop!.crossover, 'Hz'));
  await page.keyboard.press('3');
  await page.getByRole('button', { name: 'Mains', exact: true }).click();
  await expect(page.getByTestId('tuning')).toContainText('No loop shapes this current');
  const row = page.getByTestId('quality').getByRole('row', { name: /displacement/ }).getByRole('cell').nth(1);
  await expect(row).toHaveText(must(mainsQuality(d, point)).displacement.toFixed(4), { timeout: 120_000 });
  // One undo is all of it back.
  await page.keyboard.press('Control+z');
  await expectFigures(page, charger, point);
});
