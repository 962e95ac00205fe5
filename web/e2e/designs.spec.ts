import { cureOf, movesOf } from '../../core/corners/moves';
import { worstInRegion } from '../../core/corners/worst';
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { candidates, changeBrief, FREQUENCIES, frequencyAt, hangBranch } from '../../core/choice';
import { editDesign } from '../../core/design';
import { shelfCsv } from '../../core/interchange/shelfFile';
import { openDemo } from '../../demo/open';
import { printQuantity as print } from '../../core/quantity';
import { SHELF } from '../../shelf';
import { design, expectFigures, figures, open, type } from './bench';

test('designs are copied, renamed, switched and deleted; each keeps its own figures and history', async ({ page }) => {
  await open(page);
  const menu = page.getByRole('button', { name: /▾/ }).first();
  await menu.click();
  await page.getByRole('menuitem', { name: 'Make a copy' }).click();
  await expect(menu).toContainText('Cabin lighting rail, copy');
  await menu.click();
  await page.getByRole('menuitem', { name: 'Rename…' }).click();
  await page.getByRole('dialog').getByRole('textbox').fill('Rail at 20 V');
  await page.getByRole('dialog').getByRole('button', { name: 'Rename' }).click();
  await type(page, /^output voltage/, '20');
  const changed = design({ 'brief.output.voltage': 20, name: 'Rail at 20 V' });
  await expectFigures(page, changed);

  await menu.click();
  await page.getByRole('menuitem', { name: 'Cabin lighting rail', exact: true }).click();
  await expect(menu).toHaveText('Cabin lighting rail ▾');
  await expectFigures(page, design());
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();

  await menu.click();
  await page.getByRole('menuitem', { name: 'Rail at 20 V' }).click();
  await expect(menu).toHaveText('Rail at 20 V ▾');
  await expectFigures(page, changed);
  await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();

  await menu.click();
  await page.getByRole('menuitem', { name: 'Delete from this browser…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click();
  await expect(menu).toContainText('Cabin lighting rail');
  await expectFigures(page, design());
});

test('plots are saved as data and as pictures', async ({ page }) => {
  await open(page, 'loop');
  const save = async (what: string): Promise<{ name: string; text: string }> => {
    await page.getByRole('button', { name: /Save plot/ }).click();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: what }).click()]);
    return { name: download.suggestedFilename(), text: readFileSync(await download.path(), 'latin1') };
  };
  const csv = await save('data as CSV');
  expect(csv.name).toBe('bode-loop.csv');
  // Two hundred frequencies and those that the curve asks for besides.
  expect(csv.text.split('\n').length).toBeGreaterThanOrEqual(201);
  const svg = await save('as SVG');
  expect(svg.text.startsWith('<svg')).toBe(true);
  expect(svg.text.includes('var(--'), 'colours are written out').toBe(false);
  const png = await save('as PNG');
  expect(png.text.slice(1, 4)).toBe('PNG');
});

test('the screen stays dark after a reload', async ({ page }) => {
  await open(page);
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Dark screen' }).click();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
});

test('another topology for the demo brief: compared, taken, its inductor overridden, its switch picked, and undone', async ({ page }) => {
  await open(page, 'power-stage');
  const show = page.getByRole('group', { name: 'Show' });
  await show.getByRole('button', { name: 'topologies' }).click();
  const table = page.getByTestId('candidates');
  const list = candidates(design(), SHELF);
  await expect(table).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: 'held against the brief' })).toHaveCount(0);
  for (const c of list) {
    const row = page.locator(`[data-candidate="${c.id}"]`);
    if (c.figures) await expect(row).toContainText(print(c.figures.loss, 'W'));
    else await expect(row).toContainText(c.refusal!.message);
  }
  await table.getByRole('button', { name: 'stored' }).click();
  const most = list.filter((c) => c.figures).reduce((a, c) => (c.figures!.storedEnergy > a.figures!.storedEnergy ? c : a));
  await expect(table.locator('tbody tr').last()).toContainText(print(most.figures!.storedEnergy, 'J'));
  await page.getByRole('button', { name: 'Take Buck, with diode' }).click();
  const taken = list.find((c) => c.id === 'buck-diode')!.design!;
  await expectFigures(page, taken);
  await expect(page.locator('[data-part="D1"]')).toBeVisible();
  await expect(page.locator('[data-part="Q2"]')).toHaveCount(0);

  // Every stage follows: waveforms and heat name the diode.
  await page.keyboard.press('6');
  await expect(page.getByText('D1 junction').first()).toBeVisible();
  await page.keyboard.press('2');
  await page.locator('[data-part="L1"]').click();
  await page.getByRole('button', { name: 'L1 inductance: override' }).click();
  await page.keyboard.type('47u');
  await page.keyboard.press('Enter');
  const changed = editDesign(taken, { 'parts.L1.inductance': 47e-6 });
  if (!changed.ok) throw new Error(changed.problem.message);
  await expectFigures(page, changed.value);
  await page.locator('[data-part="Q1"]').click();
  await page.getByLabel('Q1 part', { exact: true }).selectOption('Larch 100-7');
  const part = SHELF.find((p) => p.part === 'Larch 100-7')!;
  const picked = editDesign(changed.value, { 'parts.Q1': part });
  if (!picked.ok) throw new Error(picked.problem.message);
  await expectFigures(page, picked.value);

  for (let k = 0; k < 3; k++) await page.keyboard.press('Control+z');
  await expectFigures(page, design());
});

