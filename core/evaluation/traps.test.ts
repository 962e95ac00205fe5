import { readFileSync } from 'node:fs';
import path from 'node:path';
import { cornerPoints, judge } from '../corners/corners';
import { bareDemo, change, openDemo } from '../../demo/open';
import type { Problem, Result } from '../problem';
import { editDesign, readDesign, type Design } from '../design';
import { evaluate, sizeDesign, type Figures } from '.';
import { evaluateStage } from './evaluate';

/** Designs on which a figure was once silently wrong, or where there was a crash in place of one: each is one of a class. */

const text = (name: string): string => readFileSync(path.join(process.cwd(), 'core/testing/traps', `d-${name}.json`), 'utf8');
const trap = (name: string): Design => {
  const read = readDesign(text(name));
  if (!read.ok) throw new Error(`${read.problem.where}: ${read.problem.message}`);
  return read.value;
};
const value = <T>(r: Result<T>): T => {
  if (!r.ok) throw new Error(`${r.problem.where}: ${r.problem.message}`);
  return r.value;
};
const problem = (r: Result<unknown>): Problem | undefined => (r.ok ? undefined : r.problem);
const at = (d: Design, line: number, load: number, air = d.brief.air.max): Figures => value(evaluate(d, { line, load, air }));
const core = (f: Figures): number => f.losses.parts.find((p) => p.id === 'T1')!.mechanisms.core!;

describe('core loss follows the flux, whatever the load does to its edges', () => {
  test('a half bridge from 20 to 65 mA: some 65 mW throughout, no runaway', () => {
    const d = trap('halfbridge-runaway-light');
    const list = [0.02, 0.06, 0.065].map((load) => core(at(d, 48.2, load)));
    for (const p of list) expect(Math.abs(p / list[0]! - 1)).toBeLessThan(0.03);
    expect(list[0]! * 1e3).toBeCloseTo(64.8, 0);
  });
  test('a full bridge burns no more in its core at a light load', () => {
    const d = trap('fullbridge-core-loss');
    expect(core(at(d, 40.1, 1.41))).toBeLessThanOrEqual(core(at(d, 40.1, 8.855)));
  });
});

describe('figures wherever there is a cycle', () => {
  test.each(['fullbridge-chatter', 'halfbridge-runaway-light', 'phase-shift-no-cycle', 'half-bridge-no-cycle', 'sepic-no-crossover', 'fullbridge-core-loss'])('%s: at the ends of line and load, nothing that is no number', (name) => {
    const d = trap(name);
    const { line, load } = d.brief;
    for (const point of cornerPoints(d).filter((p) => [line.min, line.max].includes(p.line) && [load.min, load.max].includes(p.load))) {
      const found = evaluate(d, point);
      expect([point, problem(found)]).toEqual([point, undefined]);
      const { losses, cycle, loop } = value(found);
      expect(losses.efficiency > 0 && losses.efficiency < 1).toBe(true);
      // What is regulated is what the mean is.
      expect(cycle.signals.output!.mean / d.brief.output.voltage).toBeCloseTo(1, 8);
      // A margin is a number, or the curve does not cross.
      if (loop!.beyond === undefined) expect([loop!.crossover, loop!.phaseMargin].every(Number.isFinite)).toBe(true);
      for (const r of judge(d, point, found).requirements) expect(Number.isNaN(r.room)).toBe(false);
    }
  });
  test('a crossover below 10 Hz is found', () => {
    const { loop } = at(trap('sepic-no-crossover'), 48.2, 0.0778);
    expect(loop!.crossover).toBeGreaterThan(5);
    expect(loop!.crossover).toBeLessThan(10);
    expect(loop!.stable).toBe(true);
  });
  test('a loop that can not be placed takes nothing from the cycle', () => {
    const d = trap('settle-refused-by-loop');
    const point = { line: 12, load: 2, air: 25 };
    const figures = value(evaluate(d, point, { detail: true }));
    expect(figures.problems.loop?.where).toBe('control.crossover');
    expect([figures.loop, figures.detail!.bode, figures.detail!.step]).toEqual([undefined, undefined, undefined]);
    expect(figures.detail!.waves.time.length).toBeGreaterThan(10);
    // The verdict fails there by all that the loop would show, and by nothing else.
    const asked = value(editDesign(bareDemo('cabin-lighting-rail'), { 'control.crossover': 100e3, 'control.phaseMargin': 88 }));
    const corner = judge(asked, { line: 48, load: 8, air: 50 });
    expect(corner.problem?.where).toBe('control.crossover');
    expect(corner.requirements.filter((r) => Number.isNaN(r.value)).map((r) => [r.id, r.holds, r.room])).toEqual([['deviation', false, -1], ['phaseMargin', false, -1], ['gainMargin', false, -1]]);
    const { cycle, losses } = value(evaluateStage(d, point));
    expect(figures.losses.total).toBeCloseTo(losses.total, 9);
    expect(cycle.signals.output!.mean).toBeCloseTo(30, 8);
    // A boost of 60 W draws five amperes and what it burns.
    expect(cycle.signals.inductorCurrent!.mean / (losses.input / 12)).toBeCloseTo(1, 1);
  });
});

describe('what makes no sense is refused, by its field and with a remedy', () => {
  test.each([
    ['key-tostring', 'constructor', 'remove'],
    ['proto', '__proto__', 'remove'],
    ['silly-limits', 'requirements.phaseMargin.limit', 'give at least'],
    ['leakage-zero-crash', 'parts.T1.leakagePermeance', 'give its leakage'],
    ['winding-tiny-resistance', 'parts.T1.windowArea', 'give at most'],
  ])('%s', (name, where, remedy) => {
    const wrong = problem(readDesign(text(name)));
    expect(wrong?.where).toBe(where);
    expect(wrong?.remedy).toContain(remedy);
  });
});

test('a step is followed until its furthest is seen, however slow the loop is against its switching', () => {
  // In shares of what the step drives C2 by within 1/(2π fc): the same for a loop three times slower, whose output turns after 900 periods.
  const d = trap('halfbridge-runaway-light');
  const [fast, slow] = [25, 8].map((crossover) => {
    const { loop, sizing } = at(value(editDesign(d, { 'control.crossover': crossover })), 60, 0.03);
    return (loop!.deviation * 2 * Math.PI * crossover * sizing.values.C2!.taken) / d.brief.loadStep;
  });
  expect(slow! / fast!).toBeGreaterThan(0.98);
  expect(slow! / fast!).toBeLessThan(1.02);
});

test('parts whose drops leave nothing of the line: no duty is enough, which is said, and lighter loads have their figures', () => {
  const d = change(openDemo('brake-magnet'), { 'parts.D1.slopeResistance': 7.9 });
  const { duty } = sizeDesign(d);
  expect([duty.min > 0.1 && duty.min < 0.4, duty.max]).toEqual([true, Infinity]);
  const [full, light] = [8, 1].map((load) => evaluate(d, { line: 90, load, air: 50 }));
  expect(full!.ok ? '' : full!.problem.code).toBe('duty-limit');
  expect(light!.ok).toBe(true);
});
