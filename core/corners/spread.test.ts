import fc from 'fast-check';
import { randomLcg } from 'd3-random';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { billOf, changedBill } from '../evaluation/bill';
import { evaluate } from '../evaluation';
import { SHELF } from '../../shelf';
import { drawn, drawnDesign, NETWORK, offsOf, spreadOf, tolerancesOf, yieldOf, type Tolerance } from './spread';
import { worstCase } from './worstCase';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 60, load: 8, air: 50 };

test('draws: of the seed and their number alone, within the tolerance, of the right mean and spread', () => {
  const tolerances: Tolerance[] = [{ path: 'a', slot: 'L1', key: 'inductance', title: 'a', share: 0.2, shape: 'uniform' }, { path: 'b', slot: 'C2', key: 'capacitance', title: 'b', share: 0.3, shape: 'normal' }];
  expect(offsOf(tolerances, 7, 12)).toEqual(offsOf(tolerances, 7, 12));
  expect(offsOf(tolerances, 7, 12)).not.toEqual(offsOf(tolerances, 8, 12));
  const all = Array.from({ length: 4000 }, (_, k) => offsOf(tolerances, 3, k));
  const moments = (k: number): [number, number] => {
    const mean = all.reduce((s, o) => s + o[k]!, 0) / all.length;
    return [mean, Math.sqrt(all.reduce((s, o) => s + (o[k]! - mean) ** 2, 0) / all.length)];
  };
  const [[m0, s0], [m1, s1]] = [moments(0), moments(1)];
  expect([Math.abs(m0) < 0.01, Math.abs(m1) < 0.01]).toEqual([true, true]);
  // A uniform spread of ±a has a / √3; a normal one a third of its ends, less 1.3 % for what is drawn again.
  expect(s0 / (0.2 / Math.sqrt(3))).toBeCloseTo(1, 1);
  expect(s1 / (0.1 * 0.987)).toBeCloseTo(1, 1);
  expect(all.every((o) => Math.abs(o[0]!) <= 0.2 && Math.abs(o[1]!) <= 0.3)).toBe(true);
  // Neighbours are not alike.
  const lag = all.slice(1).reduce((s, o, k) => s + o[0]! * all[k]![0]!, 0) / all.length / s0 ** 2;
  expect(Math.abs(lag)).toBeLessThan(0.06);
});

test('of one capacitor alone, whose ripple falls with its value: quantiles of the ripple are the ripple at quantiles of it', () => {
  const only: Tolerance[] = [{ path: 'parts.C2.capacitance', slot: 'C2', key: 'capacitance', title: 'C2', share: 0.2, shape: 'uniform' }];
  const draws = Array.from({ length: 160 }, (_, k) => drawn(rail, only, 1, k, [point]));
  const { requirements, matters } = spreadOf(only, draws);
  const ripple = requirements.find((r) => r.id === 'ripple')!;
  const bill = billOf(rail);
  const at = (off: number): number => must(evaluate(rail, point, { bill: changedBill(bill, { C2: bill.sizing.values.C2!.taken * (1 + off) }) })).cycle.outputRipple;
  // The q-quantile of 160 draws is off by √(q (1 − q) / 160) of its share: three of those, in what a share of the range moves it by.
  const off = (q: number): number => 3 * Math.sqrt((q * (1 - q)) / 160) * 0.4 * (Math.abs(at(0.1) - at(-0.1)) / 0.2);
  expect(Math.abs(ripple.median - at(0))).toBeLessThan(off(0.5));
  expect(Math.abs(ripple.low - at(-0.18))).toBeLessThan(off(0.05));
  expect(Math.abs(ripple.high - at(0.18))).toBeLessThan(off(0.95));
  expect(matters[0]!.share).toBeGreaterThan(0.9);
});