test('a damping branch hung on the output: drawn, sized, and every stage follows; its resistor overridden, undone', async ({ page }) => {
  await open(page, 'power-stage');
  // What stands on screen stays, stale, until there is better.
  await page.evaluate(() => {
    const blank = { seen: 0 };
    Object.assign(window, { blank });
    new MutationObserver(() => document.querySelector('[data-testid=sizes]') ?? blank.seen++).observe(document.body, { childList: true, subtree: true });
  });
  await page.getByRole('button', { name: 'hang a damping R-C' }).click();
  const hung = hangBranch(design(), 'damping', SHELF);
  if (!hung.ok) throw new Error(hung.problem.message);
  await expectFigures(page, hung.value);
  await expect(page.getByTestId('corner-count')).toHaveText('9 of 9 corners meet the brief');
  expect(await page.evaluate(() => (window as unknown as { blank: { seen: number } }).blank.seen)).toBe(0);
  await expect(page.locator('[data-part="C11"]')).toBeVisible();
  await expect(page.getByTestId('part-panel')).toContainText('C11 · damping capacitor');
  await page.getByRole('button', { name: 'C11 damping resistance: override' }).click();
  await page.keyboard.type('1.5');
  await page.keyboard.press('Enter');
  const own = editDesign(hung.value, { 'branches.B1.resistance': 1.5 });
  if (!own.ok) throw new Error(own.problem.message);
  await expectFigures(page, own.value);
  await page.keyboard.press('5');
  await expect(page.getByText('C11').first()).toBeVisible();
  for (let k = 0; k < 2; k++) await page.keyboard.press('Control+z');
  await expect(page.locator('[data-part="C11"]')).toHaveCount(0);
  await expectFigures(page, design());
});

test('a transformer’s turns are overridden, and the second output follows', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Gate supplies, as shipped' }).click();
  await expect(page.getByTestId('corner-count')).toContainText('9 of 9');
  const second = page.locator('[data-part="load 2"]');
  const before = await second.textContent();
  await page.locator('[data-part="T1"]').click();
  await page.getByRole('button', { name: 'T1 turns of the third winding: override' }).click();
  await page.keyboard.type('16');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-part="T1"]')).toContainText(': 16');
  await expect(second).not.toHaveText(before!);
});

test('isolation asked for in the brief takes a topology with a transformer, says so, and goes back', async ({ page }) => {
  await open(page, 'brief');
  await page.getByRole('checkbox', { name: 'output parted from the line' }).click();
  const changed = changeBrief(design(), { isolated: true }, SHELF);
  if (!changed.ok) throw new Error(changed.problem.message);
  await expect(page.getByText(`${changed.value.taken} taken`)).toBeVisible();
  await expectFigures(page, changed.value.design);
  await expect(page.locator('[data-part="T1"]')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expectFigures(page, design());
});

test('own parts: read from CSV, refused with row and column, kept over a reload, taken, saved', async ({ page }) => {
  await open(page, 'power-stage');
  await page.locator('[data-part="Q1"]').click();
  const shelf = async (): Promise<void> => page.getByRole('group', { name: 'Show' }).getByRole('button', { name: 'shelf' }).click();
  await shelf();
  const q = SHELF.find((p) => p.part === 'Larch 80-9')!;
  const csv = shelfCsv([{ ...q, part: 'Valley 80-5', onResistance: 5e-3 } as typeof q]);
  const give = (text: string): Promise<void> => page.getByLabel('Shelf file').setInputFiles({ name: 'own.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await give(csv.replace('0.005', '5 mH'));
  await expect(page.getByText('own.csv, row 2, onResistance')).toBeVisible();
  await give(csv);
  const row = page.getByTestId('shelf').getByRole('row', { name: /Valley 80-5/ });
  await expect(row).toContainText('own');
  await page.reload();
  await page.locator('[data-part="Q1"]').click();
  await shelf();
  await page.getByLabel('Search the shelf').fill('valley');
  await row.click();
  await page.getByRole('button', { name: 'take for Q1' }).click();
  const taken = editDesign(design(), { 'parts.Q1': { ...q, part: 'Valley 80-5', onResistance: 5e-3 } });
  if (!taken.ok) throw new Error(taken.problem.message);
  await expectFigures(page, taken.value);
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'save CSV' }).click()]);
  expect(readFileSync(await file.path(), 'utf8')).toBe(csv);
});

