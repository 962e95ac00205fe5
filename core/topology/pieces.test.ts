import fc from 'fast-check';
import { capacitorRipple, carried, less, superposed, through, type Piece } from './pieces';
import { root } from './root';
import { shareOut, type Output } from './shareOut';

const amps = fc.double({ min: -20, max: 20, noNaN: true });
const seconds = fc.double({ min: 1e-7, max: 1e-5, noNaN: true });
const pieces = fc.array(fc.record({ seconds, from: amps, to: amps }), { minLength: 1, maxLength: 6 });
const at = (list: readonly Piece[], t: number): number => {
  const period = list.reduce((s, p) => s + p.seconds, 0);
  let left = ((t % period) + period) % period;
  for (const p of list) {
    if (left < p.seconds) return p.from + ((p.to - p.from) * left) / p.seconds;
    left -= p.seconds;
  }
  return list.at(-1)!.to;
};

test('mean, rms and peaks of any straight pieces are those of their samples', () => {
  fc.assert(fc.property(pieces, (list) => {
    const period = list.reduce((s, p) => s + p.seconds, 0);
    const N = 20_000;
    const samples = Array.from({ length: N }, (_, k) => at(list, ((k + 0.5) * period) / N));
    const c = carried(list);
    expect(Math.abs(c.mean - samples.reduce((a, b) => a + b, 0) / N)).toBeLessThan(0.01);
    expect(Math.abs(c.rms - Math.sqrt(samples.reduce((a, b) => a + b * b, 0) / N))).toBeLessThan(0.02);
    expect(c.rms).toBeGreaterThanOrEqual(Math.abs(c.mean) - 1e-9);
    expect(c.peak).toBeGreaterThanOrEqual(c.rms - 1e-9);
  }), { numRuns: 60 });
});
test('the ripple of a capacitor is that of its current walked in small steps', () => {
  fc.assert(fc.property(pieces, fc.double({ min: 1e-6, max: 1e-4, noNaN: true }), fc.double({ min: 0, max: 0.1, noNaN: true }), (list, C, esr) => {
    const own = less(list, carried(list).mean);
    let [charge, low, high, missed] = [0, Infinity, -Infinity, 0];
    for (const p of own) {
      const n = 2000;
      // Half a step beside the vertex of a piece's parabola: ½ (Δi / T) (T / 2n)² / C.
      missed = Math.max(missed, (Math.abs(p.to - p.from) * p.seconds) / (8 * n ** 2 * C));
      for (let k = 0; k <= n; k++) {
        const t = (p.seconds * k) / n;
        const v = esr * (p.from + ((p.to - p.from) * k) / n) + (charge + p.from * t + ((p.to - p.from) * t * t) / (2 * p.seconds)) / C;
        [low, high] = [Math.min(low, v), Math.max(high, v)];
      }
      charge += ((p.from + p.to) / 2) * p.seconds;
    }
    const off = capacitorRipple(own, C, esr) - (high - low);
    expect(Math.abs(off)).toBeLessThan(2 * missed * (1 + 1e-6) + 1e-9 * (1 + high - low));
  }), { numRuns: 60 });
});
test('phases laid over one another: at any moment the sum of them, and n times the mean', () => {
  fc.assert(fc.property(pieces, fc.integer({ min: 1, max: 5 }), fc.double({ min: 0, max: 1, noNaN: true }), (list, n, share) => {
    const period = list.reduce((s, p) => s + p.seconds, 0);
    const sum = superposed(list, n);
    expect(sum.reduce((s, p) => s + p.seconds, 0)).toBeCloseTo(period, 12);
    expect(carried(sum).mean).toBeCloseTo(n * carried(list).mean, 6);
    const t = share * period;
    const jumps = list.flatMap((_, k) => [list.slice(0, k).reduce((s, p) => s + p.seconds, 0)]);
    const near = Array.from({ length: n }, (_, k) => k / n).some((f) => jumps.some((j) => { const d = Math.abs(((t - f * period - j) % period + period) % period); return Math.min(d, period - d) < 1e-4 * period; }));
    if (!near) expect(at(sum, t)).toBeCloseTo(Array.from({ length: n }, (_, k) => at(list, t - (k * period) / n)).reduce((a, b) => a + b, 0), 4);
  }), { numRuns: 200 });
});
test('a part that an interval does not name carries nothing in it', () => {
  expect(through([{ seconds: 1, at: { a: [1, 2] } }, { seconds: 2, at: {} }], 'a')).toEqual([{ seconds: 1, from: 1, to: 2 }, { seconds: 2, from: 0, to: 0 }]);
});
test('a root is found where it is, also outside of the bounds given', () => {
  fc.assert(fc.property(fc.double({ min: 0.01, max: 50, noNaN: true }), (x0) => {
    const f = (x: number): number => x ** 3 - x0 ** 3;
    expect(root(f, 0.4, 30, 1e-9 * x0 ** 3) / x0).toBeCloseTo(1, 6);
  }));
});

