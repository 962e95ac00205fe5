import fc from 'fast-check';
import { bareDemo, change, must } from '../../demo/open';
import { checkDesign } from '../design/check';
import { evaluate } from '../evaluation';
import { airFactor, boardResistance, resistanceOfSink, sinkWanted } from './cooling';
import { modesOfLadder, pulseResponse } from './ladder';
import { fitPulse, readPulse } from './pulseFit';
import { shareParallel } from './parallel';
import { rippleOf } from './ripple';
import { meetingsOf } from './runaway';

const rail = bareDemo('cabin-lighting-rail');
const point = { line: 48, load: 8, air: 50 };
const rungsOf = (d: typeof rail): Record<string, number> => Object.fromEntries(must(evaluate(d, point)).heat.rungs.map((r) => [r.id, r.temperature]));

describe('sinks and boards', () => {
  test('air halves a sink’s resistance at a metre a second and leaves a quarter at five; none changes nothing', () => {
    expect(airFactor(0)).toBe(1);
    expect(airFactor(1)).toBeCloseTo(0.5, 1);
    expect(airFactor(5)).toBeCloseTo(0.235, 2);
    expect(airFactor(1, 0.05)).toBeLessThan(airFactor(1, 0.2));
    // Fast air alone: the laminar plate.
    expect(airFactor(20, 0.1) * Math.sqrt(20 / 0.1)).toBeCloseTo(6.5 / 3.9, 1);
  });
  test('a part on its board: more copper less, towards what spreading alone costs; small copper as its area has it', () => {
    fc.assert(fc.property(fc.double({ min: 1e-4, max: 5e-3, noNaN: true }), (area) => expect(boardResistance(1.2 * area)).toBeLessThan(boardResistance(area))));
    // All of it as warm as the package: 1 / (h A); spreading makes it more, by less than the logarithm of the radii.
    const area = 6.5e-4;
    const flat = 1 / (20 * area);
    const spreading = Math.log(Math.sqrt(area / Math.PI) / 2.5e-3) / (2 * Math.PI * 390 * 70e-6);
    expect(boardResistance(area)).toBeGreaterThan(flat);
    expect(boardResistance(area)).toBeLessThan(flat + spreading);
    expect(boardResistance(2e-2)).toBeGreaterThan(0.4 * spreading);
  });
  test('in a design: air cools all on the sink, a second sink parts the heat, a board carries its own', () => {
    const plain = rungsOf(rail);
    const blown = rungsOf(change(rail, { 'sink.airFlow': 2 }));
    expect(blown.sink! - 50).toBeLessThan(0.5 * (plain.sink! - 50));
    const two = rungsOf(change(rail, { sinks: [{ thermalResistance: rail.sink.thermalResistance }], 'cooling.Q2': { sink: 2 } }));
    // The heat of both together is what it was: each now has the sink to itself.
    expect((two.sink! - 50 + (two['sink 2']! - 50)) / (plain.sink! - 50)).toBeCloseTo(1, 1);
    const board = rungsOf(change(rail, { 'cooling.Q2': { board: 1e-3 } }));
    expect(board['Q2 board']).toBeGreaterThan(board.sink!);
    expect(board.sink!).toBeLessThan(plain.sink!);
    for (const wrong of [{ cooling: { Q2: { sink: 2 } } }, { cooling: { L1: { board: 1e-3 } } }, { cooling: { Q9: { sink: 1 } } }, { cooling: { Q2: { sink: 1, board: 1e-3 } } }] as Pick<typeof rail, 'cooling'>[]) expect(checkDesign({ ...rail, ...wrong }).map((p) => p.where.split('.')[0])).toEqual(['cooling']);
  });
  test('the sink that is wanted keeps the worst of them just at its limit', () => {
    const { rungs, } = must(evaluate(rail, point)).heat;
    const sink = rungs.find((r) => r.id === 'sink')!;
    const parts = rungs.filter((r) => r.spot === 'junction').map((r) => ({ limit: 80, above: r.temperature - sink.temperature }));
    const wanted = sinkWanted(parts, sink.heat, point.air);
    const at = rungsOf(change(rail, { 'sink.thermalResistance': wanted }));
    // A better or worse sink moves the losses a little.
    expect(Math.max(at['Q1 junction']!, at['Q2 junction']!)).toBeGreaterThan(79);
    expect(Math.max(at['Q1 junction']!, at['Q2 junction']!)).toBeLessThan(81);
    expect(resistanceOfSink({ thermalResistance: 3, airFlow: 0 })).toBe(3);
  });
});