test('the interval of a yield holds the truth in 95 of 100 repeated runs', () => {
  for (const truth of [0.5, 0.9, 0.98]) {
    const source = randomLcg(0.42 + truth / 10);
    let held = 0;
    const RUNS = 2000;
    for (let r = 0; r < RUNS; r++) {
      let n = 0;
      for (let k = 0; k < 100; k++) if (source() < truth) n++;
      const { low, high } = yieldOf(n, 100);
      if (low <= truth && truth <= high) held++;
    }
    expect(held / RUNS).toBeGreaterThan(0.92);
    expect(held / RUNS).toBeLessThan(0.985);
  }
  fc.assert(fc.property(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 50, max: 400 }), (n, of) => {
    const { share, low, high } = yieldOf(n, of);
    expect(0 <= low && low <= share + 1e-12 && share <= high + 1e-12 && high <= 1).toBe(true);
  }));
});

test('a whole design: the same draws whoever makes them, values that matter ranked, nothing sized again', () => {
  const tolerances = tolerancesOf(rail);
  expect(tolerances.map((t) => t.path)).toEqual(expect.arrayContaining(['parts.L1.inductance', 'parts.C2.capacitance', 'parts.Q1.onResistance']));
  const points = [{ line: 36, load: 0.4, air: 50 }, point];
  const draws = Array.from({ length: 24 }, (_, k) => drawn(rail, tolerances, 5, k, points));
  expect(drawn(rail, tolerances, 5, 17, points)).toEqual(draws[17]);
  const found = spreadOf(tolerances, draws);
  expect(found.tightest).toBe('deviation');
  expect(found.holding).toBe(draws.filter((r) => r.holds).length);
  expect(['parts.L1.inductance', 'parts.C2.capacitance']).toContain(found.matters[0]!.path);
  const { worst, low, median, high } = found.requirements.find((r) => r.id === 'deviation')!;
  expect(worst >= low && low >= median && median >= high).toBe(true);
});

test('windings on one core are off together; a requirement that no draw has a figure of is left out', () => {
  const radio = openDemo('radio');
  const only: Tolerance[] = [{ path: 'parts.L1.inductance', slot: 'L1', key: 'inductance', title: 'L1', share: 0.2, shape: 'uniform' }];
  const at = { line: radio.brief.line.min, load: radio.brief.load.max, air: 40 };
  const { off, value } = drawn(radio, only, 2, 0, [at]);
  const bill = billOf(radio);
  const both = Object.fromEntries(['L1', 'L2'].map((slot) => [slot, bill.sizing.values[slot]!.taken * (1 + off[0]!)]));
  // Temperatures found from two beginnings agree to 1e-3 K, and what goes with resistance to some 1e-9.
  expect(value.ripple! / must(evaluate(radio, at, { bill: changedBill(bill, both) })).cycle.outputRipple).toBeCloseTo(1, 8);
  const none = spreadOf(only, [0, 1, 2].map((index) => ({ index, off: [0.1 * index], room: { deviation: -1 }, value: { deviation: NaN }, holds: false })));
  expect(none.requirements).toEqual([]);
  expect(none.yield.share).toBe(0);
});

test('tolerances that are stated take the place of the usual ones; of none nothing is drawn; parts of the network are among them', () => {
  const stated = change(rail, { tolerances: { values: { L1: { inductance: { share: 0.05, shape: 'truncated' } }, C2: { capacitance: { share: 0, shape: 'uniform' } }, network: { R1: { share: 0.001, shape: 'uniform' } } }, matched: [['Q1', 'Q2']], aged: false } });
  const all = tolerancesOf(stated);
  const named = (path: string): Tolerance | undefined => all.find((t) => t.path === path);
  expect(named('parts.L1.inductance')).toMatchObject({ share: 0.05, shape: 'truncated' });
  expect(named('parts.C2.capacitance')).toBeUndefined();
  expect(named('network.R1')).toMatchObject({ share: 0.001 });
  expect(named('network.C1')).toMatchObject({ slot: NETWORK, share: 0.05 });
  const off = offsOf(all, 3, 0, stated.tolerances!.matched);
  const [q1, q2] = ['parts.Q1.onResistance', 'parts.Q2.onResistance'].map((path) => off[all.findIndex((t) => t.path === path)]!);
  expect(q1).toBe(q2);
  // Truncated: the standard deviation of a normal variable of 1 cut at 1 is 0.5396.
  const only: Tolerance[] = [{ ...named('parts.L1.inductance')!, share: 1 }];
  const drawnOff = Array.from({ length: 6000 }, (_, k) => offsOf(only, 2, k)[0]!);
  expect(Math.sqrt(drawnOff.reduce((a, v) => a + v * v, 0) / drawnOff.length)).toBeCloseTo(0.5396, 1.8);
});

