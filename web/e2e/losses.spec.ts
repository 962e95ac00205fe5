import { expect, test } from '@playwright/test';
import { cornerPoints } from '../../core/corners/corners';
import { tradeOf } from '../../core/corners/trade';
import { lossRow } from '../../core/corners/lossMap';
import { deratingOf } from '../../core/evaluation/derating';
import { warmingOf } from '../../core/evaluation/warming';
import { transformerStudy } from '../../core/evaluation/transformer';
import { windingStudy } from '../../core/evaluation/winding';
import { editDesign, readDesignValue, type Design } from '../../core/design';
import type { SwitchPart, TransformerPart } from '../../core/parts/schema';
import gates from '../../demo/gate-supplies.json' with { type: 'json' };
import { partOf } from '../../core/magnetics/wind';
import { edgeStudy } from '../../core/evaluation/edges';
import { readEnergies } from '../../core/parts/readEnergy';
import { fitSteinmetz, readLossPoints } from '../../core/parts/materialFit';
import { GOODS, SHELF } from '../../shelf';
import { fitPulse, readPulse } from '../../core/thermal/pulseFit';
import { printDuration, printQuantity as print } from '../../core/quantity';
import { design, expectFigures, figures, open, START, type } from './bench';

/** The Losses stage besides the point in view. */

