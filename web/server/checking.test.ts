import { bodyOf, limited, MOST_BYTES } from './checking';

/** What a server lets in before a process is begun for it; the process itself is tested over the network (web/e2e/api.spec.ts). */

const request = (body: BodyInit, headers: Record<string, string> = {}): Request => new Request('http://localhost/api/check', { method: 'POST', body, headers });

test('a body comes as the text that it is, in whatever pieces', async () => {
  expect(await bodyOf(request('{"a":"µ"}'))).toBe('{"a":"µ"}');
  const bytes = new TextEncoder().encode('"Ω"');
  const pieces = new ReadableStream<Uint8Array>({
    start(c) {
      for (const b of bytes) c.enqueue(Uint8Array.of(b));
      c.close();
    },
  });
  expect(await bodyOf(new Request('http://localhost/', { method: 'POST', body: pieces, duplex: 'half' } as RequestInit))).toBe('"Ω"');
});

test('one that is longer than a design is refused, by what it says of itself or by what comes, and no more of it is read', async () => {
  expect(await bodyOf(request('x', { 'content-length': String(MOST_BYTES + 1) }))).toMatchObject({ status: 413 });
  let given = 0;
  let left = false;
  const endless = new ReadableStream<Uint8Array>({
    pull(c) {
      given += 65_536;
      c.enqueue(new Uint8Array(65_536));
    },
    cancel() {
      left = true;
    },
  });
  expect(await bodyOf(new Request('http://localhost/', { method: 'POST', body: endless, duplex: 'half' } as RequestInit))).toMatchObject({ status: 413 });
  expect(left).toBe(true);
  expect(given).toBeLessThan(2 * MOST_BYTES);
});

test('what is no text is refused', async () => {
  expect(await bodyOf(request(Uint8Array.of(0xff, 0xfe, 0x80)))).toMatchObject({ status: 400, body: { problem: { code: 'json' } } });
});

test('an address asks so often and no more, told when to ask again; another one is not held to it', async () => {
  const all = await Promise.all(Array.from({ length: 40 }, () => limited('10.0.0.1')));
  const refused = all.filter((r) => r !== undefined);
  expect(refused.length).toBe(20);
  for (const r of refused) expect(r).toMatchObject({ status: 429, body: { problem: { code: 'rate' } } });
  expect(refused.every((r) => r.retryAfter! >= 1 && r.retryAfter! <= 4)).toBe(true);
  expect(await limited('10.0.0.2')).toBeUndefined();
});
