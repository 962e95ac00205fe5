import fc from 'fast-check';
import { recording, told, type Points, type Recording } from '.';

/** Recordings: what is drawn and read of them against the points themselves. */

const NO_EVENTS = { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) };
const points = (time: readonly number[], ...values: (readonly number[])[]): Points => ({ time: Float64Array.from(time), values: values.map((v) => Float64Array.from(v)), events: NO_EVENTS });

/** A saw of so many points in stretches; its value is told by its time. */
const saw = (t: number): number => (t * 7.3) % 1 + 0.2 * Math.sin(3 * t);
function made(count: number, stretches: number, whole?: number): { record: Recording; time: number[] } {
  const record = recording(2, whole);
  const all: number[] = [];
  for (let k = 0; k < stretches; k++) {
    const time = Array.from({ length: count / stretches + 1 }, (_, i) => ((k * count) / stretches + i) / 100);
    record.add(points(time, time.map(saw), time.map((t) => -saw(t))));
    all.push(...time.slice(k === 0 ? 0 : 1));
  }
  return { record, time: all };
}

test('columns hold every point, and nothing that is not between its neighbours', () => {
  const { record, time } = made(5000, 5);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 49, noNaN: true }), fc.double({ min: 0.01, max: 50, noNaN: true }), fc.integer({ min: 1, max: 200 }), (from, width, columns) => {
      const until = Math.min(50, from + width);
      const { least, most } = record.columns(0, from, until, columns);
      const wide = (until - from) / columns;
      for (let k = 0; k < columns; k++) {
        const [a, b] = [from + k * wide, from + (k + 1) * wide];
        const inside = time.filter((t) => t >= a && t <= b).map(saw);
        const ends = [a, b].map((t) => record.at(0, Math.min(50, t)));
        expect(least[k]!).toBeCloseTo(Math.min(...inside, ...ends), 9);
        expect(most[k]!).toBeCloseTo(Math.max(...inside, ...ends), 9);
      }
    }),
    { numRuns: 60 },
  );
});

test('figures of a window are those of its points: extremes and where, mean and rms by straight pieces', () => {
  const { record, time } = made(5000, 4);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 40, noNaN: true }), fc.double({ min: 0.02, max: 9, noNaN: true }), (from, width) => {
      const until = from + width;
      const found = record.read(0, from, until)!;
      const at = [from, ...time.filter((t) => t > from && t < until), until];
      const v = at.map((t) => record.at(0, t));
      expect(found.least).toBeCloseTo(Math.min(...v), 12);
      expect(record.at(0, found.mostAt)).toBeCloseTo(found.most, 9);
      let [area, square] = [0, 0];
      for (let k = 1; k < at.length; k++) {
        const [h, x, y] = [at[k]! - at[k - 1]!, v[k - 1]!, v[k]!];
        area += (h * (x + y)) / 2;
        square += (h * (x * x + x * y + y * y)) / 3;
      }
      expect(found.mean).toBeCloseTo(area / width, 9);
      expect(found.rms).toBeCloseTo(Math.sqrt(square / width), 9);
    }),
    { numRuns: 100 },
  );
});

test('both sides of an event are there: a step that takes no time', () => {
  const record = recording(1);
  record.add(points([0, 1, 1, 2], [0, 0, 5, 5]));
  expect(record.at(0, 1 - 1e-12)).toBeCloseTo(0, 9);
  expect(record.at(0, 1)).toBe(5);
  const { least, most } = record.columns(0, 0, 2, 2);
  expect([...least, ...most]).toEqual([0, 0, 5, 5]);
  expect(record.read(0, 0, 2)!.mean).toBeCloseTo(2.5, 12);
  expect(record.read(0, 1, 2)!.rms).toBeCloseTo(5, 12);
  expect(record.pointsIn(0.5, 1.5, 10)!.time).toEqual(Float64Array.of(0, 1, 1, 2));
});

test('of what is older only blocks are kept: a spike is never lost, its time is known to a block, memory stops growing', () => {
  const { record } = made(40_000, 40, 4000);
  const whole = made(40_000, 40).record;
  expect(record.size().bytes).toBeLessThan(0.35 * whole.size().bytes);
  for (const [from, until] of [[0, 400], [3, 90], [100.5, 101], [390, 399]] as const) {
    const [a, b] = [record, whole].map((r) => r.columns(0, from, until, 50));
    const off = record.error(from, until);
    a!.most.forEach((v, k) => {
      // It may be of a column beside, never missing.
      expect(v).toBeGreaterThanOrEqual(b!.most[k]! - 1e-12);
      expect(a!.least[k]!).toBeLessThanOrEqual(b!.least[k]! + 1e-12);
    });
    const found = record.read(0, from, until)!;
    const exact = whole.read(0, from - off, until + off)!;
    expect(found.most).toBeLessThanOrEqual(exact.most + 1e-12);
    // Of a block that is cut its share is taken: where many are whole that is little.
    if (until - from > 20 * off) expect(found.mean).toBeCloseTo(whole.read(0, from, until)!.mean, off > 0 ? 2 : 9);
  }
  expect(record.error(0, 10)).toBeCloseTo(2.56, 9);
  expect(record.error(399, 400)).toBe(0);
  expect(record.pointsIn(0, 1, 1e6)).toBeUndefined();
  expect(record.pointsIn(399, 400, 1e6)!.time.length).toBeGreaterThan(99);
});

test('events before and after a time, over stretches', () => {
  const record = recording(1);
  for (const [k, at] of [[0, [0.2, 0.4]], [1, []], [2, [2.5]]] as const)
    record.add({ ...points([k, k + 1], [0, 1]), events: { time: Float64Array.from(at), device: Int32Array.from(at, (_, i) => i), segment: Int32Array.from(at, () => 1) } });
  expect(record.event(0.3, 1)).toEqual({ t: 0.4, what: [{ device: 1, segment: 1 }] });
  expect(record.event(0.4, 1)!.t).toBe(2.5);
  expect(record.event(2.5, -1)!.t).toBe(0.4);
  expect(record.event(2.6, -1)!.t).toBe(2.5);
  expect(record.event(0.2, -1)).toBeUndefined();
  expect(record.event(2.5, 1)).toBeUndefined();
});

test('nothing recorded says so', () => {
  const record = recording(1);
  expect([record.from(), record.at(0, 1), record.columns(0, 0, 1, 1).least[0]]).toEqual([NaN, NaN, NaN]);
  expect(record.read(0)).toBeUndefined();
  expect(() => record.add(points([0], [1], [2]))).toThrow(/1 are recorded/);
});

test('as they are told, figures that are rounding beside what the quantity does are nothing, and all others as they are', () => {
  const f = { least: -300, leastAt: 0, most: 310, mostAt: 1, mean: -1.3e-7, rms: 211, first: 1e-12, last: 5 };
  expect(told(f)).toEqual({ ...f, mean: 0, first: 0 });
  expect(told({ ...f, mean: -1.3e-3, first: 2e-6 })).toEqual({ ...f, mean: -1.3e-3, first: 2e-6 });
});
