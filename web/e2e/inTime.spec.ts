import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { bestShift, carried, deviationOf, readCapture } from '../../core/capture';
import { holdCorners, judge } from '../../core/corners/corners';
import { beginRun, recordRun, usualSchedules } from '../../core/schedule';
import { printQuantity as print } from '../../core/quantity';
import { design, figures, open, pointOf, START, type } from './bench';

/** Waveforms in time: the converter run through what happens to it. */

/** Least and most of the output over a run, by the core, as the screen prints them. */
function output(changes: Record<string, unknown>, name: string): { least: string; most: string } {
  const d = design(changes);
  const schedule = usualSchedules(d, START).find((s) => s.name === name)!;
  const ready = beginRun(d, START, schedule);
  if (!ready.ok) throw new Error(ready.problem.message);
  const seen = recordRun(ready.value, schedule);
  if (!seen.ok) throw new Error(seen.problem.message);
  const { least, most } = seen.value.record.read(ready.value.traces.findIndex((t) => t.id === 'output'))!;
  return { least: print(least, 'V'), most: print(most, 'V') };
}

test('a load step, then a start: what is seen is what the core runs; a soft start given tames it', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'In time' }).click();
  const state = page.getByTestId('run-state');
  await expect(state).toContainText('switched, exact');
  const step = output({}, 'load step');
  await expect(page.getByTestId('run-least-output')).toContainText(step.least);
  await expect(page.getByTestId('run-most-output')).toContainText(step.most);
  await expect(page.getByTestId('run-lanes')).toContainText('load 6 A → 10 A');
  // Cursors by keyboard; what stands between them is read.
  await page.getByRole('slider', { name: 'Cursor b' }).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('run-lanes')).toContainText('b−a');

  // The step is dragged along: it becomes a schedule of the design's own, typed as well, and run anew.
  const handle = page.locator('[data-step="0"]');
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + 4, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 4, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByLabel('Schedule')).toHaveValue('own 1');
  const row = page.getByTestId('schedule');
  await expect(row).toContainText('load');
  await row.getByRole('button', { name: 'load goes to: 10 A' }).click();
  await page.keyboard.type('9');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('run-lanes')).toContainText('load 6 A → 9 A');
  await expect(state).toContainText('switched, exact');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('run-lanes')).toContainText('load 6 A → 10 A');
  // A part that fails on the way: said on the timeline, and gone with undo.
  await row.getByRole('button', { name: 'a part fails' }).click();
  await expect(page.getByTestId('run-lanes')).toContainText('Q1 opens');
  await expect(state).toContainText('switched, exact');
  await row.getByLabel('How it fails 1').selectOption('short');
  await expect(page.getByTestId('run-lanes')).toContainText('Q1 is a short');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('run-lanes')).not.toContainText(/Q1 (opens|is a short)/);
  await page.getByRole('button', { name: 'take it away' }).click();
  await expect(page.getByLabel('Schedule')).toHaveValue('load step');

  // A kept state is run through the same, and laid over.
  await page.keyboard.press('k');
  await expect(page.locator('[data-trace=output]')).toHaveAttribute('data-curves', '2');

  await page.getByLabel('Schedule').selectOption('start-up');
  await expect(page.getByTestId('run-lanes')).toContainText('switched on');
  await expect(page.getByTestId('run-most-output')).toContainText(output({}, 'start-up').most);
  const [download] = await Promise.all([page.waitForEvent('download'), (async () => {
    await page.getByRole('button', { name: 'Save plot' }).click();
    await page.getByRole('menuitem', { name: 'data as CSV' }).click();
  })()]);
  expect(download.suggestedFilename()).toBe('start-up.csv');

  await page.keyboard.press('1');
  await page.getByRole('button', { name: 'soft start: none' }).click();
  await type(page, 'soft start', '1m');
  await page.keyboard.press('3');

  await page.getByLabel('Schedule').selectOption('start-up');
  await expect(page.getByTestId('run-most-output')).toContainText(output({ 'control.softStart': 1e-3 }, 'start-up').most);
});

