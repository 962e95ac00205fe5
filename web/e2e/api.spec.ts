import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test, type APIRequestContext, type APIResponse } from '@playwright/test';

const demo = readFileSync('demo/radio.json', 'utf8');
const post = (request: APIRequestContext, data: string | Buffer): Promise<APIResponse> => request.post('/api/check', { data, headers: { 'Content-Type': 'application/json' } });

/** A check that is answered by a verdict, however busy the server is. */
async function verdict(request: APIRequestContext, text: string): Promise<APIResponse> {
  for (;;) {
    const found = await post(request, text);
    if (![429, 503].includes(found.status())) return found;
    const after = Number(found.headers()['retry-after']);
    expect(after).toBeGreaterThan(0);
    await new Promise((r) => setTimeout(r, after * 1000));
  }
}

test('POST /api/check answers as reed check does, refuses what is none, and goes on serving under 200 bad bodies at once', async ({ request, page }) => {
  const found = await verdict(request, demo);
  expect(found.status()).toBe(200);
  expect(await found.json()).toEqual(JSON.parse(execFileSync('node', ['scripts/reed.mjs', 'check', 'demo/radio.json', '--json'], { encoding: 'utf8' })));
  expect(found.headers()).toMatchObject({ 'x-content-type-options': 'nosniff', 'cache-control': 'no-store', 'content-security-policy': "default-src 'none'" });

  const bad = ['', '{', '[]', '[['.repeat(50_000), '{"__proto__":{"x":1}}', '"text"', demo.replace('"version": 1', '"version": 99'), 'null'];
  const all = await Promise.all(Array.from({ length: 200 }, (_, k) => post(request, bad[k % bad.length]!)));
  const status = all.map((r) => r.status());
  expect(status.every((s) => [422, 429, 503].includes(s))).toBe(true);
  expect(status).toContain(429);
  for (const r of all) expect(((await r.json()) as { problem: { message: string; remedy: string } }).problem).toMatchObject({ message: expect.stringMatching(/./), remedy: expect.stringMatching(/./) });

  // The page is there all the while, and so is the next check.
  await page.goto('/power-stage');
  await expect(page.getByRole('button', { name: /Cabin lighting rail/ })).toBeVisible();
  expect((await verdict(request, demo)).status()).toBe(200);

  const huge = await verdict(request, ' '.repeat(1_000_001));
  expect(huge.status()).toBe(413);
  expect((await verdict(request, Buffer.from([0xff, 0xfe, 0x80]).toString('latin1'))).status()).toBe(422);
  expect((await request.get('/api/check')).status()).toBe(405);
});
