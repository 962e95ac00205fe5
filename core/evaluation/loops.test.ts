import { bareDemo, change, must, openDemo } from '../../demo/open';
import type { Design } from '../design';
import { decibels, degrees, phase, size } from '../linear/complex';
import { instability } from '../orbit/stability';
import { injectedLoopGain, injectionPointAt, loopAt } from '../response/injectionPoint';
import { among, patience } from '../testing/thorough';
import type { OperatingPoint } from '../topology';
import { stepAnswer } from '../converter/step';
import { namesOf } from './assemble';
import { billOf } from './bill';
import { closeStage } from './closed';
import { compensatorsOf, loopsAround, loopsAsked, placementPoint } from './compensator';
import { evaluate } from './index';
import { settleStage } from './settleStage';
import { standAt } from './standing';

/** Every control structure, and every way of sampling, in the closed circuit itself. */

const rail = bareDemo('cabin-lighting-rail');
const exact = { 'control.rounded': false };
const WAYS: [string, Design][] = [
  ['voltage mode, type III', change(rail, exact)],
  ['voltage mode, PID', change(rail, { ...exact, 'control.amplifier': 'pid' })],
  ['voltage mode, op-amp of 70 dB and 2 MHz', change(rail, { ...exact, 'control.openLoopGain': 70, 'control.gainBandwidth': 2e6 })],
  ['line feed-forward', change(rail, { ...exact, 'control.method': 'voltage-feed-forward' })],
  ['peak current, type II', change(rail, { ...exact, 'control.method': 'peak-current', 'control.amplifier': 'type-two' })],
  ['valley current', change(rail, { ...exact, 'control.method': 'valley-current', 'control.amplifier': 'type-two' })],
  ['constant on-time', change(rail, { ...exact, 'control.method': 'constant-on-time', 'control.amplifier': 'type-two' })],
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
});

test.each(WAYS.filter(([name]) => !name.includes('optocoupler')))('%s: a small step of the load by the linearised map is what the circuit does in time, to 1 %% of the deviation', (_, d) => {
  const { stage, closed: { machine, cycle } } = closedAt(d, placementPoint(d));
  const by = { source: 'load step', from: 0, to: 1e-3 * d.brief.loadStep };
  const [map, run] = (['linearised', 'in time'] as const).map((how) => stepAnswer(machine, cycle, by, (p) => p.voltage(...stage.roles.outputs[0]!.nodes), 6 / d.control.crossover, () => undefined, how)!);
  expect([map!.how, run!.how]).toEqual(['linearised', 'in time']);
  expect(run!.deviation / map!.deviation).toBeCloseTo(1, 2);
  // Without a clock both are looked at at other moments; between those the output moves by its ripple's share of the step besides.
  const drawn = (t: number): number => {
    const k = map!.time.findIndex((x) => x >= t);
    return k <= 0 ? 0 : map!.value[k - 1]! + ((t - map!.time[k - 1]!) / (map!.time[k]! - map!.time[k - 1]!)) * (map!.value[k]! - map!.value[k - 1]!);
  };
  if (cycle.free) run!.time.forEach((t, k) => t < map!.time.at(-1)! && t > 2 * cycle.period && expect(Math.abs(run!.value[k]! - drawn(t))).toBeLessThan(0.03 * map!.deviation));
  else for (let k = 0; k < Math.min(map!.value.length, run!.value.length); k++) expect(Math.abs(run!.value[k]! - map!.value[k]!)).toBeLessThan(0.01 * map!.deviation);
});

// Injection runs the converter for thousands of periods; that of a clamp, which settles in as many, only where there is time for it.
const SLOW = 'optocoupler, peak current';
test.each(among(WAYS.filter(([name]) => name !== SLOW), WAYS.filter(([name]) => name === SLOW)))('%s: its loop gain, exact, is what injection in time reads, to 0.2 dB and 1.5°', (_, d) => {
  const { closed: { circuit, machine, cycle } } = closedAt(d, placementPoint(d));
  const place = must(injectionPointAt(circuit, namesOf(true).breaks));
  const fs = d.brief.frequency;
  const at = among([3], [0.5, 1, 2, 4]).map((x) => x * d.control.crossover).filter((f) => f < 0.45 * fs).sort((a, b) => a - b);
  const injected = must(injectedLoopGain(circuit, place, at, { amplitude: 1e-3 * d.brief.output.voltage, near: cycle.state }));
  injected.forEach((x, k) => {
    // Injected at the nearest frequency that fits the window; told at that one.
    expect(x.frequency / at[k]!).toBeCloseTo(1, 1);
    const [same] = loopAt(machine, cycle, place)([x.frequency]);
    expect(Math.abs(decibels(size(x.loop) / size(same!)))).toBeLessThan(0.2);
    expect(Math.abs(((degrees(phase(x.loop)) - degrees(phase(same!)) + 540) % 360) - 180)).toBeLessThan(1.5);
  });
}, patience(300_000, 1_800_000));

