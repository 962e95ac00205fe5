import type { DriveFigure } from './types';
import { bareDemo, change, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { TOPOLOGIES } from '../topology';
import { chooseTopology, hangBranch } from '../choice';
import { editDesign, type Design } from '../design';
import { DIVIDER, evaluate, sizeDesign } from '../evaluation';

const rail = bareDemo('cabin-lighting-rail');
const led = change(rail, { 'control.method': 'peak-current' });
const figures = (d: Design, line = 48, load = 6) => must(evaluate(d, { line, load, air: 40 }, { detail: true }));
const L = sizeDesign(rail).values.L1!.taken;
/** A/s that the current of the rail's inductor rises and falls by, without losses. */
const rise = (line: number): number => (line - 24) / L;
const fall = 24 / L;

test('what sets the duty does not change the power stage: duty, losses and currents are those of voltage mode', () => {
  for (const [line, load] of [[36, 8], [60, 0.4], [48, 4]] as const) {
    const [one, other] = [figures(rail, line, load), figures(led, line, load)];
    expect(other.cycle.duty / one.cycle.duty).toBeCloseTo(1, 7);
    // Temperatures agree to 1e-5 K.
    // The divider is that of another network.
    const stage = (f: typeof one): number => f.losses.parts.filter((p) => p.id !== DIVIDER).reduce((sum, p) => sum + p.total, 0);
    expect(stage(other) / stage(one)).toBeCloseTo(1, 5);
    expect(other.duties.L1!.peak / one.duties.L1!.peak).toBeCloseTo(1, 6);
  }
});

test('the ramp suggested is half of the falling slope; the full command is the largest peak with the ramp on it', () => {
  const [{ value: ramp, suggested }, { value: full }] = figures(led).loop!.drive as [DriveFigure, DriveFigure];
  expect(ramp).toBe(suggested);
  expect(suggested! / (fall / 2)).toBeCloseTo(1, 9);
  const f = figures(led, 36, 8);
  expect(full / (f.duties.L1!.peak + (ramp * f.cycle.duty) / 220e3)).toBeCloseTo(1, 2);
});

describe('Erickson, Maksimović, ch. 12: a disturbance of the current is −(m₂ − m_a) / (m₁ + m_a) of itself after a period', () => {
  test.each([[36, 0.02], [36, 0.1], [40, 0.05]])('at %d V with %d of the falling slope the cycle is lost where that is more than one', (line, share) => {
    const f = figures(change(led, { 'control.slope': share * fall }), line);
    const expected = (fall - share * fall) / (rise(line) + share * fall);
    expect(expected).toBeGreaterThan(1);
    expect(f.cycle.multiplier / expected).toBeCloseTo(1, 1);
    expect(f.loop!.stable).toBe(false);
  });
  test('half of the falling slope holds it at any duty', () => {
    for (const line of [36, 48, 60]) expect(figures(led, line).loop!.stable).toBe(true);
  });
});

describe('the plant from the command to the output', () => {
  test('at low frequencies: R / (1 + (R T / L) (m_c D′ − ½)), m_c = 1 + m_a / m₁ (“A new, continuous-time model for current-mode control”, IEEE Trans. Power Electronics 6 (1991), p. 271)', () => {
    for (const [line, load] of [[48, 6], [60, 8], [36, 2]] as const) {
      const f = figures(led, line, load);
      const [ramp, full] = f.loop!.drive.map((x) => x.value) as [number, number];
      const R = 24 / load;
      const fed = 1 + (R / (220e3 * L)) * ((1 + ramp / rise(line)) * (1 - f.cycle.duty) - 0.5);
      // One pole of the load and C2, which already shows at the lowest frequency.
      const { frequency, gain } = f.detail!.bode!.plant;
      const pole = fed / (2 * Math.PI * R * sizeDesign(led).values.C2!.taken);
      expect((10 ** (gain[0]! / 20) * Math.hypot(1, frequency[0]! / pole)) / ((R * full) / fed)).toBeCloseTo(1, 1);
    }
  });
  test('has lost the double pole: a decade below the switching frequency it turns by less than 120°, in voltage mode by more', () => {
    const at = (d: Design): number => {
      const { plant } = figures(d).detail!.bode!;
      return plant.phase[plant.frequency.findIndex((f) => f >= 22e3)]!;
    };
    expect(at(led)).toBeGreaterThan(-120);
    expect(at(rail)).toBeLessThan(-120);
    expect(figures(led).detail!.bode!.averaged).toBeUndefined();
  });
});

test('a snubber discharged through the switch does not open it', () => {
  const snubbed = must(hangBranch(led, 'snubber', SHELF, { at: 'Q1' }));
  const voltage = change(snubbed, { 'control.method': 'voltage' });
  expect(figures(snubbed).cycle.duty / figures(voltage).cycle.duty).toBeCloseTo(1, 6);
  expect(figures(snubbed).loop!.stable).toBe(true);
});

test('every topology that can be driven so holds its output at the duty of voltage mode', () => {
  const able = TOPOLOGIES.filter((t) => t.currentControl);
  expect(able.length).toBeGreaterThanOrEqual(6);
  let held = 0;
  for (const t of able) {
    const chosen = chooseTopology(led, t.id, SHELF);
    if (!chosen.ok) continue;
    expect(chosen.value.control.method).toBe('peak-current');
    const voltage = change(chosen.value, { 'control.method': 'voltage' });
    expect(figures(chosen.value).cycle.duty / figures(voltage).cycle.duty).toBeCloseTo(1, 6);
    expect(figures(chosen.value).loop!.drive[0]!.key).toBe('slope');
    held++;
  }
  // The boosts can not serve the rail's brief.
  expect(held).toBeGreaterThanOrEqual(4);
});

test('where it can not be driven so, that is told; a topology taken instead goes back to voltage mode', () => {
  const mains = bareDemo('station-charger');
  const edited = editDesign(mains, { 'control.method': 'peak-current' });
  expect(edited.ok ? '' : edited.problem.where).toBe('control.method');
  expect(must(chooseTopology(led, 'buck-interleaved-2', SHELF)).control.method).toBe('voltage');
});
