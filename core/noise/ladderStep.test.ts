import { add, scale, size } from '../linear/complex';
import { frequencyResponse, logSpaced } from '../response/system';
import { ladderStep, ladderSystem } from './ladderStep';
import { through, type LadderStage } from './network';

const shunt = (capacitance: number, resistance: number) => ({ capacitance, resistance, inductance: 0 });
const stage = (inductance: number, resistance: number, ...shunts: LadderStage['shunts'][number][]): LadderStage => ({ shunts, series: { inductance, resistance, capacitance: 0 } });

const one = stage(10e-6, 0.2, shunt(10e-6, 0.1));
const two = [stage(10e-6, 20e-3, shunt(10e-6, 5e-3), shunt(40e-6, 0.8)), stage(3e-6, 10e-3, shunt(4.7e-6, 8e-3)), stage(1e-6, 5e-3, shunt(2.2e-6, 3e-3), shunt(1e-6, 10))];

test('a winding and a capacitor step as the second order with one zero does', () => {
  const [L, C, R, r] = [10e-6, 10e-6, 0.2, 0.1];
  const [a, w0] = [(R + r) / (2 * L), 1 / Math.sqrt(L * C)];
  const w = Math.sqrt(w0 * w0 - a * a);
  const { time, value, overshoot, settles } = ladderStep([one]);
  time.forEach((t, k) => expect(value[k]!).toBeCloseTo(1 - Math.exp(-a * t) * (Math.cos(w * t) + ((a - r * C * w0 * w0) / w) * Math.sin(w * t)), 8));
  // The envelope of a decay: beyond by about e^(−α T/2), and within 5 % after 3 / α.
  expect(overshoot).toBeCloseTo(Math.exp((-a * Math.PI) / w), 1);
  expect(settles).toBeGreaterThan(2.4 / a);
  expect(settles).toBeLessThan(3.1 / a);
});

test('its frequency response is that of the ladder of impedances', () => {
  const frequencies = logSpaced(100, 1e6, 40);
  const stiff = 1e-9;
  for (const stages of [[one], two]) {
    const found = frequencyResponse(ladderSystem(stages), 0, frequencies);
    frequencies.forEach((f, k) => {
      const other = scale(through(stages, { re: stiff, im: 0 }, f).transfer, 1 / stiff);
      expect(size(add(found[k]!, scale(other, -1))) / size(other)).toBeLessThan(1e-5);
    });
  }
});

test('all that is drawn comes from the line in the end; damping takes the overshoot', () => {
  const bare = ladderStep([stage(10e-6, 1e-3, shunt(10e-6, 1e-3))]);
  const damped = ladderStep([stage(10e-6, 1e-3, shunt(10e-6, 1e-3), shunt(40e-6, 0.9))]);
  expect(bare.overshoot).toBeGreaterThan(0.9);
  expect(bare.settles).toBeNaN();
  expect(damped.overshoot).toBeLessThan(0.5);
  expect(damped.value.at(-1)!).toBeCloseTo(1, 4);
  expect(damped.settles).toBeLessThan(damped.time.at(-1)! / 3);
});