test('a demo of another kind opens from the menu, a boost that holds everywhere', async ({ page }) => {
  await open(page);
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Door motor, as shipped' }).click();
  await expect(page.getByTestId('corner-count')).toContainText('9 of 9');
  await expect(page.getByTestId('brief-line')).toContainText('42');
});

test('the station charger on the mains: half a cycle drawn, its angle moved, every figure follows', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
  await expect(page.getByTestId('brief-line')).toContainText('ac, 50 Hz');
  await expect(page.getByTestId('corner-count')).toHaveText('9 of 9 corners meet the brief');
  const charger = openDemo('station-charger');
  const { line, load, air } = charger.brief;
  const point = { line: line.min + 0.75 * (line.max - line.min), load: 0.75 * load.max, air: air.max };
  const duty = (angle?: number): string => `${(figures(charger, { ...point, ...(angle === undefined ? {} : { angle }) }).cycle.duty * 100).toFixed(2)} %`;
  await expect(page.getByTestId('duty')).toHaveText(duty());
  const angle = page.getByRole('slider', { name: 'Angle of the mains in view' });
  await expect(angle).toHaveAttribute('aria-valuenow', '90');
  await angle.focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowLeft');
  await expect(angle).toHaveAttribute('aria-valuenow', '60');
  await expect(page.getByTestId('duty')).toHaveText(duty(Math.PI / 2 - (30 * Math.PI) / 180));
  await expect(page.getByTestId('mains-ripple')).toHaveText(`${print(figures(charger, point).cycle.outputRipple, 'V')} pp in all`);
  await page.keyboard.press('4');
  await expect(page.getByTestId('voltage-loop')).toContainText('9.9 Hz');
});

test('a snubber hung across a switch: drawn, sized, its loss counted; taken away again', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('button', { name: 'Q1, open' }).click();
  await page.getByRole('button', { name: 'hang a snubber R-C across Q1' }).click();
  const hung = hangBranch(design(), 'snubber', SHELF, { at: 'Q1' });
  if (!hung.ok) throw new Error(hung.problem.message);
  await expectFigures(page, hung.value);
  await expect(page.locator('[data-part="C11"]')).toBeVisible();
  await type(page, 'inductance of the loop at Q1', '45n');
  const wider = editDesign(hung.value, { 'branches.B1.stray': 45e-9 });
  if (!wider.ok) throw new Error(wider.problem.message);
  await expectFigures(page, wider.value);
  await page.getByRole('button', { name: 'Take snubber R-C away' }).click();
  await expectFigures(page, design());
});

test('the switching frequency is chosen by loss and size, within what the brief leaves open', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('group', { name: 'Show' }).getByRole('button', { name: 'frequency' }).click();
  const found = frequencyAt(design(), FREQUENCIES - 1, SHELF);
  await expect(page.locator(`[data-frequency="${found.frequency}"]`)).toContainText(print(found.figures!.loss, 'W'));
  await page.getByRole('button', { name: `Take ${print(found.frequency, 'Hz', 2)}` }).click();
  await expectFigures(page, found.design!);
  await page.keyboard.press('Control+z');
  await expectFigures(page, design());
});

test('the brief: what hangs on both ends of it, and every figure follows', async ({ page }) => {
  await open(page, 'brief');
  await page.getByLabel('Kind of load').selectOption('constant power');
  await expectFigures(page, design({ 'brief.loadKind': 'constant-power' }));
  await expect(page.getByTestId('brief-line')).toContainText('constant power');
  await page.getByLabel('Kind of load').selectOption('diode string');
  const lamps = { 'brief.loadKind': 'diode-string', 'brief.loadThreshold': 20 };
  await expectFigures(page, design(lamps));
  // A threshold at which nothing would flow is refused where it is typed.
  await type(page, /^threshold of the load/, '24 V');
  await expect(page.getByText('is not below the output: nothing would flow').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'none', exact: true }).click();
  await expectFigures(page, design({ ...lamps, 'brief.lineResistance': 0.01, 'brief.lineInductance': 1e-6 }));
  for (let k = 0; k < 3; k++) await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, design());
});

test('the brief: a line step, a slower load step, conduction at light load; what a dc topology can not do is told', async ({ page }) => {
  await open(page, 'brief');
  const row = (label: string) => page.getByText(label, { exact: true }).locator('..');
  await row('line step').getByRole('button', { name: 'give one' }).click();
  await type(page, /^line step/, '5');
  await expect(page.getByTestId('requirement-lineDeviation')).toContainText('mV');
  await page.getByLabel('Conduction at the smallest load').selectOption('discontinuous');
  await expect(page.getByTestId('light-load')).toContainText('take a topology with a diode');
  await page.getByLabel('Conduction at the smallest load').selectOption('continuous');
  await expect(page.getByTestId('light-load')).toContainText('so it is');
  await page.getByRole('button', { name: 'the line is the mains' }).click();
  await expect(page.getByText(/103 % of the crest|wants a dc line/).first()).toBeVisible();
});

