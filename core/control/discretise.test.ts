import fc from 'fast-check';
import { degrees, over, phase, size } from '../linear/complex';
import { atSamples, continuous, controllerAt } from './controller';
import { discretise, DISCRETISATIONS } from './discretise';
import { rationalOf } from './rational';

const double = (min: number, max: number): fc.Arbitrary<number> => fc.double({ min, max, noNaN: true });
const T = 1e-5;
const c = { integrator: 800, zeros: [1500, 3000], poles: [30e3] };

test('Franklin, Powell, Workman, ch. 6: 1/s by the bilinear way is T/2 (1 + z⁻¹)/(1 − z⁻¹), by the backward one T/(1 − z⁻¹)', () => {
  const one = { integrator: 1 / (2 * Math.PI), zeros: [], poles: [] };
  expect(discretise('bilinear', one, 0.1, 1)).toEqual({ numerator: [expect.closeTo(0.05, 12), expect.closeTo(0.05, 12)], denominator: [1, -1] });
  expect(discretise('backward', one, 0.1, 1)).toEqual({ numerator: [expect.closeTo(0.1, 12)], denominator: [1, -1] });
});

test('a PI by the backward way: kp + ki T/(1 − z⁻¹)', () => {
  const [kp, ki] = [3, 2000];
  const { numerator, denominator } = discretise('backward', { integrator: ki / (2 * Math.PI), zeros: [ki / kp / (2 * Math.PI)], poles: [] }, T, 1);
  expect(numerator[0]).toBeCloseTo(kp + ki * T, 9);
  expect(numerator[1]).toBeCloseTo(-kp, 9);
  expect(denominator).toEqual([1, -1]);
});

test('pre-warped and matched are exact in gain where they are asked to be, pre-warped in phase too', () => {
  fc.assert(
    fc.property(double(50, 5e3), double(300, 5e3), double(300, 5e3), double(2e4, 4e4), double(1e3, 2e4), (integrator, z1, z2, pole, at) => {
      const corners = { integrator, zeros: [z1, z2], poles: [pole] };
      const wanted = controllerAt(continuous(rationalOf(integrator, corners.zeros, corners.poles)), at);
      for (const method of ['pre-warped', 'matched'] as const) {
        const off = over(atSamples(discretise(method, corners, T, at), 2 * Math.PI * at * T), wanted);
        expect(size(off)).toBeCloseTo(1, 8);
        if (method === 'pre-warped') expect(Math.abs(degrees(phase(off)))).toBeLessThan(1e-6);
      }
    }),
  );
});

test('a decade below the sampling frequency every way is within 1 dB and 20° of what it stands for; a hundred times below within 0.3 dB and 2°', () => {
  for (const { id } of DISCRETISATIONS) {
    const d = discretise(id, c, T, 5e3);
    for (const [f, gain, angle] of [[1e4, 1.12, 20], [1e3, 1.03, 2]] as const) {
      // Matched, the gain is right at the crossover and off by what the poles' and zeros' shares there make of it elsewhere.
      const off = over(atSamples(d, 2 * Math.PI * f * T), controllerAt(continuous(rationalOf(c.integrator, c.zeros, c.poles)), f));
      expect(size(off)).toBeLessThan(gain);
      expect(size(off)).toBeGreaterThan(1 / gain);
      expect(Math.abs(degrees(phase(off)))).toBeLessThan(angle);
    }
  }
});

test('in the circuit it has its delay and half a period of hold besides: ω (delay + T/2)', () => {
  const d = discretise('pre-warped', c, T, 5e3);
  const inTime = controllerAt({ kind: 'sampled', ...d, period: T, phase: 0.8, delay: 0.2 * T }, 5e3);
  expect(degrees(phase(over(inTime, atSamples(d, 2 * Math.PI * 5e3 * T))))).toBeCloseTo(-360 * 5e3 * 0.7 * T, 9);
});