describe('a ladder in a part', () => {
  const junctionToCase = 1.3;
  const ladder = { form: 'Cauer' as const, rungs: [[0.2, 2e-4], [0.4, 4e-3], [0.7, 0.06]] as [number, number][] };
  test('settled it is the resistance it adds up to; of another it is refused, as are terms that make none', () => {
    const d = change(rail, { 'parts.Q1.ladder': ladder, 'parts.Q1.junctionToCase': junctionToCase });
    const [plain, laddered] = [rungsOf(rail), rungsOf(d)];
    expect(laddered['Q1 junction']).toBeCloseTo(plain['Q1 junction']!, 6);
    expect(laddered['Q1 inside 2']).toBeLessThan(laddered['Q1 inside 1']!);
    for (const wrong of [{ form: 'Cauer' as const, rungs: [[0.2, 1e-3]] as [number, number][] }, { form: 'Foster' as const, rungs: [[0.65, 1e-3], [0.65, 1e-3]] as [number, number][] }]) expect(checkDesign({ ...rail, parts: { ...rail.parts, Q1: { ...rail.parts.Q1!, ladder: wrong } as (typeof rail.parts)[string] } }).map((p) => p.where)).toEqual(['parts.Q1.ladder']);
  });
  test('read from the curve of its pulses: the curve again within two hundredths, of three terms or more', () => {
    const modes = modesOfLadder(ladder.rungs.map(([resistance, capacity]) => ({ resistance, capacity })));
    const points = Array.from({ length: 41 }, (_, k): [number, number] => [10 ** (-6 + k / 5), pulseResponse(modes, 10 ** (-6 + k / 5))]);
    const fit = must(fitPulse(points));
    expect(fit.misfit).toBeLessThan(0.02);
    expect(fit.modes.reduce((sum, m) => sum + m.resistance, 0)).toBeCloseTo(1.3, 2);
    // As it is pasted, with a heading, and rounded as one reads a curve.
    const text = `t (s)\tZth (K/W)\n${points.filter((_, k) => k % 2 === 0).map(([t, z]) => `${t.toPrecision(2)}\t${z.toPrecision(2)}`).join('\n')}`;
    expect(must(fitPulse(must(readPulse(text)))).misfit).toBeLessThan(0.05);
  });
  test('what is no curve is told with its line', () => {
    for (const [text, where] of [['1 2 3', 'line 1'], ['0.1 1\n0.1 2', 'line 2'], ['0.1 1\n-1 2', 'line 2'], ['0.1 1', 'curve'], ['x'.repeat(5), 'curve'], ['1\n'.repeat(3000), 'curve']] as const) {
      const read = readPulse(text);
      expect(read.ok ? 'read' : read.problem.where).toBe(where);
    }
  });
});

test('ripple: of one mode the closed form, a mean that is R times the mean of the heat, and no ripple of what is fast', () => {
  const one = [{ resistance: 0.5, capacity: 0.02 }];
  const [P, on, off] = [40, 4e-3, 6e-3];
  const tau = 0.01;
  const found = rippleOf(one, [{ watts: P, seconds: on }, { watts: 0, seconds: off }]);
  expect(found.high).toBeCloseTo((P * 0.5 * -Math.expm1(-on / tau)) / -Math.expm1(-(on + off) / tau), 9);
  expect(found.low).toBeCloseTo(found.high * Math.exp(-off / tau), 9);
  expect(found.mean).toBeCloseTo(0.5 * P * 0.4, 12);
  const fast = rippleOf(one, [{ watts: P, seconds: 4e-6 }, { watts: 0, seconds: 6e-6 }]);
  expect(fast.high - fast.low).toBeLessThan(0.01);
  expect(fast.high).toBeCloseTo(fast.mean, 2);
});

