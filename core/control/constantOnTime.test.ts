import { bareDemo, change, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { holdCorners } from '../corners/corners';
import { chooseTopology } from '../choice';
import { editDesign } from '../design';
import { evaluate, sizeDesign } from '../evaluation';
import { controllable } from '../topology/common';
import { TOPOLOGIES, topologyNamed } from '../topology';
import type { DriveFigure } from './types';

/** A converter without a clock: a time on whenever its current has fallen to a command. */

const rail = bareDemo('cabin-lighting-rail');
const free = change(rail, { 'control.method': 'constant-on-time', 'control.amplifier': 'type-two', 'control.rounded': false });
const figures = (d: typeof rail, line = 48, load = 8) => must(evaluate(d, { line, load, air: 40 }));
const timeOn = (d: typeof rail): number => (figures(d).loop!.drive[0] as DriveFigure).value;

test('at the middle of the line and full load it switches as the brief says; elsewhere as its time on makes it, Vout / (Vline Ton)', () => {
  expect(1 / figures(free).cycle.period / rail.brief.frequency).toBeCloseTo(1, 2);
  for (const line of [36, 60]) expect(1 / figures(free, line).cycle.period / (24 / (line * timeOn(free)))).toBeCloseTo(1, 1);
  // The time on is the same everywhere.
  for (const [line, load] of [[36, 8], [60, 1], [48, 0.4]] as const) {
    const { cycle } = figures(free, line, load);
    expect((cycle.duty * cycle.period) / timeOn(free)).toBeCloseTo(1, 6);
  }
});

test('the power stage is what it is with a clock of that frequency: duty, ripple, losses', () => {
  const own = figures(free, 60, 6);
  const clocked = figures(change(rail, { 'brief.frequency': 1 / own.cycle.period, 'parts.L1.inductance': sizeDesign(rail).values.L1!.taken, 'parts.C2.count': sizeDesign(rail).values.C2!.count, 'parts.C1.count': sizeDesign(rail).values.C1!.count }), 60, 6);
  expect(own.cycle.duty / clocked.cycle.duty).toBeCloseTo(1, 6);
  expect(own.cycle.outputRipple / clocked.cycle.outputRipple).toBeCloseTo(1, 5);
  const stage = (f: typeof own): number => f.losses.parts.filter((p) => p.id !== 'divider').reduce((s, p) => s + p.total, 0);
  expect(stage(own) / stage(clocked)).toBeCloseTo(1, 3);
});

test('nothing of a disturbed current is left after a time on, at any duty: no subharmonics, no ramp', () => {
  for (const line of [36, 48, 60]) {
    const f = figures(free, line);
    expect(f.cycle.multiplier).toBeLessThan(0.999);
    expect(f.loop!.stable).toBe(true);
    // Peak current without a ramp is lost at the same duty where that is above one half.
  }
  const peak = change(rail, { 'control.method': 'peak-current', 'control.amplifier': 'type-two', 'control.slope': 1 });
  expect(figures(peak, 36).loop!.stable).toBe(false);
});

test('its phase is no mode of it', () => {
  const { modes } = figures(free).loop!;
  expect(modes.length).toBeGreaterThan(0);
  for (const m of modes) expect(m.multiplier).toBeLessThan(0.99);
});

test('a whole verdict of it: every corner has figures', () => {
  const { corners } = holdCorners(free);
  expect(corners.map((c) => c.problem?.message)).toEqual(corners.map(() => undefined));
  expect(corners.every((c) => c.loop!.phaseMargin > 40)).toBe(true);
});

test('a longer time on is a lower frequency; the least time off is heard in a load step', () => {
  const slow = change(free, { 'control.onTime': 2 * timeOn(free) });
  expect(figures(slow).cycle.period / figures(free).cycle.period).toBeCloseTo(2, 2);
  const steps = [0.2e-6, 0.9e-6].map((off) => figures(change(free, { 'control.minimumOff': off }), 36).loop!.deviation);
  expect(steps[1]!).toBeGreaterThan(steps[0]!);
});

test('a least time off that leaves no such duty is refused by its field; so is a least time on, of what has a clock', () => {
  expect(evaluate(change(free, { 'control.minimumOff': 2e-6 }), { line: 36, load: 8, air: 40 })).toMatchObject({ ok: false, problem: { code: 'duty-limit', where: 'control.minimumOff' } });
  // 24 of 60 V is a duty of 0.4: 1.83 µs of 4.55.
  const limited = (least: number) => evaluate(change(rail, { 'control.minimumOn': least }), { line: 60, load: 6, air: 40 });
  expect(limited(1.8e-6).ok).toBe(true);
  expect(limited(1.9e-6)).toMatchObject({ ok: false, problem: { code: 'duty-limit', where: 'control.minimumOn', message: expect.stringContaining('skip periods') } });
});

test('every topology that can be driven so is: the duty is that of voltage mode', () => {
  let driven = 0;
  for (const t of TOPOLOGIES.filter((x) => controllable(x).current && controllable(x).coil)) {
    const chosen = chooseTopology(free, t.id, SHELF);
    if (!chosen.ok) continue;
    expect(chosen.value.control.method).toBe('constant-on-time');
    const [own, voltage] = [figures(chosen.value), figures(change(chosen.value, { 'control.method': 'voltage' }))];
    // The frequencies differ a little from the brief's: so do the drops at the edges of the ripple.
    expect(own.cycle.duty / voltage.cycle.duty).toBeCloseTo(1, 2);
    driven++;
  }
  expect(driven).toBeGreaterThanOrEqual(2);
});

test('without a clock nothing samples; where L1 does not fall to a command it is refused', () => {
  expect(editDesign(free, { 'control.amplifier': 'pid', 'control.sampled': 'bilinear' })).toMatchObject({ ok: false, problem: { where: 'control.sampled' } });
  expect(editDesign(bareDemo('station-charger'), { 'control.method': 'constant-on-time' })).toMatchObject({ ok: false, problem: { where: 'control.method' } });
  expect(topologyNamed(rail.topology)).toBeDefined();
});