test('losses over the load, and the efficiency map: made, stopped, a cell taken, a kept one taken away from it', async ({ page }) => {
  await open(page, 'losses');
  await page.getByRole('button', { name: 'over', exact: true }).click();
  const over = page.getByTestId('over-load');
  const full = lossRow(design(), 'line', 8, [START.line], START)[0]!.figures!;
  const overlap = full.parts.reduce((sum, p) => sum + (p.mechanisms.overlap ?? 0), 0);
  await expect(over).toContainText(`overlap ${print(overlap, 'W', 3)}`);
  await page.getByRole('button', { name: 'share of the input' }).click();
  await expect(over).toContainText(`overlap ${print(overlap / (full.output + full.total), '%', 3)}`);

  // Over the frequency the hardware is the same.
  await page.getByRole('button', { name: 'watts' }).click();
  await page.getByRole('button', { name: 'frequency', exact: true }).click();
  const fast = lossRow(design(), 'frequency', START.load, [440e3], START)[0]!.figures!;
  await expect(over).toContainText(`gate drive ${print(fast.parts.reduce((sum, p) => sum + (p.mechanisms.gate ?? 0), 0), 'W', 3)}`);

  await page.getByRole('button', { name: 'map', exact: true }).click();
  await page.getByRole('button', { name: 'make the map' }).click();
  await expect(page.getByRole('status').filter({ hasText: '% of the map' })).toBeVisible();
  await page.getByRole('button', { name: 'stop', exact: true }).last().click();
  await expect(page.getByRole('status').filter({ hasText: '% of the map' })).toHaveCount(0);
  await page.getByRole('button', { name: /make (the map|it again)/ }).click();
  await expect(page.getByTestId('map-best')).toContainText('900 settled points', { timeout: 150_000 });
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

test('what a choice costs: two in parallel and another gate resistor taken from the curve, as the core says', async ({ page }) => {
  await open(page, 'losses');
  await page.locator('[data-part="Q1"]').click();
  await page.getByRole('button', { name: 'choices', exact: true }).click();
  const found = tradeOf(design(), { of: 'parallel', slot: 'Q1' }, START, SHELF);
  if (!found.ok) throw new Error(found.problem.message);
  const two = found.value.points[1]!;
  await page.getByRole('button', { name: `${two.says}: ${print(two.total, 'W')} in all, ${print(two.own, 'W')} in Q1` }).click();
  await expectFigures(page, design(two.changes));
  await page.getByRole('button', { name: 'gate resistor', exact: true }).click();
  const gates = tradeOf(design(two.changes), { of: 'gate' }, START, SHELF);
  if (!gates.ok) throw new Error(gates.problem.message);
  const least = gates.value.points.reduce((a, b) => (b.total < a.total ? b : a));
  await expect(page.getByTestId('trade')).toContainText(`Least lost: ${least.says}, ${print(least.total, 'W')}`);
  await page.getByTestId('trade').getByRole('button', { name: 'Take', exact: true }).click();
  await expectFigures(page, design({ ...two.changes, ...least.changes }));
});

test('an inductor is wound: as it may be, then on the smallest core, then by hand; its copper at frequency counts from then on', async ({ page }) => {
  await open(page, 'power-stage');
  // Of one that does not say how it is wound, copper at frequency counts from when it does.
  const plain = design({ 'parts.L1.winding': undefined });
  await page.getByTestId('open-file').setInputFiles({ name: 'plain.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(plain)) });
  await expectFigures(page, plain);
  await page.locator('[data-part="L1"]').click();
  await page.getByRole('button', { name: 'winding', exact: true }).click();
  await expect(page.getByTestId('winding')).toContainText('how it is wound is not known');
  await expect(page.getByTestId('part-panel')).not.toContainText('copper, ac');
  const studied = windingStudy(plain, 'L1', START, GOODS, cornerPoints(plain));
  if (!studied.ok) throw new Error(studied.problem.message);
  const wound = (w: Parameters<typeof partOf>[0]): Record<string, unknown> => Object.fromEntries(Object.entries(partOf(w)).map(([key, value]) => [`parts.L1.${key}`, value]));
  await page.getByRole('button', { name: 'Wind it as drawn' }).click();
  await expectFigures(page, design(wound(studied.value.likely!)));
  await expect(page.getByTestId('wound')).toContainText('copper, ac');
  await expect(page.getByTestId('part-panel')).toContainText('copper, ac');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expectFigures(page, plain);
  // The smallest core of the shelf, and back to a larger one by hand.
  await expect(page.getByTestId('winding')).toContainText('The smallest core that serves');
  await page.getByRole('button', { name: 'Take', exact: true }).first().click();
  await expectFigures(page, design(wound(studied.value.cores[0]!)));
  await page.getByLabel('L1 core').selectOption('Pawl 34');
  await expect(page.getByTestId('winding')).toContainText('as wound');
  await expect(page.getByLabel('L1 core')).toHaveValue('Pawl 34');
  // What does not fit is told, and undone.
  await page.getByLabel('L1 turns').fill('400');
  await page.getByLabel('L1 turns').press('Enter');
  await expect(page.getByTestId('winding')).toContainText('do not fit this window');
});

test('a transformer is wound otherwise: thicker strands and one face cost copper at frequency, as the core says', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('button', { name: /▾/ }).first().click();
  await page.getByText('Gate supplies, as shipped').click();
  await page.locator('[data-part="T1"]').click();
  await page.getByRole('button', { name: 'winding', exact: true }).click();
  await expect(page.getByTestId('winding')).toContainText('T1, as wound');
  const read = readDesignValue(gates);
  if (!read.ok) throw new Error(read.problem.message);
  const pad = page.getByTestId('pad');
  const point = { line: Number(await pad.getAttribute('data-line')), load: Number(await pad.getAttribute('data-load')), air: START.air };
  const copperOf = (winding: object): string => {
    const edited = editDesign(read.value, { 'parts.T1.winding': { ...(read.value.parts.T1 as TransformerPart).winding, ...winding } });
    const found = edited.ok ? transformerStudy(edited.value, 'T1', point) : edited;
    if (!found.ok) throw new Error(found.problem.message);
    return print(found.value.windings.reduce((sum, w) => sum + w.dc + w.ac, 0), 'W');
  };
  const wound = page.getByTestId('wound');
  await expect(wound).toContainText(copperOf({}));
  await page.getByLabel('T1 faces').selectOption('1');
  await expect(wound).toContainText(copperOf({ interfaces: 1 }));
  // The leakage that is counted is no longer that of this order, and is taken over.
  await expect(wound).toContainText('Count the leakage of this order');
  await page.getByRole('group', { name: 'Copper over strands' }).getByRole('button', { name: /^200 µm/ }).click();
  await expect(wound).toContainText(copperOf({ interfaces: 1, strandDiameter: 0.2e-3 }));
});

test('energies of edges pasted from a spreadsheet: drawn beside those by charge, counted when that is wanted, and left again', async ({ page }) => {
  await open(page, 'power-stage');
  await page.locator('[data-part="Q1"]').click();
  await page.getByRole('button', { name: 'edges', exact: true }).click();
  const edges = page.getByTestId('edges');
  const text = '°C\tA\tEon (µJ)\tEoff (µJ)\n25\t3\t1.6\t0.7\n25\t9\t4.4\t2.4\n125\t3\t2.0\t0.8\n125\t9\t5.5\t3.0';
  const table = page.getByLabel('A, on, off a line; or °C, A, on, off');
  // What is wrong is told with its line, and counts for nothing.
  await table.fill('25 3 1.6\n25 9 x');
  await expect(page.getByTestId('measured-edges')).toContainText('line 2');
  await expect(page.getByRole('button', { name: 'Count as measured' })).toBeDisabled();
  await table.fill(text);
  await page.getByLabel('Q1 measured at').fill('40 V');
  const read = readEnergies(text, 'µJ');
  if (!read.ok) throw new Error(read.problem.message);
  const measured = design({ 'parts.Q1.switchingEnergy': { voltage: 40, rise: 0, ...read.value } });
  const studied = edgeStudy(design(), 'Q1', START, measured.parts.Q1 as SwitchPart);
  if (!studied.ok) throw new Error(studied.problem.message);
  for (const e of studied.value.edges) {
    await expect(edges).toContainText(print(e.byCharge, 'J', 3));
    await expect(edges).toContainText(print(e.byTable!, 'J', 3));
  }
  await expect(page.getByTestId('edge-plot')).toContainText('on, measured');
  await expectFigures(page, design());
  await page.getByRole('button', { name: 'Count as measured' }).click();
  await expectFigures(page, measured);
  await expect(page.getByTestId('part-panel')).not.toContainText('output capacitance');
  await page.getByRole('button', { name: 'Count by its charges' }).click();
  await expectFigures(page, design());
});

test('the warm-up: how long each node takes, as the core says; another air, another warm-up', async ({ page }) => {
  await open(page, 'heat');
  await page.getByRole('button', { name: 'warm-up' }).click();
  const found = warmingOf(design(), START);
  if (!found.ok) throw new Error(found.problem.message);
  const { nodes, ends, within } = found.value;
  const row = page.getByTestId('warming').getByRole('row', { name: nodes[0]!.title });
  await expect(row).toContainText(`${ends[0]!.toFixed(1)} °C`);
  await expect(row).toContainText(printDuration(within[0]!));
  await expect(page.getByTestId('warm-up')).toContainText(`${nodes.at(-1)!.title} ${ends.at(-1)!.toFixed(1)}`);
  await page.getByLabel('Air temperature').focus();
  await page.keyboard.press('ArrowLeft');
  await expect(row).not.toContainText(`${ends[0]!.toFixed(1)} °C`);
  // Under a load that comes and goes, one's own read from a file; one that is none is refused by its line.
  await page.getByRole('button', { name: 'profile' }).click();
  await expect(page.getByTestId('under-profile')).toContainText('6 to');
  const file = (buffer: string): { name: string; mimeType: string; buffer: Buffer } => ({ name: 'day.csv', mimeType: 'text/csv', buffer: Buffer.from(buffer) });
  await page.getByLabel('Load profile').setInputFiles(file('s,A\n0,8\n600,1\n1200,moon'));
  await expect(page.getByText('line 4')).toBeVisible();
  await page.getByLabel('Load profile').setInputFiles(file('s,A\n0,8\n600,1\n1200,8\n1800,1\n2400,1'));
  await expect(page.getByText('day.csv')).toBeVisible();
  await expect(page.getByTestId('under-profile')).toContainText(/2(\.\d)? to/);
  // How much of the load which air allows.
  await page.getByRole('button', { name: 'derating' }).click();
  const { points } = deratingOf(design(), START.line);
  const first = points.find((p) => p.by !== undefined && p.load < 8 * 0.999)!;
  await expect(page.getByTestId('derating')).toContainText(`from ${print(first.air, '°C')} of air on: ${first.by}`);
});

test('a ladder read from the curve of its pulses, a sink that blows, a part on its board: temperatures as the core says', async ({ page }) => {
  await open(page, 'heat');
  await page.locator('[data-part="Q1"]').click();
  await page.getByRole('button', { name: 'pulses', exact: true }).click();
  await expect(page.getByTestId('pulses')).toContainText('estimated from its size');
  const curve = '1e-5 0.012\n1e-4 0.04\n0.001 0.12\n0.01 0.42\n0.1 0.95\n1 1.27\n10 1.3';
  await page.getByLabel('Ladder', { exact: true }).fill('0.1 1\n0.1 2');
  await expect(page.getByTestId('pulses')).toContainText('line 2');
  await page.getByLabel('Ladder', { exact: true }).fill(curve);
  const points = readPulse(curve);
  const fit = points.ok ? fitPulse(points.value) : points;
  if (!fit.ok) throw new Error(fit.problem.message);
  await expect(page.getByTestId('ladder-read')).toContainText(`${fit.value.modes.length} terms`);
  await page.getByRole('button', { name: 'Take', exact: true }).click();
  await expect(page.getByTestId('pulses')).toContainText('as its ladder says');
  await expect(page.getByTestId('ladder').locator('tbody tr')).toHaveCount(fit.value.modes.length);
  await page.getByRole('button', { name: 'Undo' }).click();
  // What the air does, and a board.
  await page.getByRole('button', { name: 'settled', exact: true }).click();
  const sinkAt = (changes: Record<string, unknown>): string => figures(design(changes)).heat.rungs.find((r) => r.id === 'Q1 junction')!.temperature.toFixed(1);
  await page.getByRole('button', { name: 'still', exact: true }).click();
  await expect(page.getByTestId('temperature-Q1 junction')).toHaveText(sinkAt({ 'sink.airFlow': 1 }));
  await page.getByLabel('Q2 stands on').selectOption('board');
  await expect(page.getByTestId('temperature-Q1 junction')).toHaveText(sinkAt({ 'sink.airFlow': 1, 'cooling.Q2': { board: 6e-4 } }));
  await page.getByLabel('Q2 stands on').selectOption('sink 2');
  await expect(page.getByTestId('cooling')).toContainText('Sink 2');
  await expect(page.getByTestId('temperature-Q1 junction')).toHaveText(sinkAt({ 'sink.airFlow': 1, sinks: [{ thermalResistance: design().sink.thermalResistance }], 'cooling.Q2': { sink: 2 } }));
});

test('another switch beside the kept one: what is lost otherwise, mechanism by mechanism', async ({ page }) => {
  await open(page, 'losses');
  await page.keyboard.press('k');
  await page.locator('[data-part="Q1"]').click();
  await page.getByLabel('Q1 part', { exact: true }).selectOption('Rime 100-6');
  const table = page.getByTestId('beside-losses');
  await expect(table).toBeVisible();
  const before = figures(design(), START).losses.parts.find((p) => p.id === 'Q1')!;
  const part = SHELF.find((p) => p.part === 'Rime 100-6')!;
  const now = figures(design({ 'parts.Q1': part }), START).losses.parts.find((p) => p.id === 'Q1')!;
  const row = table.getByRole('row', { name: 'Q1 overlap' });
  await expect(row).toContainText(print(now.mechanisms.overlap!, 'W'));
  await expect(row).toContainText(`−${print(before.mechanisms.overlap! - now.mechanisms.overlap!, 'W')}`);
  await expect(page.getByRole('group', { name: 'Losses by part and mechanism' })).toContainText(`−${print(before.total - now.total, 'W')}`);
  // And what is warm otherwise, on Heat and in the report.
  const warm = (d: Design): number => figures(d, START).heat.rungs.find((r) => r.id === 'Q1 junction')!.temperature;
  await page.keyboard.press('6');
  await expect(page.getByTestId('beside-heat').getByRole('row', { name: 'Q1 junction' })).toContainText(`−${(warm(design()) - warm(design({ 'parts.Q1': part }))).toFixed(1)} K`);
  await page.keyboard.press('8');
  await expect(page.getByTestId('beside-losses')).toBeVisible();
  await expect(page.getByTestId('beside-heat')).toBeVisible();
  await page.keyboard.press('5');
  // Two of them in parallel: less in the channel, more at the edges.
  await type(page, /^(Q1 )?parts in parallel/, '2');
  await expectFigures(page, design({ 'parts.Q1': { ...part, count: 2 } }));
});

test('a core of one’s own, typed: refused where it is none, then on the shelf and wound', async ({ page }) => {
  await open(page, 'power-stage');
  await page.getByRole('button', { name: 'shelf', exact: true }).click();
  await page.getByRole('button', { name: 'bare cores' }).click();
  await page.getByRole('button', { name: 'one of your own, typed' }).click();
  const form = page.getByTestId('own-goods');
  await form.getByLabel('its name').fill('Station 31');
  await form.getByLabel('leg', { exact: true }).fill('0 mm²');
  await expect(form).toContainText('leg: ');
  await expect(form.getByRole('button', { name: 'Onto my shelf' })).toBeDisabled();
  await form.getByLabel('leg', { exact: true }).fill('120 mm²');
  await form.getByLabel('volume').fill('7.2 cm³');
  await form.getByLabel('window, across').fill('8 mm');
  await form.getByLabel('window, along').fill('13 mm');
  await form.getByRole('button', { name: 'Onto my shelf' }).click();
  await expect(page.getByRole('row', { name: 'Station 31' })).toContainText('own');
  await page.locator('[data-part="L1"]').click();
  await page.getByRole('button', { name: 'winding', exact: true }).click();
  await page.getByLabel('L1 core').selectOption('Station 31');
  await expect(page.getByTestId('part-panel').getByLabel('L1 part', { exact: true })).toHaveValue(/Station 31/);
});

test('a core material from points of a curve: fitted as they are typed, the misfit told, on the shelf and in a core', async ({ page }) => {
  await open(page, 'power-stage');
  await page.locator('[data-part="L1"]').click();
  await page.getByRole('button', { name: 'shelf', exact: true }).click();
  await page.getByRole('button', { name: 'materials' }).click();
  await page.getByRole('button', { name: 'one of your own, from points' }).click();
  const own = page.getByTestId('own-material');
  await own.getByLabel('its name').fill('Fen 9');
  await own.getByLabel('Points of its loss').fill('100 100 47\n100 200 280');
  await expect(own).toContainText('do not tell three parameters');
  const text = '50 100 18\n100 100 47\n100 200 280\n200 50 21\n200 100 128';
  await own.getByLabel('Points of its loss').fill(text);
  const fit = fitSteinmetz((readLossPoints(text) as { ok: true; value: Parameters<typeof fitSteinmetz>[0] }).value);
  if (!fit.ok) throw new Error(fit.problem.message);
  await expect(page.getByTestId('material-fit')).toContainText(`off by ${print(fit.value.misfit, '%', 2)} rms`);
  await own.getByRole('button', { name: 'Onto my shelf' }).click();
  await page.getByRole('cell', { name: /Fen 9/ }).click();
  await page.getByRole('button', { name: 'make the core of L1 of it' }).click();
  const round = (v: number): number => Number(v.toPrecision(5));
  const { k, alpha, beta } = fit.value.steinmetz;
  await expectFigures(page, design({ 'parts.L1.steinmetz': { k: round(k), alpha: round(alpha), beta: round(beta) }, 'parts.L1.maxFluxDensity': 0.36 }));
});
