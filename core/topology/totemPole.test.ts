import { bareDemo, must } from '../../demo/open';
import { SHELF } from '../../shelf';
import { chooseTopology } from '../choice';
import { closedDesign } from '../evaluation/closedDesign';
import { evaluate } from '../evaluation/evaluate';
import { cycleIntegrals, measure } from '../orbit/measure';
import { harmonicsOf } from '../orbit/spectrum';
import { wholeMains } from '../schedule/onMains';

/** The charger without a bridge: angle by angle, where its two switches are one part that does either thing half of the time, against the whole circuit. */
const charger = bareDemo('station-charger');
const d = must(chooseTopology(charger, 'mains-totem-pole', SHELF));
const at = { line: 230, load: 2.6, air: 25 };
const figures = must(evaluate(d, at));
const whole = wholeMains(d, at, must(closedDesign(d, at)));
const { cycle } = must(whole.settled());
const g = cycleIntegrals(cycle);
const rms = (id: string): number => measure(g, (p) => p.current(id)).rms;

test('both switches of the leg carry alike over the mains, as much as the angles say; each slow diode a half cycle of what is drawn', () => {
  // A pair of parallel switches stands for each, one for the gates of either half cycle.
  const [low, high] = [['Q1', 'Q1 b'], ['Q1 high', 'Q1 high b']].map((ids) => Math.hypot(...ids.map(rms)));
  expect(low! / high!).toBeCloseTo(1, 6);
  expect(Math.abs(low! / figures.duties.Q1!.rms - 1)).toBeLessThan(0.01);
  expect(rms('D2') / rms('D2 2')).toBeCloseTo(1, 6);
  expect(Math.abs(rms('D2') / figures.duties.D2!.rms - 1)).toBeLessThan(0.01);
});

test('it draws a sine that passes, the mains and its half cycles alike', () => {
  const [i] = harmonicsOf(g, [(p) => p.current('line').map((v) => -v)], 10);
  // Even harmonics and a mean would say that the two half cycles are not served alike.
  for (const n of [0, 2, 4, 6]) expect(i![n]!.amplitude / i![1]!.amplitude).toBeLessThan(1e-3);
  expect(i![3]!.amplitude / i![1]!.amplitude).toBeLessThan(0.03);
  expect(cycle.closure).toBeLessThan(1e-8);
});

test('one diode in the way of the current instead of two: it burns half of what the bridge did', () => {
  const bridged = must(evaluate(charger, at));
  const [own, bridge] = [figures, bridged].map((f) => f.losses.parts.find((p) => p.id === 'D2')!.total);
  expect(own! / bridge!).toBeCloseTo(0.5, 1.5);
  expect(figures.losses.efficiency).toBeGreaterThan(bridged.losses.efficiency);
});