test('unequal in parallel: by hand without temperature; with a resistance that grows they share better; alike they are alike', () => {
  const alike = { count: 3, resistance: 0.01, rise: 0, rms: 30, others: 0.5, toBase: 2, base: 60 };
  const even = shareParallel({ ...alike, spread: 0 })!;
  expect(even.currents[0]).toBeCloseTo(10, 12);
  expect(even.temperatures).toEqual([expect.closeTo(60 + 2 * 1.5, 9), expect.closeTo(63, 9)]);
  // A fifth less resistance: shares of 1.25 to 0.875 to 0.875, all together as stated.
  const uneven = shareParallel({ ...alike, spread: 0.2 })!;
  expect(uneven.currents[0]).toBeCloseTo(12.5, 9);
  expect(uneven.temperatures[0]).toBeCloseTo(60 + 2 * (12.5 ** 2 * 0.008 + 0.5), 6);
  expect(shareParallel({ ...alike, count: 2, spread: 0.5 })).toBeUndefined();
  expect(uneven.currents[0] + 2 * uneven.currents[1]).toBeCloseTo(30, 9);
  const growing = shareParallel({ ...alike, spread: 0.2, rise: 0.008, toBase: 12 })!;
  expect(growing.currents[0] / growing.currents[1]).toBeLessThan(uneven.currents[0] / uneven.currents[1]);
  expect(shareParallel({ ...alike, spread: 0.2, rise: 0.05, rms: 300 })).toBeUndefined();
  // In a design the hottest of them is what is held against its limit.
  const d = change(rail, { 'parts.Q1.count': 2 });
  const hot = change(d, { 'parts.Q1.spread': 0.3 });
  const of = (x: typeof rail) => must(evaluate(x, point)).heat.rungs.find((r) => r.id === 'Q1 junction')!;
  expect(of(d).hottest).toBeUndefined();
  expect(of(hot).hottest!).toBeGreaterThan(of(hot).temperature);
});

describe('runaway', () => {
  test('linear: stands where α P R is below one, and there is no second solution; beyond it never stands', () => {
    const [P, base, R] = [10, 40, 2];
    const at = (alpha: number) => meetingsOf((T) => P * (1 + alpha * (T - 25)), R, base);
    expect(at(0.02).stands).toBeCloseTo((base + R * P * (1 - 0.02 * 25)) / (1 - 0.02 * P * R), 6);
    expect(at(0.02).beyond).toBeUndefined();
    expect(at(0.049).stands).toBeDefined();
    expect(at(0.051)).toEqual({});
  });
  test('power law: two solutions below the limit P0 R = T*^(1−p) T0^p / p with T* = Ta p / (p − 1), none above it', () => {
    const [T0, p, base] = [298.15, 2.4, 60];
    const Ta = base + 273.15;
    const top = (Ta * p) / (p - 1);
    const limit = (top ** (1 - p) * T0 ** p) / p;
    const at = (share: number) => meetingsOf((T) => limit * share * ((T + 273.15) / T0) ** p, 1, base);
    expect(at(1.001)).toEqual({});
    const near = at(0.999);
    expect(near.stands! + 273.15).toBeLessThan(top);
    expect(near.beyond! + 273.15).toBeGreaterThan(top);
    expect(near.beyond! - near.stands!).toBeLessThan(30);
    // Far below it they part: it stands cool, and would have to be very hot to run away.
    expect(at(0.3).stands!).toBeLessThan(near.stands!);
    expect(at(0.3).beyond!).toBeGreaterThan(near.beyond!);
  });
});
