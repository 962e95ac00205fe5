import { writeFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';

/** Work that can not be lost: two tabs, a full disk, a damaged record, a worker that dies. */

const ready = async (page: Page, path = '/power-stage'): Promise<void> => {
  await page.goto(path);
  await page.getByTestId('corner-count').filter({ hasText: 'corners meet' }).waitFor();
};
const setOutput = async (page: Page, from: string, to: string): Promise<void> => {
  await page.getByRole('button', { name: `output voltage: ${from}` }).click();
  await page.keyboard.type(to);
  await page.keyboard.press('Enter');
};

test('two tabs on one design: the second follows live, can not overwrite, and can take over', async ({ page, context }) => {
  await ready(page);
  const second = await context.newPage();
  await ready(second);
  await expect(second.getByText('Open in another tab.')).toBeVisible();
  await setOutput(page, '24 V', '20 V');
  await expect(second.getByTestId('brief-line')).toContainText('make 20 V');
  // What is typed in the second is refused, and nothing of the first is lost.
  await setOutput(second, '20 V', '15 V');
  await expect(second.getByText('this design is being changed there').first()).toBeVisible();
  await expect(page.getByTestId('brief-line')).toContainText('make 20 V');
  await second.keyboard.press('Escape');
  await second.getByRole('button', { name: 'Take over here' }).click();
  await expect(page.getByText('Open in another tab.')).toBeVisible();
  await expect(second.getByText('Open in another tab.')).toHaveCount(0);
  await setOutput(second, '20 V', '18 V');
  await expect(page.getByTestId('brief-line')).toContainText('make 18 V');
  // The tab that has it goes: the other has it again, as it was left.
  await second.close();
  await expect(page.getByText('Open in another tab.')).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('brief-line')).toContainText('make 18 V');
});

test('a full disk is said at once, with a way to keep the work; all goes on, and is stored again when there is room', async ({ page }) => {
  await ready(page);
  await page.evaluate(() => {
    const { put } = IDBObjectStore.prototype;
    Object.assign(window, { fillDisk: true });
    IDBObjectStore.prototype.put = function (...args: Parameters<typeof put>) {
      if ((window as unknown as { fillDisk: boolean }).fillDisk) throw new DOMException('no room', 'QuotaExceededError');
      return put.apply(this, args);
    };
  });
  await setOutput(page, '24 V', '20 V');
  await expect(page.getByRole('alert').filter({ hasText: 'Not stored' })).toContainText('no room left');
  await expect(page.getByTestId('brief-line')).toContainText('make 20 V');
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('alert').getByRole('button', { name: 'Save as a file' }).click()]);
  expect(file.suggestedFilename()).toBe('cabin-lighting-rail.json');
  await page.evaluate(() => Object.assign(window, { fillDisk: false }));
  await setOutput(page, '20 V', '18 V');
  await expect(page.getByText('Not stored')).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('brief-line')).toContainText('make 18 V');
});

test('a damaged record is set aside, told, and can be saved; the application opens all the same', async ({ page }) => {
  await ready(page);
  await page.evaluate(
    () =>
      new Promise<void>((done, failed) => {
        const request = indexedDB.open('jump-reed');
        request.onerror = () => failed(request.error!);
        request.onsuccess = () => {
          const store = request.result.transaction('designs', 'readwrite').objectStore('designs');
          const all = store.getAll();
          all.onsuccess = () => {
            store.put({ ...all.result[0], name: 'Half a rail', design: { kind: 'jump-reed design', version: 1, parts: {} } });
            store.transaction.oncomplete = () => {
              request.result.close();
              done();
            };
          };
        };
      }),
  );
  await ready(page);
  const told = page.getByRole('alert').filter({ hasText: 'Half a rail' });
  await expect(told).toContainText('could not be read');
  // It had been the only one: there is a demo in its place.
  await expect(page.getByTestId('brief-line')).toContainText('make 24 V');
  const [file] = await Promise.all([page.waitForEvent('download'), told.getByRole('button', { name: 'Save what is there' }).click()]);
  expect(file.suggestedFilename()).toBe('half-a-rail-damaged.json');
  await told.getByRole('button', { name: 'Forget it' }).click();
  await expect(told).toHaveCount(0);
  await page.reload();
  await expect(page.getByTestId('brief-line')).toContainText('make 24 V');
  await expect(page.getByText('could not be read')).toHaveCount(0);
});