test('on the mains: a cycle of it left out, seen to its end', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
  await expect(page.getByTestId('mains')).toBeVisible();
  await page.getByRole('button', { name: 'In time' }).click();
  await page.getByLabel('Schedule').selectOption('line dip');
  await expect(page.getByTestId('run-state')).toContainText('switched, exact: 12,600 periods');
  const { line } = await pointOf(page);
  await expect(page.getByTestId('run-most-line.voltage')).toContainText(print(Math.SQRT2 * line, 'V'));
  await expect(page.getByTestId('run-lanes')).toContainText(`line ${Math.round(line)} V → 0 V`);
});

test('any trace of any part: added by a click, read, joined, moved, taken away; zoomed, from event to event; gone on with until it is settled', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'In time' }).click();
  const state = page.getByTestId('run-state');
  await expect(state).toContainText('switched, exact');
  // A part of the power path, and what can be seen of it.
  await page.getByRole('button', { name: /^C2,/ }).first().click();
  await page.getByTestId('traces-of').getByRole('button', { name: 'power' }).click();
  await expect(page.locator('[data-trace="C2.power"]')).toBeVisible();
  const readings = page.getByTestId('readings');
  await expect(readings).toContainText('C2 power');
  await readings.getByRole('button', { name: 'C2 power: into the lane above' }).click();
  await expect(readings.locator('[data-lane="3"]')).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(readings.locator('[data-lane="3"]')).toHaveCount(1);
  await readings.getByRole('button', { name: 'C2 power: take away' }).click();
  await expect(page.locator('[data-trace="C2.power"]')).toHaveCount(0);

  // Carried by its name below another, called otherwise, its lane made higher by key and by hand; one step of undo each.
  const order = (): Promise<(string | null)[]> => page.locator('[data-trace]').evaluateAll((all) => all.map((t) => t.getAttribute('data-trace')));
  const before = await order();
  const first = page.locator(`[data-trace="${before[0]}"] rect`).first();
  const last = page.locator(`[data-trace="${before.at(-1)}"]`);
  const [from, onto] = [(await first.boundingBox())!, (await last.boundingBox())!];
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x + 20, onto.y, { steps: 4 });
  await page.mouse.move(from.x + 20, onto.y + onto.height + 20, { steps: 4 });
  await expect(page.getByTestId('drop-mark')).toBeVisible();
  await page.mouse.up();
  await expect.poll(order).toEqual([...before.slice(1), before[0]]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(order).toEqual(before);
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  await type(page, /^name of the trace/, 'Rail');
  await expect(page.getByRole('button', { name: 'Rail: its figures' })).toBeVisible();
  await type(page, /^name of the trace/, 'Output');
  await expect(page.getByRole('button', { name: 'Output: its figures' })).toBeVisible();
  const edge = page.getByTestId('edge-0');
  const height = async (): Promise<number> => Number(await edge.getAttribute('aria-valuenow'));
  const usual = await height();
  await edge.press('ArrowDown');
  await expect.poll(height).toBe(usual + 8);
  const at = (await edge.boundingBox())!;
  await page.mouse.move(at.x + 200, at.y + 4);
  await page.mouse.down();
  await page.mouse.move(at.x + 200, at.y + 24, { steps: 3 });
  await page.mouse.up();
  await expect.poll(height).toBe(usual + 28);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(height).toBe(usual + 8);
  await readings.getByRole('button', { name: 'the usual ones' }).click();
  await expect.poll(height).toBe(usual);
  await readings.getByRole('button', { name: 'back to the part' }).click();

  // By keys: closer, to the next event, and what happens there; then all of it again.
  const lanes = page.getByTestId('run-lanes');
  await lanes.focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press('+');
  const width = async (): Promise<number> => Number(await lanes.getAttribute('data-until')) - Number(await lanes.getAttribute('data-from'));
  const closer = await width();
  await page.keyboard.press(']');
  await expect(page.getByTestId('event')).toContainText(/Q[12] (opens|closes): its gate/);
  await page.keyboard.press('0');
  expect(await width()).toBeCloseTo(closer * 64, 9);

  // Averaged, over it: what that costs, and how far it is away.
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  await state.getByLabel(/averaged over it/).check();
  await expect(page.getByTestId('averaged')).toContainText(/\d+ of \d+ periods run/);
  await expect(readings).toContainText('of what the mean does');
  await expect(page.locator('[data-trace=output]')).toHaveAttribute('data-curves', '2');
  await state.getByLabel(/averaged over it/).uncheck();
  // By frequency, with the exact harmonics; and against another trace.
  await readings.getByRole('button', { name: 'spectrum' }).click();
  await expect(page.getByTestId('spectrum').locator('circle').first()).toBeVisible();
  await readings.getByRole('button', { name: 'against another trace' }).click();
  await page.getByLabel('The trace across').selectOption({ label: 'L1 current' });
  await expect(page.getByRole('img', { name: 'Output over L1 current' })).toBeVisible();

  await state.getByRole('button', { name: 'go on' }).click();
  await expect(state).toContainText('308 periods');
  await state.getByRole('button', { name: 'until settled' }).click();
  await expect(page.getByTestId('settled')).toBeVisible();
});

