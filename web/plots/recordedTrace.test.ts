import { path, scaleLinear } from 'd3';
import { recording } from '../../core/recording';
import { drawRecorded } from './recordedTrace';

const events = { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) };
const record = recording(1);
record.add({ time: Float64Array.from({ length: 10_001 }, (_, k) => k / 1000), values: [Float64Array.from({ length: 10_001 }, (_, k) => (k === 5003 ? 9 : k % 2))], events });
const y = scaleLinear([0, 10], [100, 0]);

test('few points are drawn one by one, both ends beyond the view', () => {
  const pen = path();
  expect(drawRecorded(pen, record, 0, scaleLinear([1, 1.004], [0, 400]), y)).toBe(false);
  expect(pen.toString()).toMatch(/^M-?\d/);
  expect(pen.toString().split('L')).toHaveLength(6);
});
test('many are drawn from least to most of each column, and the one spike among them is there', () => {
  const pen = path();
  expect(drawRecorded(pen, record, 0, scaleLinear([0, 10], [0, 200]), y)).toBe(true);
  expect(pen.toString()).toMatch(/Z$/);
  // 9 of 10 stands a tenth below the top.
  expect(pen.toString()).toMatch(/,(10|9\.9+8?)L/);
});
test('nothing recorded there draws nothing', () => {
  const pen = path();
  expect(drawRecorded(pen, recording(1), 0, scaleLinear([0, 1], [0, 100]), y)).toBe(false);
  expect(pen.toString()).toBe('');
});
