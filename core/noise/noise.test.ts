import fc from 'fast-check';
import { must } from '../../demo/open';
import { buildMachine } from '../circuit/machine';
import { Circuit } from '../circuit/elements';
import { cycleIntegrals } from '../orbit/measure';
import { harmonics } from '../orbit/spectrum';
import { settleCycle } from '../orbit/settle';
import { CISPR_32, closest, dBuV, levelAt, networkImpedance, readings, tableProblem } from './receiver';
import { trapezoidHarmonic } from './trapezoid';

test('noise of a trapezoid from the settled cycle agrees with its closed form to 0.1 dB up to 30 MHz', () => {
  // A sine-free way to a trapezoid: pulses of current charge a capacitor up and down, 10 V in 50 ns at 100 kHz.
  const [period, edge, height, C] = [10e-6, 50e-9, 10, 1e-9];
  const amps = (C * height) / edge;
  const pulse = (delay: number, high: number) => ({ shape: 'pulse', low: 0, high, delay, width: edge, period });
  const circuit = Circuit.parse({ elements: [
    { kind: 'current-source', id: 'up', a: '0', b: 'x', value: pulse(1e-6, amps) },
    { kind: 'current-source', id: 'down', a: 'x', b: '0', value: pulse(4e-6, amps) },
    { kind: 'capacitor', id: 'C', a: 'x', b: '0', capacitance: C },
    { kind: 'resistor', id: 'R', a: 'x', b: '0', resistance: 1e9 },
  ] });
  const cycle = must(settleCycle(must(buildMachine(circuit))));
  const found = harmonics(cycleIntegrals(cycle), (p) => p.voltage('x', '0'), 300);
  let compared = 0;
  for (let n = 1; n <= 300; n++) {
    const closed = trapezoidHarmonic(n, height, 0.3, edge, period);
    // Where the closed form has a zero there is nothing to compare.
    if (closed < 1e-4) continue;
    compared++;
    expect([n, Math.abs(20 * Math.log10(found[n]!.amplitude / closed)) < 0.1]).toEqual([n, true]);
  }
  expect(compared).toBeGreaterThan(250);
});

test('readings: lines farther apart than the bandwidth are read alone, nearer ones add with the peak detector', () => {
  const alone = readings([{ frequency: 200e3, value: 1e-3 }, { frequency: 400e3, value: 1e-4 }]);
  expect(alone).toEqual([{ frequency: 200e3, peak: expect.closeTo(60, 9), average: expect.closeTo(60, 9) }, { frequency: 400e3, peak: expect.closeTo(40, 9), average: expect.closeTo(40, 9) }]);
  const [near] = readings([{ frequency: 200e3, value: 1e-3 }, { frequency: 202e3, value: 1e-3 }]);
  expect(near!.peak - near!.average).toBeCloseTo(20 * Math.log10(2), 9);
  expect(dBuV(1e-6)).toBe(0);
});

test('limits as the standard tabulates them, straight in the logarithm of the frequency, the lower at a step', () => {
  const { quasiPeak, average } = CISPR_32.B;
  expect([levelAt(quasiPeak, 150e3), levelAt(quasiPeak, 500e3), levelAt(quasiPeak, 5e6), levelAt(quasiPeak, 30e6), levelAt(quasiPeak, 100e3)]).toEqual([66, 56, 56, 60, Infinity]);
  expect(levelAt(average, Math.sqrt(150e3 * 500e3))).toBeCloseTo(51, 9);
  expect(levelAt(CISPR_32.A.quasiPeak, 500e3)).toBe(73);
  expect(closest(readings([{ frequency: 200e3, value: 1e-3 }, { frequency: 600e3, value: 0.9e-3 }]), quasiPeak, 'peak')).toMatchObject({ frequency: 600e3, limit: 56 });
  expect(tableProblem([[1, 2]])).toMatch(/two rows/);
  expect(tableProblem([[2, 1], [1, 1]])).toMatch(/row 2 goes back/);
  expect(tableProblem([[0, 1], [1, 1]])).toMatch(/above zero/);
  expect(tableProblem(quasiPeak)).toBeUndefined();
});

test('the line impedance network: 5 Ω and 50 µH at the bottom, 50 Ω at the top', () => {
  const size = (f: number): number => Math.hypot(networkImpedance(f).re, networkImpedance(f).im);
  expect(size(10)).toBeCloseTo(5 * 50 / 55, 2);
  expect(size(30e6)).toBeCloseTo(50, 1);
  // 50 µH beside 50 Ω are 34.3 Ω at 150 kHz; the 5 Ω bring it to 32.7.
  expect(size(150e3)).toBeCloseTo(32.7, 1);
  fc.assert(fc.property(fc.double({ min: 1e3, max: 3e7, noNaN: true }), (f) => expect(size(f)).toBeLessThanOrEqual(50.0001)));
});
