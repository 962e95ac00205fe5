import { must, openDemo } from '../../demo/open';
import { partLosses } from '../loss';
import { automaticDesigns } from '../testing/automatic';
import { ANGLES, SMOOTH } from '../surroundings/mains';
import { billOf } from './bill';
import { evaluate } from './evaluate';
import { warmStage } from './heat';
import { standAt } from './standing';
import { partStates } from './partStates';
import { oneMode, visit, type Visited } from './visits';

const charger = openDemo('station-charger');
const standing = (line: number, load: number) => must(standAt(billOf(charger), { line, load, air: 40 }));
const warm = (): number => 60;
/** So many angles that more say nothing new */
const MANY = 40;

describe('means and peaks along the mains, from few angles', () => {
  const read = ({ duties, mains }: Visited): { rms: number[]; peaks: number[]; fed: number } => ({
    rms: Object.values(duties).map((d) => d.rms),
    peaks: [duties.L1!.peakToPeak, duties.L1!.peak, duties.Q1!.voltage, mains!.output.peakToPeak],
    fed: mains!.excess,
  });
  const off = (a: readonly number[], b: readonly number[]): number => Math.max(...a.map((v, i) => Math.abs(v / b[i]! - 1)));
  const both = (line: number, load: number, count?: number): ReturnType<typeof read>[] => [count, MANY].map((n) => read(must(visit(standing(line, load), warm, undefined, n))));

  test.each([[184, 2.6], [230, 1.5], [264, 2.6]])('%f V, %f A: one mode holds, and the error falls with every angle', (line, load) => {
    const [few, many] = both(line, load, SMOOTH);
    expect(off(few!.rms, many!.rms)).toBeLessThan(1e-7);
    expect(Math.abs(few!.fed - many!.fed)).toBeLessThan(1e-9);
    // Peaks between the angles are those of a parabola.
    expect(off(few!.peaks, many!.peaks)).toBeLessThan(2e-4);
    const [fewer] = both(line, load, 4);
    expect(off(fewer!.rms, many!.rms)).toBeGreaterThan(100 * off(few!.rms, many!.rms));
    expect(off(fewer!.rms, many!.rms)).toBeLessThan(3e-3);
  });

  test.each([[264, 1], [264, 0.3], [224, 0.3], [230, 0.6]])('%f V, %f A: the mode changes on the way, and each stretch is a mean by itself', (line, load) => {
    const [few, many] = both(line, load);
    // The many angles do not see where it changes, and the forecast that says so is a share off itself.
    expect(off(few!.rms, many!.rms)).toBeLessThan(1e-4);
    expect(off(few!.peaks, many!.peaks)).toBeLessThan(1e-2);
    // What is drawn is shaped whatever the mode: power does not see it.
    expect(Math.abs(few!.fed - many!.fed)).toBeLessThan(1e-6);
    const [blind] = both(line, load, ANGLES);
    expect(off(blind!.rms, many!.rms)).toBeGreaterThan(off(few!.rms, many!.rms));
  });

  test('what jumps with the mode is right too: the loss of the charge across an open switch', () => {
    const s = standing(224, 0.3);
    const lost = (visits: Visited['visits']): number => visits.reduce((sum, v) => sum + v.weight * (partLosses('switch', partStates(s.bill, v.stage, v.duties).Q1 as never) as Record<string, number>)['output-capacitance']!, 0);
    const [around, blind, many] = [undefined, ANGLES, 320].map((n) => lost(must(visit(s, warm, undefined, n)).visits)) as [number, number, number];
    expect(Math.abs(around / many - 1)).toBeLessThan(5e-3);
    expect(Math.abs(blind / many - 1)).toBeGreaterThan(0.02);
  });

  test('a change of the mode is seen', () => {
    expect(oneMode(must(visit(standing(230, 2.6), warm, undefined, SMOOTH)).visits)).toBe(true);
    expect(oneMode(must(visit(standing(264, 0.3), warm, undefined, SMOOTH)).visits)).toBe(false);
  });
});

test.each([[184, 2.6], [264, 2.6], [264, 0.3], [230, 1]])('temperatures that agree are where another beginning leads to as well: %f V, %f A', (line, load) => {
  const s = standing(line, load);
  const found = must(warmStage(s, charger));
  const hot = must(warmStage(s, charger, () => 120));
  for (const { id, temperature, total } of found.losses) {
    const other = hot.losses.find((l) => l.id === id)!;
    expect(Math.abs(other.temperature - temperature)).toBeLessThan(2e-3);
    expect(Math.abs(other.total - total)).toBeLessThan(2e-5 * Math.max(1, total));
  }
  expect(Math.abs(found.mains!.excess)).toBeLessThan(1e-5);
});

test('what a flyback feeds by its duty goes smoothly with that down to no load, where its clamp is a further output: its slow loop is the slope', () => {
  const d = automaticDesigns().find((x) => x.name === 'Mains rectifier with flyback 2')!;
  const { topology, input, sizing } = billOf(d);
  const { line, load } = d.brief;
  const level = topology.forecast(input, sizing, { line: line.max, load: load.min }).command!;
  const fed = (share: number): number => topology.mains!.fedBy(input, sizing, line.max, level * share);
  const slope = (by: number): number => (fed(1 + by) - fed(1 - by)) / (2 * by * fed(1));
  // More than the square of it: what the clamp takes hardly moves.
  expect(slope(0.03)).toBeGreaterThan(2);
  for (const by of [1e-4, 1e-3, 1e-2]) expect(slope(by) / slope(0.03)).toBeCloseTo(1, 3);
  // And it is what the settled cycles carry.
  const point = { line: line.max, load: load.min, air: 40 };
  const { parts } = topology.forecast(input, sizing, point);
  const found = must(evaluate(d, point)).duties;
  for (const id of ['Q1', 'D1', 'D2', 'T1']) expect(Math.abs(parts[id]!.rms / found[id]!.rms - 1)).toBeLessThan(0.02);
});
