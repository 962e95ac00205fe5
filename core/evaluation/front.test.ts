import { bareDemo, change, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { bestPeak, bestResistance } from '../branches/damped';
import { dampBranch, hangBranch } from '../choice';
import type { Design } from '../design';
import { size } from '../linear/complex';
import { findRoot } from '../linear/root';
import { multipliers } from '../orbit/stability';
import { closedDesign } from './closedDesign';
import { filterAlone } from './filterAlone';
import { impedancesAt } from './front';
import { evaluate, sizeDesign } from './index';

/** A filter before the line: its impedance, that of the converter, and what becomes of both together. */

const rail = bareDemo('cabin-lighting-rail');
const at = { line: 36, load: 8, air: 25 };
const hung = must(hangBranch(rail, 'line-filter', SHELF));
const damped = must(dampBranch(hung, 'B1', 'parallel', SHELF));
const front = (d: Design, point = at) => must(evaluate(d, point)).loop!.front!;
const frontFeeds = 'input';

describe('both impedances, read of one signal between them', () => {
  const closed = must(closedDesign(damped, at));
  /** As they stand in the circuit, which has their series resistances and what they lose at their voltage. */
  const part = (id: string): { esr: number; C: number } => {
    const e = closed.circuit.elements.find((x) => x.id === id)!;
    if (e.kind !== 'capacitor') throw new Error(id);
    return { esr: e.esr, C: e.capacitance };
  };
  test('the filter’s is that of its parts', () => {
    const L = sizeDesign(damped).values.L11!.taken;
    const R = closed.stage.resistance('L11');
    const f = [50, 500, 5e3, 12e3, 40e3, 9e4];
    const branches = ['C1', 'C11', 'C21'].map(part);
    impedancesAt(closed, frontFeeds)(f).filter.forEach((z, k) => {
      const w = 2 * Math.PI * f[k]!;
      const conducts = [[R / (R * R + (w * L) ** 2), (-w * L) / (R * R + (w * L) ** 2)], ...branches.map(({ esr, C }) => [esr / (esr ** 2 + 1 / (w * C) ** 2), 1 / (w * C) / (esr ** 2 + 1 / (w * C) ** 2)])];
      const [g, b] = [0, 1].map((i) => conducts.reduce((s, y) => s + y[i]!, 0));
      expect(size(z) * Math.hypot(g!, b!)).toBeCloseTo(1, 6);
    });
  });
  test('the converter’s at low frequencies is the negative resistance of a constant power', () => {
    const { losses } = must(evaluate(damped, at));
    const [z] = impedancesAt(closed, frontFeeds)([5]).converter;
    // dV/dI at constant power, −V²/P: V as the converter sees it, behind the filter's resistance; losses that grow as the line sinks are some per cent.
    const volts = at.line - (losses.input / at.line) * closed.stage.resistance('L11');
    expect(z!.re / -(volts ** 2 / losses.input)).toBeCloseTo(1, 1);
    expect(Math.abs(z!.im / z!.re)).toBeLessThan(0.05);
  });
});

describe('swept through its limit, a filter is called unstable by the impedances and by the multipliers of the closed circuit', () => {
  test.each([['inductance', 'parts.L11.inductance', 15e-6, 60e-6], ['damping', 'branches.B1.resistance', 0.02, 12]] as const)('by its %s, within 1 %%', (_, path, low, high) => {
    // Damped by little, where it is its resistance that decides: too much of it parts the damping capacitor from the filter.
    const d = path.startsWith('branches') ? change(damped, { 'branches.B1.ratio': 1, 'parts.C21.count': 1, 'parts.C21.capacitance': 10e-6, 'parts.L11.inductance': 56e-6 }) : hung;
    const moved = (v: number): Design => change(d, { [path]: v });
    const largest = (v: number): number => Math.log(Math.max(...multipliers(must(closedDesign(moved(v), at)).cycle).map((m) => m.size)));
    const round = (v: number): boolean => front(moved(v)).circles;
    if (path.startsWith('branches')) {
      // Its best is stable by both; nearly none of it, or nearly all, is not.
      const values = [low, 0.1, 1, 2, 4, high];
      expect(values.map(round)).toEqual(values.map((v) => largest(v) > 0));
      expect(new Set(values.map(round)).size).toBe(2);
      return;
    }
    const limit = findRoot(largest, { low, high, atLow: largest(low), atHigh: largest(high) }, { width: 1e-4 * high }).at;
    let [stable, unstable]: number[] = [low, high];
    while (unstable! / stable! > 1.001) {
      const middle = Math.sqrt(stable! * unstable!);
      if (round(middle)) unstable = middle;
      else stable = middle;
    }
    expect(Math.abs(stable! / limit - 1)).toBeLessThan(0.01);
    // There the two impedances ring against one another for ever.
    expect(front(moved(limit)).distance).toBeLessThan(0.01);
  });
});

describe('the input filter criterion', () => {
  test('where the converter’s impedance is far above the filter’s, the loop is what it was; where it is not, it is not', () => {
    const bare = must(evaluate(rail, at)).loop!;
    const [good, poor] = [must(evaluate(damped, at)).loop!, must(evaluate(hung, at)).loop!];
    expect(good.front!.margin).toBeGreaterThan(12);
    expect(Math.abs(good.crossover / bare.crossover - 1)).toBeLessThan(0.1);
    expect(poor.front!.margin).toBeLessThan(0);
    expect(poor.gainMargin).toBeLessThan(bare.gainMargin - 6);
  });
  test('on a stiff line there is nothing to hold against', () => expect(must(evaluate(rail, at)).loop!.front).toBeUndefined());
});

describe('best damping by a capacitor and a resistor (Erickson, Maksimović, ch. 10)', () => {
  /** |Z| of L beside C beside R + n C, over √(L/C), at ω √(LC) = x. */
  const peakOf = (n: number, r: number): number => {
    let most = 0;
    for (let x = 0.05; x < 5; x *= 1.002) {
      const [re, im] = [r / (r ** 2 + 1 / (n * x) ** 2), x - 1 / x + 1 / (n * x) / (r ** 2 + 1 / (n * x) ** 2)];
      most = Math.max(most, 1 / Math.hypot(re, im));
    }
    return most;
  };
  test.each([0.5, 1, 2, 4, 10])('n = %p: no other resistance leaves a lower peak, and the peak is the one stated', (n) => {
    const best = bestResistance(n);
    expect(peakOf(n, best)).toBeCloseTo(bestPeak(n), 3);
    for (const off of [0.8, 0.9, 1.1, 1.25]) expect(peakOf(n, best * off)).toBeGreaterThan(peakOf(n, best) * 1.005);
  });
  test('published: n = 1 peaks at √6 and wants √2.1, n = 4 at √12 / 4 and √(6 · 16 / 256)', () => {
    expect([bestPeak(1) ** 2, bestResistance(1) ** 2, bestPeak(4) ** 2, bestResistance(4) ** 2].map((v) => Number(v.toFixed(9)))).toEqual([6, 2.1, 0.75, 0.375]);
  });
});

test('the balance of powers closes, and the filter’s parts carry what they must', () => {
  const f = must(evaluate(damped, at, { detail: true }));
  expect(Math.abs(f.detail!.balance.residual)).toBeLessThan(1e-9);
  expect(f.duties.L11!.mean).toBeCloseTo(f.losses.input / at.line, 1);
  // What the inductor lets through is what was asked for, 40 dB below the pulses, resistances let more through.
  const pulses = must(evaluate(rail, at)).duties.C1!.rms;
  expect(f.duties.L11!.peakToPeak / 2 / Math.SQRT2 / pulses).toBeLessThan(0.02);
});

test('by itself it takes off what was asked at the switching frequency, and its strays let it through again far above', () => {
  const alone = must(filterAlone(hung));
  // Whole capacitors and the next value of E12 are more than was wanted; their resistances let a little more through.
  expect(alone.attenuation).toBeGreaterThan(39);
  expect(alone.attenuation).toBeLessThan(50);
  expect(alone.best).toBeGreaterThan(1e6);
  const { frequency, gain } = alone.through;
  expect(gain[0]).toBeCloseTo(0, 2);
  expect(gain.at(-1)!).toBeGreaterThan(Math.min(...gain) + 10);
  // The impedance looked at from the converter is the one that is met in the circuit.
  const { values } = sizeDesign(hung);
  const rings = 1 / (2 * Math.PI * Math.sqrt(values.L11!.taken * (values.C11!.taken + values.C1!.taken)));
  const peak = frequency[alone.impedance.gain.indexOf(Math.max(...alone.impedance.gain.slice(0, 200)))]!;
  expect(peak / rings).toBeCloseTo(1, 0);
  // Its step rings as high as it is undamped, and damping takes that away.
  const better = must(filterAlone(damped));
  expect(better.step.overshoot).toBeLessThan(0.8 * alone.step.overshoot);
  expect(better.step.settles).toBeGreaterThan(0);
  expect(filterAlone(rail)).toMatchObject({ ok: false, problem: { code: 'front' } });
});
