import { bareDemo, change, must, openDemo } from '../../demo/open';
import { cornerPoints, holdCorners, judge } from '../corners/corners';
import { evaluate } from '../evaluation';
import { beginRun, recordRun, usualSchedules } from '../schedule';
import { limitOf, readAxis, sweepable, sweepOne, sweepProblem, sweptFigures, valuesOf } from '.';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 6, air: 50 };
const axis = (text: string) => must(readAxis(text, rail));

describe('what is swept, as it is typed', () => {
  test('lists and ranges, of parts, brief, control and the point', () => {
    expect(axis('L1.inductance=10u,22u,10u')).toMatchObject({ path: 'parts.L1.inductance', unit: 'H', values: [10e-6, 22e-6] });
    expect(axis('brief.frequency=150k..350k/5').values).toEqual([150e3, 200e3, 250e3, 300e3, 350e3]);
    expect(axis('control.crossover=1k..100k/3 log').values).toEqual([1e3, 1e4, 1e5]);
    expect(axis('line=36..60/3')).toMatchObject({ path: 'line', unit: 'V', values: [36, 48, 60] });
  });
  test.each([
    ['moon=1', /moon/], ['L1.inductance', /no values/], ['L1.inductance=', /no values/], ['L1.inductance=ten', /ten/], ['L1.inductance=10u..47u', /how many/],
    ['line=1..2/1', /two or more/], ['line=1..2/1000000', /200/], ['air=-40..85/5 log', /log/], ['L1.inductance=5 V', /./],
  ])('%s is refused', (text, said) => {
    const read = readAxis(text, rail);
    expect(read.ok).toBe(false);
    if (!read.ok) expect(`${read.problem.where} ${read.problem.message} ${read.problem.remedy}`).toMatch(said);
  });
  test('of 10⁶ runs it says how many, and how many may be', () => {
    const many = { path: 'line', title: 'line', unit: 'V' as const, values: Array.from({ length: 100 }, (_, k) => k) };
    expect(sweepProblem([many, { ...many, path: 'load' }, { ...many, path: 'air' }])).toMatchObject({ ok: false, problem: { message: expect.stringContaining('1,000,000') as string } });
    expect(sweepProblem([many, many])).toMatchObject({ ok: false, problem: { where: 'line' } });
    expect(sweepProblem([])).toMatchObject({ ok: false });
    expect(sweepProblem([many])).toEqual({ ok: true, value: 100 });
  });
  test('every field that is a number can be swept by its path', () => {
    const all = sweepable(rail);
    expect(all.length).toBeGreaterThan(40);
    expect(all.map((a) => a.path)).toEqual(expect.arrayContaining(['brief.frequency', 'parts.L1.inductance', 'control.crossover', 'parts.C2.count']));
  });
});

test('runs in order: the last axis changes fastest, and each is met once', () => {
  const axes = [axis('line=36,60'), axis('load=1,2,3')];
  expect(Array.from({ length: 6 }, (_, k) => valuesOf(axes, k))).toEqual([[36, 1], [36, 2], [36, 3], [60, 1], [60, 2], [60, 3]]);
});

test('a run is the design so changed, judged: at the point, and at its worst corner', () => {
  const axes = [axis('L1.inductance=15u,47u'), axis('line=40,56')];
  const one = sweepOne(rail, point, axes, 3);
  const by = judge(change(rail, { 'parts.L1.inductance': 47e-6 }), { ...point, line: 56 });
  expect(one.values).toEqual([47e-6, 56]);
  for (const s of by.requirements) expect(one.figures[s.id]).toBe(s.value);
  expect(one.figures.crossover).toBe(by.loop!.crossover);
  const worst = sweepOne(rail, point, [axes[0]!], 0, { corners: true });
  for (const s of holdCorners(change(rail, { 'parts.L1.inductance': 15e-6 })).worst) expect(worst.figures[s.id]).toBe(s.value);
  expect(cornerPoints(rail)).toHaveLength(9);
});

test('a trace over a schedule is that of the run', () => {
  const schedule = usualSchedules(rail, point)[1]!;
  const one = sweepOne(rail, point, [axis('C2.count=3,5')], 0, { wave: { schedule, trace: 'output', bins: 50 } });
  const d = change(rail, { 'parts.C2.count': 3 });
  const ready = must(beginRun(d, point, schedule, ['output']));
  expect(one.wave).toEqual(must(recordRun(ready, schedule)).record.columns(0, 0, schedule.lasts, 50));
});

test('its loop gain is the one of the Loop stage; times of a schedule of its own can be swept as well', () => {
  const one = sweepOne(rail, point, [axis('L1.inductance=15u,47u')], 1, { loop: true });
  expect(one.loop!.gain).toEqual(must(evaluate(change(rail, { 'parts.L1.inductance': 47e-6 }), point, { detail: true })).detail!.bode!.loop.gain);
  const own = change(rail, { schedules: [{ name: 'own 1', begins: 'settled', lasts: 1e-3, steps: [{ at: 1e-4, what: 'load', to: 8, takes: 0 }] }] });
  const when = must(readAxis('schedules.0.steps.0.at=100u,300u', own));
  expect(when.title).toBe('own 1: moment of the step 1');
  const waves = [0, 1].map((k) => sweepOne(own, point, [when], k, { wave: { schedule: own.schedules![0]!, trace: 'output', bins: 100 } }).wave!);
  // The step comes where it is swept to.
  expect(waves.map((w) => w!.least.indexOf(Math.min(...w!.least)))[1]! - waves.map((w) => w!.least.indexOf(Math.min(...w!.least)))[0]!).toBeCloseTo(20, -1);
});

test('and what stands before the line is the impedance of the Filter view, its peak higher where it is damped worse', () => {
  const filtered = openDemo('cabin-lighting-rail');
  const read = must(readAxis('branches.B4.resistance=0.3,3', filtered));
  const runs = [0, 1].map((k) => sweepOne(filtered, point, [read], k, { loop: true }));
  for (const [k, value] of read.values.entries()) {
    const alone = must(evaluate(change(filtered, { 'branches.B4.resistance': value }), point, { detail: true }));
    expect(runs[k]!.front!.gain).toEqual(alone.detail!.bode!.front!.filter.gain);
  }
  // Ten times the impedance of inductor and capacitor takes the damping capacitor away.
  const [good, poor] = runs.map((r) => Math.max(...r.front!.gain));
  expect(poor! - good!).toBeGreaterThan(6);
});

test('a value that can not be has no figures and says why; the others have theirs', () => {
  const axes = [axis('brief.output.voltage=24,70')];
  expect(sweepOne(rail, point, axes, 0).problem).toBeUndefined();
  const bad = sweepOne(rail, point, axes, 1);
  expect(bad.figures).toEqual({});
  expect(bad.problem!.remedy.length).toBeGreaterThan(5);
});

test('figures are those that are asked for, with their limits', () => {
  const ids = sweptFigures(rail).map((f) => f.id);
  expect(ids).toEqual(expect.arrayContaining(['ripple', 'phaseMargin', 'efficiency', 'crossover']));
  expect(new Set(ids).size).toBe(ids.length);
  expect(limitOf(rail, 'ripple')).toEqual({ limit: rail.requirements.ripple.limit, direction: 'at most' });
  expect(limitOf(rail, 'crossover')).toBeUndefined();
});