test('27 runs over three quantities: a figure over the first of them, then a trace; a curve is picked and its values taken', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'Sweep' }).click();
  const sweep = page.getByTestId('sweep');
  await sweep.getByLabel('Values of quantity 1').fill('15u, 27u, 47u');
  await sweep.getByRole('button', { name: 'one more quantity' }).click();
  await sweep.getByLabel('Values of quantity 2').fill('150k..300k/3');
  await sweep.getByRole('button', { name: 'one more quantity' }).click();
  await sweep.getByLabel('Swept quantity 3').selectOption('parts.C2.count');
  await sweep.getByLabel('Values of quantity 3').fill('4,5,six');
  await sweep.getByRole('button', { name: 'Run' }).click();
  await expect(sweep).toContainText('"six" is not a number');
  await sweep.getByLabel('Values of quantity 3').fill('4,5,6');
  await sweep.getByRole('button', { name: 'Run' }).click();
  await expect(sweep.locator('[data-curve] circle')).toHaveCount(27);
  await sweep.getByRole('button', { name: 'pick L1 inductance 47 µH, 150 kHz, 5' }).press('Enter');
  const picked = sweep.getByTestId('picked');
  const d = design({ 'parts.L1.inductance': 47e-6, 'brief.frequency': 150e3, 'parts.C2.count': 5 });
  await expect(picked).toContainText(`output ripple ${print(figures(d).cycle.outputRipple, 'V', 3)}`);
  // Left out of the picture and put back.
  await sweep.getByTestId('filters').getByRole('button', { name: '150 kHz' }).click();
  await expect(sweep.locator('[data-curve] circle')).toHaveCount(18);
  await sweep.getByTestId('filters').getByRole('button', { name: '150 kHz' }).click();
  await sweep.getByRole('button', { name: 'Take these values' }).click();
  await expect(page.getByRole('button', { name: /^switching frequency: 150 kHz/ }).first()).toBeVisible();
  await expect(page.getByTestId('reed-waveforms')).toHaveText(`${print(figures(d).cycle.outputRipple, 'V')} pp`);

  await sweep.getByLabel('Values of quantity 3').fill('4,6');
  await sweep.getByLabel('Values of quantity 2').fill('150k');
  await sweep.getByLabel('What is seen of a sweep').selectOption('wave');
  await sweep.getByRole('button', { name: 'Run' }).click();
  await expect(sweep.locator('[data-curve]')).toHaveCount(6);
  await sweep.getByLabel('What is seen of a sweep').selectOption('loop');
  await sweep.getByRole('button', { name: 'Run' }).click();
  await expect(page.getByRole('group', { name: 'loop gain over frequency' }).locator('[data-curve]')).toHaveCount(6);
});