test('sinks, wires and materials of the shelf; a sink taken cools the design', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('group', { name: 'Show' }).getByRole('button', { name: 'shelf' }).click();
  await page.getByRole('button', { name: 'materials' }).click();
  await expect(page.getByTestId('shelf')).toContainText('Frost ribbon');
  // One's own is read from a file, stands with the others, and goes again.
  const own = 'kind,part,permeability,maxFluxDensity,steinmetz.k,steinmetz.alpha,steinmetz.beta\nmaterial,Fen powder,75,0.8 T,12,1.4,2.1\n';
  await page.getByLabel('Shelf file').setInputFiles({ name: 'own.csv', mimeType: 'text/csv', buffer: Buffer.from(own) });
  await expect(page.getByRole('row', { name: /Fen powder own/ })).toContainText('800 mT');
  await page.getByRole('cell', { name: 'Fen powder' }).click();
  await page.getByRole('button', { name: 'off my shelf' }).click();
  await expect(page.getByRole('row', { name: /Fen powder/ })).toHaveCount(0);
  await page.getByRole('button', { name: 'sinks' }).click();
  await page.getByRole('cell', { name: 'Ridge 100-50' }).click();
  await page.getByRole('button', { name: 'take as the sink' }).click();
  await expectFigures(page, design({ 'sink.thermalResistance': 1.5 }));
});

test('the loop sets the peak current instead of the duty: every figure of the loop follows, its ramp overridden', async ({ page }) => {
  await open(page, 'brief');
  await page.getByLabel('Control method').selectOption('peak-current');
  await expectFigures(page, design({ 'control.method': 'peak-current' }));
  await expect(page.getByTestId('corner-count')).toHaveText('9 of 9 corners meet the brief');
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'compensation ramp: override' }).click();
  await page.keyboard.type('900k');
  await page.keyboard.press('Enter');
  await expectFigures(page, design({ 'control.method': 'peak-current', 'control.slope': 9e5 }));
  // Without a clock: the frequency is what it takes, and is told.
  await page.keyboard.press('1');
  await page.getByLabel('Control method').selectOption('constant-on-time');
  const free = design({ 'control.method': 'constant-on-time', 'control.slope': 9e5 });
  await expectFigures(page, free);
  await page.keyboard.press('4');
  await expect(page.getByTestId('own-frequency')).toContainText(print(1 / figures(free).cycle.period, 'Hz'));
});

test('a transconductance amplifier: chosen, placed, its zero dragged; the screen shows what it has and no more', async ({ page }) => {
  const changes = { 'control.crossover': 200, 'control.amplifier': 'transconductance' };
  await open(page, 'brief');
  await type(page, 'wanted crossover', '200');
  await expectFigures(page, design({ 'control.crossover': 200 }));
  await page.getByLabel('Error amplifier').selectOption('transconductance');
  await expectFigures(page, design(changes));
  await type(page, /^transconductance/, '2m');
  await page.keyboard.press('4');
  await expectFigures(page, design({ ...changes, 'control.transconductance': 2e-3 }));
  await expect(page.getByTestId('corner-pole1')).toBeVisible();
  await expect(page.getByTestId('corner-zero2')).toHaveCount(0);
  await expect(page.getByText('Type II network, transconductance')).toBeVisible();
  const handle = page.locator('[data-corner="zero1"]');
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + 12, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 30, box.y + box.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByTestId('corner-zero1')).toContainText('↺');
  await page.keyboard.press('Control+z');
  await expectFigures(page, design({ ...changes, 'control.transconductance': 2e-3 }));
});

test('the whole region is searched between the corners; what moves its tightest requirement, and the cure tried with a click', async ({ page }) => {
  await open(page, 'corners');
  const verdict = worstInRegion(design());
  await expect(page.getByTestId('searched')).toHaveText(`${verdict.points} points judged`);
  const [tightest] = verdict.worst;
  const moved = movesOf(design(), tightest!.id, tightest!.at)!;
  const cure = cureOf(design(), moved, tightest!.at)!;
  const moves = page.getByTestId('moves');
  await expect(moves).toContainText(`${print(cure.standing.value, 'V')}, and it holds`);
  await expect(moves).toContainText(moved.moves[0]!.title);
  await page.getByRole('button', { name: 'Try it' }).click();
  await expectFigures(page, design({ [cure.move.path]: cure.value }));
  await expect(page.getByTestId('corner-count')).toContainText('9 of 9');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, design());
});
