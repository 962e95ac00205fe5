import { chromium } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { machineSpeed, ORDINARY, print, rate, time, type Timing } from './measure';

/** From a keypress to fresh figures on the screen, in headless chromium against the built application. */
const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(`${process.env.ADDRESS}/waveforms`);
await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
await page.waitForTimeout(1500);

/** Times inside the page: undo and redo a change of the inductance, watch what turns fresh. */
async function timed(selector: string, rounds = 15): Promise<Timing> {
  const times: number[] = [];
  const before = machineSpeed();
  for (let k = 0; k < rounds; k++) {
    // A text, not a function: what is compiled here would not run in the page.
    const name = k % 2 === 0 ? 'Undo' : 'Redo';
    times.push(
      await page.evaluate<number>(`new Promise((resolve) => {
        const watched = document.querySelector('${selector}');
        const start = performance.now();
        // A click is committed before the next frame: what is not stale by then is fresh already.
        const look = () => (watched.classList.contains('stale') ? requestAnimationFrame(look) : resolve(performance.now() - start));
        document.querySelector('button[aria-label="${name}"]').click();
        requestAnimationFrame(look);
      })`),
    );
    await page.waitForTimeout(700);
  }
  // The slowest but one in twenty: what a user meets now and then as well.
  const ms = times.sort((a, b) => a - b)[Math.ceil(0.95 * rounds) - 1]!;
  return { ms, scaled: (ms * ORDINARY * 2) / (before + machineSpeed()) };
}

await page.getByRole('button', { name: 'L1 inductance: override' }).click();
await page.keyboard.type('47u');
await page.keyboard.press('Enter');
await page.waitForTimeout(1000);
const figure = await timed('[data-testid="reed-waveforms"]');
const corners = await timed('[data-testid="corner-count"]');
/** What the pad's dot is dragged by, inside the page: moves with the button held, and what a figure reads meanwhile. */
const DRAG = `
  const pad = document.querySelector('[data-testid="pad"]');
  const box = pad.getBoundingClientRect();
  const read = () => document.querySelector('[data-testid="reed-waveforms"]').textContent + document.querySelector('[data-testid="reed-losses"]').textContent;
  const move = (k) => pad.dispatchEvent(new PointerEvent('pointermove', { clientX: box.x + 55 + 40 * (1 + Math.sin(k / 5)), clientY: box.y + 40 + 30 * (1 + Math.cos(k / 7)), buttons: 1, bubbles: true }));
`;

/** From one move of the dot to other figures: the slowest but one in twenty. */
async function moved(rounds = 40): Promise<Timing> {
  const before = machineSpeed();
  const times: number[] = [];
  for (let k = 0; k < rounds; k++)
    times.push(await page.evaluate<number>(`new Promise((resolve) => { ${DRAG}
      const was = read();
      const start = performance.now();
      move(${k});
      const look = () => (read() === was && performance.now() - start < 2000 ? requestAnimationFrame(look) : resolve(performance.now() - start));
      requestAnimationFrame(look);
    })`));
  const ms = times.sort((a, b) => a - b)[Math.ceil(0.95 * rounds) - 1]!;
  return { ms, scaled: (ms * ORDINARY * 2) / (before + machineSpeed()) };
}

/** While the dot moves with every frame: what one update of the figures takes. */
async function updated(seconds = 4): Promise<Timing> {
  const before = machineSpeed();
  const updates = await page.evaluate<number>(`new Promise((resolve) => { ${DRAG}
    const start = performance.now();
    let [k, updates, was] = [0, 0, read()];
    const frame = () => {
      if (read() !== was) { updates++; was = read(); }
      if (performance.now() - start > ${1000 * seconds}) return resolve(updates);
      move(k++);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  })`);
  const ms = (1000 * seconds) / Math.max(1, updates);
  return { ms, scaled: (ms * ORDINARY * 2) / (before + machineSpeed()) };
}