test('a figure of a run is required: held at every corner, drawn in its lane, in the brief, and let go', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'In time' }).click();
  await expect(page.getByTestId('run-state')).toContainText('switched, exact');
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  const pins = page.getByTestId('pins');
  await pins.getByRole('button', { name: 'require this …' }).click();
  await pins.getByLabel('required at least').fill('24.5 V');
  await pins.getByLabel('required at most').fill('23.7 V');
  await pins.getByRole('button', { name: 'Require', exact: true }).click();
  await expect(pins).toContainText('its least is not below its most');
  // So that it is met here, and not at full load.
  await pins.getByLabel('required at least').fill('23.66 V');
  await pins.getByLabel('required at most').fill('24.5 V');
  await pins.getByRole('button', { name: 'Require', exact: true }).click();
  const d = design({ pins: [{ schedule: 'load step', trace: 'output', title: 'Output', unit: 'V', low: 23.66, high: 24.5, from: 0 }], 'requirements.pinned.on': true });
  const held = holdCorners(d);
  const holding = held.corners.filter((c) => c.pinned![0]!.holds).length;
  expect(holding).toBeLessThan(9);
  await expect(pins).toContainText(`${holding} of 9`);
  await expect(page.getByTestId('required')).toHaveAttribute('data-fails', String(!judge(d, START).pinned![0]!.holds));
  await page.keyboard.press('1');
  await expect(page.getByTestId('requirement-pinned')).toContainText(print(held.worst.find((w) => w.id === 'pinned')!.value, '%'));
  await page.keyboard.press('3');
  await pins.getByRole('button', { name: /^no longer require/ }).click();
  await expect(page.getByTestId('required')).toHaveCount(0);
});

test('a capture of the bench laid over: its columns shown, shifted by hand and to the best place, kept with the design, taken away', async ({ page }) => {
  await open(page, 'waveforms');
  await page.getByRole('button', { name: 'In time' }).click();
  await expect(page.getByTestId('run-state')).toContainText('switched, exact');
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  const captures = page.getByTestId('captures');
  await captures.getByLabel('Capture file').setInputFiles({ name: 'bad.csv', mimeType: 'text/csv', buffer: Buffer.from('t,v\n1,2\n2,NaN\n') });
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('line 3');
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  await captures.getByLabel('Capture file').setInputFiles('demo/measured/rail-load-step.csv');
  await expect(dialog.getByTestId('capture-columns')).toContainText('coil current');
  await expect(dialog).toContainText('2,600 rows over 640 µs');
  await dialog.getByRole('button', { name: 'Lay it over' }).click();
  await captures.getByRole('button', { name: 'best' }).click();
  // By the core: the very file, carried, at its best place.
  const read = readCapture(readFileSync('demo/measured/rail-load-step.csv', 'utf8'));
  if (!read.ok) throw new Error(read.problem.message);
  const schedule = usualSchedules(design(), START)[1]!;
  const ready = beginRun(design(), START, schedule, ['output']);
  const run = ready.ok ? recordRun(ready.value, schedule) : ready;
  if (!run.ok) throw new Error(run.problem.message);
  const c = { ...carried(read.value.time, read.value.values[1]!), scale: 1, offset: 0 };
  const shift = Number(bestShift(run.value.record, 0, c)!.toPrecision(9));
  await expect(captures.getByTestId('away')).toHaveText(print(deviationOf(run.value.record, 0, { ...c, shift })!.rms, 'V', 3));
  const handle = page.getByTestId('capture');
  await handle.focus();
  await page.keyboard.press('ArrowRight');
  await expect(captures.getByTestId('away')).not.toHaveText(print(deviationOf(run.value.record, 0, { ...c, shift })!.rms, 'V', 3));
  await page.reload();
  await page.getByRole('button', { name: 'In time' }).click();
  await expect(page.getByTestId('capture')).toContainText('rail-load-step');
  await page.getByRole('button', { name: 'Output: its figures' }).press('Enter');
  await captures.getByRole('button', { name: 'take rail-load-step away' }).click();
  await expect(page.getByTestId('capture')).toHaveCount(0);
});
