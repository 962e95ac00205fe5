import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import PQueue from 'p-queue';
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible';
import { fail, type Problem } from '../../core/problem';

/**
 * A design checked for somebody elsewhere: by a process of its own, which has a time, a memory and nothing but what it was given. It is reed
 * check, so that the verdict is the one that it prints.
 */

/** Bytes of a design at most, s that a check may take, MB of memory, checks that may wait */
export const [MOST_BYTES, MOST_TIME, MEMORY, WAITING] = [1_000_000, 30, 512, 16];
/** Checks of one address in so many s */
const RATE = { points: 20, duration: 4 };

const queue = new PQueue({ concurrency: availableParallelism() });
const limiter = new RateLimiterMemory(RATE);

export interface Answered {
  status: number;
  body: unknown;
  /** s after which to ask again */
  retryAfter?: number;
}

const refused = (status: number, code: string, message: string, remedy: string, retryAfter?: number): Answered => ({ status, body: { problem: fail(code, '', message, remedy).problem satisfies Problem }, ...(retryAfter === undefined ? {} : { retryAfter }) });

/** May this address ask? @returns why not */
export async function limited(address: string): Promise<Answered | undefined> {
  try {
    await limiter.consume(address);
    return undefined;
  } catch (error) {
    const after = Math.max(1, Math.ceil((error as RateLimiterRes).msBeforeNext / 1000));
    return refused(429, 'rate', `more than ${RATE.points} checks in ${RATE.duration} s come from this address`, `ask again in ${after} s`, after);
  }
}

/** The body of a request as text, no more of it than a design may have. @returns the refusal where it is longer, or no text */
export async function bodyOf(request: Request): Promise<string | Answered> {
  const tooLong = refused(413, 'size', `a design of more than ${MOST_BYTES / 1e6} MB is none`, 'leave out what was measured or captured, or check it with reed');
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES) return tooLong;
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  for (let part = await reader?.read(); part && !part.done; part = await reader!.read()) {
    size += part.value.byteLength;
    if (size > MOST_BYTES) {
      await reader!.cancel();
      return tooLong;
    }
    chunks.push(part.value);
  }
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(Buffer.concat(chunks));
  } catch {
    return refused(400, 'json', 'the body is no text', 'send the design as JSON in UTF-8');
  }
}

/** Check a design, when it is its turn. */
export async function checked(text: string, root: string): Promise<Answered> {
  if (queue.size >= WAITING) return refused(503, 'busy', 'as many checks as may wait are waiting', 'ask again in a moment', 2);
  return (await queue.add(() => inProcess(text, root)))!;
}

/** What Node may be told of what a process may touch: reading its own program, and nothing else. */
const confined = (root: string): string[] => {
  const flag = ['--permission', '--experimental-permission'].find((f) => process.allowedNodeEnvironmentFlags.has(f));
  return flag ? [flag, `--allow-fs-read=${root}`, '--disable-warning=ExperimentalWarning'] : [];
};

const inProcess = (text: string, root: string): Promise<Answered> =>
  new Promise((done) => {
    const program = path.join(root, 'node_modules', '.cache', 'reed', 'reed.mjs');
    const child = spawn(process.execPath, [`--max-old-space-size=${MEMORY}`, ...confined(root), program, 'check', '-', '--json'], { stdio: ['pipe', 'pipe', 'ignore'], env: { NODE_ENV: 'production' }, cwd: root });
    const late = setTimeout(() => {
      child.kill('SIGKILL');
      done(refused(504, 'work', `it takes more than ${MOST_TIME} s`, 'check it with reed, where it may take its time'));
    }, MOST_TIME * 1000);
    let out = '';
    child.stdout.on('data', (part: Buffer) => (out += String(part)));
    child.stdin.on('error', () => undefined);
    child.on('error', () => done(refused(500, 'fault', 'no check could be begun', 'tell whoever runs this server')));
    child.on('close', (code) => {
      clearTimeout(late);
      try {
        const body: unknown = JSON.parse(out);
        done({ status: code === 2 ? 422 : 200, body });
      } catch {
        done(refused(500, 'fault', 'the check ended without an answer', 'check it with reed, and report it with the file'));
      }
    });
    child.stdin.end(text);
  });
