import { bareDemo, change, must, openDemo } from '../../demo/open';
import { evaluate } from './index';
import { placementPoint } from './compensator';
import { complex, over, times, type Complex } from '../linear/complex';
import { flatStretch } from '../response/flat';
import { bode, margins } from '../response/margins';
import { logSpaced } from '../response/system';

const rail = bareDemo('cabin-lighting-rail');
const loop = (changes: Record<string, unknown>) => {
  const d = change(rail, changes);
  return must(evaluate(d, placementPoint(d), { detail: true })).loop!;
};

describe('what takes the phase', () => {
  test('all shares together with what the amplifier lifts make the margin', () => {
    const l = loop({ 'control.delay': 4e-7, 'control.rounded': false });
    const { integrator: _, zero1, zero2, pole1, pole2 } = l.built as Record<string, number>;
    const atan = (f: number): number => (Math.atan(l.crossover / f) * 180) / Math.PI;
    const lift = atan(zero1!) + atan(zero2!) - atan(pole1!) - atan(pole2!);
    expect(180 - 90 + lift - l.shares.reduce((s, x) => s + x.degrees, 0)).toBeCloseTo(l.phaseMargin, 0);
    expect(l.shares.find((s) => s.title === 'delay to the switch')!.degrees).toBeCloseTo(360 * l.crossover * 4e-7, 6);
  });
  test('sampled: what it costs is delay and half a period of hold, at the crossover', () => {
    const l = loop({ 'control.amplifier': 'pid', 'control.crossover': 12e3, 'control.sampled': 'pre-warped', 'control.rounded': false });
    const sampling = l.shares.find((s) => s.title.startsWith('sampling'))!;
    expect(sampling.degrees).toBeCloseTo(360 * l.crossover * (l.sampled!.delay + l.sampled!.period / 2), 0);
    expect(l.sampled!.costs).toBeCloseTo(-360 * 12e3 * (1e-6 + 0.5 / 220e3), 3);
    expect(sampling.remedy).not.toBe('');
  });
  test('a step-up’s right-half-plane zero is told apart', () => {
    const door = change(openDemo('door-motor'), { 'control.crossover': 1.5 * openDemo('door-motor').control.crossover });
    const l = must(evaluate(door, placementPoint(door))).loop!;
    const zero = l.landmarks.find((x) => x.title === 'right-half-plane zero');
    const share = l.shares.find((s) => s.title === 'right-half-plane zero');
    expect(share!.degrees).toBeCloseTo((Math.atan(l.crossover / zero!.frequency) * 180) / Math.PI, 6);
  });
});

describe('modes of the closed circuit', () => {
  test('their multipliers are those of the cycle; a margin of 30° shows as a pair that is damped by some half', () => {
    const { modes, stable } = loop({ 'control.phaseMargin': 30 });
    expect(stable).toBe(true);
    for (const m of modes) expect(m.multiplier).toBeLessThan(1);
    const ringing = modes.filter((m) => m.damping < 1);
    expect(ringing.length).toBeGreaterThan(0);
    for (const m of ringing) expect(m.damping).toBeGreaterThan(0.2);
    for (const m of ringing) expect(m.damping).toBeLessThan(0.7);
    expect(modes.map((m) => m.of).join(' ')).toMatch(/voltage of C2/);
  });
  test('in a cascade the current and the voltage are modes of their own, the inner faster', () => {
    const { modes } = loop({ 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 3e3 });
    const of = (what: RegExp): number => Math.max(...modes.filter((m) => what.test(m.of)).map((m) => m.frequency));
    expect(of(/current of L1/)).toBeGreaterThan(of(/voltage of C2/));
  });
});

describe('a gain that falls below one and comes back', () => {
  // An integrator with a resonance ten times above its crossover, whose peak reaches over one again.
  const L = (f: number): Complex => over(complex(1), times({ re: 0, im: f / 200 }, { re: 1 - (f / 4000) ** 2, im: f / 4000 / 60 }));
  const frequency = logSpaced(10, 1e5, 400);
  const curve = bode(frequency, frequency.map(L));
  test('is told, with the least between; its crossover is where it fell first, its margin the least of all', () => {
    const m = margins(L, curve);
    expect(m.crossover).toBeCloseTo(200.5, 0);
    expect(m.dip!.from).toBe(m.crossover);
    expect(m.dip!.to).toBeGreaterThan(3000);
    expect(m.dip!.to).toBeLessThan(4000);
    // Between, the least of 200/f/|1 − (f/4000)²| at f = 4000/√3: 26 dB less 20 log 1.5·√3/… by its derivative.
    const at = 4000 / Math.sqrt(3);
    expect(m.dip!.at / at).toBeCloseTo(1, 2);
    expect(m.dip!.by).toBeCloseTo(20 * Math.log10((at / 200) * (1 - 1 / 3)), 1);
    expect(m.dip!.marginAt).toBeGreaterThan(3000);
    expect(m.phaseMargin).toBeLessThan(20);
  });
  test('without the resonance there is none', () => {
    expect(margins((f) => over(complex(1), { re: 0, im: f / 200 }), bode(frequency, frequency.map((f) => over(complex(1), { re: 0, im: f / 200 })))).dip).toBeUndefined();
  });
});

test('the stretch where a phase is flattest: of a lead about 5 kHz, about 5 kHz', () => {
  const lead = (f: number): Complex => times(over({ re: 1, im: f / 1e3 }, { re: 1, im: f / 25e3 }), { re: 0, im: -1e3 / f });
  const frequency = logSpaced(10, 1e6, 600);
  const flat = flatStretch(bode(frequency, frequency.map(lead)), 4e3)!;
  expect(flat.at / 5e3).toBeCloseTo(1, 1);
  expect(flat.from).toBeLessThan(4e3);
  expect(flat.to).toBeGreaterThan(6e3);
  expect(flatStretch(bode(frequency, frequency.map((f) => over(complex(1), { re: 1, im: f / 1e3 }))), 1e3)).toBeUndefined();
});
