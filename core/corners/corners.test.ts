import demo from '../../demo/cabin-lighting-rail.json';
import { editDesign, readDesignValue, type Design } from '../design';
import { evaluate } from '../evaluation';
import { cornerPoints, holdCorners, judge } from './corners';
import { mapRow, spread } from './map';
import { REQUIREMENTS, standings, tightest } from './requirements';

const base = (): Design => {
  const read = readDesignValue(demo);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const change = (changes: Record<string, unknown>): Design => {
  const edited = editDesign(base(), changes);
  if (!edited.ok) throw new Error(edited.problem.message);
  return edited.value;
};

test('nine corners: line and load at their ends and middles, in the hottest air', () => {
  const points = cornerPoints(base());
  expect(points).toHaveLength(9);
  expect(new Set(points.map((p) => p.line))).toEqual(new Set([36, 48, 60]));
  expect(new Set(points.map((p) => p.load))).toEqual(new Set([8, 4.2, 0.4]));
  expect(points.every((p) => p.air === 50)).toBe(true);
});

test('the demo: all requirements hold but one, the load step at the lowest line', () => {
  const report = holdCorners(base());
  const failing = report.worst.filter((w) => !w.holds);
  expect(failing.map((w) => w.id)).toEqual(['deviation']);
  expect(failing[0]!.at.line).toBe(36);
  expect(report.holding).toBeLessThan(9);
  expect(report.worst[0]!.id).toBe('deviation');
});

test('the least margins are those of the corners, each where it is least', () => {
  const { least, corners } = holdCorners(base());
  for (const key of ['phaseMargin', 'gainMargin', 'crossover', 'delayMargin', 'closest'] as const) {
    expect(corners.some((c) => c.loop![key] === least![key])).toBe(true);
    for (const c of corners) expect(c.loop![key]).toBeGreaterThanOrEqual(least![key]);
  }
});

test('one more output capacitor mends it', () => {
  expect(holdCorners(change({ 'parts.C2.count': 6 })).holding).toBe(9);
});

test('a verdict shows the figures of the one function that computes them', () => {
  const d = base();
  for (const corner of holdCorners(d).corners) {
    const found = evaluate(d, corner.point);
    if (!found.ok) throw new Error();
    for (const s of corner.requirements) expect(s.value).toBe(REQUIREMENTS.find((r) => r.id === s.id)!.value(found.value, d));
  }
});

test('efficiency is asked at full load only; a requirement switched off is not asked', () => {
  const d = base();
  const ids = (load: number): string[] => judge(d, { line: 48, load, air: 50 }).requirements.map((r) => r.id);
  expect(ids(8)).toContain('efficiency');
  expect(ids(4)).not.toContain('efficiency');
  expect(judge(change({ 'requirements.deviation.on': false }), { line: 36, load: 0.4, air: 50 }).holds).toBe(true);
});

test('room is nothing at the limit, and a failing requirement has less than nothing', () => {
  const d = base();
  const found = evaluate(d, { line: 48, load: 8, air: 50 });
  if (!found.ok) throw new Error();
  const { phaseMargin } = found.value.loop!;
  const roomWith = (limit: number): number => standings(change({ 'requirements.phaseMargin.limit': limit }), found.value).find((s) => s.id === 'phaseMargin')!.room;
  expect(roomWith(phaseMargin)).toBeCloseTo(0, 9);
  expect(roomWith(phaseMargin + 1)).toBeLessThan(0);
  expect(roomWith(phaseMargin - 5)).toBeGreaterThan(0);
  expect(tightest([{ room: 0.4 }, { room: -0.1 }, { room: 0.2 }])!.room).toBe(-0.1);
});

test('a loop that is not stable meets no requirement of the loop, whatever its margins read', () => {
  const d = change({ 'control.integrator': 200e3, 'requirements.phaseMargin.limit': -400, 'requirements.gainMargin.limit': -400 });
  const corner = judge(d, { line: 60, load: 8, air: 50 });
  expect(corner.requirements.filter((s) => ['phaseMargin', 'gainMargin', 'deviation'].includes(s.id)).map((s) => s.holds)).toEqual([false, false, false]);
});

test('a corner without figures fails with its reason and spoils no other', () => {
  const d = change({ 'sink.thermalResistance': 300 });
  const report = holdCorners(d);
  const broken = report.corners.filter((c) => c.problem);
  expect(broken.length).toBeGreaterThan(0);
  expect(broken.length).toBeLessThan(9);
  expect(broken[0]!.problem!.code).toBe('runaway');
});

test('the map holds the same figures as the points it is made of', () => {
  const d = base();
  const lines = spread(d.brief.line, 3);
  const row = mapRow(d, 8, lines, 50);
  row.forEach((cell, i) => {
    const found = evaluate(d, { line: lines[i]!, load: 8, air: 50 });
    expect(found.ok && cell.values.ripple).toBe(found.ok && found.value.cycle.signals.output!.peakToPeak);
  });
});
