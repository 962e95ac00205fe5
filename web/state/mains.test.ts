import { change, must, openDemo } from '../../demo/open';
import { mainsQuality } from '../../core/schedule/mainsQuality';
import { mainsActions, useMains } from './mains';
import { useStore } from './store';

/** The mains on screen: what a worker settles is what the core settles, and tuning keeps the state before. */

jest.mock('../workers/pool', () => jest.requireActual('../workers/here'));

const charger = openDemo('station-charger');
const point = { line: 230, load: 2.6, air: 45 };

test('a cycle is settled for the design and for kept states that are shown, and not twice', async () => {
  const other = change(charger, { 'control.phaseMargin': 52 });
  const kept = [{ id: 'a', label: 'A', design: other, visible: true }, { id: 'b', label: 'B', design: other, visible: false }] as never;
  await mainsActions.ask(charger, point, kept);
  const { now, kept: studies, under } = useMains.getState();
  expect(under).toBe(false);
  // Looked for from elsewhere, the same cycle to what closes it.
  const own = must(mainsQuality(charger, point));
  expect(now!.quality.powerFactor).toBeCloseTo(own.powerFactor, 9);
  expect(now!.quality.harmonics.map((h) => h.order)).toEqual(own.harmonics.map((h) => h.order));
  expect(now!.quality.fundamental).toBeCloseTo(own.fundamental, 8);
  expect(Object.keys(studies)).toEqual(['a']);
  expect(now!.course.time.length).toBeGreaterThan(5000);
  await mainsActions.ask({ ...charger, lanes: [['output']] }, point, kept);
  expect(useMains.getState().now).toBe(now);
});

test('tuning edits the design in one step and keeps the state before', async () => {
  const slow = change(charger, { 'control.crossover': 1500, 'control.feedForward': null });
  useStore.setState({ design: slow, past: [], kept: [] });
  await mainsActions.tune(slow, point);
  const s = useStore.getState();
  expect(useMains.getState().untuned).toBeUndefined();
  expect(s.design.control.crossover).toBeGreaterThan(3000);
  expect(s.design.control.feedForward).toBe(1);
  expect(s.kept).toHaveLength(1);
  expect(s.kept[0]!.design).toEqual(slow);
  expect(useMains.getState().tuned!.tuning.steps.length).toBeGreaterThan(6);
});
