import { bareDemo, change, must } from '../../demo/open';
import { holdCorners, judge } from '../corners/corners';
import { editDesign, type Design } from '../design';
import { pinnedAt, pinnedInWords, recordRun, beginRun, schedulesOf, shareOf, type Pinned } from '.';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 4, air: 50 };
const pin = (more: Partial<Pinned>): Pinned => ({ schedule: 'load step', trace: 'output', title: 'Output', unit: 'V', from: 0, ...more });
const withPins = (...pins: Pinned[]): Design => change(rail, { pins, 'requirements.pinned.on': true });

test('how much of what it may is used: one at the limit, in whatever direction', () => {
  expect(shareOf({ low: 23, high: 25 }, 23, 24)).toBe(1);
  expect(shareOf({ low: 23, high: 25 }, 23.5, 24.25)).toBe(0.5);
  expect(shareOf({ high: 10 }, 0, 10)).toBe(1);
  expect(shareOf({ high: 10 }, 0, 11)).toBeCloseTo(1.1, 12);
  expect(shareOf({ low: -2 }, -3, 0)).toBeCloseTo(1.5, 12);
});

test('held at a point: least and most are those of the run, in its window', () => {
  const d = withPins(pin({ low: 23.5, high: 24.5 }), pin({ high: 30, from: 4e-4 }), pin({ trace: 'L1.current', title: 'L1 current', unit: 'A', high: 1 }));
  const found = pinnedAt(d, point);
  const schedule = schedulesOf(d, point).find((s) => s.name === 'load step')!;
  const { record } = must(recordRun(must(beginRun(d, point, schedule, ['output', 'L1.current'])), schedule));
  expect(found[0]).toMatchObject({ least: record.read(0)!.least, most: record.read(0)!.most });
  expect(found[1]!.most).toBe(record.read(0, 4e-4)!.most);
  expect(found.map((f) => f.holds)).toEqual([found[0]!.share <= 1, true, false]);
});

test('it joins the brief: judged at every corner, counted there, off where nobody asks', () => {
  const d = withPins(pin({ low: 22, high: 26, schedule: 'start-up', from: 3e-4 }), pin({ low: 23.6, high: 24.4 }));
  const report = holdCorners(d);
  const standing = report.worst.find((w) => w.id === 'pinned')!;
  expect(standing.holds).toBe(false);
  expect(report.corners.every((c) => c.pinned!.length === 2)).toBe(true);
  expect(report.corners.some((c) => c.pinned![0]!.holds)).toBe(true);
  expect(standing.value).toBeCloseTo(Math.max(...report.corners.map((c) => Math.max(...c.pinned!.map((p) => p.share)))), 12);
  const off = judge(change(d, { 'requirements.pinned.on': false }), point);
  expect(off.requirements.some((s) => s.id === 'pinned')).toBe(false);
  expect(judge(rail, point).pinned).toBeUndefined();
});

test('what can not be is refused, or fails with its reason', () => {
  for (const bad of [{}, { low: 2, high: 1 }, { low: 1, from: 1e-3, until: 1e-4 }]) expect(editDesign(rail, { pins: [pin(bad)] })).toMatchObject({ ok: false, problem: { where: 'pins.0' } });
  const [gone, none] = pinnedAt(withPins(pin({ high: 1, schedule: 'tea' }), pin({ high: 1, trace: 'Q9.current' })), point);
  expect([gone!.holds, none!.holds]).toEqual([false, false]);
  expect([gone!.problem!.remedy.length > 5, none!.problem!.remedy.length > 5]).toEqual([true, true]);
  expect(pinnedAt(withPins(pin({ high: 30, from: 1 })), point)[0]!.problem!.message).toContain('ends before');
});

test('in words', () => {
  expect(pinnedInWords(pin({ low: 23.5, high: 24.5, from: 2e-3 }))).toBe('Output within 23.5 V and 24.5 V from 2 ms on, through load step');
  expect(pinnedInWords(pin({ high: 8, unit: 'A', title: 'L1 current' }))).toBe('L1 current at most 8 A, through load step');
});
