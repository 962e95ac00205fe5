import fc from 'fast-check';
import { bareDemo, change, must, openDemo } from '../../demo/open';
import { size } from '../linear/complex';
import { betweenLines, through, toEarth } from '../noise/network';
import { CISPR_25, dBuV, levelAt, networkImpedance } from '../noise/receiver';
import { sinc, trapezoidHarmonic } from '../noise/trapezoid';
import { editDesign } from '../design';
import { evaluate, sizeDesign } from './index';
import { conductedNoise, dischargeResistance, STRAYS } from './noise';

const rail = bareDemo('cabin-lighting-rail');
const at = { line: 48, load: 8, air: 25 };

test('a ladder by hand: one shunt, one winding, what stands behind', () => {
  const stages = [{ shunts: [{ capacitance: 1e-6, resistance: 0.01, inductance: 0 }], series: { inductance: 10e-6, resistance: 0.1, capacitance: 0 } }];
  const f = 200e3;
  const w = 2 * Math.PI * f;
  // 100 Ω behind: I parts between 1/jωC + 0.01 and 100.1 + jωL.
  const [c, on] = [[0.01, -1 / (w * 1e-6)], [100.1, w * 10e-6]] as const;
  const share = Math.hypot(...c) / Math.hypot(c[0] + on[0], c[1] + on[1]);
  expect(size(through(stages, { re: 100, im: 0 }, f).transfer)).toBeCloseTo(share * 100, 9);
  // Nothing in between: half of two networks in series, for each ampere.
  expect(size(betweenLines([], f, 50e-6))).toBeCloseTo(size(networkImpedance(f)), 9);
});

test('to earth through a small capacitance: ω C V across two networks beside one another', () => {
  fc.assert(fc.property(fc.double({ min: 150e3, max: 1e6, noNaN: true }), fc.double({ min: 1e-12, max: 2e-11, noNaN: true }), (f, C) => {
    const told = 2 * Math.PI * f * C * (size(networkImpedance(f)) / 2);
    expect(Math.abs(size(toEarth([], f, 50e-6, C)) / told - 1)).toBeLessThan(0.01);
  }));
});

test('the switch node of the rail is a trapezoid: its noise to earth is that of the closed form, to 0.5 dB up to 30 MHz', () => {
  const study = must(conductedNoise(rail, at));
  const { edge } = study.strays;
  const [duty, T] = [must(evaluate(rail, at)).cycle.duty, 1 / 220e3];
  let compared = 0;
  for (const r of study.readings) {
    const n = Math.round(r.frequency * T);
    const closed = trapezoidHarmonic(n, 48, duty, edge, T);
    // Near a zero of sin(πnD) a thousandth of duty decides.
    if (Math.abs(sinc(n * duty)) * Math.PI * n * duty < 0.5) continue;
    compared++;
    const told = dBuV((closed / Math.SQRT2) * size(toEarth([], r.frequency, 5e-6, STRAYS.toEarth)));
    expect([n, Math.abs(r.earth - told) < 0.5]).toEqual([n, true]);
  }
  expect(compared).toBeGreaterThan(50);
});

test('between the lines at the frequency of the switching: pulses of the load’s current into capacitor and networks', () => {
  const study = must(conductedNoise(rail, at));
  const [first] = study.readings;
  const D = (24 + 8 * 0.016) / 48;
  const { taken: C } = sizeDesign(rail).values.C1!;
  const w = 2 * Math.PI * 220e3;
  // Two networks of 50 Ω and 5 µH; the inductor's ripple on top of the pulses adds some per cent.
  const amps = (2 * 8 * Math.sin(Math.PI * D)) / Math.PI / Math.SQRT2;
  const volts = (amps / (w * C) / 1) / 2;
  expect(Math.abs(first!.between - dBuV(volts))).toBeLessThan(1.5);
});

test('a filter takes off what it was designed for, a choke with capacitors to earth what goes to earth', () => {
  const bare = must(conductedNoise(bareDemo('station-charger'), { line: 230, load: 2.6, air: 40 }));
  const charger = openDemo('station-charger');
  const study = must(conductedNoise(charger, { line: 230, load: 2.6, air: 40 }));
  const [a, b] = [bare.readings[0]!, study.readings[0]!];
  // Without it C1 and the networks' own 100 Ω part the current already.
  expect(a.between - b.between).toBeGreaterThan(10);
  const none = must(conductedNoise(change(charger, { 'branches.B4.commonMode': null, 'branches.B4.toEarth': null }), { line: 230, load: 2.6, air: 40 }));
  expect(none.readings[0]!.earth - study.readings[0]!.earth).toBeGreaterThan(20);
  // The peak detector never reads less than the average one.
  for (const r of study.readings) expect(r.peak).toBeGreaterThanOrEqual(r.average - 1e-9);
});

test('capacitors on the mains: current to earth ω C V, and the resistor that empties those between the lines in a second (IEC 60950-1, 2.1.1.7)', () => {
  const study = must(conductedNoise(change(openDemo('station-charger'), { 'branches.B4.toEarth': 2.2e-9 }), { line: 230, load: 2.6, air: 40 }));
  expect(study.leakage).toBeCloseTo(2 * Math.PI * 50 * 2.2e-9 * 264, 12);
  const { capacitance, resistance } = study.discharge!;
  expect(Math.exp(-1 / (resistance * capacitance))).toBeCloseTo(Math.exp(-1), 12);
  expect(dischargeResistance(0.47e-6)).toBeCloseTo(2.13e6, -4);
  expect(must(conductedNoise(rail, at)).discharge).toBeUndefined();
});

test('limits of vehicles end between their bands; a table out of order is refused with its row', () => {
  const { quasiPeak, average } = CISPR_25[5]!;
  expect([200e3, 400e3, 1e6, 6e6, 27e6].map((f) => levelAt(quasiPeak, f))).toEqual([70, Infinity, 54, 53, 44]);
  expect(levelAt(average, 200e3)).toBe(50);
  const wrong = editDesign(rail, { noise: { quasiPeak: [[150e3, 66], [5e6, 56], [1e6, 50]] } });
  expect(wrong.ok ? undefined : wrong.problem).toMatchObject({ where: 'noise.quasiPeak', message: 'row 3 goes back in frequency' });
});
