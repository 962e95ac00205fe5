import { apply } from '../core/linear/dense';

/** Timing for the bench: medians, since machines are noisy. */

/** ns of an 8×8 product on the machine that the targets are for. */
export const ORDINARY = 150;

/** What one call takes: as measured here and now, and as it would take on the machine that the targets are for. */
export interface Timing {
  ms: number;
  scaled: number;
}

/** The same for one of many that were done in it. */
export const per = (t: Timing, count: number): Timing => ({ ms: t.ms / count, scaled: t.scaled / count });

const middle = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** Medians of times that the yardstick was held to just before and after each: a machine's speed may change by a factor within a second. */
export class Rounds {
  private ms: number[] = [];
  private scaled: number[] = [];
  private before = machineSpeed();
  add(ms: number): void {
    const after = machineSpeed();
    this.ms.push(ms);
    this.scaled.push((ms * ORDINARY * 2) / (this.before + after));
    this.before = after;
  }
  get median(): Timing {
    return { ms: middle(this.ms), scaled: middle(this.scaled) };
  }
}

/** Median of one call, after warming up; calls are batched until a batch takes 5 ms. */
export function median(work: () => unknown, rounds = 25, warmUp = 5): Timing {
  // Until it is compiled: so many calls, and half a second of them.
  const begin = performance.now();
  for (let k = 0; k < warmUp || performance.now() - begin < 500; k++) work();
  let batch = 1;
  for (;;) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    if (performance.now() - start > 5 || batch > 1e6) break;
    batch *= 2;
  }
  const times = new Rounds();
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    times.add((performance.now() - start) / batch);
  }
  return times.median;
}

/**
 * Two works by turns, so that what the machine does meanwhile is done to both: medians of each, and the median of what the first takes
 * over what the second does in the same round.
 */
export async function byTurns(first: () => unknown, second: () => unknown, rounds = 15, warmUp = 4): Promise<{ first: Timing; second: Timing; share: number }> {
  const timed = async (work: () => unknown): Promise<number> => {
    const start = performance.now();
    await work();
    return performance.now() - start;
  };
  for (let k = 0; k < warmUp; k++) {
    await first();
    await second();
  }
  const [a, b] = [new Rounds(), new Rounds()];
  const shares: number[] = [];
  for (let k = 0; k < rounds; k++) {
    const one = await timed(first);
    a.add(one);
    const other = await timed(second);
    b.add(other);
    shares.push(one / other);
  }
  return { first: a.median, second: b.median, share: middle(shares) };
}

const A = Float64Array.from({ length: 64 }, (_, i) => Math.sin(i) / 8);

/** How fast this machine is just now: an 8×8 product in ns, the median of seven runs of some 0.7 ms. */
export function machineSpeed(): number {
  let x: Float64Array = new Float64Array(8);
  let y: Float64Array = new Float64Array(8);
  const turns = 5000;
  return middle(
    Array.from({ length: 7 }, () => {
      x.fill(1);
      const start = performance.now();
      for (let k = 0; k < turns; k++) {
        apply(A, x, y, 8);
        const spare = x;
        x = y;
        y = spare;
      }
      return ((performance.now() - start) / turns) * 1e6;
    }),
  );
}

export interface Line {
  what: string;
  /** As measured here and now */
  found: string;
  /** The same on the machine that the targets are for; what does not go with its speed has none */
  scaled?: string;
  target: string;
  met: boolean | undefined;
}

const milliseconds = (v: number): string => (v >= 1000 ? `${(v / 1000).toFixed(2)} s` : v >= 10 ? `${v.toFixed(1)} ms` : `${v.toPrecision(3)} ms`);
const aSecond = (v: number): string => `${Math.round(v).toLocaleString('en')} /s`;

/** A time, held against its target in ms as it would be on the ordinary machine. */
export const time = (what: string, { ms, scaled }: Timing, target?: number): Line => ({ what, found: milliseconds(ms), scaled: milliseconds(scaled), target: target === undefined ? '' : milliseconds(target), met: target === undefined ? undefined : scaled <= target });

/** How many a second, likewise, from what one takes. */
export const rate = (what: string, { ms, scaled }: Timing, target?: number): Line => ({ what, found: aSecond(1000 / ms), scaled: aSecond(1000 / scaled), target: target === undefined ? '' : aSecond(target), met: target === undefined ? undefined : 1000 / scaled >= target });

/** So many times as fast. */
export const ratio = (what: string, times: number, target?: number): Line => ({ what, found: `${times.toFixed(times < 10 ? 2 : 0)} ×`, target: target === undefined ? '' : `${Number(target.toPrecision(2))} ×`, met: target === undefined ? undefined : times >= target });

/** What is held in memory. */
export const memory = (what: string, bytes: number, target?: number): Line => ({ what, found: `${(bytes / 1e6).toFixed(0)} MB`, target: target === undefined ? '' : `${(target / 1e6).toFixed(0)} MB`, met: target === undefined ? undefined : bytes <= target });

/** An error that shall stay below its target. */
export const error = (what: string, found: number, target: number): Line => ({ what, found: found.toExponential(1), target: target.toExponential(0), met: found <= target });

export function print(title: string, lines: readonly Line[]): void {
  console.log(`\n${title} (an 8×8 product takes ${machineSpeed().toFixed(0)} ns just now; scaled to ${ORDINARY} ns)`);
  const width = (key: 'what' | 'found' | 'scaled' | 'target'): number => Math.max(...lines.map((l) => (l[key] ?? '').length));
  for (const l of lines)
    console.log(`  ${l.what.padEnd(width('what'))}  ${l.found.padStart(width('found'))}  ${(l.scaled ?? '').padStart(width('scaled'))}   target ${l.target.padEnd(width('target'))}  ${l.met === undefined ? '' : l.met ? 'met' : 'NOT MET'}`);
}
