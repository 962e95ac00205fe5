import { freeColumns } from '../circuit/layout';
import type { State } from '../circuit/machine';
import { boost, buck, cycleOf, machineOf, type Converter } from '../testing/circuits';
import { carryOver, carrySettled } from './carry';

const BASE: Converter = { line: 24, L: 20e-6, C: 20e-6, R: 15, T: 5e-6, D: 0.4, r: 0.02, drop: 0.4 };
type Build = (c: Converter) => ReturnType<typeof boost>;

/** How far a guess lies from where a machine settles, at most: each state against the largest. */
function off(build: Build, c: Converter, guess: (from: ReturnType<typeof settled>, to: ReturnType<typeof machineOf>) => State, by: number): number {
  const to = machineOf(build({ ...c, line: c.line + by }));
  const [there, found] = [cycleOf(to).state.z, guess(settled(build, c), to).z];
  const free = freeColumns(to.layout);
  const largest = Math.max(...free.map((k) => Math.abs(there[k]!)));
  return Math.max(...free.map((k) => Math.abs(found[k]! - there[k]!))) / largest;
}
const settled = (build: Build, c: Converter) => {
  const machine = machineOf(build(c));
  return { machine, cycle: cycleOf(machine) };
};

describe('a settled cycle beside another whose sources differ', () => {
  test.each([['a buck', buck], ['a boost', boost]])('%s in continuous conduction: its map is affine but for leakage, so the guess is the cycle', (_, build) => {
    // But for the moment at which the diode takes over, which follows the voltage across what leaks.
    for (const by of [0.1, 1, 5]) expect(off(build, BASE, carrySettled, by)).toBeLessThan(1e-6 * Math.max(0.01, by ** 2));
  });

  test.each([['a buck', buck], ['a boost', boost]])('%s in discontinuous conduction: what is left falls with the square of the change', (_, build) => {
    const light = { ...BASE, R: 400 };
    const [coarse, fine] = [0.8, 0.4].map((by) => off(build, light, carrySettled, by));
    expect(coarse! / fine!).toBeGreaterThan(3.5);
    expect(coarse! / fine!).toBeLessThan(4.5);
    // Taken over as it stood it would be a whole change off.
    expect(off(build, light, (from, to) => carryOver(from.machine, to, from.cycle.state), 0.4)).toBeGreaterThan(10 * fine!);
  });

  test('Newton has nothing left to do but to see it', () => {
    const to = machineOf(boost({ ...BASE, line: 25 }));
    const from = settled(boost, BASE);
    expect(cycleOf(to, { near: carrySettled(from, to) }).iterations).toBe(1);
    expect(cycleOf(to, { near: carryOver(from.machine, to, from.cycle.state) }).iterations).toBe(2);
  });

  test('nothing that differs moves nothing', () => {
    const from = settled(boost, BASE);
    expect([...carrySettled(from, machineOf(boost(BASE))).z]).toEqual([...from.cycle.state.z]);
  });
});