test.each([[{ values: { X9: { esr: { share: 0.1, shape: 'normal' } } } }, 'tolerances.values.X9'], [{ values: { C2: { colour: { share: 0.1, shape: 'normal' } } } }, 'tolerances.values.C2.colour'], [{ matched: [['Q1', 'C2']] }, 'tolerances.matched.0'], [{ matched: [['Q1', 'Q7']] }, 'tolerances.matched.0']])('%j is refused where it stands', (tolerances, where) => {
  expect(() => change(rail, { tolerances })).toThrow(where);
});

test('a network part off moves the loop as its corners say: R2 larger by a tenth, the gain where it crosses by as much', () => {
  const at = (network?: Record<string, number>) => must(evaluate(rail, point, network ? { network } : {})).loop!;
  const [own, off] = [at(), at({ R2: 1.1 })];
  expect(off.built.zero1! / own.built.zero1!).toBeCloseTo(1 / 1.1, 9);
  // Beside its unity gain a loop falls as one over the frequency, or a little faster.
  expect(Math.abs(off.crossover / own.crossover - 1.1)).toBeLessThan(0.03);
});

test('a draw opened as a design gives the figures that it was judged by', () => {
  const tolerances = tolerancesOf(rail);
  for (const index of [0, 3]) {
    const draw = drawn(rail, tolerances, 9, index, [point]);
    const alone = must(evaluate(must(drawnDesign(rail, tolerances, draw.off)), point));
    expect(alone.loop!.phaseMargin).toBeCloseTo(draw.value.phaseMargin!, 3);
    expect(alone.cycle.outputRipple / draw.value.ripple!).toBeCloseTo(1, 5);
    expect(alone.losses.efficiency).toBeCloseTo(draw.value.efficiency!, 6);
  }
});

test('a wet capacitor at the end of its life: a fifth of its capacitance lost, its resistance doubled', () => {
  const wet = change(rail, { 'parts.C2': { ...SHELF.find((p) => p.part === 'Basin 35-220u')!, count: 3 } });
  const at = { line: 60, load: 8, air: 25 };
  const [now, old] = [false, true].map((aged) => drawn(change(wet, { tolerances: { aged } }), [], 1, 0, [at]).value.ripple!);
  // Its ripple is that of its resistance, most of which is its own and not of its dielectric.
  expect(old! / now!).toBeGreaterThan(1.7);
  expect(old! / now!).toBeLessThan(2.1);
});

test('the worst case: the vertex is beyond every draw, and sums of slopes on the worse side', () => {
  const at = { line: 36, load: 0.4, air: 50 };
  const tolerances = tolerancesOf(rail);
  const found = worstCase(rail, tolerances, 'deviation', at)!;
  const draws = Array.from({ length: 40 }, (_, k) => drawn(rail, tolerances, 4, k, [at]).value.deviation!);
  expect(found.vertex).toBeGreaterThan(Math.max(...draws));
  expect(found.extreme).toBeGreaterThan(found.nominal);
  expect(found.rootSquare).toBeGreaterThan(found.nominal);
  expect(found.holds).toBe(false);
  expect(found.by.slice(0, 3).map((b) => b.path)).toEqual(expect.arrayContaining(['parts.C2.capacitance']));
});
