import { answerOf, recording, rhythmOf, type Points } from '.';

/** A second-order step, recorded point by point: against its closed forms (Franklin, Powell, Emami-Naeini, "Feedback Control of Dynamic Systems", ch. 3). */
const [damping, w] = [0.4, 2 * Math.PI];
const value = (t: number): number => {
  const wd = w * Math.sqrt(1 - damping ** 2);
  return 1 - Math.exp(-damping * w * t) * (Math.cos(wd * t) + (damping / Math.sqrt(1 - damping ** 2)) * Math.sin(wd * t));
};
function step(scale: number, offset: number) {
  const record = recording(1);
  const time = Float64Array.from({ length: 6001 }, (_, k) => k / 1000);
  const points: Points = { time, values: [time.map((t) => offset + scale * value(t))], events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } };
  record.add(points);
  return record;
}
test.each([[1, 0], [-2, 5]])('overshoot, rise and settling are those of the closed forms, up and down', (scale, offset) => {
  const found = answerOf(step(scale, offset), 0, 0, 6, 0.02 * Math.abs(scale))!;
  expect(found.to).toBeCloseTo(offset + scale, 3);
  expect(found.over / Math.abs(scale)).toBeCloseTo(Math.exp((-Math.PI * damping) / Math.sqrt(1 - damping ** 2)), 3);
  expect(found.under).toBeCloseTo(0, 6);
  // The last time that it leaves the band, found on a fine grid.
  let last = 0;
  for (let t = 0; t < 6; t += 1e-4) if (Math.abs(value(t) - 1) > 0.02) last = t;
  expect(found.settles).toBeCloseTo(last, 2);
  let [ten, ninety] = [0, 0];
  for (let t = 0; t < 1; t += 1e-4) [ten, ninety] = [ten || (value(t) >= 0.1 ? t : 0), ninety || (value(t) >= 0.9 ? t : 0)];
  expect(found.rise).toBeCloseTo(ninety - ten, 2);
});
test('one that goes nowhere rises in no time; one that has not come to rest does not settle', () => {
  expect(answerOf(step(1, 0), 0, 4, 6, 0.02)!.rise).toBeNaN();
  expect(answerOf(step(1, 0), 0, 0, 0.6, 1e-3)!.settles).toBe(Infinity);
  expect(answerOf(recording(1), 0, 0, 1, 0.1)).toBeUndefined();
});

test('a square wave: its frequency and its duty, over whole periods of what is in view', () => {
  const record = recording(1);
  const [time, value]: [number[], number[]] = [[], []];
  for (let k = 0; k < 50; k++) for (const [t, v] of [[0, 0], [0, 5], [0.3, 5], [0.3, 0]] as const) {
    time.push(k + t);
    value.push(v);
  }
  record.add({ time: Float64Array.from(time), values: [Float64Array.from(value)], events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } });
  for (const [from, until] of [[0, 49], [3.4, 17.9]] as const) {
    const found = rhythmOf(record, 0, from, until)!;
    expect(found.frequency).toBeCloseTo(1, 9);
    expect(found.duty).toBeCloseTo(0.3, 9);
  }
  expect(rhythmOf(record, 0, 3.4, 3.9)).toBeUndefined();
  // Of periods that differ no frequency is told.
  const uneven = recording(1);
  const rises = [1, 3, 6, 8, 11];
  uneven.add({ time: Float64Array.from([0, ...rises.flatMap((t) => [t, t, t + 0.5, t + 0.5]), 12]), values: [Float64Array.from([0, ...rises.flatMap(() => [0, 1, 1, 0]), 0])], events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } });
  expect(rhythmOf(uneven, 0, 0, 12)).toBeUndefined();
});
