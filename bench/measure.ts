import { apply } from '../core/linear/dense';

/** Timing for the bench: medians, since machines are noisy. */

/** Median milliseconds of one call, after warming up; calls are batched until a batch takes 5 ms. */
export function median(work: () => unknown, rounds = 25, warmUp = 5): number {
  for (let k = 0; k < warmUp; k++) work();
  let batch = 1;
  for (;;) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    if (performance.now() - start > 5 || batch > 1e6) break;
    batch *= 2;
  }
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const start = performance.now();
    for (let k = 0; k < batch; k++) work();
    times.push((performance.now() - start) / batch);
  }
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)]!;
}

/** How fast this machine is just now: an 8×8 product in ns. Targets are for machines that take 150. */
export function machineSpeed(): number {
  const a = Float64Array.from({ length: 64 }, (_, i) => Math.sin(i) / 8);
  let x: Float64Array = new Float64Array(8).fill(1);
  let y: Float64Array = new Float64Array(8);
  const turns = 20_000;
  const taken = median(() => {
    x.fill(1);
    for (let k = 0; k < turns; k++) {
      apply(a, x, y, 8);
      const spare = x;
      x = y;
      y = spare;
    }
  }, 9);
  return (taken / turns) * 1e6;
}

/** ns of an 8×8 product on the machine that the targets are for. */
const ORDINARY = 150;

/** How many times slower than that the machine is just now. */
const slower = (): number => machineSpeed() / ORDINARY;

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

/** A time in ms, held against its target as it would be on the ordinary machine. */
export function time(what: string, ms: number, target?: number): Line {
  const scaled = ms / slower();
  return { what, found: milliseconds(ms), scaled: milliseconds(scaled), target: target === undefined ? '' : milliseconds(target), met: target === undefined ? undefined : scaled <= target };
}

/** A rate in 1/s, likewise. */
export function rate(what: string, perSecond: number, target?: number): Line {
  const scaled = perSecond * slower();
  return { what, found: aSecond(perSecond), scaled: aSecond(scaled), target: target === undefined ? '' : aSecond(target), met: target === undefined ? undefined : scaled >= target };
}

/** So many times as fast. */
export const ratio = (what: string, times: number, target: number): Line => ({ what, found: `${times.toFixed(0)} ×`, target: `${target} ×`, met: times >= target });

/** An error that shall stay below its target. */
export const error = (what: string, found: number, target: number): Line => ({ what, found: found.toExponential(1), target: target.toExponential(0), met: found <= target });

export function print(title: string, lines: readonly Line[]): void {
  console.log(`\n${title} (an 8×8 product takes ${machineSpeed().toFixed(0)} ns just now; scaled to ${ORDINARY} ns)`);
  const width = (key: 'what' | 'found' | 'scaled' | 'target'): number => Math.max(...lines.map((l) => (l[key] ?? '').length));
  for (const l of lines)
    console.log(`  ${l.what.padEnd(width('what'))}  ${l.found.padStart(width('found'))}  ${(l.scaled ?? '').padStart(width('scaled'))}   target ${l.target.padEnd(width('target'))}  ${l.met === undefined ? '' : l.met ? 'met' : 'NOT MET'}`);
}
