import fc from 'fast-check';
import { AMPLIFIERS } from '../control';
import { continuous, controllerAt, standing, controllerElement } from '../control/controller';
import { rationalOf } from '../control/rational';
import type { Control } from '../control/types';
import { complex, degrees, over, phase, scale, size, times, turn, type Complex } from '../linear/complex';
import { measuredAt } from '../measured/response';
import { Measured } from '../measured/types';
import { logSpaced } from '../response/system';
import { loopOnMeasured } from './measured';

const double = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
const control = (changes: Partial<Control>): Control => ({ method: 'voltage', amplifier: '', sampled: 'none', placedOn: '', ramp: 1, delay: 0, reference: 2.5, rounded: false, inputResistor: 10e3, transconductance: 1e-3, openLoopGain: null, gainBandwidth: null, couplerPole: 1e7, ...changes }) as Control;

/** A plant with a resonance, a right-half-plane zero and a delay, as a table of so many points with noise of the last digit. */
const table = fc.record({ gain: double(1, 60), f0: double(500, 8e3), Q: double(0.5, 12), right: double(6e4, 1e6), delay: double(0, 2e-6), points: fc.integer({ min: 40, max: 300 }) }).map(({ gain, f0, Q, right, delay, points }) => {
  const frequency = logSpaced(100, 2e5, points);
  const at = (f: number): Complex => times(scale(over({ re: 1, im: -f / right }, { re: 1 - (f / f0) ** 2, im: f / (f0 * Q) }), gain), turn(-2 * Math.PI * f * delay));
  let before = 0;
  const angles = frequency.map((f) => {
    let p = degrees(phase(at(f)));
    p += 360 * Math.round((before - p) / 360);
    before = p;
    return Number(p.toFixed(2));
  });
  return { f0, frequency, gain: frequency.map((f) => Number((20 * Math.log10(size(at(f)))).toFixed(3))), phase: angles };
});

test('on 300 measured tables: a crossover above what rings is met within 1 %, its margin within 0.5°, or it is said why not', () => {
  let placedOnes = 0;
  fc.assert(
    fc.property(table, fc.constantFrom(...AMPLIFIERS), double(3, 8), double(35, 65), (m, amplifier, times_, phaseMargin) => {
      const crossover = Math.min(9e4, m.f0 * times_);
      const c = control({ crossover, phaseMargin });
      const placed = amplifier.place(measuredAt(m, crossover), c);
      if (!placed.ok) return expect([placed.problem.code, placed.problem.where]).toEqual(['boost', 'control.crossover']);
      placedOnes++;
      const { margins, curve } = loopOnMeasured(m, (f) => controllerAt(continuous(amplifier.transfer(placed.value)), f));
      expect(curve.frequency).toHaveLength(m.frequency.length);
      // Where the loop crosses elsewhere too, the crossover asked for is one of those.
      const here = times(measuredAt(m, crossover), controllerAt(continuous(amplifier.transfer(placed.value)), crossover));
      expect(Math.abs(size(here) - 1)).toBeLessThan(1e-6);
      if (margins.dip || !(Math.abs(margins.crossover / crossover - 1) < 0.01)) return;
      const asked = 180 + degrees(phase(here));
      const margin = asked > 180 ? asked - 360 : asked;
      expect(Math.abs(margins.phaseMargin - margin)).toBeLessThan(0.5);
      expect(margin).toBeGreaterThan(phaseMargin - 0.5);
    }),
    { numRuns: 300 },
  );
  expect(placedOnes).toBeGreaterThan(60);
});

describe('what a design carries of a measurement', () => {
  const good = { title: 'bench', of: 'plant', frequency: [1, 2, 3], gain: [0, -1, -2], phase: [-10, -20, -30] };
  test.each([
    ['whole', good, true],
    ['with the point that it was measured at', { ...good, at: { line: 20, load: 1 } }, true],
    ['of unlike lengths', { ...good, gain: [0, 1] }, false],
    ['falling', { ...good, frequency: [3, 2, 1] }, false],
    ['from nothing on', { ...good, frequency: [0, 2, 3] }, false],
    ['of something else', { ...good, of: 'impedance' }, false],
    ['one point', { ...good, frequency: [1], gain: [0], phase: [0] }, false],
  ])('%s', (_, value, sound) => expect(Measured.safeParse(value).success).toBe(sound));
  test('outside of what was measured there is nothing, between two points a straight line in dB over the logarithm', () => {
    const m = { frequency: [100, 10_000], gain: [0, -40], phase: [0, -180] };
    expect(size(measuredAt(m, 1000))).toBeCloseTo(0.1, 9);
    expect(degrees(phase(measuredAt(m, 1000)))).toBeCloseTo(-90, 6);
    expect(Number.isFinite(measuredAt(m, 99).re)).toBe(false);
    expect(Number.isFinite(measuredAt(m, 10_100).re)).toBe(false);
  });
});

describe('a controller as an element', () => {
  const r = rationalOf(100, [500], [5e3]);
  test('a network is a transfer block, a difference equation a sampler; where each has to stand', () => {
    expect(controllerElement(continuous(r), 'c', 'out', 'plus', 'minus')).toMatchObject({ kind: 'transfer', id: 'c', a: 'out', plus: 'plus', minus: 'minus' });
    const sampled = { kind: 'sampled', numerator: [1, -0.5], denominator: [1, -1], period: 1e-5, phase: 0.5, delay: 5e-6 } as const;
    expect(controllerElement(sampled, 'c', 'out', 'plus', 'minus')).toMatchObject({ kind: 'sampled', period: 1e-5, phase: 0.5, delay: 5e-6 });
    expect(standing(continuous(r), 'c', 2)).toEqual({ 'c.0': 2 });
    expect(standing(sampled, 'c', 2)).toEqual({ 'held c': 2, 'held c.next': 2, 'held c.y1': 2 });
  });
  test('one that hands its input on unchanged delays it by half a period and its delay, and is one at rest', () => {
    const one = { kind: 'sampled', numerator: [1], denominator: [1], period: 1e-5, phase: 0, delay: 4e-6 } as const;
    expect(controllerAt(one, 0)).toEqual(complex(1));
    expect(degrees(phase(controllerAt(one, 1e3)))).toBeCloseTo(-360 * 1e3 * 9e-6, 9);
  });
});
