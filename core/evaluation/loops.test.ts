import { change, must, openDemo } from '../../demo/open';
import type { Design } from '../design';
import { decibels, degrees, phase, size } from '../linear/complex';
import { instability } from '../orbit/stability';
import { injectedLoopGain, injectionPointAt, loopAt } from '../response/injectionPoint';
import { among, patience } from '../testing/thorough';
import type { OperatingPoint } from '../topology';
import { namesOf } from './assemble';
import { billOf } from './bill';
import { closeStage } from './closed';
import { compensatorsOf, loopsAround, loopsAsked, placementPoint } from './compensator';
import { evaluate } from './index';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/** Every control structure, and every way of sampling, in the closed circuit itself. */

const rail = openDemo('cabin-lighting-rail');
const exact = { 'control.rounded': false };
const WAYS: [string, Design][] = [
  ['voltage mode, type III', change(rail, exact)],
  ['voltage mode, PID', change(rail, { ...exact, 'control.amplifier': 'pid' })],
  ['voltage mode, op-amp of 70 dB and 2 MHz', change(rail, { ...exact, 'control.openLoopGain': 70, 'control.gainBandwidth': 2e6 })],
  ['line feed-forward', change(rail, { ...exact, 'control.method': 'voltage-feed-forward' })],
  ['peak current, type II', change(rail, { ...exact, 'control.method': 'peak-current', 'control.amplifier': 'type-two' })],
  ['valley current', change(rail, { ...exact, 'control.method': 'valley-current', 'control.amplifier': 'type-two' })],
  ['average current, PI outside', change(rail, { ...exact, 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 4e3 })],
  ['average current, sampled', change(rail, { ...exact, 'control.method': 'average-current', 'control.amplifier': 'pi', 'control.crossover': 4e3, 'control.sampled': 'pre-warped' })],
  ...(['bilinear', 'pre-warped', 'matched', 'backward'] as const).map((way): [string, Design] => [`voltage mode, PID sampled, ${way}`, change(rail, { ...exact, 'control.amplifier': 'pid', 'control.crossover': 12e3, 'control.sampled': way })]),
  ['optocoupler, peak current', change(openDemo('gate-supplies'), { ...exact, 'control.method': 'peak-current', 'control.amplifier': 'optocoupler', 'control.crossover': 3e3, 'control.reference': 2.5, 'control.pullUp': 1e3 })],
];

/** A design settled at a point with cool parts, its loops closed. */
function closedAt(d: Design, point: OperatingPoint) {
  const bill = billOf(d);
  const stage = must(settleStage(bill, must(standAt(bill, point)).only!, () => 25));
  const compensators = must(compensatorsOf(d));
  const loops = loopsAsked(bill, stage.roles, d).map(({ sensed }, k) => ({ sensed, controller: compensators[k]!.controller }));
  return { stage, loops, closed: must(closeStage(stage, loopsAround(d, stage, loops))) };
}

describe.each(WAYS)('%s', (_, d) => {
  test('placed for a crossover and a margin, the loop has them: 1 % and 0.5°', () => {
    const f = must(evaluate(d, placementPoint(d)));
    expect(f.loop!.stable).toBe(true);
    expect(Math.abs(f.loop!.crossover / d.control.crossover - 1)).toBeLessThan(0.01);
    expect(Math.abs(f.loop!.phaseMargin - d.control.phaseMargin)).toBeLessThan(0.5);
    const inner = f.loop!.inner;
    if (!inner) return;
    expect(Math.abs(inner.crossover / inner.asked.crossover - 1)).toBeLessThan(0.01);
    expect(Math.abs(inner.phaseMargin - inner.asked.phaseMargin)).toBeLessThan(0.5);
  });

  test('the output stands where it shall, at the duty that the open stage has', () => {
    const point = placementPoint(d);
    const { stage, closed } = closedAt(d, point);
    expect(instability(closed.cycle)).toBeUndefined();
    const on = (c: typeof closed.cycle): number => c.intervals.reduce((s, x) => s + (x.pattern.on.has('Q1') ? x.duration : 0), 0) / c.period;
    // What is sampled is the output at a moment, a part of its ripple off the mean; and a gain of 70 dB holds to what its divider leaves of that.
    expect(on(closed.cycle) / on(stage.cycle)).toBeCloseTo(1, 2);
  });

  test('loop gain: exact is what injection in time reads, to 0.2 dB and 1.5°', () => {
    const { closed: { circuit, machine, cycle } } = closedAt(d, placementPoint(d));
    const place = must(injectionPointAt(circuit, namesOf(true).breaks));
    const fs = d.brief.frequency;
    const at = among([1, 3], [0.5, 2, 4]).map((x) => x * d.control.crossover).filter((f) => f < 0.45 * fs);
    const injected = must(injectedLoopGain(circuit, place, at, { amplitude: 1e-3 * d.brief.output.voltage, near: cycle.state }));
    injected.forEach((x, k) => {
      // Injected at the nearest frequency that fits the window; told at that one.
      expect(x.frequency / at[k]!).toBeCloseTo(1, 1);
      const [same] = loopAt(machine, cycle, place)([x.frequency]);
      expect(Math.abs(decibels(size(x.loop) / size(same!)))).toBeLessThan(0.2);
      expect(Math.abs(((degrees(phase(x.loop)) - degrees(phase(same!)) + 540) % 360) - 180)).toBeLessThan(1.5);
    });
  }, patience(120_000, 1_800_000));
});

describe('what feed-forward does', () => {
  test('after a step of the line the output moves by less than a fifth of what it does without', () => {
    const stepped = { 'brief.lineStep': 12 };
    const [without, with_] = [change(rail, stepped), change(rail, { ...stepped, 'control.method': 'voltage-feed-forward' })].map((d) => must(evaluate(d, { line: 48, load: 6, air: 25 })).loop!.line!.deviation);
    expect(with_).toBeLessThan(without! / 5);
  });
  test('the crossover does not move with the line, as it does without', () => {
    const spread = (d: Design): number => {
      const [low, high] = [36, 60].map((line) => must(evaluate(d, { line, load: 6, air: 25 })).loop!.crossover);
      return high! / low!;
    };
    expect(spread(rail)).toBeGreaterThan(1.4);
    expect(Math.abs(spread(change(rail, { 'control.method': 'voltage-feed-forward' })) - 1)).toBeLessThan(0.05);
  });
});

describe('valley current: as peak current with on and off exchanged', () => {
  test('Erickson, Maksimović, ch. 12: a disturbance is −(m₁ − m_a)/(m₂ + m_a) of itself after a period; lost below half the duty without a ramp', () => {
    const L = must(evaluate(rail, { line: 60, load: 8, air: 25 })).sizing.values.L1!.taken;
    const [rise, fall] = [(60 - 24) / L, 24 / L];
    const share = 0.1;
    const f = must(evaluate(change(rail, { 'control.method': 'valley-current', 'control.slope': share * rise }), { line: 60, load: 8, air: 25 }));
    const expected = (rise - share * rise) / (fall + share * rise);
    expect(expected).toBeGreaterThan(1);
    expect(f.cycle.multiplier / expected).toBeCloseTo(1, 1);
    expect(f.loop!.lost).toContain('half the switching frequency');
    // At a duty above one half it needs none.
    expect(must(evaluate(change(rail, { 'control.method': 'valley-current', 'control.slope': 0.01 * rise }), { line: 36, load: 8, air: 25 })).cycle.multiplier).toBeLessThan(1);
  });
});