/** While a zero of the compensator is dragged with every frame: what one update of the loop's figures takes. */
async function zeroDragged(seconds = 4): Promise<Timing> {
  const before = machineSpeed();
  const updates = await page.evaluate<number>(`new Promise((resolve) => {
    const zero = document.querySelector('[data-corner="zero1"]');
    const svg = zero.ownerSVGElement.getBoundingClientRect();
    const read = () => document.querySelector('[data-testid="reed-loop"]').textContent + document.querySelector('[data-testid="margin-phaseMargin"]').textContent + document.querySelector('[data-testid="margin-crossover"]').textContent;
    const start = performance.now();
    let [k, updates, was] = [0, 0, read()];
    const frame = () => {
      if (read() !== was) { updates++; was = read(); }
      if (performance.now() - start > ${1000 * seconds}) return resolve(updates);
      k++;
      zero.dispatchEvent(new PointerEvent('pointermove', { clientX: svg.x + svg.width * (0.45 + 0.06 * Math.sin(k / 9)), clientY: svg.y + svg.height / 2, buttons: 1, bubbles: true }));
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  })`);
  const ms = (1000 * seconds) / Math.max(1, updates);
  return { ms, scaled: (ms * ORDINARY * 2) / (before + machineSpeed()) };
}

const drag = await moved();
const steady = await updated();
await page.keyboard.press('4');
await page.getByTestId('bode').waitFor();
await page.waitForTimeout(1000);
const zero = await zeroDragged();
await page.getByRole('button', { name: /▾/ }).first().click();
await page.getByRole('menuitem', { name: 'Station charger, as shipped' }).click();
await page.getByTestId('corner-count').filter({ hasText: '9 of 9' }).waitFor();
await page.waitForTimeout(6000);
const mains = await updated();
/** s of a run that makes some ten million points */
const LONG = 1.36;
const demo = JSON.parse(readFileSync('demo/cabin-lighting-rail.json', 'utf8')) as object;
await page.getByTestId('open-file').setInputFiles({ name: 'long.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify({ ...demo, name: 'Long run', schedules: [{ name: 'long', begins: 'settled', lasts: LONG, steps: [{ at: LONG / 3, what: 'load', to: 8, takes: 0 }] }] })) });
await page.getByTestId('corner-count').filter({ hasText: 'of 9' }).waitFor();
await page.keyboard.press('3');
await page.getByRole('button', { name: 'In time' }).click();
await page.getByLabel('Schedule', { exact: true }).selectOption('long');
await page.getByTestId('run-state').filter({ hasText: /running, \d/ }).waitFor();
await page.getByTestId('run-state').filter({ hasText: 'switched, exact' }).waitFor({ timeout: 400_000 });
/** While a window of a quarter of the run is panned with every frame: what a frame takes, 95 of 100 below. */
async function panned(frames = 240): Promise<Timing> {
  const before = machineSpeed();
  const times = await page.evaluate<number[]>(`new Promise((resolve) => {
    const svg = document.querySelector('[data-testid="run-lanes"]');
    const box = svg.getBoundingClientRect();
    const wheel = (more) => svg.dispatchEvent(new WheelEvent('wheel', { clientX: box.x + box.width / 2, clientY: box.y + box.height / 2, bubbles: true, cancelable: true, ...more }));
    for (let k = 0; k < 4; k++) wheel({ deltaY: -150 });
    const times = [];
    let k = 0;
    const frame = () => {
      // What a frame asks of the page: the event, the state that it changes, and all that is drawn for it. Asked for behind those, this comes after them.
      const start = performance.now();
      const channel = new MessageChannel();
      channel.port1.onmessage = () => {
        times.push(performance.now() - start);
        k++ < ${frames} ? requestAnimationFrame(frame) : resolve(times);
      };
      wheel({ deltaY: k % 80 < 40 ? 20 : -20, shiftKey: true });
      setTimeout(() => channel.port2.postMessage(0));
    };
    requestAnimationFrame(frame);
  })`);
  const ms = times.sort((a, b) => a - b)[Math.ceil(0.95 * times.length) - 1]!;
  return { ms, scaled: (ms * ORDINARY * 2) / (before + machineSpeed()) };
}
const pan = await panned();
await browser.close();
print('On screen, 95 of 100 below, in headless chromium', [
  time('a change of a part: fresh figures at the point in view', figure, 100),
  time('a change of a part: the nine corners', corners, 500),
  time('the dot dragged: from a move to other figures', drag, 100),
  rate('the dot dragged with every frame: updates of the figures', steady, 8),
  rate('a zero of the compensator dragged: updates of the loop', zero, 20),
  rate('the same on the mains demo', mains, 8),
  time('panning over ten million points: all that a frame takes', pan, 16),
]);
