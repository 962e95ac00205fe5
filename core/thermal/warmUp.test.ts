import { modesOfLadder, pulseResponse } from './ladder';
import { solveThermalNetwork } from './network';
import { decadesUntil, warmUp, type StoringNode } from './warmUp';

const ladder: StoringNode[] = [
  { id: 'j', title: 'j', towards: 'c', resistance: 0.4, capacity: 0.02 },
  { id: 'c', title: 'c', towards: 'sink', resistance: 0.8, capacity: 1.2 },
  { id: 'sink', title: 'sink', towards: 'air', resistance: 4, capacity: 150 },
];
const constant = (watts: number): { watts: number; perKelvin: number; at: number } => ({ watts, perKelvin: 0, at: 25 });

test('one node: the closed form, and nothing without heat', () => {
  const one = [{ id: 'w', title: 'w', towards: 'air', resistance: 10, capacity: 20 }];
  const time = [0, 10, 200, 2000];
  const { temperatures } = warmUp(one, { w: constant(3) }, 40, 40, time);
  temperatures[0]!.forEach((v, k) => expect(v).toBeCloseTo(40 + 30 * (1 - Math.exp(-time[k]! / 200)), 9));
  expect(warmUp(one, {}, 40, 40, [0, 5, 500]).temperatures[0]!.every((v) => Math.abs(v - 40) < 1e-9)).toBe(true);
});

test('a ladder answers as its modes do, over nine decades', () => {
  const modes = modesOfLadder(ladder);
  const time = decadesUntil(1e-5, 1e4);
  const { temperatures } = warmUp(ladder, { j: constant(1) }, 0, 0, time);
  time.forEach((t, k) => expect(Math.abs(temperatures[0]![k]! - pulseResponse(modes, t))).toBeLessThan(1e-9));
});

test('it ends where the network stands, with losses that grow with the temperature too', () => {
  const shared: StoringNode[] = [...ladder, { id: 'j2', title: 'j2', towards: 'sink', resistance: 2, capacity: 0.05 }];
  const settled = solveThermalNetwork(shared, { j: 5, j2: 3 }, 50);
  const at = (id: string): number => settled.find((r) => r.id === id)!.temperature;
  const { temperatures } = warmUp(shared, { j: { watts: 5, perKelvin: 0.03, at: at('j') }, j2: { watts: 3, perKelvin: 0.01, at: at('j2') } }, 50, 50, decadesUntil(1e-4, 36_000));
  shared.forEach((node, i) => expect(temperatures[i]!.at(-1)! - at(node.id)).toBeCloseTo(0, 6));
  // And on the way never beyond it.
  temperatures.forEach((list, i) => expect(Math.max(...list)).toBeLessThanOrEqual(at(shared[i]!.id) + 1e-6));
});

test('what enters is what is stored and what has gone', () => {
  const time = Array.from({ length: 4001 }, (_, k) => k);
  const { temperatures } = warmUp(ladder, { j: constant(10) }, 20, 20, time);
  const stored = ladder.reduce((sum, node, i) => sum + node.capacity * (temperatures[i]!.at(-1)! - 20), 0);
  // Simpson of what flows to the air.
  const flow = temperatures[2]!.map((v) => (v - 20) / 4);
  const gone = flow.reduce((sum, v, k) => sum + (v * (k === 0 || k === 4000 ? 1 : k % 2 === 1 ? 4 : 2)) / 3, 0);
  expect((stored + gone) / 40_000).toBeCloseTo(1, 5);
});

test('heat that grows faster than it goes runs away', () => {
  const { temperatures } = warmUp(ladder, { j: { watts: 5, perKelvin: 0.25, at: 25 } }, 25, 25, [0, 100, 1000, 5000]);
  const [, a, b, c] = temperatures[0]!;
  expect(b! - a!).toBeGreaterThan(10);
  expect(c! - b!).toBeGreaterThan(b! - a!);
});