test('a browser that stores nothing: the demo opens, and says so', async ({ page }) => {
  await page.addInitScript(() => Object.defineProperty(window, 'indexedDB', { value: { open: () => { throw new DOMException('denied', 'SecurityError'); } } }));
  await page.goto('/power-stage');
  await expect(page.getByRole('alert').filter({ hasText: 'Not stored' })).toBeVisible();
  await expect(page.getByTestId('corner-count')).toContainText('corners meet');
});

test('workers that die are replaced, and what they were asked is answered', async ({ page }) => {
  await ready(page);
  expect(page.workers().length).toBeGreaterThanOrEqual(2);
  await Promise.all(page.workers().map((w) => w.evaluate(() => void setTimeout(() => self.close(), 0))));
  await setOutput(page, '24 V', '20 V');
  await expect(page.getByTestId('corner-count')).toContainText('corners meet');
  await expect(page.getByTestId('reed-waveforms')).not.toHaveClass(/stale/);
});

test('what was answered is there at once after a reload, whatever the workers do', async ({ page }) => {
  await ready(page);
  await page.locator('progress').waitFor({ state: 'detached' });
  const before = await page.getByTestId('reed-losses').textContent();
  // Answers are stored when there is rest: the nine corners are there then.
  const judged = (): Promise<number> => page.evaluate(() => new Promise<number>((done) => {
    const open = indexedDB.open('jump-reed');
    open.onsuccess = () => {
      const all = open.result.transaction('answers').objectStore('answers').getAll();
      all.onsuccess = () => (open.result.close(), done(all.result.filter((a: { method: string }) => a.method === 'judge').length));
    };
  }));
  await expect.poll(judged).toBeGreaterThanOrEqual(9);
  // Workers that never answer.
  await page.addInitScript(() => Object.assign(window, { Worker: class { addEventListener(): void {} postMessage(): void {} terminate(): void {} removeEventListener(): void {} } }));
  await page.reload();
  await expect(page.getByTestId('corner-count')).toContainText('corners meet');
  await expect(page.getByTestId('reed-losses')).toHaveText(before!);
  await expect(page.getByTestId('reed-losses')).not.toHaveClass(/stale/);
});

test('a drag shows figures while it moves', async ({ page }) => {
  await ready(page);
  await page.locator('progress').waitFor({ state: 'detached' });
  const pad = (await page.getByTestId('pad').boundingBox())!;
  const seen = new Set<string>();
  await page.mouse.move(pad.x + 60, pad.y + 40);
  await page.mouse.down();
  for (let k = 0; k < 40; k++) {
    await page.mouse.move(pad.x + 60 + 2 * k, pad.y + 40 + k);
    await page.waitForTimeout(30);
    seen.add((await page.getByTestId('reed-waveforms').textContent())!);
  }
  // Before the pointer is let go, and with every move another question.
  expect(seen.size).toBeGreaterThan(4);
  await page.mouse.up();
});

test('a file that is far too large is refused at once', async ({ page }, info) => {
  await ready(page);
  const huge = info.outputPath('huge.json');
  writeFileSync(huge, Buffer.alloc(40e6, '['));
  await page.getByTestId('open-file').setInputFiles(huge);
  await expect(page.getByText('a file of 40 MB is no design')).toBeVisible();
});

test('what the server says about its pages; a path that is no text is told so', async ({ request }) => {
  const { 'content-security-policy': policy, ...headers } = (await request.get('/brief')).headers();
  expect(policy).not.toContain('unsafe-eval');
  expect(policy).toContain("frame-ancestors 'none'");
  expect([headers['x-content-type-options'], headers['referrer-policy'], headers['x-powered-by']]).toEqual(['nosniff', 'no-referrer', undefined]);
  expect((await request.get('/%')).status()).toBe(400);
});