describe('outputs that share what a core gives', () => {
  const output = fc.record({ ratio: fc.double({ min: 0.1, max: 2, noNaN: true }), drop: fc.double({ min: 0.2, max: 1, noNaN: true }), resistance: fc.double({ min: 0.005, max: 0.1, noNaN: true }), capacitance: fc.double({ min: 5e-6, max: 5e-4, noNaN: true }), esr: fc.double({ min: 0.001, max: 0.05, noNaN: true }) });
  const given = (mean: number): Piece[] => [{ seconds: 1e-7, from: 0, to: 3 * mean }, { seconds: 4e-6, from: 3 * mean, to: 0.5 * mean }, { seconds: 1e-7, from: 0.5 * mean, to: 0 }, { seconds: 4e-6, from: 0, to: 0 }];
  test('take all of it between them at every moment, none flows back, and each gets its load', () => {
    fc.assert(fc.property(output, output, fc.double({ min: 0.2, max: 0.8, noNaN: true }), (a, b, share) => {
      const list = given(2);
      const charge = carried(list).mean;
      // Loads that take just what is given.
      const both: Output[] = [{ ...a, load: (charge * share) / a.ratio }, { ...b, load: (charge * (1 - share)) / b.ratio }];
      const { currents, volts } = shareOut(both, list, 12);
      const [first, second] = currents as [Piece[], Piece[]];
      expect(volts.every(Number.isFinite)).toBe(true);
      first.forEach((p, k) => {
        const q = second[k]!;
        expect(Math.min(p.from, p.to, q.from, q.to)).toBeGreaterThanOrEqual(-1e-9);
      });
      both.forEach((o, k) => expect(carried(currents[k]!).mean / o.load).toBeCloseTo(1, 2));
      const sum = first.map((p, k): Piece => ({ seconds: p.seconds, from: p.from * a.ratio + second[k]!.from * b.ratio, to: p.to * a.ratio + second[k]!.to * b.ratio }));
      expect(carried(sum).mean).toBeCloseTo(charge, 6);
    }), { numRuns: 60 });
  });
  test('a single one takes all of it, by its turns', () => {
    const one: Output = { ratio: 0.5, drop: 0.5, resistance: 0.01, capacitance: 1e-4, esr: 0.01, load: 4 };
    expect(carried(shareOut([one], given(2), 12).currents[0]!).mean).toBeCloseTo(carried(given(2)).mean / 0.5, 9);
  });
  test('two alike share evenly and stand at the same voltage', () => {
    const one: Output = { ratio: 0.5, drop: 0.5, resistance: 0.02, capacitance: 1e-4, esr: 0.01, load: carried(given(2)).mean };
    const { currents, volts } = shareOut([one, one], given(2), 12);
    expect(carried(currents[0]!).rms).toBeCloseTo(carried(currents[1]!).rms, 6);
    expect(volts[1]).toBeCloseTo(12, 6);
  });
});
