import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { chromium as browserType } from '@playwright/test';
import { bin, build, chromium, install, root } from './setUp.mjs';

/** npm run screenshots: one picture of each main view from the demo data, into docs/screenshots/. */
install();
build();
const port = '3212';
const server = spawn(bin('next'), ['start', '-p', port], { cwd: path.join(root, 'web'), stdio: ['ignore', 'pipe', 'inherit'] });
await new Promise((ready) => server.stdout.on('data', (text) => /Ready/.test(String(text)) && ready()));
const folder = path.join(root, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const browser = await browserType.launch({ executablePath: chromium(), args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });

const open = async (stage, dark = false) => {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  if (dark) await page.addInitScript(() => localStorage.setItem('mui-mode', 'dark'));
  await page.goto(`http://localhost:${port}/${stage}`);
  await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
  // The map begins a moment after the corners.
  await page.waitForTimeout(1200);
  return page;
};
const override = async (page, label, text) => {
  await page.getByRole('button', { name: `${label}: override` }).click();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await page.waitForTimeout(900);
};
/** With nothing under way, and the pointer where nothing answers to it. */
const shoot = async (page, name) => {
  await page.locator('progress').waitFor({ state: 'detached', timeout: 90_000 });
  await page.mouse.move(900, 784);
  await page.waitForTimeout(300);
  await page.screenshot({ path: path.join(folder, `${name}.png`) });
  await page.close();
};

for (const stage of ['brief', 'corners', 'report']) await shoot(await open(stage), stage);

const search = await open('corners');
await search.getByRole('tab', { name: 'Search', exact: true }).click();
for (const aim of ['loss', 'cost']) await search.getByRole('button', { name: aim, exact: true }).click();
await search.getByTestId('search').getByRole('button', { name: 'search', exact: true }).click();
await search.getByTestId('front').waitFor({ timeout: 180_000 });
await search.getByTestId('search').getByRole('status').waitFor({ state: 'detached', timeout: 180_000 });
await search.getByTestId('front').locator('circle').nth(2).click();
await shoot(search, 'search');

const losses = await open('losses');
await losses.keyboard.press('k');
await losses.locator('[data-part="Q1"]').click();
await losses.getByLabel('Q1 part', { exact: true }).selectOption('Rime 100-6');
await losses.getByTestId('differences').waitFor();
await losses.waitForTimeout(900);
await shoot(losses, 'losses');

const map = await open('losses');
await map.getByRole('button', { name: 'map', exact: true }).click();
await map.getByRole('button', { name: 'make the map' }).click();
await map.getByTestId('map-best').waitFor({ timeout: 90_000 });
await shoot(map, 'efficiency-map');

const winding = await open('power-stage');
await winding.locator('[data-part="L1"]').click();
await winding.getByRole('button', { name: 'winding', exact: true }).click();
await winding.getByTestId('wound').waitFor({ timeout: 60_000 });
await winding.waitForTimeout(900);
await shoot(winding, 'winding');

const heat = await open('heat');
await heat.getByRole('button', { name: 'warm-up' }).click();
await heat.getByTestId('warm-up').waitFor({ timeout: 60_000 });
await shoot(heat, 'heat');

const asked = await open('power-stage');
await asked.getByRole('button', { name: 'New design' }).click();
for (const [name, text] of [['line', '12 V'], ['output voltage', '5 V'], ['load', '0–3 A']]) await asked.getByRole('textbox', { name, exact: true }).fill(text);
await asked.getByTestId('proposal').getByText('holds at').waitFor({ timeout: 60_000 });
await shoot(asked, 'new-design');

const mains = await open('waveforms');
await mains.getByRole('button', { name: /▾/ }).first().click();
await mains.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
await mains.getByTestId('corner-count').filter({ hasText: '9 of 9' }).waitFor({ timeout: 60_000 });
await mains.getByRole('button', { name: 'Noise', exact: true }).click();
await mains.getByTestId('noise').waitFor({ timeout: 60_000 });
await mains.waitForTimeout(900);
await mains.screenshot({ path: path.join(folder, 'noise.png') });
await mains.keyboard.press('4');
for (const [label, text] of [['wanted crossover', '1500']]) {
  await mains.getByRole('button', { name: label }).first().click();
  await mains.keyboard.type(text);
  await mains.keyboard.press('Enter');
}
await mains.keyboard.press('1');
await mains.getByRole('button', { name: /^duty fed forward/ }).first().click();
await mains.keyboard.press('Control+A');
await mains.keyboard.type('10 %');
await mains.keyboard.press('Enter');
await mains.keyboard.press('3');
await mains.getByRole('button', { name: 'Mains', exact: true }).click();
await mains.getByTestId('quality').waitFor({ timeout: 120_000 });
await mains.getByTestId('tuning').getByRole('button', { name: 'tune the cascade' }).click();
await mains.getByTestId('tuning').getByText('place the loop around it').waitFor({ timeout: 120_000 });
await mains.getByTestId('mains-cycle').getByText('A - -').waitFor({ timeout: 120_000 });
await mains.getByTestId('mains-state').getByText('periods of').waitFor({ timeout: 120_000 });
await shoot(mains, 'mains');

const filter = await open('loop');
await filter.keyboard.press('k');
await filter.getByRole('tab', { name: 'Filter' }).click();
await filter.getByLabel('Damping of L14, C14').selectOption('');
await filter.getByTestId('front-figures').waitFor();
await filter.waitForTimeout(1500);
await shoot(filter, 'filter');

const circuit = await open('waveforms');
await circuit.getByRole('button', { name: /▾/ }).first().click();
await circuit.getByRole('menuitem', { name: 'Synchronous buck, closed voltage loop, a circuit' }).click();
await circuit.locator('[data-element="Q2"]').click();
await circuit.locator('[data-lane="Q2, voltage"]').waitFor();
await circuit.waitForTimeout(900);
await shoot(circuit, 'circuit');

const waveforms = await open('waveforms');
await waveforms.keyboard.press('k');
await override(waveforms, 'L1 inductance', '47u');
await shoot(waveforms, 'waveforms');

const inTime = await open('waveforms', true);
await inTime.keyboard.press('k');
await override(inTime, 'L1 inductance', '15u');
await inTime.getByRole('button', { name: 'In time' }).click();
await inTime.getByLabel('Schedule', { exact: true }).selectOption('load step');
await inTime.getByTestId('run-state').filter({ hasText: 'switched, exact' }).waitFor({ timeout: 60_000 });
await inTime.getByRole('button', { name: 'Output: its figures' }).press('Enter');
await inTime.getByTestId('captures').getByLabel('Capture file').setInputFiles(path.join(root, 'demo/measured/rail-load-step.csv'));
await inTime.getByRole('button', { name: 'Lay it over' }).click();
await inTime.getByTestId('captures').getByRole('button', { name: 'best' }).click();
await inTime.waitForTimeout(4000);
await inTime.getByTestId('readings').locator('div').first().evaluate((e) => e.scrollIntoView({ block: 'center' }));
await shoot(inTime, 'in-time');

const sweep = await open('waveforms');
await sweep.getByRole('button', { name: 'Sweep' }).click();
await sweep.getByRole('button', { name: 'one more quantity' }).click();
await sweep.getByLabel('Values of quantity 2').fill('150k,220k,300k');
await sweep.getByRole('button', { name: 'Run', exact: true }).click();
await sweep.locator('[data-curve] circle').nth(14).waitFor({ timeout: 60_000 });
await sweep.locator('[data-curve] circle').nth(7).click();
await shoot(sweep, 'sweep');

const loop = await open('loop');
await loop.keyboard.press('k');
await loop.locator('[data-corner="zero1"]').focus();
for (let i = 0; i < 4; i++) await loop.keyboard.press('Shift+ArrowLeft');
await loop.waitForTimeout(900);
await shoot(loop, 'loop');

const controlled = async (method, amplifier, realised, crossover) => {
  const page = await open('brief');
  await page.getByRole('button', { name: 'wanted crossover' }).click();
  await page.keyboard.type(crossover);
  await page.keyboard.press('Enter');
  await page.getByLabel('Control method').selectOption(method);
  await page.getByLabel('Error amplifier').selectOption(amplifier);
  await page.getByLabel('Realised as').selectOption(realised);
  await page.keyboard.press('4');
  await page.waitForTimeout(1500);
  return page;
};
const cascade = await controlled('average-current', 'pi', 'none', '3k');
await cascade.locator('[data-place="command"]').click();
await cascade.getByTestId('why-differ').waitFor();
await shoot(cascade, 'loop-cascade');

const plant = await open('loop');
await plant.getByLabel('Measured plant').setInputFiles(path.join(root, 'demo/measured/radio-plant.csv'));
await plant.getByRole('button', { name: 'Place a loop on it' }).click();
await plant.getByRole('button', { name: 'wanted crossover' }).first().click();
await plant.keyboard.type('9k');
await plant.keyboard.press('Enter');
await shoot(plant, 'plant');

await browser.close();
server.kill();
process.exit(0);
