import fc from 'fast-check';
import { preferred, SERIES } from '../../quantity';
import { AMPLIFIERS } from '.';
import { dividerPair, heldBy, lowerOf } from './network';

/** The feedback divider in preferred values. */

const volts = fc.double({ min: 0.5, max: 5, noNaN: true });
const ratio = fc.double({ min: 1.05, max: 60, noNaN: true });
const ohms = fc.double({ min: 2.5, max: 5.5, noNaN: true }).map((e) => 10 ** e);
const isE96 = (v: number): boolean => SERIES.E96.some((base) => Math.abs(v / (base * 10 ** Math.floor(Math.log10(v) + 1e-9)) - 1) < 1e-6);

test('the best pair is no worse than the nearest of each, near what was asked, and of the series', () => {
  let [sum, nearest] = [0, 0];
  fc.assert(
    fc.property(volts, ratio, ohms, (reference, k, asked) => {
      const held = { output: reference * k, reference };
      const { upper, lower } = dividerPair(asked, held, true);
      expect(isE96(upper) && isE96(lower)).toBe(true);
      expect(Math.abs(upper / asked - 1)).toBeLessThan(0.11);
      const off = Math.abs(heldBy({ upper, lower }, reference) / held.output - 1);
      const each = preferred(asked, 'E96');
      const plain = Math.abs(heldBy({ upper: each, lower: lowerOf(each, held, true) }, reference) / held.output - 1);
      expect(off).toBeLessThanOrEqual(plain + 1e-12);
      sum += off;
      nearest += plain;
      // Ratios of E96 values lie a step of 2.4 % apart as the values do, but for how those are rounded: half of that at most, a fraction of it on average.
      expect(off).toBeLessThan(0.0125);
    }),
    { numRuns: 300 },
  );
  expect(sum).toBeLessThan(0.75 * nearest);
});

test('where R1 belongs to a network as well, the pair with it holds the output better than the nearest to ground of any R1 would', () => {
  let [sum, any] = [0, 0];
  fc.assert(
    fc.property(volts, ratio, fc.double({ min: 2.5, max: 4.5, noNaN: true }).map((e) => 10 ** e), (reference, k, f) => {
      const held = { output: reference * k, reference };
      for (const amplifier of AMPLIFIERS.filter((a) => ['type-one', 'type-two', 'type-three', 'pi', 'pid'].includes(a.id))) {
        const corners = Object.fromEntries(amplifier.handles.map((h) => [h.key, { integrator: 0.3, zero1: 0.4, zero2: 0.7, pole1: 6, pole2: 9 }[h.key]! * f]));
        const built = amplifier.build(corners, { inputResistor: 10e3, rounded: true } as never, held);
        if (!built.ok) throw new Error(built.problem.message);
        sum += Math.abs(heldBy(built.value.network.divider, reference) / held.output - 1);
        any += Math.abs(heldBy({ upper: 10e3, lower: lowerOf(10e3, held, true) }, reference) / held.output - 1);
      }
    }),
    { numRuns: 100 },
  );
  expect(sum).toBeLessThan(0.75 * any);
});

test('not rounded it is exact; where the output is the reference there is no resistor to ground', () => {
  expect(heldBy(dividerPair(10e3, { output: 24, reference: 2.5 }, false), 2.5)).toBeCloseTo(24, 12);
  expect(dividerPair(10e3, { output: 2.5, reference: 2.5 }, true)).toEqual({ upper: 10e3, lower: Infinity });
});
