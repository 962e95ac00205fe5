import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import { Queue, UnrecoverableError, Worker } from 'bullmq';
import { Redis } from 'ioredis';
import { setImmediate as breath, setTimeout as pause } from 'node:timers/promises';
import { drawn, tolerancesOf, type Draw } from '../core/corners/spread';
import { readDesign, type Design } from '../core/design';
import { describeProblem, fail, ok, type Result } from '../core/problem';
import type { OperatingPoint } from '../core/topology';
import { VERSION } from '../core/version';

/**
 * Draws of a spread on a job queue, worked off by any number of processes on any number of machines: each job at least once, the same
 * result whoever works it off, since a draw depends on the design, the seed and its number alone. What was finished stays in the queue:
 * asked again, it is not computed again.
 */

const QUEUE = 'jump-reed-draws';
/** Draws of a job; s that a job is held without a sign of life; times it is tried; s that a server may take to answer; days that results are kept */
const [OF_A_JOB, HELD, TRIES, PATIENCE, KEPT] = [10, 10, 5, 4, 7];

interface Job {
  version: string;
  design: Design;
  seed: number;
  from: number;
  count: number;
  points: OperatingPoint[];
}

/** A connection that is there, or why there is none. */
async function connect(url: string): Promise<Result<Redis>> {
  const none = (why: string): Result<never> => fail('queue', '--queue', `no queue answers at ${url} (${why})`, 'start a Redis server there, and give its address as redis://host:6379');
  if (!/^rediss?:\/\//.test(url)) return none('that is no address of one');
  const connection = new Redis(url, { maxRetriesPerRequest: null, connectTimeout: PATIENCE * 1000, lazyConnect: true });
  connection.on('error', () => undefined);
  let late: NodeJS.Timeout | undefined;
  try {
    await Promise.race([connection.connect(), new Promise((_, no) => (late = setTimeout(() => no(new Error(`nothing in ${PATIENCE} s`)), PATIENCE * 1000)))]);
    return ok(connection);
  } catch (error) {
    connection.disconnect();
    return none((error as Error).message);
  } finally {
    clearTimeout(late);
  }
}

/**
 * Draws by whoever works at the queue, in order.
 * @param told after each job that is done
 */
export async function drawnByQueue(url: string, design: Design, seed: number, draws: number, points: OperatingPoint[], told: (done: number) => void): Promise<Result<Draw[]>> {
  const connection = await connect(url);
  if (!connection.ok) return connection;
  const queue = new Queue<Job, Draw[]>(QUEUE, { connection: connection.value });
  queue.on('error', () => undefined);
  try {
    const of = bytesToHex(sha256(utf8ToBytes(JSON.stringify([VERSION, design, seed, points])))).slice(0, 32);
    const starts = Array.from({ length: Math.ceil(draws / OF_A_JOB) }, (_, k) => k * OF_A_JOB);
    const jobs = await queue.addBulk(starts.map((from) => {
      const count = Math.min(OF_A_JOB, draws - from);
      return { name: 'draws', data: { version: VERSION, design, seed, from, count, points }, opts: { jobId: `${of}-${from}-${count}`, attempts: TRIES, removeOnComplete: { age: KEPT * 86_400 } } };
    }));
    // Asked again and again, not told: what ended while the queue was away is found all the same.
    const open = new Set(jobs.map((j) => j.id!));
    const found: Draw[] = [];
    while (open.size > 0) {
      for (const id of open) {
        const job = await inTime(queue.getJob(id));
        if (job?.finishedOn === undefined) continue;
        if (job.failedReason !== undefined && job.returnvalue === null) {
          // So that it is worked off anew when it is asked for again.
          await job.remove();
          throw new Error(job.failedReason);
        }
        found.push(...(job.returnvalue as Draw[]));
        open.delete(id);
        told(found.length);
      }
      if (open.size > 0) await pause(LOOKS);
    }
    return ok(found.sort((a, b) => a.index - b.index));
  } catch (error) {
    return fail('queue', '--queue', (error as Error).message === AWAY ? `the queue has not answered for ${GONE / 1000} s` : `a job failed: ${(error as Error).message}`, 'see to it, and ask again: what is done stays done');
  } finally {
    // A queue that is gone is not waited for.
    await Promise.race([queue.close().catch(() => undefined), pause(1000)]);
    connection.value.disconnect();
  }
}

/** ms between two looks at jobs; without an answer after which the queue is gone */
const [LOOKS, GONE] = [400, 60_000];
const AWAY = 'away';

/** An answer of the queue, which may be away for a while. */
async function inTime<T>(asked: Promise<T>): Promise<T> {
  let late: NodeJS.Timeout | undefined;
  try {
    return await Promise.race([asked, new Promise<never>((_, no) => (late = setTimeout(() => no(new Error(AWAY)), GONE)))]);
  } finally {
    clearTimeout(late);
  }
}

/** One job worked off; between draws others are heard. */
async function work({ version, design, seed, from, count, points }: Job): Promise<Draw[]> {
  if (version !== VERSION) throw new UnrecoverableError(`it is of version ${version}, this worker of ${VERSION}`);
  // What comes over a queue is read like a file.
  const read = readDesign(JSON.stringify(design));
  if (!read.ok) throw new UnrecoverableError(describeProblem(read.problem));
  const tolerances = tolerancesOf(read.value);
  const out: Draw[] = [];
  for (let k = 0; k < count; k++) {
    out.push(drawn(read.value, tolerances, seed, from + k, points));
    await breath();
  }
  return out;
}

/**
 * Work at a queue until told to stop.
 * @param once stop when nothing waits
 * @param told what happens, in lines
 */
export async function workAt(url: string, once: boolean, told: (line: string) => void): Promise<Result<number>> {
  const connection = await connect(url);
  if (!connection.ok) return connection;
  const worker = new Worker<Job, Draw[]>(QUEUE, async (job) => work(job.data), { connection: connection.value, lockDuration: HELD * 1000, stalledInterval: (HELD * 1000) / 4, maxStalledCount: TRIES, concurrency: 1 });
  let done = 0;
  worker.on('completed', (job) => told(`draws ${job.data.from} to ${job.data.from + job.data.count - 1} of "${job.data.design.name}", ${++done} jobs done`));
  worker.on('failed', (job, error) => told(`a job failed: ${error.message}${job ? `, tried ${job.attemptsMade} times` : ''}`));
  worker.on('error', () => undefined);
  await new Promise<void>((stop) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, stop);
    if (once) worker.on('drained', stop);
  });
  await worker.close();
  connection.value.disconnect();
  return ok(done);
}
