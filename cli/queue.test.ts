import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { redisServer } from '../scripts/setUp.mjs';

/** Draws left to workers, on Debian's Redis server and with real processes. */
const REED = ['scripts/reed.mjs'];
const DESIGN = 'demo/sensor-supply.json';
const DRAWS = 30;
let server: ChildProcess | undefined;
let folder = '';
let url = '';

const freePort = (): Promise<number> => new Promise((done) => {
  const s = createServer().listen(0, '127.0.0.1', () => {
    const { port } = s.address() as { port: number };
    s.close(() => done(port));
  });
});

let port = 0;
/** The queue, which writes down what it is told. */
async function begin(): Promise<void> {
  server = spawn(redisServer(), ['--port', String(port), '--bind', '127.0.0.1', '--appendonly', 'yes', '--appendfsync', 'always', '--dir', folder], { stdio: ['ignore', 'pipe', 'ignore'] });
  await new Promise<void>((ready) => server!.stdout!.on('data', (text: Buffer) => String(text).includes('Ready to accept connections') && ready()));
}
beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'queue-'));
  port = await freePort();
  url = `redis://127.0.0.1:${port}`;
  await begin();
});
afterAll(() => {
  server?.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const reed = (args: string[]): { child: ChildProcess; out: () => string; err: () => string; ended: Promise<number | null> } => {
  const child = spawn(process.execPath, [...REED, ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
  let [out, err] = ['', ''];
  child.stdout.on('data', (t: Buffer) => (out += String(t)));
  child.stderr.on('data', (t: Buffer) => (err += String(t)));
  return { child, out: () => out, err: () => err, ended: new Promise((done) => child.on('close', (code) => done(code))) };
};
const asked = ['spread', DESIGN, '--draws', String(DRAWS), '--seed', '4', '--json'];

test('whoever works them off, draws are the same bit for bit; a worker or the queue killed in mid-job loses nothing; asked again nothing is drawn again', async () => {
  const here = reed(asked);
  await here.ended;
  const left = reed([...asked, '--queue', url]);
  const first = reed(['worker', '--queue', url]);
  // Killed once it has shown that it works: the job that it had is another's.
  await new Promise<void>((done) => first.child.stderr!.on('data', (t: Buffer) => String(t).includes('jobs done') && done()));
  first.child.kill('SIGKILL');
  // So is the queue itself, and begun again.
  server!.kill('SIGKILL');
  await new Promise((gone) => server!.once('close', gone));
  await begin();
  const others = [reed(['worker', '--queue', url]), reed(['worker', '--queue', url])];
  await left.ended;
  expect(left.out()).toBe(here.out());
  expect(JSON.parse(left.out())).toMatchObject({ draws: DRAWS, seed: 4 });
  for (const w of others) w.child.kill('SIGTERM');
  expect(await Promise.all(others.map((w) => w.ended))).toEqual([0, 0]);
  // No worker is left, and the answer is there.
  const again = reed([...asked, '--queue', url]);
  await again.ended;
  expect(again.out()).toBe(here.out());
});

test('an address where nothing answers is told, in bounded time', () => {
  const found = spawnSync(process.execPath, [...REED, 'spread', DESIGN, '--queue', 'redis://127.0.0.1:1'], { encoding: 'utf8' });
  expect(found.status).toBe(2);
  expect(found.stderr).toMatch(/no queue answers/);
  expect(spawnSync(process.execPath, [...REED, 'worker', '--queue', 'http://x'], { encoding: 'utf8' }).status).toBe(2);
});
